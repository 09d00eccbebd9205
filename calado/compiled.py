"""How the core's kernels are compiled: free of the interpreter's lock, kept on disk, without a check at each division.

What is divided by nothing is infinite or no number, as in NumPy; a check would keep a loop from being vectors.
"""

from functools import partial

import numba as nb

compiled = partial(nb.njit, nogil=True, cache=True, error_model="numpy")
