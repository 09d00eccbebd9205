"""Gaussian blur of one side of a region, which takes no light from the other side.

References
----------
Knutsson1993: B = G∗(w·x) / G∗w with the side's coverage w as certainty (see ``calado.adjust.blur.cells``).
"""

from calado.adjust.blur.cells import LEAST_SIGMA_PX, blur, reach_px
from calado.adjust.blur.grade import GRADE, graded
from calado.adjust.kind import Composited, Rows, SpatialAdjustment, SpatialContext, SpatialPlan
from calado.arrays import Planes
from calado.colour.spaces import ColourSpace
from calado.sheet.declare import Number, Unit, Values
from calado.window import Window


def _plan(values: Values, space: ColourSpace) -> SpatialPlan:
    number = BLUR.all_numbers(values)
    across, down = number["radius"] * number["across"], number["radius"] * number["down"]

    def run(planes: Planes, at: SpatialContext, share: float) -> Rows:
        sigmas = (across * share / at.window.pixel, down * share / at.window.pixel)
        if max(sigmas) < LEAST_SIGMA_PX:
            return Composited(planes)
        return blur(planes, at.matte, at.window, sigmas, outside=at.outside)

    def reach(window: Window) -> int:
        sigmas = (across / window.pixel, down / window.pixel)
        return reach_px(sigmas) if max(sigmas) >= LEAST_SIGMA_PX else 0

    return graded(SpatialPlan(run, reach, sigma=max(across, down)), values)


BLUR = SpatialAdjustment(
    roles=("blur", "sized"),
    id="blur",
    name="Blur",
    group="Blur",
    side="outside",
    space="linear",
    parameters=(
        Number("radius", "Blur", Unit.LENGTH, 0.0, 0.0, 0.05, 0.0, 0.25, 0.001, curve="square"),
        Number("across", "Across", Unit.SHARE, 1.0, 0.0, 1.0, 0.0, 1.0, 0.01, scales=False),
        Number("down", "Up and down", Unit.SHARE, 1.0, 0.0, 1.0, 0.0, 1.0, 0.01, scales=False),
        *GRADE,
    ),
    synonyms=("soft", "soften", "defocus", "gaussian", "unsharp", "out of focus", "background", "surround"),
    says="A Gaussian; the other side lends it no light, so no halo.",
    plan=_plan,
)
