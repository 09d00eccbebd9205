"""``manage.py serve``: the web process and the workers, started, kept up and stopped together."""

import ctypes
import fcntl
import os
import signal
import socket
import subprocess
import sys
import time
from io import TextIOWrapper
from pathlib import Path
from types import FrameType
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser

HOST = "127.0.0.1"
#: threads that take requests; the heavy ones among these are bounded by themselves (``server.config.heavy``)
THREADS = 32
GRACE_SECONDS = 5.0
#: the pause before a part that ended starts again grows from first to last; after a calm while it is short again
FIRST_PAUSE, LAST_PAUSE, CALM_SECONDS = 0.5, 30.0, 60.0
#: when the workers start: the page is there by then
FIRST_WORKER, SECOND_WORKER = 3.0, 5.0
PR_SET_PDEATHSIG = 1


class Kept:
    """A part of Calado that is started again whenever it ends, after a growing pause."""

    def __init__(self, name: str, command: list[str], after: float = 0.0) -> None:
        self.name = name
        self._command = command
        self._pause = FIRST_PAUSE
        self._due = time.monotonic() + after
        self._began = 0.0
        self._child: subprocess.Popen[bytes] | None = None

    def watch(self, now: float) -> str:
        """Start it where it is due; return what is to be told, if anything."""
        if self._child is not None:
            if self._child.poll() is None:
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
            self._child = subprocess.Popen(self._command, start_new_session=True, preexec_fn=_end_with_parent)
        return ""

    def signal(self, number: signal.Signals) -> None:
        """Send a signal to it and all that it started."""
        if self._child is None:
            return
        try:
            os.killpg(self._child.pid, number)
        except ProcessLookupError:
            return

    def wait(self, until: float) -> None:
        """Wait until it has ended; from a moment on, make it end."""
        if self._child is None:
            return
        try:
            self._child.wait(max(until - time.monotonic(), 0.1))
        except subprocess.TimeoutExpired:
            self.signal(signal.SIGKILL)
            self._child.wait()


class Command(BaseCommand):
    """Keep all up until told to stop."""

    help = "Serves Calado on this machine."
    # the parts check themselves when they start
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        """Take the port."""
        parser.add_argument("--port", type=int, default=int(os.environ.get("PORT", "8000")))

    def handle(self, *args: Any, **options: Any) -> None:
        """Serve until told to stop."""
        port = options["port"]
        held = hold_data()
        _refuse_taken(port)
        # before anything works: what is found now is of nobody
        subprocess.run([sys.executable, "manage.py", "sweep"], check=False)
        # a stop that comes at any moment from here on must reach the children too; a closed terminal is one
        # (one that a script starts in the background would not hear SIGINT by itself)
        for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
            signal.signal(number, _stop)
        python = sys.executable
        bind = [
            "--bind",
            f"{HOST}:{port}",
            "--worker-class",
            "server.config.threads.Threads",
            "--threads",
            str(THREADS),
        ]
        quiet = ["--workers", "1", "--timeout", "120", "--graceful-timeout", "3", "--log-level", "warning"]
        parts = (
            Kept("web server", [python, "-m", "gunicorn", "server.config.wsgi:application", *bind, *quiet]),
            # a page must not wait while the workers load
            Kept("worker", [python, "manage.py", "work"], after=FIRST_WORKER),
            Kept("worker for clips", [python, "manage.py", "work", "--lane", "clips"], after=SECOND_WORKER),
        )
        try:
            self.stdout.write(f"Calado is at http://{HOST}:{port}/  (Ctrl-C stops it)")
            self.stdout.flush()
            while True:
                for part in parts:
                    if told := part.watch(time.monotonic()):
                        self.stderr.write(told)
                time.sleep(0.2)
        except KeyboardInterrupt:
            self.stdout.write("Stopping.")
        finally:
            _end(parts)
            held.close()


def hold_data() -> TextIOWrapper:
    """Hold the data folder for this server until the file is closed.

    Raises
    ------
    CommandError
        when another server holds it.
    """
    folder = Path(settings.DATA_ROOT)
    folder.mkdir(parents=True, exist_ok=True)
    held = (folder / "serving").open("a")
    try:
        fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError as error:
        held.close()
        raise CommandError(
            f"Another Calado is serving the data in {folder}. Use that one, stop it first,"
            " or give this one a folder of its own: CALADO_DATA=/another/folder make demo"
        ) from error
    return held


def _refuse_taken(port: int) -> None:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((HOST, port))
        except OSError as error:
            raise CommandError(
                f"Port {port} is in use. Stop what uses it, or choose another: make demo PORT={port + 1}"
            ) from error


def _end_with_parent() -> None:
    """Let a child end when its parent does, however that ends."""
    if sys.platform == "linux":
        ctypes.CDLL(None).prctl(PR_SET_PDEATHSIG, signal.SIGTERM)


def _stop(number: int, frame: FrameType | None) -> None:
    raise KeyboardInterrupt


def _end(parts: tuple[Kept, ...]) -> None:
    """End the parts and all they started, first by asking."""
    for part in parts:
        part.signal(signal.SIGTERM)
    until = time.monotonic() + GRACE_SECONDS
    for part in parts:
        part.wait(until)
