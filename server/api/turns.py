"""Turns: of several that ask for the same at once, one makes it for all."""

import threading
from collections.abc import Callable
from concurrent.futures import Future

from django.http import HttpResponse


class Turns:
    """Gives each a copy of the answer that the first of them makes."""

    def __init__(self) -> None:
        self._making: dict[str, Future[HttpResponse]] = {}
        self._lock = threading.Lock()

    def once(self, key: str, make: Callable[[], HttpResponse]) -> HttpResponse:
        """Return what ``make`` gives, or gave whoever asked for ``key`` and has not got it yet."""
        with self._lock:
            making = self._making.get(key)
            first = making is None
            if making is None:
                making = self._making[key] = Future()
        if first:
            try:
                making.set_result(make())
            except BaseException as error:  # the others must not wait for ever
                making.set_exception(error)
                raise
            finally:
                with self._lock:
                    del self._making[key]
        made = making.result()
        return made if first else HttpResponse(made.content, status=made.status_code, headers=dict(made.items()))
