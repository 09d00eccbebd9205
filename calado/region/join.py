"""Joining parts in order by Porter–Duff coverage.

References
----------
PorterDuff1984: add a + b − ab, subtract a − ab, intersect ab.
"""

import numpy as np

from calado.arrays import Matte
from calado.sheet.models import Join


def join(a: Matte, b: Matte, how: Join) -> Matte:
    """Return the coverage of two mattes, shape (H, W), joined."""
    if how == "add":
        return a + b - a * b
    if how == "subtract":
        return a - a * b
    return a * b


def complement(matte: Matte) -> Matte:
    """Return what the matte leaves out."""
    return np.float32(1) - matte
