"""A ring: the region's outline drawn at a distance, whole or dashed."""

from math import cos, radians, sin

import numpy as np

from calado.adjust.kind import RingAdjustment, RingPlan
from calado.colour.oklab import oklab_to_linear
from calado.colour.spaces import ColourSpace
from calado.sheet.declare import Number, Unit, Values

#: the largest chroma of the fader's end, OKLCh (our choice: about what sRGB holds in its strongest hues)
CHROMA = 0.3


def _plan(values: Values, space: ColourSpace) -> RingPlan:
    number = {n.id: RING.number(values, n.id) for n in RING.numbers}
    hue, chroma = radians(number["hue"]), number["chroma"] * CHROMA
    lab = np.array([number["light"], chroma * cos(hue), chroma * sin(hue)])
    light = np.clip(oklab_to_linear(lab, space), 0, 1)
    return RingPlan(
        number["offset"], number["width"], number["dash"], (float(light[0]), float(light[1]), float(light[2]))
    )


RING = RingAdjustment(
    id="ring",
    name="Ring",
    group="Cover",
    space="linear",
    parameters=(
        Number("width", "Ring", Unit.LENGTH, 0.0, 0.0, 0.03, 0.0, 0.2, 0.001, curve="square"),
        Number("offset", "Distance", Unit.LENGTH, 0.0, -0.1, 0.1, -0.5, 0.5, 0.002, word="at", scales=False),
        Number("dash", "Dashes", Unit.LENGTH, 0.0, 0.0, 0.1, 0.0, 1.0, 0.002, scales=False),
        Number("light", "Lightness", Unit.SHARE, 1.0, 0.0, 1.0, 0.0, 1.0, 0.01, word="lightness", scales=False),
        Number("chroma", "Chroma", Unit.SHARE, 0.0, 0.0, 1.0, 0.0, 1.0, 0.01, scales=False),
        Number("hue", "Hue", Unit.ANGLE, 0.0, 0.0, 360.0, -360.0, 360.0, 1.0, scales=False),
    ),
    synonyms=("outline", "circle", "border", "mark", "point out", "callout", "frame", "stroke"),
    says="The region's outline as a line at a distance, whole or dashed.",
    of_a_region=True,
    plan=_plan,
)
