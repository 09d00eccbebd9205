"""Turning hues in OKLCh; lightness and chroma stay.

References
----------
Ottosson2020, CSSColor4
"""

from math import cos, radians, sin

import numpy as np

from calado.adjust.colour.lab import lab_into, lab_settings
from calado.adjust.kind import PointAdjustment
from calado.arrays import Settings
from calado.colour.spaces import ColourSpace
from calado.sheet.declare import Number, Unit, Values


def _settings(values: Values, space: ColourSpace) -> Settings:
    turn = radians(HUE.number(values, "turn"))
    turned = np.array([[1.0, 0.0, 0.0], [0.0, cos(turn), -sin(turn)], [0.0, sin(turn), cos(turn)]])
    return lab_settings(turned, space)


HUE = PointAdjustment(
    id="hue",
    name="Hue turn",
    group="Colour",
    space="oklch",
    parameters=(Number("turn", "Hue turn", Unit.ANGLE, 0.0, -180.0, 180.0, -360.0, 360.0, 1.0),),
    synonyms=("change colour", "rotate hue", "colour shift", "recolour", "other colour", "tone shift"),
    says="All hues turned by the same angle; how light and how strong they are stays.",
    settings=_settings,
    into=lab_into,
)
