"""Heavy requests, those that compute on pixels: a few at a time, some waiting, and none for a client that has gone.

Light ones, a change above all, are always served.
"""

import re
import socket
import threading
from collections.abc import Callable

from django.http import HttpRequest, HttpResponse, JsonResponse

Next = Callable[[HttpRequest], HttpResponse]

#: so many run at once, and so many more may wait: fewer than there are threads
AT_ONCE, WAITING = 4, 16
#: nobody waits longer, in seconds
PATIENCE = 60
_LIGHT = r"bench|steps|undo|redo|snapshots\b.*|metadata|to-project|from-project"
_OF_A_SHOT = re.compile(rf"^/api/projects/[^/]+/shots/[^/]+/(?!(?:{_LIGHT})$)")
#: shots added, and passes begun on many
_MANY = re.compile(r"^/api/projects/[^/]+/(?:shots|starts)$")
#: what was changed is read from the picture
_STATED = re.compile(r"^/api/projects/[^/]+/exports/[^/]+/statement\b")
BUSY = "Calado is busy with other pictures. It goes on as soon as one of them is done; try again in a moment."


class Bounded:
    """Room for ``at_once`` at a time, and for ``waiting`` more to wait for it."""

    def __init__(self, at_once: int, waiting: int) -> None:
        self._room = threading.Semaphore(at_once)
        self._queue = threading.Semaphore(at_once + waiting)

    def enter(self) -> bool:
        """Return whether there is room, waiting for it if need be; who was let in must leave."""
        if not self._queue.acquire(blocking=False):
            return False
        if self._room.acquire(timeout=PATIENCE):
            return True
        self._queue.release()
        return False

    def leave(self) -> None:
        """Make room for the next."""
        self._room.release()
        self._queue.release()


def is_heavy(request: HttpRequest) -> bool:
    """Return whether a request computes on pixels."""
    many = request.method == "POST" and _MANY.match(request.path)
    return bool(_OF_A_SHOT.match(request.path) or _STATED.match(request.path) or many)


def has_gone(request: HttpRequest) -> bool:
    """Return whether the client has closed its connection."""
    connection = request.META.get("gunicorn.socket")
    if connection is None:
        return False
    try:
        return connection.recv(1, socket.MSG_PEEK | socket.MSG_DONTWAIT) == b""
    except BlockingIOError:
        return False  # it waits
    except OSError:
        return True


def heavy_in_turn(answer: Next) -> Next:
    """Let heavy requests in by turns."""
    bounded = Bounded(AT_ONCE, WAITING)

    def middleware(request: HttpRequest) -> HttpResponse:
        if not is_heavy(request):
            return answer(request)
        if not bounded.enter():
            problem = {"type": "about:blank", "title": BUSY, "status": 503, "code": "busy"}
            kind = "application/problem+json"
            return JsonResponse(problem, status=503, content_type=kind, headers={"Retry-After": "1"})
        try:
            # nobody would see it: the next one's turn
            return HttpResponse(status=204) if has_gone(request) else answer(request)
        finally:
            bounded.leave()

    return middleware
