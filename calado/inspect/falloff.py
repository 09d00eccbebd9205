"""Corner falloff that a source already has: its radial profile, and the stops at the corner.

Luminance in stops is averaged in rings about the centre (median, so that things count little), and a · r² + b is fitted
to it (least squares with weights by ring), r = 1 at the corner; a, never above 0, is the falloff at the corner. A
picture whose corners hold darker *things* reads as falloff too: a single picture cannot tell them apart, so the word of
it is "darker", not "falls off".
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Planes
from calado.colour.spaces import ColourSpace

RINGS = 12
#: linear light below which a pixel says nothing
FLOOR = 1e-4


@dataclass(frozen=True, eq=False)
class Falloff:
    """``corner``: stops at the corner against the centre, at most 0; ``profile``: stops of each ring; ``share``: how well
    the rings follow the fit, 0…1."""

    corner: float
    profile: NDArray[np.float64]
    share: float

    @property
    def certain(self) -> bool:
        """Whether the rings darken outward evenly enough to be taken for a falloff."""
        return self.share > 0.6 and self.corner < -0.25


def falloff_of(planes: Planes, space: ColourSpace) -> Falloff:
    """Return the falloff of a picture, shape (3, H, W), linear light."""
    high, wide = planes.shape[1:]
    y, x = np.mgrid[:high, :wide]
    square = ((x + 0.5 - wide / 2) ** 2 + (y + 0.5 - high / 2) ** 2) / ((wide / 2) ** 2 + (high / 2) ** 2)
    stops = np.log2(np.maximum(np.tensordot(space.luminance_weights, planes, axes=1), FLOOR))
    ring = np.minimum((np.sqrt(square) * RINGS).astype(int), RINGS - 1)
    profile = np.array([np.median(stops[ring == k]) for k in range(RINGS)])
    places = np.array([square[ring == k].mean() for k in range(RINGS)])
    slope, _ = np.polyfit(places, profile, 1)
    fitted = np.polyval(np.polyfit(places, profile, 1), places)
    spread = float(((profile - profile.mean()) ** 2).sum())
    share = 1 - float(((profile - fitted) ** 2).sum()) / spread if spread > 1e-9 else 0.0
    return Falloff(min(float(slope), 0.0), profile - profile[0], share if slope < 0 else 0.0)
