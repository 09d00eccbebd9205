"""OKLab and OKLCh of planes, fast.

References
----------
Ottosson2020, CSSColor4
"""

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Planes
from calado.colour.oklab import LMS_TO_LAB, rgb_to_lms
from calado.colour.spaces import ColourSpace
from calado.compiled import compiled
from calado.strips import for_rows

ROWS = 32


@compiled()
def _lab_rows(planes, lms, lab, polar, first, last, out):  # type: ignore[no-untyped-def]
    for y in range(first, last):
        for x in range(planes.shape[2]):
            r, g, b = planes[0, y, x], planes[1, y, x], planes[2, y, x]
            k = np.cbrt(lms[0, 0] * r + lms[0, 1] * g + lms[0, 2] * b)
            m = np.cbrt(lms[1, 0] * r + lms[1, 1] * g + lms[1, 2] * b)
            s = np.cbrt(lms[2, 0] * r + lms[2, 1] * g + lms[2, 2] * b)
            out[0, y, x] = lab[0, 0] * k + lab[0, 1] * m + lab[0, 2] * s
            u = lab[1, 0] * k + lab[1, 1] * m + lab[1, 2] * s
            v = lab[2, 0] * k + lab[2, 1] * m + lab[2, 2] * s
            if polar:
                out[1, y, x] = np.sqrt(u * u + v * v)
                out[2, y, x] = np.degrees(np.arctan2(v, u)) % 360.0
            else:
                out[1, y, x], out[2, y, x] = u, v


def lab_of(planes: Planes, space: ColourSpace, *, polar: bool = False) -> NDArray[np.float32]:
    """Return OKLab, or OKLCh with hues in degrees, shape (3, H, W), of linear light."""
    lms, lab = rgb_to_lms(space).astype(np.float32), LMS_TO_LAB.astype(np.float32)
    source = np.ascontiguousarray(planes)
    out = np.empty_like(source)
    for_rows(source.shape[1], ROWS, lambda first, last: _lab_rows(source, lms, lab, polar, first, last, out))
    return out


def lch_of(planes: Planes, space: ColourSpace) -> NDArray[np.float32]:
    """Return OKLCh, shape (3, H, W), hues in degrees, of linear light."""
    return lab_of(planes, space, polar=True)
