"""A closed outline of Bézier curves as the corners of a polygon that follows it."""

import numpy as np
from numpy.typing import NDArray

from calado.region.part import Points


def flattened(points: Points, tolerance: float) -> NDArray[np.float64]:
    """Return the corners, shape (N, 2), of a polygon that follows an outline within ``tolerance``.

    A cubic cut into n equal chords is left by at most (6/8)·M/n², with M the larger of its two second differences:
    a chord misses by h²/8 times the second derivative, which is at most 6·M.
    """
    handled = np.array([[*point, *([0.0] * (6 - len(point)))] for point in points])
    start, end = handled[:, :2], np.roll(handled[:, :2], -1, axis=0)
    out, into = handled[:, 4:6], np.roll(handled[:, 2:4], -1, axis=0)
    cubics = np.stack([start, start + out, end + into, end], axis=1)
    bends = np.hypot(*np.moveaxis(np.diff(cubics, n=2, axis=1), 2, 0)).max(axis=1)
    straight = ~(out.any(axis=1) | into.any(axis=1))
    chords = np.where(straight, 1, np.maximum(1, np.ceil(np.sqrt(0.75 * bends / tolerance)))).astype(int)
    which = np.repeat(np.arange(len(points)), chords)
    t = (np.arange(len(which)) - np.repeat(np.cumsum(chords) - chords, chords)) / chords[which]
    s = 1 - t
    weights = np.stack([s**3, 3 * s * s * t, 3 * s * t * t, t**3], axis=1)
    return np.ascontiguousarray(np.einsum("nk,nkc->nc", weights, cubics[which]))
