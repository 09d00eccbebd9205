"""Clipping a matte: what is at or below the low end becomes 0, at or above the high end 1, evenly between."""

import numpy as np

from calado.arrays import Matte
from calado.region.refine.step import RefineStep
from calado.sheet.declare import Number, Unit

#: the two ends never meet: a matte stays a slope, however steep
LEAST = 1e-3


def clipped(matte: Matte, low: float, high: float) -> Matte:
    """Return the matte, shape (H, W), spread between its clipped ends."""
    if low <= 0 and high >= 1:
        return matte
    return np.clip((matte - np.float32(low)) * np.float32(1 / max(high - low, LEAST)), 0, 1)


CLIP = RefineStep(
    numbers=(
        Number("clip_low", "Nothing below", Unit.SHARE, 0.0, 0.0, 1.0, 0.0, 1.0, 0.01, word="clipped below"),
        Number("clip_high", "Whole above", Unit.SHARE, 1.0, 0.0, 1.0, 0.0, 1.0, 0.01, word="clipped above"),
    ),
    apply=clipped,
)
