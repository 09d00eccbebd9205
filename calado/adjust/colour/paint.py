"""A colour as the sheet keeps it: lightness, chroma and hue, as three numbers without a strength."""

from math import cos, radians, sin

import numpy as np

from calado.colour.oklab import oklab_to_linear
from calado.colour.spaces import ColourSpace
from calado.sheet.declare import Number, Unit

#: the largest chroma of the fader's end, OKLCh (our choice: about what sRGB holds in its strongest hues)
CHROMA = 0.3


def paint(light: float = 1.0, chroma: float = 0.0, hue: float = 0.0) -> tuple[Number, Number, Number]:
    """Return the three numbers of a colour with these neutral values."""
    return (
        Number("light", "Lightness", Unit.SHARE, light, 0.0, 1.0, 0.0, 1.0, 0.01, word="lightness", scales=False),
        Number("chroma", "Chroma", Unit.SHARE, chroma, 0.0, 1.0, 0.0, 1.0, 0.01, scales=False),
        Number("hue", "Hue", Unit.ANGLE, hue, 0.0, 360.0, -360.0, 360.0, 1.0, scales=False),
    )


def light_of(number: dict[str, float], space: ColourSpace) -> tuple[float, float, float]:
    """Return the colour in a space's linear light, held within what it can show."""
    hue, chroma = radians(number["hue"]), number["chroma"] * CHROMA
    lab = np.array([number["light"], chroma * cos(hue), chroma * sin(hue)])
    light = np.clip(oklab_to_linear(lab, space), 0, 1)
    return float(light[0]), float(light[1]), float(light[2])
