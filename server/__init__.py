"""The server: reads a request, checks it, calls one action of the core, answers. No arithmetic on pixels."""
