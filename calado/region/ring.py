"""A line round a region, at a distance from its outline: whole from a kept field of distances, dashed as strokes."""

from collections.abc import Callable, Hashable
from math import ceil, log2

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte
from calado.region.distance import distance_to, ring_at
from calado.region.matte import Mattes
from calado.region.resolved import ResolvedRegion
from calado.region.stroke import SHORTEST, stroked
from calado.region.tracing import outlines
from calado.window import Window

#: the least reach of a field, in pixels; each further one is twice as far, so that a line on its way stays in one
LEAST_REACH = 16

Array = NDArray[np.float32]
Kept = Callable[[Hashable, Callable[[], Array]], Array]


def ring_matte(
    mattes: Mattes, where: ResolvedRegion, window: Window, line: tuple[float, float, float], kept: Kept
) -> Matte:
    """Return how much of each pixel a line covers, shape (H, W).

    ``line`` = how far outside of the outline it begins, its width, the length of its dashes (0: whole), in picture
    heights. ``kept(key, make)`` keeps what is asked for again.
    """
    offset, width, dash = line
    middle = offset + width / 2
    if dash >= SHORTEST:
        return stroked(outlines(mattes, where, window, middle), width, dash, window)
    pixels = (abs(middle) + width / 2) / window.pixel + 2
    reach = LEAST_REACH * 2 ** max(0, ceil(log2(pixels / LEAST_REACH)))
    further = window.beyond(reach)

    def field() -> Array:
        lines = outlines(mattes, where, window, beyond=reach * window.pixel)
        return distance_to(lines, further, reach)

    away = kept(("away", where.key, window, reach), field)
    rows, columns = window.inside(further)
    whole = ring_at(away, mattes.of(where, further), middle / window.pixel, width / window.pixel)
    return whole[rows, columns].copy()
