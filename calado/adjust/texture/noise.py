"""Noise that stands still in the picture: the same at every size, and the same on every machine.

A value hashed from a lattice point's place and a seed (our choice: a 32-bit integer mix, public domain) is roughly normal
(sum of four even ones, variance 1). Between lattice points it is interpolated by a raised cosine, with its variance
brought back to 1. Where a pixel is larger than the lattice it shows the mean of several points: its variance falls in
proportion to the area.
"""

import numba as nb
import numpy as np

from calado.strips import each_strip
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


@nb.njit(nogil=True, cache=True, fastmath=True)
def _field_into(left, top, step, seed, first, last, out):  # type: ignore[no-untyped-def]
    """``step``: lattice points per pixel, at most 1."""
    for y in range(first, last):
        v = (y + top + 0.5) * step - 0.5
        i = nb.int64(np.floor(v))
        fy = nb.float32(0.5 - 0.5 * np.cos(np.pi * (v - i)))
        for x in range(out.shape[1]):
            u = (x + left + 0.5) * step - 0.5
            j = nb.int64(np.floor(u))
            fx = nb.float32(0.5 - 0.5 * np.cos(np.pi * (u - j)))
            a = value_at(i, j, seed) * (1 - fx) + value_at(i, j + 1, seed) * fx
            b = value_at(i + 1, j, seed) * (1 - fx) + value_at(i + 1, j + 1, seed) * fx
            spread = ((1 - fx) * (1 - fx) + fx * fx) * ((1 - fy) * (1 - fy) + fy * fy)
            out[y, x] = (a * (1 - fy) + b * fy) / np.sqrt(nb.float32(spread))


def field(window: Window, size: float, seed: int) -> np.ndarray:
    """Return noise in a window, shape (H, W), of mean 0 and variance 1 at grains of ``size`` picture heights."""
    step = window.pixel / size
    out = np.empty((window.height, window.width), np.float32)
    held = min(step, 1.0)
    each_strip(
        out.shape[0], 32, lambda first, last: _field_into(window.left, window.top, held, seed, first, last, out)
    )
    return out if step <= 1 else out / np.float32(step)
