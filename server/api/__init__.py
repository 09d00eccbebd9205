"""The API: addresses, what goes in and out, refusals."""
