"""The WSGI entry. The first picture is not kept waiting: kernels that are not compiled yet are while the page loads."""

import contextlib
import os
import threading
import time

from django.core.wsgi import get_wsgi_application

from calado.kernel_cache import is_warm
from calado.region.solve.pymatting import matting
from calado.warm import warm

#: what solves mattes is loaded when the first pictures have long been shown
CALM_SECONDS = 20.0


def _warm() -> None:
    # a server that is stopped meanwhile takes no new work
    with contextlib.suppress(RuntimeError):
        if not is_warm():
            warm(solves=False)
        time.sleep(CALM_SECONDS)
        matting()


os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.config.settings")
application = get_wsgi_application()
threading.Thread(target=_warm, name="warm", daemon=True).start()
