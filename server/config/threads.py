"""The threads that take requests: none is held for ever by a body that never arrives."""

import socket
import struct
from typing import Any

from gunicorn.workers.gthread import ThreadWorker

#: so long, in seconds, a request may be silent in the middle of itself
SILENCE = 20


class Threads(ThreadWorker):  # type: ignore[misc]
    """Gunicorn's threads, with a limit to how long one waits for more of a request."""

    def handle(self, conn: Any) -> Any:
        """Handle a request on a connection."""
        # the system's own limit: it holds in blocking mode too, in which bodies are read
        conn.sock.setsockopt(socket.SOL_SOCKET, socket.SO_RCVTIMEO, struct.pack("ll", SILENCE, 0))
        return super().handle(conn)
