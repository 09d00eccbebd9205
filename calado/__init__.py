"""Calado's core: arrays and a sheet in, arrays out. No Django, HTTP or database here."""

import os

__version__ = "0.1.0"

# must be set before numba is first imported; a process that another one began is told
if "NUMBA_CACHE_DIR" not in os.environ:
    from calado.kernel_cache import kernel_folder

    os.environ["NUMBA_CACHE_DIR"] = str(kernel_folder())
