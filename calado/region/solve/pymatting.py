"""The matting library, imported when it is first needed: it compiles its kernels then, or loads them.

Its compiled kernels are kept apart from our own, under its version: they need not be made again when our code changes.
"""

import threading
from collections.abc import Callable
from functools import lru_cache
from importlib.metadata import version
from pathlib import Path
from typing import Any, NamedTuple

import numba

_one_at_a_time = threading.Lock()


class Matting(NamedTuple):
    """What is used of PyMatting."""

    laplacian: Callable[..., Any]
    factor: Callable[..., Any]
    foreground: Callable[..., Any]


def matting() -> Matting:
    """Return the functions of the library."""
    with _one_at_a_time:
        return _loaded()


@lru_cache(maxsize=1)
def _loaded() -> Matting:
    own = numba.config.CACHE_DIR
    if own:
        numba.config.CACHE_DIR = str(Path(own).parent / f"pymatting-{version('pymatting')}-{numba.__version__}")
    try:
        from pymatting.foreground.estimate_foreground_ml import estimate_foreground_ml
        from pymatting.laplacian.cf_laplacian import cf_laplacian
        from pymatting.preconditioner.ichol import ichol
    finally:
        numba.config.CACHE_DIR = own
    return Matting(cf_laplacian, ichol, estimate_foreground_ml)
