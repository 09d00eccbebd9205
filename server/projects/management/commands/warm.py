"""``manage.py warm``: compile every kernel into its cache, and forget those of sources long gone."""

import os
import subprocess
import sys
import threading
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand

from calado.kernel_cache import is_warm, mark_warm, tidy

#: what is compiled already is loaded in less, and says nothing
SILENT_SECONDS = 4.0
#: what another process compiles meanwhile: what comes late here, and takes long
BESIDE = (
    "import calado.region.kinds, calado.render.tiles, calado.inspect.edge.ribbon\n"
    "from calado.region.solve.pymatting import matting; matting()"
)


class Command(BaseCommand):
    """Compile them all."""

    help = "Compiles the kernels, unless they are."
    # the check of all that is served would compile before a word is said
    requires_system_checks: list[str] = []

    def handle(self, *args: Any, **options: Any) -> None:
        """Compile; where that takes long, say so and how far it is."""
        if is_warm():
            return
        told = threading.Event()

        def tell() -> None:
            self.stdout.write("Compiling kernels, which takes a minute or two the first time…")
            told.set()

        timer = threading.Timer(SILENT_SECONDS, tell)
        timer.daemon = True
        timer.start()
        beside = subprocess.Popen([sys.executable, "-c", BESIDE])
        try:
            # kernels compile from the import on
            from calado.warm import warm

            warm(lambda share: self.stdout.write(f"Compiling kernels: {share:.0%}") if told.is_set() else None)
        finally:
            timer.cancel()
            beside.wait()
        mark_warm()
        tidy(Path(os.environ["NUMBA_CACHE_DIR"]))
