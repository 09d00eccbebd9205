"""Area averages of a source's rows and columns: what a smaller grid sees.

Convention: output pixel j covers [j·f, (j + 1)·f) source pixels, f ≥ 1, anchored at the picture's corner; what lies
beyond the frame does not count. Samples are decoded to linear light by a table on the way (integer sources) or taken as
they are.
"""

from math import ceil

import numpy as np
from numba import types
from numba.extending import overload
from numpy.typing import NDArray

from calado.arrays import Planes
from calado.compiled import compiled
from calado.strips import for_rows


def _light(code, table):  # type: ignore[no-untyped-def]
    """Return the linear light of a sample: a float is linear already, a code is looked up."""
    raise NotImplementedError


@overload(_light)
def _light_of(code, table):  # type: ignore[no-untyped-def]
    if isinstance(code, types.Float):
        return lambda code, table: code
    return lambda code, table: table[code]


@compiled()
def _mean_row(samples, table, y0, y1, f, left, row, out):  # type: ignore[no-untyped-def]
    """Add the rows y0…y1 of one plane, weighted by their overlap, and average along the row."""
    height, width = samples.shape
    first, last = int(np.floor(left * f)), min(int(np.ceil((left + out.size) * f)), width)
    row[: last - first] = 0
    total = np.float32(0)
    for i in range(int(np.floor(y0)), min(int(np.ceil(y1)), height)):
        weight = np.float32(min(i + 1.0, y1) - max(float(i), y0))
        if weight <= 0:
            continue
        total += weight
        source = samples[i]
        for x in range(first, last):
            row[x - first] += weight * _light(source[x], table)  # type: ignore[no-untyped-call]
    for j in range(out.size):
        x0, x1 = (left + j) * f, min((left + j + 1) * f, float(width))
        acc, share = np.float32(0), np.float32(0)
        for x in range(int(np.floor(x0)), min(int(np.ceil(x1)), width)):
            weight = np.float32(min(x + 1.0, x1) - max(float(x), x0))
            acc += weight * row[x - first]
            share += weight
        out[j] = acc / (share * total)


@compiled()
def _area_rows(samples, table, f, left, top, first, last, out):  # type: ignore[no-untyped-def]
    row = np.empty(samples.shape[2], np.float32)
    for c in range(3):
        for i in range(first, last):
            y0, y1 = (top + i) * f, (top + i + 1) * f
            _mean_row(samples[c], table, y0, y1, f, left, row, out[c, i])


@compiled()
def _copy_rows(samples, table, left, top, first, last, out):  # type: ignore[no-untyped-def]
    for c in range(3):
        for i in range(first, last):
            source = samples[c, top + i]
            for x in range(out.shape[2]):
                out[c, i, x] = _light(source[left + x], table)  # type: ignore[no-untyped-call]


#: a float source needs no table; numba types the two cases alike
NO_TABLE = np.zeros(0, np.float32)


def area_planes(
    samples: NDArray[np.generic], table: NDArray[np.float32], factor: float, place: tuple[int, int, int, int]
) -> Planes:
    """Return linear planes, shape (3, H, W), of the output rectangle ``place`` = (left, top, width, height).

    ``samples`` has shape (3, h, w); ``factor`` is source pixels per output pixel, at least 1.
    """
    left, top, width, height = place
    out = np.empty((3, height, width), np.float32)

    def work(first: int, last: int) -> None:
        if factor == 1.0:
            _copy_rows(samples, table, left, top, first, last, out)
        else:
            _area_rows(samples, table, factor, left, top, first, last, out)

    for_rows(height, 32, work)
    return out


def halved(planes: NDArray[np.generic], table: NDArray[np.float32]) -> Planes:
    """Return the linear picture at half size (rounded up), shape (3, ⌈h/2⌉, ⌈w/2⌉)."""
    height, width = planes.shape[1:]
    return area_planes(planes, table, 2.0, (0, 0, ceil(width / 2), ceil(height / 2)))


def level_for(scale: float) -> int:
    """Return the pyramid level (0 = full size) whose grid is the smallest that is not below ``scale``."""
    level = 0
    while 2.0 ** -(level + 1) >= scale - 1e-9:
        level += 1
    return level
