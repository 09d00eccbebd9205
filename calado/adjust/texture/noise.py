"""Noise that stands still in the picture: the same at every size, and the same on every machine.

A value hashed from a lattice point's place and a seed (our choice: a 32-bit integer mix, public domain) is roughly
normal (sum of four even ones, variance 1). Between lattice points it is interpolated by a raised cosine, with its
variance brought back to 1. Where a pixel is larger than the lattice it shows the mean of several points: its variance
falls in proportion to the area.
"""

import numba as nb
import numpy as np
from numpy.typing import NDArray

from calado.sheet.models import UNMOVED, Anchor
from calado.strips import for_rows
from calado.window import Window


@nb.njit("float32(int64, int64, int64)", nogil=True, cache=True)
def value_at(i, j, seed):  # type: ignore[no-untyped-def]
    """Return the noise of a lattice point: mean 0, variance 1."""
    h = (i * 73856093) ^ (j * 19349663) ^ (seed * 83492791)
    h &= 0xFFFFFFFF
    total = 0.0
    for _ in range(4):
        h ^= h >> 16
        h = (h * 0x7FEB352D) & 0xFFFFFFFF
        h ^= h >> 15
        h = (h * 0x846CA68B) & 0xFFFFFFFF
        h ^= h >> 16
        total += h / 4294967296.0
        h = (h + 0x9E3779B9) & 0xFFFFFFFF
    return nb.float32((total - 2.0) * 1.7320508)


@nb.njit("int64(int64, int64, int64, int64[::1])", nogil=True, cache=True)
def _keyed(i, j, seed, keys):  # type: ignore[no-untyped-def]
    """Return a seed for one lattice point that only who has the keys can tell; without any, the seed itself."""
    if keys.size == 0:
        return seed
    h = ((i * 73856093) ^ (j * 19349663) ^ (seed * 83492791)) & 0xFFFFFFFF
    for key in keys:
        h ^= key & 0xFFFFFFFF
        h ^= h >> 16
        h = (h * 0x7FEB352D) & 0xFFFFFFFF
        h ^= h >> 15
        h = (h * 0x846CA68B) & 0xFFFFFFFF
        h ^= h >> 16
    return h


@nb.njit(nogil=True, cache=True)
def _lattice_into(row, column, seed, keys, first, last, out):  # type: ignore[no-untyped-def]
    for i in range(first, last):
        for j in range(out.shape[1]):
            out[i, j] = value_at(i + row, j + column, _keyed(i + row, j + column, seed, keys))


@nb.njit(nogil=True, cache=True, fastmath=True)
def _field_into(lattice, rows, row_ways, columns, ways, first, last, out):  # type: ignore[no-untyped-def]
    """``rows`` and ``columns``: the lattice point before each pixel; the ways: how far the pixel is to the next."""
    for y in range(first, last):
        above, below = lattice[rows[y]], lattice[rows[y] + 1]
        fy = row_ways[y]
        down = (1 - fy) * (1 - fy) + fy * fy
        for x in range(out.shape[1]):
            j, fx = columns[x], ways[x]
            a = above[j] + fx * (above[j + 1] - above[j])
            b = below[j] + fx * (below[j + 1] - below[j])
            out[y, x] = (a + fy * (b - a)) / np.sqrt(((1 - fx) * (1 - fx) + fx * fx) * down)


def _axis(start: float, count: int, step: float) -> tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.float32]]:
    """Return the first lattice point, the point before each pixel, counted from it, and the eased way to the next."""
    places = (np.arange(count) + start + 0.5) * step - 0.5
    points = np.floor(places).astype(np.int64)
    return points[:1], points - points[0], (0.5 - 0.5 * np.cos(np.pi * (places - points))).astype(np.float32)


def field(window: Window, size: float, seed: int, secret: int = 0, anchor: Anchor = UNMOVED) -> NDArray[np.float32]:
    """Return noise in a window, shape (H, W), of mean 0 and variance 1 at grains of ``size`` picture heights.

    With a ``secret`` of up to 96 bits it can be told only by who knows that. It stands still in the frame of reference
    that ``anchor`` tells.
    """
    keys = np.array([secret >> shift & 0xFFFFFFFF for shift in (0, 32, 64)] if secret else [], np.int64)
    step = window.pixel / (size * anchor.scale)
    held = min(step, 1.0)
    row, rows, row_ways = _axis(window.top - anchor.y / window.pixel, window.height, held)
    column, columns, ways = _axis(window.left - anchor.x / window.pixel, window.width, held)
    lattice = np.empty((int(rows[-1]) + 2, int(columns[-1]) + 2), np.float32)
    for_rows(
        lattice.shape[0],
        32,
        lambda first, last: _lattice_into(row[0], column[0], seed, keys, first, last, lattice),
    )
    out = np.empty((window.height, window.width), np.float32)
    for_rows(
        out.shape[0], 32, lambda first, last: _field_into(lattice, rows, row_ways, columns, ways, first, last, out)
    )
    return out if step <= 1 else out / np.float32(step)
