"""How the core's kernels are compiled: free of the interpreter's lock, kept on disk, without a check at each division.

What is divided by nothing is infinite or no number, as in NumPy; a check would keep a loop from being vectors, and
takes as long to compile as all the rest. Where a processor has vectors of 512 bits they are used: left to itself the
compiler keeps to half of that (measured: pieces of rows go through passes in half the time).
"""

from functools import partial

import llvmlite.binding
import numba as nb
from numba.core import config


def _wide() -> None:
    features = llvmlite.binding.get_host_cpu_features()
    if features.get("avx512f") and not config.CPU_NAME:
        config.CPU_NAME = llvmlite.binding.get_host_cpu_name()
        config.CPU_FEATURES = f"{features.flatten()},-prefer-256-bit"


_wide()
#: for ``fastmath``: all that makes vectors but what would leave a NaN undefined
KEEPS_NAN = {"reassoc", "contract", "arcp", "nsz", "afn"}
compiled = partial(nb.njit, nogil=True, cache=True, error_model="numpy")
