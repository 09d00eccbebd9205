"""Signs of life: a task that gives none for long ends its worker, which starts again and takes it up once more."""

import logging
import os
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager

log = logging.getLogger("calado")
#: no strip of an export, and no matte that is solved for one, takes so long
PATIENCE_SECONDS = 600.0


def _end_worker() -> None:
    os._exit(70)


class Watch:
    """Ends the process when a task has given no sign of life for ``patience`` seconds."""

    def __init__(self, patience: float = PATIENCE_SECONDS, end: Callable[[], None] = _end_worker) -> None:
        self._patience = patience
        self._end = end
        self._last: float | None = None

    def sign(self) -> None:
        """Note that the task is alive."""
        if self._last is not None:
            self._last = time.monotonic()

    @contextmanager
    def over(self) -> Iterator[None]:
        """Watch over a task."""
        self._last = time.monotonic()
        try:
            yield
        finally:
            self._last = None

    def start(self) -> None:
        """Look from now on, in a thread of its own."""
        threading.Thread(target=self._look, name="watch", daemon=True).start()

    def _look(self) -> None:
        while True:
            time.sleep(self._patience / 20)
            last = self._last
            if last is not None and time.monotonic() - last > self._patience:
                log.error("A task gave no sign of life for %g seconds; the worker starts again.", self._patience)
                self._end()
                return


WATCH = Watch()
