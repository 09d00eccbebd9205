"""How far each pixel lies from lines, to the part of a pixel: exact beside them, handed on from pixel to pixel beyond.

Each pixel keeps the segment that is nearest to it. Those beside a segment find it themselves; from there it is handed
to the neighbours, by sweeps over the rows down and up, each to the right and back, and each takes it by its own exact
distance (Danielsson1980, with segments in place of points).
"""

import numba as nb
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte
from calado.compiled import compiled
from calado.region.contours import Contour
from calado.window import Window

#: from so near, in pixels, a segment is found directly
BESIDE = 1.5


@compiled(inline="always")
def _away(x, y, segment):  # type: ignore[no-untyped-def]
    """Return the distance of a pixel's middle from a segment (x0, y0, x1, y1)."""
    dx, dy = segment[2] - segment[0], segment[3] - segment[1]
    wx, wy = x + 0.5 - segment[0], y + 0.5 - segment[1]
    square = dx * dx + dy * dy
    t = min(max((wx * dx + wy * dy) / square, 0.0), 1.0) if square > 0 else 0.0
    return np.sqrt((wx - t * dx) ** 2 + (wy - t * dy) ** 2)


@compiled("void(float64[:, ::1], int32[:, ::1], float32[:, ::1])")
def _seed(segments, nearest, away):  # type: ignore[no-untyped-def]
    high, wide = away.shape
    for k in range(segments.shape[0]):
        segment = segments[k]
        x0, x1 = min(segment[0], segment[2]) - BESIDE, max(segment[0], segment[2]) + BESIDE
        y0, y1 = min(segment[1], segment[3]) - BESIDE, max(segment[1], segment[3]) + BESIDE
        for y in range(max(int(y0), 0), min(int(y1) + 1, high)):
            for x in range(max(int(x0), 0), min(int(x1) + 1, wide)):
                d = _away(x, y, segment)
                if d < away[y, x]:
                    away[y, x], nearest[y, x] = d, k


@compiled(inline="always")
def _take(segments, nearest, away, y, x, j, i, reach):  # type: ignore[no-untyped-def]
    """Let a pixel take its neighbour's segment, if that is nearer than its own and within reach."""
    k = nearest[j, i]
    if k < 0 or k == nearest[y, x] or away[j, i] > away[y, x] + nb.float32(1.5):
        return
    d = _away(x, y, segments[k])
    if d < away[y, x] and d <= reach:
        away[y, x], nearest[y, x] = d, k


@compiled("void(float64[:, ::1], int32[:, ::1], float32[:, ::1], float64)")
def _sweep(segments, nearest, away, reach):  # type: ignore[no-untyped-def]
    high, wide = away.shape
    for way in (1, -1):
        for count in range(high):
            y = count if way > 0 else high - 1 - count
            before = y - way
            if 0 <= before < high:
                for x in range(wide):
                    for i in range(max(x - 1, 0), min(x + 2, wide)):
                        _take(segments, nearest, away, y, x, before, i, reach)
            for x in range(1, wide):
                _take(segments, nearest, away, y, x, y, x - 1, reach)
            for x in range(wide - 2, -1, -1):
                _take(segments, nearest, away, y, x, y, x + 1, reach)


def distance_to(lines: list[Contour], window: Window, reach: float) -> NDArray[np.float32]:
    """Return how far each pixel of a window lies from lines, in pixels, shape (H, W); infinite beyond ``reach``."""
    away = np.full((window.height, window.width), np.inf, np.float32)
    nearest = np.full(away.shape, -1, np.int32)
    places = [line.points / window.pixel - (window.left, window.top) for line in lines]
    if places:
        segments = np.concatenate([np.concatenate([each[:-1], each[1:]], axis=1) for each in places])
        segments = np.ascontiguousarray(segments, np.float64)
        _seed(segments, nearest, away)
        _sweep(segments, nearest, away, float(reach))
    return away


@compiled()
def _ring(away, matte, middle, half, out):  # type: ignore[no-untyped-def]
    most = nb.float32(min(1.0, 2 * half))
    at, rim = nb.float32(middle), nb.float32(half + 0.5)
    for y in range(out.shape[0]):
        for x in range(out.shape[1]):
            d = -away[y, x] if matte[y, x] >= nb.float32(0.5) else away[y, x]
            # a line thinner than a pixel is fainter, not wider
            out[y, x] = min(max(rim - abs(d - at), nb.float32(0)), most)


def ring_at(away: NDArray[np.float32], matte: Matte, middle: float, width: float) -> Matte:
    """Return how much of each pixel a ring covers, from the distances to the outline of a matte.

    ``middle`` tells how far outside of the outline the ring's middle runs, ``width`` how wide it is, in pixels.
    """
    out = np.empty_like(away)
    _ring(away, matte, middle, width / 2, out)
    return out
