"""Lines drawn as strokes, whole or dashed, antialiased by their distance."""

import numpy as np

from calado.arrays import Matte
from calado.compiled import compiled
from calado.region.contours import Contour, Way
from calado.window import Window

#: the shortest dash, in picture heights: half a pixel of a picture 1000 high
SHORTEST = 0.0005


def dashed(line: Contour, dash: float) -> list[Way]:
    """Return the pieces of a line that are drawn: all of it, or dashes with gaps as long as they.

    On a closed line the dashes are stretched a little, so that they come out even. Dashes too short to be told apart
    run together.
    """
    if dash < SHORTEST:
        return [line.points]
    steps = np.hypot(*np.diff(line.points, axis=0).T)
    along = np.concatenate([[0.0], np.cumsum(steps)])
    count = max(1, round(along[-1] / (2 * dash)))
    period = along[-1] / count if line.closed else 2 * dash
    pieces = []
    for start in np.arange(0, along[-1] - 1e-9, period):
        end = min(start + period / 2, along[-1])
        at = np.concatenate([[start], along[(along > start) & (along < end)], [end]])
        pieces.append(np.stack([np.interp(at, along, line.points[:, k]) for k in (0, 1)], axis=1))
    return pieces


@compiled()
def _stroke(points, half, left, top, out):  # type: ignore[no-untyped-def]
    """Lay one polyline over ``out``; ``points`` and ``half`` (half the width) in pixels."""
    height, width = out.shape
    reach = half + 1.0
    for k in range(points.shape[0] - 1):
        ax, ay = points[k, 0] - left, points[k, 1] - top
        bx, by = points[k + 1, 0] - left, points[k + 1, 1] - top
        dx, dy = bx - ax, by - ay
        square = dx * dx + dy * dy
        y0, y1 = max(int(min(ay, by) - reach), 0), min(int(max(ay, by) + reach) + 1, height)
        x0, x1 = max(int(min(ax, bx) - reach), 0), min(int(max(ax, bx) + reach) + 1, width)
        for y in range(y0, y1):
            for x in range(x0, x1):
                wx, wy = x + 0.5 - ax, y + 0.5 - ay
                t = min(max((wx * dx + wy * dy) / square, 0.0), 1.0) if square > 0 else 0.0
                d = np.sqrt((wx - t * dx) ** 2 + (wy - t * dy) ** 2)
                # a line thinner than a pixel is fainter, not wider
                covered = min(max(half + 0.5 - d, 0.0), min(1.0, 2 * half))
                if covered > out[y, x]:
                    out[y, x] = covered


def stroked(lines: list[Contour], width: float, dash: float, window: Window) -> Matte:
    """Return how much of each pixel the strokes cover, shape (H, W); ``width`` and ``dash`` in picture heights."""
    out = np.zeros((window.height, window.width), np.float32)
    half = width / 2 / window.pixel
    for line in lines:
        for piece in dashed(line, dash):
            points = np.ascontiguousarray(piece / window.pixel)
            _stroke(points, half, float(window.left), float(window.top), out)
    return out
