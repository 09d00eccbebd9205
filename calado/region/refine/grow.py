"""Open or close, and grow or shrink: both by a disc."""

from calado.arrays import Matte
from calado.region.refine.disc import grown
from calado.region.refine.step import RefineStep
from calado.sheet.declare import Number, Unit


def opened_or_closed(matte: Matte, radius_px: float) -> Matte:
    """Return the matte closed by a disc, or opened where the radius is below 0.

    Closing fills gaps narrower than the disc; opening takes specks and bridges narrower than it away.
    """
    return grown(grown(matte, radius_px), -radius_px)


OPEN_CLOSE = RefineStep(
    numbers=(Number("close", "Holes closed", Unit.LENGTH, 0.0, -0.02, 0.02, -0.2, 0.2, 0.001, word="closed/opened"),),
    apply=opened_or_closed,
    reach=lambda close: 2 * abs(close),
)
GROW = RefineStep(
    numbers=(Number("grow", "Grown", Unit.LENGTH, 0.0, -0.05, 0.05, -0.25, 0.25, 0.001, word="grown/shrunk"),),
    apply=grown,
    reach=abs,
)
