"""The guided filter on one plane: a base that keeps edges, with the plane itself as guide.

References
----------
He2013 (guided filter), He2015 (its means at reduced size). Means are taken on cells of D × D pixels, anchored at the
picture's corner, D = ⌊r/4⌋; the two coefficients are interpolated linearly back to pixels and meet the plane at full
size, so edges stay sharp.
"""

from math import ceil, floor

import cv2
import numba as nb
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Planes
from calado.colour.spaces import ColourSpace
from calado.compiled import compiled
from calado.numeric import cbrt
from calado.strips import for_rows
from calado.window import Window

Plane = NDArray[np.float32]
CELLS = 4


@compiled(fastmath=True)
def _tone_into(planes, weights, first, last, out):  # type: ignore[no-untyped-def]
    for y in range(first, last):
        for x in range(out.shape[1]):
            value = weights[0] * planes[0, y, x] + weights[1] * planes[1, y, x] + weights[2] * planes[2, y, x]
            out[y, x] = cbrt(max(value, nb.float32(0)))


def tone(planes: Planes, space: ColourSpace) -> Plane:
    """Return the cube root of luminance, shape (H, W): nearly even to the eye, as the L of OKLab is."""
    out = np.empty((planes.shape[1], planes.shape[2]), np.float32)
    weights = space.luminance_weights.astype(np.float32)
    for_rows(out.shape[0], 64, lambda first, last: _tone_into(planes, weights, first, last, out))
    return out


@compiled(fastmath=True)
def _ratio_into(planes, before, after, first, last, out):  # type: ignore[no-untyped-def]
    for y in range(first, last):
        for x in range(before.shape[1]):
            old, new = before[y, x], max(after[y, x], nb.float32(0))
            share = new / max(old, nb.float32(1e-4))
            share = min(share * share * share, nb.float32(64))
            for c in range(3):
                out[c, y, x] = planes[c, y, x] * share


def with_tone(planes: Planes, before: Plane, after: Plane) -> Planes:
    """Return the picture with its tone brought from ``before`` to ``after``; the channels keep their ratios."""
    out = np.empty_like(planes)
    for_rows(before.shape[0], 64, lambda first, last: _ratio_into(planes, before, after, first, last, out))
    return out


def cell_of(radius_px: float) -> int:
    """Return the side of the cells, in pixels, for a radius."""
    return max(1, floor(radius_px / CELLS))


def reach_px(radius_px: float) -> int:
    """Return how many pixels around a window the filter reads."""
    cell = cell_of(radius_px)
    return (2 * ceil(radius_px / cell) + 3) * cell


@compiled(fastmath=True)
def _means_into(plane, cell, left, top, first, last, out):  # type: ignore[no-untyped-def]
    """Fill rows of cells with the mean of the plane and of its square; cells at the border take what they have."""
    high, wide = plane.shape
    for i in range(first, last):
        for j in range(out.shape[2]):
            y0, x0 = top + i * cell, left + j * cell
            total, square, count = nb.float32(0), nb.float32(0), 0
            for y in range(max(y0, 0), min(y0 + cell, high)):
                for x in range(max(x0, 0), min(x0 + cell, wide)):
                    value = plane[y, x]
                    total += value
                    square += value * value
                    count += 1
            out[0, i, j] = total / nb.float32(count)
            out[1, i, j] = square / nb.float32(count)


@compiled(fastmath=True)
def _lay_into(plane, slope, offset, cell, left, top, first, last, out):  # type: ignore[no-untyped-def]
    """Out = a·p + b with a and b interpolated linearly from cells."""
    high, wide = slope.shape
    over = nb.float32(1.0 / cell)
    for y in range(first, last):
        v = (nb.float32(y - top) + nb.float32(0.5)) * over - nb.float32(0.5)
        i = min(max(nb.int32(np.floor(v)), 0), max(high - 2, 0))
        below = min(i + 1, high - 1)
        fy = min(max(v - nb.float32(i), nb.float32(0)), nb.float32(1))
        for x in range(plane.shape[1]):
            u = (nb.float32(x - left) + nb.float32(0.5)) * over - nb.float32(0.5)
            j = min(max(nb.int32(np.floor(u)), 0), max(wide - 2, 0))
            right = min(j + 1, wide - 1)
            fx = min(max(u - nb.float32(j), nb.float32(0)), nb.float32(1))
            a0 = slope[i, j] + fx * (slope[i, right] - slope[i, j])
            a1 = slope[below, j] + fx * (slope[below, right] - slope[below, j])
            b0 = offset[i, j] + fx * (offset[i, right] - offset[i, j])
            b1 = offset[below, j] + fx * (offset[below, right] - offset[below, j])
            out[y, x] = (a0 + fy * (a1 - a0)) * plane[y, x] + b0 + fy * (b1 - b0)


def base_of(plane: Plane, radius_px: float, eps: float, window: Window) -> Plane:
    """Return the base of a plane, shape (H, W): smooth within ``radius_px``, with edges stronger than √eps kept."""
    cell = cell_of(radius_px)
    left, top = -(window.left % cell), -(window.top % cell)
    high, wide = -(-(window.height - top) // cell), -(-(window.width - left) // cell)
    means = np.empty((2, high, wide), np.float32)
    for_rows(high, max(1, 64 // cell), lambda first, last: _means_into(plane, cell, left, top, first, last, means))
    half = max(1, round(radius_px / cell))
    mean, square = _box(means[0], half), _box(means[1], half)
    # rounding may leave a variance just below 0
    variance = np.maximum(square - mean * mean, 0)
    slope = np.asarray(variance / (variance + np.float32(eps)), np.float32)
    offset = mean - slope * mean
    slope, offset = _box(slope, half), _box(np.asarray(offset, np.float32), half)
    out = np.empty_like(plane)
    for_rows(plane.shape[0], 32, lambda first, last: _lay_into(plane, slope, offset, cell, left, top, first, last, out))
    return out


def _box(plane: Plane, half: int) -> Plane:
    return cv2.boxFilter(plane, -1, (2 * half + 1, 2 * half + 1), borderType=cv2.BORDER_REPLICATE)  # type: ignore[return-value]
