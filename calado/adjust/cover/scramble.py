"""A strong blur with noise over it, to conceal: the noise hides what sharpening could bring back.

The picture is blurred within its side by a Gaussian, then noise of a third of the blur's size is added in proportion
to the light (our choice). Noise that can be made again divides out, so what hands a picture on seeds it with a secret
of its own, anew each time.
"""

import numpy as np

from calado.adjust.blur.cells import LEAST_SIGMA_PX, blur, reach_px
from calado.adjust.kind import Composited, Rows, SpatialAdjustment, SpatialContext, SpatialPlan
from calado.adjust.texture.noise import field
from calado.arrays import Planes
from calado.colour.spaces import ColourSpace
from calado.sheet.declare import Number, Unit, Values
from calado.window import Window

SEED = 77


def _plan(values: Values, space: ColourSpace) -> SpatialPlan:
    number = SCRAMBLE.all_numbers(values)

    def run(planes: Planes, at: SpatialContext, share: float) -> Rows:
        sigma = number["radius"] / at.window.pixel
        if sigma < LEAST_SIGMA_PX:
            return Composited(planes)
        out = np.empty_like(planes)
        blurred = blur(planes, at.matte, at.window, (sigma, sigma), outside=at.outside)
        blurred.rows_into(0, out.shape[1], 0, out)
        noise = field(at.window, max(number["radius"] / 3, at.window.pixel / 8), SEED, at.secret, at.anchor)
        return Composited(out * np.exp2(np.float32(number["noise"]) * noise))

    def reach(window: Window) -> int:
        sigma = number["radius"] / window.pixel
        return reach_px((sigma, sigma)) if sigma >= LEAST_SIGMA_PX else 0

    return SpatialPlan(run, reach)


SCRAMBLE = SpatialAdjustment(
    id="scramble",
    name="Blur cover",
    group="Cover",
    space="linear",
    parameters=(
        Number("radius", "Blur cover", Unit.LENGTH, 0.0, 0.0, 0.08, 0.0, 0.4, 0.001, curve="square", word="blur cover"),
        Number("noise", "Noise", Unit.SHARE, 0.25, 0.0, 1.0, 0.0, 1.0, 0.01, scales=False),
    ),
    synonyms=("conceal", "hide", "anonymise", "censor", "strong blur", "face"),
    says="A strong blur with noise, so that sharpening brings nothing back.",
    begins={"radius": 0.03},
    holds={},
    plan=_plan,
)
