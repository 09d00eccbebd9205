"""Saturation: chroma scaled in OKLCh; lightness and hue stay.

References
----------
Ottosson2020, CSSColor4
"""

import numpy as np

from calado.adjust.colour.lab import lab_into, lab_settings
from calado.adjust.kind import PointAdjustment
from calado.arrays import Settings
from calado.colour.spaces import ColourSpace
from calado.sheet.declare import Number, Unit, Values


def _settings(values: Values, space: ColourSpace) -> Settings:
    scale = max(1.0 + SATURATION.number(values, "amount"), 0.0)
    return lab_settings(np.diag([1.0, scale, scale]), space)


SATURATION = PointAdjustment(
    id="saturation",
    name="Saturation",
    group="Colour",
    side="outside",
    space="oklch",
    parameters=(Number("amount", "Saturation", Unit.SHARE, 0.0, -1.0, 1.0, -1.0, 4.0, 0.01),),
    synonyms=(
        "more colour",
        "vivid",
        "less colour",
        "colourfulness",
        "vividness",
        "desaturate",
        "grey",
        "mute",
        "colour strength",
        "chroma",
    ),
    says="Colourfulness; −100 % leaves grey.",
    settings=_settings,
    into=lab_into,
)
