"""Contrast: a power about a pivot, in linear light; the pivot itself stays.

y = p · (x / p)^(1 + amount), each channel by itself; common practice of grading, no source. The pivot of 18 % is the
reflectance of a middle grey card (common practice, no source).
"""

import numba as nb
import numpy as np

from calado.adjust.kind import PointAdjustment, Settings, numbers
from calado.arrays import Planes
from calado.colour.spaces import ColourSpace
from calado.numeric import power
from calado.sheet.declare import Number, Unit, Values


@nb.njit("void(float32[:, :, ::1], float32[::1])", nogil=True, cache=True, fastmath=True)
def _into(planes: Planes, s: Settings) -> None:
    """s: exponent, 1 / pivot, pivot."""
    exponent, over, pivot = s[0], s[1], s[2]
    for c in range(3):
        for y in range(planes.shape[1]):
            row = planes[c, y]
            for x in range(row.size):
                row[x] = pivot * power(row[x] * over, exponent)


def _settings(values: Values, space: ColourSpace) -> Settings:
    pivot = max(CONTRAST.number(values, "pivot"), 1e-4)
    return numbers(max(1.0 + CONTRAST.number(values, "amount"), 0.0), np.float32(1 / pivot), pivot)


CONTRAST = PointAdjustment(
    id="contrast",
    name="Contrast",
    group="Light",
    space="linear",
    parameters=(
        Number("amount", "Contrast", Unit.SHARE, 0.0, -0.6, 0.6, -1.0, 3.0, 0.01),
        Number("pivot", "Pivot", Unit.SHARE, 0.18, 0.01, 1.0, 0.001, 4.0, 0.01, word="about", scales=False),
    ),
    synonyms=("punch", "flat", "harder", "softer", "gradation", "snap"),
    says="Steeper or flatter about a pivot, which stays.",
    settings=_settings,
    into=_into,
)
