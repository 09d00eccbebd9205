"""Contrast: a power about a pivot, in linear light; the pivot itself stays.

y = p · (x / p)^(1 + amount), each channel by itself; common practice of grading, no source. The pivot of 18 % is the
reflectance of a middle grey card (common practice, no source).
"""

import numpy as np
from numpy.typing import NDArray

from calado.adjust.kind import PointAdjustment
from calado.adjust.tone_lut import channels_into, light_settings
from calado.arrays import Settings
from calado.colour.spaces import ColourSpace
from calado.sheet.declare import Number, Unit, Values


def _settings(values: Values, space: ColourSpace) -> Settings:
    pivot = max(CONTRAST.number(values, "pivot"), 1e-4)
    exponent = max(1.0 + CONTRAST.number(values, "amount"), 0.0)

    def channel(light: NDArray[np.float64]) -> NDArray[np.float64]:
        return np.where(light > 0, pivot * (np.maximum(light, 1e-30) / pivot) ** exponent, 0.0)

    return light_settings((channel, channel, channel))


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
    into=channels_into,
)
