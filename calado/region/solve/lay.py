"""Laying a matte solved at one size into a window of any size.

Smaller: each pixel takes the mean. Larger: in every small window the matte is a line through the picture's colours, and
these lines, read evenly between their places, are followed by the colours of the larger picture; so an edge comes out
as fine as the picture has it.

References
----------
He2013: the guided filter, with colour; He2015: its lines found small and applied large.
"""

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte
from calado.window import Window

#: the side of the windows in which a line is sought, and how far colours may stray from it
SIDE, STRAY = 5, 1e-5
Lines = NDArray[np.float32]


def lines_of(matte: Matte, encoded: NDArray[np.float32]) -> Lines:
    """Return the lines, shape (4, H, W): three slopes and an offset; ``encoded`` has shape (H, W, 3)."""

    def mean(plane: NDArray[np.float64]) -> NDArray[np.float64]:
        return np.asarray(cv2.boxFilter(plane, -1, (SIDE, SIDE), borderType=cv2.BORDER_REPLICATE), np.float64)

    colours = [np.ascontiguousarray(encoded[..., c], np.float64) for c in range(3)]
    target = matte.astype(np.float64)
    means, middle = [mean(each) for each in colours], mean(target)
    spread = np.empty((*matte.shape, 3, 3))
    for i in range(3):
        for j in range(i, 3):
            both = mean(colours[i] * colours[j]) - means[i] * means[j] + (STRAY if i == j else 0.0)
            spread[..., i, j] = spread[..., j, i] = both
    along = np.stack([mean(colours[i] * target) - means[i] * middle for i in range(3)], axis=-1)
    slopes = np.linalg.solve(spread, along[..., None])[..., 0]
    offset = middle - sum(slopes[..., i] * means[i] for i in range(3))
    return np.stack([mean(np.ascontiguousarray(each)) for each in (*np.moveaxis(slopes, -1, 0), offset)]).astype(
        np.float32
    )


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
