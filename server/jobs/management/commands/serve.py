"""``manage.py serve``: the web process and the workers, started, kept up and stopped together."""

import fcntl
import gc
import os
import signal
import socket
import time
from functools import partial
from io import TextIOWrapper
from pathlib import Path
from types import FrameType
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser

from server.jobs.parts import FORK, Part, load

HOST = "127.0.0.1"
GRACE_SECONDS = 5.0


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
        # a stop that comes at any moment from here on must reach the children too; a closed terminal is one
        # (one that a script starts in the background would not hear SIGINT by itself)
        for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
            signal.signal(number, _stop)
        load()
        # loaded by now, and not before
        from server.jobs.web import Web

        # before anything works: what is found now is of nobody
        swept = FORK.Process(target=call_command, args=("sweep",))
        swept.start()
        swept.join()
        parts = (
            Part("web server", "gunicorn", Web(HOST, port).run, held.close),
            Part("worker", "manage.py work", partial(call_command, "work"), held.close),
            Part(
                "worker for clips",
                "manage.py work --lane clips",
                partial(call_command, "work", "--lane", "clips"),
                held.close,
            ),
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
            # libraries look at the end whether all they made is gone
            gc.unfreeze()


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


def _stop(number: int, frame: FrameType | None) -> None:
    raise KeyboardInterrupt


def _end(parts: tuple[Part, ...]) -> None:
    """End the parts and all they started, first by asking."""
    for part in parts:
        part.signal(signal.SIGTERM)
    until = time.monotonic() + GRACE_SECONDS
    for part in parts:
        part.wait(until)
