"""The lines along which a matte has one value, traced between its pixels.

References
----------
Marching squares, by the ContourPy library; a place between two pixels is found linearly.
"""

from dataclasses import dataclass
from typing import cast

import contourpy
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte
from calado.window import Window

#: a line with fewer points than this is a speck
LEAST_POINTS = 4

Way = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Contour:
    """A line of one value: ``points``, shape (N, 2), in picture heights; closed, or cut by the frame."""

    points: Way
    closed: bool

    @property
    def length(self) -> float:
        """How long it is, in picture heights."""
        return float(np.hypot(*np.diff(self.points, axis=0).T).sum())


def contours(matte: Matte, window: Window, level: float = 0.5, *, round_frame: bool = False) -> list[Contour]:
    """Return the lines of a matte at a level, the longest first.

    ``round_frame`` closes lines along the border of the window, as if nothing were inside beyond it.
    """
    left, top = float(window.left), float(window.top)
    x, y = left + np.arange(window.width) + 0.5, top + np.arange(window.height) + 0.5
    z = matte.astype(np.float64)
    if round_frame:
        z = np.pad(z, 1)
        x = np.concatenate([[left], x, [left + window.width]])
        y = np.concatenate([[top], y, [top + window.height]])
    if min(z.shape) < 2:
        return []
    # a plateau of just this value has no line; a hair's breadth beside it there is one
    lines = cast(list[Way], contourpy.contour_generator(x, y, z).lines(level + 1e-6))
    made = [Contour(line * window.pixel, bool(np.array_equal(line[0], line[-1]))) for line in lines]
    return sorted((each for each in made if len(each.points) >= LEAST_POINTS), key=lambda each: -each.length)
