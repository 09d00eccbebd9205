"""One kernel for all that is a matrix in OKLab, such as saturation and turning hues.

References
----------
Ottosson2020, CSSColor4
"""

import numpy as np
from numpy.typing import NDArray

from calado.adjust.kind import numbers
from calado.arrays import Planes, Settings
from calado.colour.oklab import LMS_TO_LAB, lms_to_rgb, rgb_to_lms
from calado.colour.spaces import ColourSpace
from calado.compiled import compiled
from calado.numeric import cbrt


@compiled("void(float32[:, :, ::1], float32[::1])", fastmath=True)
def lab_into(planes: Planes, s: Settings) -> None:
    """s: RGB→LMS (9), LMS′→LMS′ (9), LMS→RGB (9); read once, so that rows stay vectors."""
    a0, a1, a2, a3, a4, a5, a6, a7, a8 = s[0], s[1], s[2], s[3], s[4], s[5], s[6], s[7], s[8]
    b0, b1, b2, b3, b4, b5, b6, b7, b8 = s[9], s[10], s[11], s[12], s[13], s[14], s[15], s[16], s[17]
    c0, c1, c2, c3, c4, c5, c6, c7, c8 = s[18], s[19], s[20], s[21], s[22], s[23], s[24], s[25], s[26]
    for y in range(planes.shape[1]):
        red, green, blue = planes[0, y], planes[1, y], planes[2, y]
        for x in range(planes.shape[2]):
            r, g, b = red[x], green[x], blue[x]
            long = cbrt(a0 * r + a1 * g + a2 * b)
            middle = cbrt(a3 * r + a4 * g + a5 * b)
            short = cbrt(a6 * r + a7 * g + a8 * b)
            p = b0 * long + b1 * middle + b2 * short
            q = b3 * long + b4 * middle + b5 * short
            t = b6 * long + b7 * middle + b8 * short
            p, q, t = p * p * p, q * q * q, t * t * t
            red[x] = c0 * p + c1 * q + c2 * t
            green[x] = c3 * p + c4 * q + c5 * t
            blue[x] = c6 * p + c7 * q + c8 * t


def lab_settings(matrix: NDArray[np.float64], space: ColourSpace) -> Settings:
    """Return the kernel's numbers for a matrix, shape (3, 3), on OKLab."""
    # it is one matrix in LMS′
    turn = np.linalg.inv(LMS_TO_LAB) @ matrix @ LMS_TO_LAB
    return numbers(np.concatenate([rgb_to_lms(space).ravel(), turn.ravel(), lms_to_rgb(space).ravel()]))
