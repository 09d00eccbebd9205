"""The WSGI entry. The first picture is not kept waiting: kernels load while the page does."""

import contextlib
import os
import threading

from django.core.wsgi import get_wsgi_application

from calado.warm import warm


def _warm() -> None:
    # a server that is stopped meanwhile takes no new work
    with contextlib.suppress(RuntimeError):
        warm()


os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.config.settings")
application = get_wsgi_application()
threading.Thread(target=_warm, name="warm", daemon=True).start()
