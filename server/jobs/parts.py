"""The parts of a server: each a fork of one process that has loaded all there is to load, kept up until told to stop.

Loading the core takes seconds of work; what forks from who has done so shares it, in time and in memory, and is there
again at once where it was killed.
"""

import ctypes
import gc
import multiprocessing
import os
import signal
import sys
import time
from collections.abc import Callable
from importlib import import_module
from multiprocessing.context import ForkProcess

from django.urls import get_resolver

#: the pause before a part that ended starts again grows from first to last; after a calm while it is short again
FIRST_PAUSE, LAST_PAUSE, CALM_SECONDS = 0.5, 30.0, 60.0
PR_SET_PDEATHSIG = 1
FORK = multiprocessing.get_context("fork")
#: what parts use beside what answers requests
LOADED = (
    "django_tasks_db.management.commands.db_worker",
    "server.jobs.take_up",
    "server.jobs.watch",
    "server.jobs.web",
)


def load() -> None:
    """Load all that parts need, once for all of them. Nothing here starts a thread or opens the database."""
    # read when titles are first thought of: the surroundings of a process stay where others look for them
    os.environ["SPT_NOENV"] = "1"
    # what answers requests imports all that answers them
    assert get_resolver().url_patterns
    for name in LOADED:
        import_module(name)
    # what is there stays where it is, and shared
    gc.collect()
    gc.freeze()


class Part:
    """A part that is started again whenever it ends, after a growing pause.

    ``let_go`` is called in it first: what only who keeps it up may hold.
    """

    def __init__(self, name: str, title: str, work: Callable[[], object], let_go: Callable[[], None]) -> None:
        self.name = name
        self._title, self._work, self._let_go = title, work, let_go
        self._pause = FIRST_PAUSE
        self._due = self._began = 0.0
        self._child: ForkProcess | None = None

    def watch(self, now: float) -> str:
        """Start it where it is due; return what is to be told, if anything."""
        if self._child is not None:
            if self._child.is_alive():
                return ""
            # what it had started must not hold its port
            self.signal(signal.SIGKILL)
            self._child = None
            if now - self._began > CALM_SECONDS:
                self._pause = FIRST_PAUSE
            self._due, pause = now + self._pause, self._pause
            self._pause = min(2 * pause, LAST_PAUSE)
            return f"The {self.name} ended by itself. It starts again in {pause:g} s; nothing that was saved is lost."
        if now >= self._due:
            self._began = now
            self._child = FORK.Process(target=self._begin, args=(os.getpid(),))
            self._child.start()
        return ""

    def _begin(self, keeper: int) -> None:
        """Be the part."""
        self._let_go()
        for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
            signal.signal(number, signal.SIG_DFL)
        os.setsid()
        end_with_parent()
        if os.getppid() != keeper:
            return
        # not before the surroundings are set
        from setproctitle import setproctitle

        setproctitle(self._title)
        self._work()

    def signal(self, number: signal.Signals) -> None:
        """Send a signal to it and all that it started."""
        if self._child is None or self._child.pid is None:
            return
        try:
            os.killpg(self._child.pid, number)
        except ProcessLookupError:
            return

    def wait(self, until: float) -> None:
        """Wait until it has ended; from a moment on, make it end."""
        if self._child is None:
            return
        self._child.join(max(until - time.monotonic(), 0.1))
        if self._child.is_alive():
            self.signal(signal.SIGKILL)
            self._child.join()


def end_with_parent() -> None:
    """Let this process end when its parent does, however that ends."""
    if sys.platform == "linux":
        ctypes.CDLL(None).prctl(PR_SET_PDEATHSIG, signal.SIGTERM)
