"""Muted-first saturation: the paler a colour, the more its chroma grows; strong colours are left in peace.

C′ = C · (1 + amount · (1 − min(C / 0.25, 1))²): our choice; 0.25 is about the chroma of the strongest reds and blues of
sRGB in OKLCh. Going down it takes the pale colours first.

References
----------
Ottosson2020
"""

import numba as nb
import numpy as np

from calado.adjust.kind import PointAdjustment, numbers
from calado.arrays import Planes, Settings
from calado.colour.oklab import LMS_TO_LAB, lms_to_rgb, rgb_to_lms
from calado.colour.spaces import ColourSpace
from calado.compiled import compiled
from calado.numeric import cbrt
from calado.sheet.declare import Number, Unit, Values

STRONG = 0.25


@compiled("void(float32[:, :, ::1], float32[::1])", fastmath=True)
def _into(planes: Planes, s: Settings) -> None:
    """s: RGB→LMS (9), LMS′→OKLab (9), OKLab→LMS′ (9), LMS→RGB (9), amount."""
    amount, strong = s[36], nb.float32(1 / STRONG)
    for y in range(planes.shape[1]):
        red, green, blue = planes[0, y], planes[1, y], planes[2, y]
        for x in range(red.size):
            r, g, b = red[x], green[x], blue[x]
            p = cbrt(s[0] * r + s[1] * g + s[2] * b)
            q = cbrt(s[3] * r + s[4] * g + s[5] * b)
            t = cbrt(s[6] * r + s[7] * g + s[8] * b)
            light = s[9] * p + s[10] * q + s[11] * t
            one = s[12] * p + s[13] * q + s[14] * t
            two = s[15] * p + s[16] * q + s[17] * t
            pale = nb.float32(1) - min(np.sqrt(one * one + two * two) * strong, nb.float32(1))
            scale = max(nb.float32(1) + amount * pale * pale, nb.float32(0))
            one, two = one * scale, two * scale
            p = s[18] * light + s[19] * one + s[20] * two
            q = s[21] * light + s[22] * one + s[23] * two
            t = s[24] * light + s[25] * one + s[26] * two
            p, q, t = p * p * p, q * q * q, t * t * t
            red[x] = s[27] * p + s[28] * q + s[29] * t
            green[x] = s[30] * p + s[31] * q + s[32] * t
            blue[x] = s[33] * p + s[34] * q + s[35] * t


def _settings(values: Values, space: ColourSpace) -> Settings:
    matrices = (rgb_to_lms(space), LMS_TO_LAB, np.linalg.inv(LMS_TO_LAB), lms_to_rgb(space))
    return numbers(np.concatenate([*(each.ravel() for each in matrices), [MUTED.number(values, "amount")]]))


MUTED = PointAdjustment(
    id="muted",
    name="Pale colours",
    group="Colour",
    side="outside",
    space="oklch",
    parameters=(Number("amount", "Pale colours", Unit.SHARE, 0.0, -1.0, 1.0, -1.0, 3.0, 0.01, word="pale colours"),),
    synonyms=("pale colours", "gentle saturation", "skin safe", "liven", "subtle colour"),
    says="Saturation that works on pale colours first and leaves strong ones in peace.",
    settings=_settings,
    into=_into,
)
