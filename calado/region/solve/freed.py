"""The subject's own colours at its edge, freed from the surround that shines through.

A pixel of the edge holds α of the subject and 1 − α of the surround, in linear light; the subject's colour is what is
smooth along it and explains the mixture.

References
----------
Germer2020b: fast multi-level foreground estimation.
"""

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte, Planes
from calado.region.solve.library import matting

#: so near to 0 and 1 nothing shines through
SOLID = 1 / 512
#: rows and columns around a window that its estimate reads
AROUND = 64


def freed(planes: Planes, matte: Matte) -> Planes:
    """Return planes, shape (3, H, W), linear light, whose colours under a soft matte, shape (H, W), are the subject's.

    What is whole stays bit for bit as it is; what is all surround, near the edge, becomes a colour of the subject.
    """
    soft = (matte > SOLID) & (matte < 1 - SOLID)
    if not soft.any() or not (matte > 0.5).any():
        return planes
    box = _around(soft)
    inner = matte[box]
    # beyond 1 light is kept as it is: the estimate is of what a screen shows
    bounded = np.clip(np.moveaxis(np.nan_to_num(planes[:, *box]), 0, -1), 0, 1).astype(np.float64)
    estimate = np.moveaxis(np.asarray(matting().foreground(bounded, inner.astype(np.float64))), -1, 0)
    made = planes.copy()
    made[:, *box] = np.where(inner >= 1 - SOLID, planes[:, *box], estimate)
    return made


def _around(soft: NDArray[np.bool_]) -> tuple[slice, slice]:
    """Return the slices of the box that holds what is marked, with AROUND pixels beside it."""
    sides = []
    for axis in (1, 0):
        found = np.flatnonzero(soft.any(axis=axis))
        sides.append(slice(max(int(found[0]) - AROUND, 0), int(found[-1]) + 1 + AROUND))
    return sides[0], sides[1]
