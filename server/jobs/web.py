"""What answers requests, as a part of a server."""

from importlib import import_module
from typing import Any

from gunicorn.app.base import BaseApplication

#: threads that take requests; the heavy ones among these are bounded by themselves (``server.config.heavy``)
THREADS = 32


class Web(BaseApplication):  # type: ignore[misc]
    """What answers requests."""

    def __init__(self, host: str, port: int) -> None:
        self._at = f"{host}:{port}"
        super().__init__()

    def load_config(self) -> None:
        """Set what gunicorn is to do."""
        for name, value in {
            "bind": self._at,
            "worker_class": "server.config.threads.Threads",
            "threads": THREADS,
            "workers": 1,
            "timeout": 120,
            "graceful_timeout": 3,
            "loglevel": "warning",
            "proc_name": "calado",
        }.items():
            self.cfg.set(name, value)

    def load(self) -> Any:
        """Return the application, which every process of it begins for itself."""
        return import_module("server.config.wsgi").application
