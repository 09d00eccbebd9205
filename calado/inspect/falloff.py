"""Corner falloff that a source already has: its radial profile, and the stops at the corner.

Luminance in stops is averaged in rings about the centre (median, so that things count little), and a · r² + b is fitted
to it (least squares), r = 1 at the corner; a, never above 0, is the falloff at the corner. A picture whose corners hold
darker *things* reads as falloff too. So a falloff is certain only when the rings follow the fit, all four quarters of
the picture tell about the same, and it is no more than lenses and papers do (our limits).
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Floats, Planes
from calado.colour.spaces import ColourSpace

RINGS = 12
#: linear light below which a pixel says nothing
FLOOR = 1e-4
#: stops at the corner from which a falloff is spoken of, and beyond which it is none
LEAST, MOST = -0.25, -3.0

Fit = tuple[NDArray[np.float64], float, float]


@dataclass(frozen=True, eq=False)
class Falloff:
    """``corner``: stops at the corner against the centre, at most 0; ``profile``: stops of each ring.

    ``share`` tells how well the rings follow the fit, 0…1; ``apart`` how far the quarters' corners lie from each other,
    in stops.
    """

    corner: float
    profile: NDArray[np.float64]
    share: float
    apart: float

    @property
    def certain(self) -> bool:
        """Whether the picture darkens outward evenly enough to be taken for a falloff."""
        return self.share > 0.7 and MOST < self.corner < LEAST and self.apart < max(0.5, -0.5 * self.corner)


def falloff_of(planes: Planes, space: ColourSpace) -> Falloff:
    """Return the falloff of a picture, shape (3, H, W), linear light."""
    high, wide = planes.shape[1:]
    y, x = np.mgrid[:high, :wide]
    square = ((x + 0.5 - wide / 2) ** 2 + (y + 0.5 - high / 2) ** 2) / ((wide / 2) ** 2 + (high / 2) ** 2)
    stops = np.log2(np.maximum(np.tensordot(space.luminance_weights, planes, axes=1), FLOOR))
    ring = np.minimum((np.sqrt(square) * RINGS).astype(int), RINGS - 1)
    places = np.array([square[ring == k].mean() for k in range(RINGS)])
    profile, slope, share = _fitted(stops, ring, places, np.ones_like(ring, bool))
    quarters = [(y < high / 2) == up for up in (True, False)]
    sides = [(x < wide / 2) == left for left in (True, False)]
    slopes = [_fitted(stops, ring, places, quarter & side)[1] for quarter in quarters for side in sides]
    return Falloff(min(slope, 0.0), profile - profile[0], share if slope < 0 else 0.0, max(slopes) - min(slopes))


def _fitted(stops: Floats, ring: NDArray[np.int64], places: Floats, within: NDArray[np.bool_]) -> Fit:
    """Return the stops of each ring, the slope of the fit, and how well the rings follow it."""
    profile = np.array([np.median(stops[(ring == k) & within]) for k in range(RINGS)])
    line = np.polyfit(places, profile, 1)
    spread = float(((profile - profile.mean()) ** 2).sum())
    left = float(((profile - np.polyval(line, places)) ** 2).sum())
    return profile, float(line[0]), 1 - left / spread if spread > 1e-9 else 0.0
