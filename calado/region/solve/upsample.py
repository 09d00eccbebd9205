"""Laying a matte solved at one size into a window of any size.

Smaller: each pixel takes the mean. Larger: in every small window the matte is a line through the picture's colours, and
these lines, read evenly between their places, are followed by the colours of the larger picture; so an edge comes out
as fine as the picture has it.

References
----------
He2013: the guided filter, with colour; He2015: its lines found small and applied large.
"""

import threading
from collections import OrderedDict
from collections.abc import Callable

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte
from calado.window import Window

#: the side of the windows in which a line is sought, and how far colours may stray from it
SIDE, STRAY = 5, 1e-5
#: mattes whose lines are kept: two regions, each with a rough-in and a resolved edge
KEPT = 4
Lines = NDArray[np.float32]
Plane = NDArray[np.float64]


def lines_of(matte: Matte, encoded: NDArray[np.float32]) -> Lines:
    """Return the lines, shape (4, H, W): three slopes and an offset; ``encoded`` has shape (H, W, 3)."""

    def mean(plane: NDArray[np.float64]) -> NDArray[np.float64]:
        return np.asarray(cv2.boxFilter(plane, -1, (SIDE, SIDE), borderType=cv2.BORDER_REPLICATE), np.float64)

    colours = [np.ascontiguousarray(encoded[..., c], np.float64) for c in range(3)]
    target = matte.astype(np.float64)
    means, middle = [mean(each) for each in colours], mean(target)
    spread = {
        (i, j): mean(colours[i] * colours[j]) - means[i] * means[j] + (STRAY if i == j else 0.0)
        for i in range(3)
        for j in range(i, 3)
    }
    slopes = _solved(spread, [mean(each * target) - at * middle for each, at in zip(colours, means, strict=True)])
    offset = middle - sum(slopes[i] * means[i] for i in range(3))
    return np.stack([mean(each) for each in (*slopes, offset)]).astype(np.float32)


def _solved(spread: dict[tuple[int, int], Plane], along: list[Plane]) -> list[Plane]:
    """Return the three planes that solve a symmetric system at each pixel, by Cramer's rule: no pivots are needed.

    ``STRAY`` keeps its determinant away from 0.
    """
    xx, xy, xz, yy, yz, zz = (spread[ij] for ij in ((0, 0), (0, 1), (0, 2), (1, 1), (1, 2), (2, 2)))
    a, b, c = yy * zz - yz * yz, xz * yz - xy * zz, xy * yz - xz * yy
    d, e, f = xx * zz - xz * xz, xy * xz - xx * yz, xx * yy - xy * xy
    over = 1 / (xx * a + xy * b + xz * c)
    x, y, z = along
    return [(a * x + b * y + c * z) * over, (b * x + d * y + e * z) * over, (c * x + e * y + f * z) * over]


class KeptLines:
    """Keeps the lines of the last mattes, so that moving over a picture does not find them again; shared by threads."""

    def __init__(self) -> None:
        self._held: OrderedDict[tuple[str, int], tuple[Matte, Lines]] = OrderedDict()
        self._lock = threading.Lock()

    def of(self, key: str, matte: Matte, encoded: Callable[[], NDArray[np.float32]]) -> Lines:
        """Return the lines of a matte; ``key`` names it, a coarse and a fine one alike."""
        # the matte is held too, so its id is no other's meanwhile
        at = key, id(matte)
        with self._lock:
            if at in self._held:
                self._held.move_to_end(at)
                return self._held[at][1]
        lines = lines_of(matte, encoded())
        with self._lock:
            self._held[at] = matte, lines
            while len(self._held) > KEPT:
                self._held.popitem(last=False)
        return lines


def laid(plane: NDArray[np.float32], small: Window, window: Window) -> NDArray[np.float32]:
    """Return a plane of the whole frame, shape (H, W), read evenly at the pixels of a window; its border goes on."""
    step = window.pixel / small.pixel
    if step > 1:  # the mean first, so that nothing is left out between the places that are read
        size = (max(1, round(small.width / step)), max(1, round(small.height / step)))
        plane = np.asarray(cv2.resize(plane, size, interpolation=cv2.INTER_AREA), np.float32)
    rows, columns = (
        ((np.arange(n) + start + 0.5) * window.pixel * shape / extent - 0.5).astype(np.float32)
        for n, start, shape, extent in (
            (window.height, window.top, plane.shape[0], small.height * small.pixel),
            (window.width, window.left, plane.shape[1], small.width * small.pixel),
        )
    )
    across = np.broadcast_to(columns[None], (window.height, window.width))
    down = np.broadcast_to(rows[:, None], (window.height, window.width))
    places = np.ascontiguousarray(across), np.ascontiguousarray(down)
    return np.asarray(cv2.remap(plane, *places, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE), np.float32)


def laid_by_lines(lines: Lines, encoded: NDArray[np.float32], small: Window, window: Window) -> Matte:
    """Return the matte of a window, shape (H, W), by lines of the whole frame and the window's encoded planes."""
    slopes = [laid(lines[c], small, window) for c in range(4)]
    made = slopes[3] + sum(slopes[c] * encoded[c] for c in range(3))
    return np.clip(made, 0, 1, out=made)
