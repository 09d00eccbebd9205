"""``manage.py serve``: one web process and the worker, started and stopped together."""

import os
import signal
import socket
import subprocess
import sys
import time
from types import FrameType
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

HOST = "127.0.0.1"
THREADS = 8
GRACE_SECONDS = 5.0


class Command(BaseCommand):
    """Start both, wait for either to end, stop the other."""

    help = "Serves Calado on this machine."
    # the parts check themselves when they start
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        """Take the port."""
        parser.add_argument("--port", type=int, default=int(os.environ.get("PORT", "8000")))

    def handle(self, *args: Any, **options: Any) -> None:
        """Serve until told to stop."""
        port = options["port"]
        _refuse_taken(port)
        # a stop that comes at any moment from here on must reach the children too
        signal.signal(signal.SIGTERM, _stop)
        python = sys.executable
        bind = ["--bind", f"{HOST}:{port}", "--worker-class", "gthread", "--threads", str(THREADS)]
        quiet = ["--workers", "1", "--timeout", "120", "--graceful-timeout", "3", "--log-level", "warning"]
        web = [python, "-m", "gunicorn", "server.config.wsgi:application", *bind, *quiet]
        children: list[subprocess.Popen[bytes]] = []
        try:
            for command in (web, [python, "manage.py", "work"]):
                children.append(subprocess.Popen(command, start_new_session=True))
            self.stdout.write(f"Calado is at http://{HOST}:{port}/  (Ctrl-C stops it)")
            self.stdout.flush()
            while all(child.poll() is None for child in children):
                time.sleep(0.2)
            self.stderr.write("A part of Calado ended by itself; stopping the rest.")
        except KeyboardInterrupt:
            self.stdout.write("Stopping.")
        finally:
            _end(children)


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


def _end(children: list[subprocess.Popen[bytes]]) -> None:
    """End the children and all they started, first by asking."""
    for child in children:
        _signal(child, signal.SIGTERM)
    limit = time.monotonic() + GRACE_SECONDS
    for child in children:
        try:
            child.wait(max(limit - time.monotonic(), 0.1))
        except subprocess.TimeoutExpired:
            _signal(child, signal.SIGKILL)
            child.wait()


def _signal(child: subprocess.Popen[bytes], number: signal.Signals) -> None:
    try:
        os.killpg(child.pid, number)
    except ProcessLookupError:
        return
