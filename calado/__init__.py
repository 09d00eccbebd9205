"""Calado's core: arrays and a sheet in, arrays out. No Django, HTTP or database here."""

import hashlib
import os
from pathlib import Path

__version__ = "0.1.0"


def _kernel_folder() -> Path:
    """Return where compiled kernels of exactly this source are kept.

    Numba watches only the file a kernel stands in: what it takes from another file could change unseen, so the
    folder is named by the content of all of them.
    """
    here = Path(__file__).parent
    content = hashlib.sha256()
    for file in sorted(here.rglob("*.py")):
        if "tests" not in file.parts:
            content.update(file.read_bytes())
    base = Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache")
    return base / "calado" / "kernels" / content.hexdigest()[:16]


# must be set before numba is first imported
os.environ.setdefault("NUMBA_CACHE_DIR", str(_kernel_folder()))
