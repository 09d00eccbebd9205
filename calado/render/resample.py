"""Area averages of a source's rows and columns: what a smaller grid sees.

Convention: output pixel j covers [j·f, (j + 1)·f) source pixels, f ≥ 1, anchored at the picture's corner; what lies
beyond the frame does not count. Samples are decoded to linear light by a table on the way (integer sources) or taken as
they are.
"""

from math import ceil

import numba as nb
import numpy as np
from numba import types
from numba.extending import overload
from numpy.typing import NDArray

from calado.arrays import Planes
from calado.compiled import KEEPS_NAN, compiled
from calado.strips import for_rows


def _light(code, table):  # type: ignore[no-untyped-def]
    """Return the linear light of a sample: a float is linear already, a code is looked up."""
    raise NotImplementedError


@overload(_light)
def _light_of(code, table):  # type: ignore[no-untyped-def]
    if isinstance(code, types.Float):
        return lambda code, table: code
    return lambda code, table: table[code]


@compiled(fastmath=KEEPS_NAN)
def _add_row(samples, table, share, row):  # type: ignore[no-untyped-def]
    for x in range(samples.size):
        row[x] += share * _light(samples[x], table)  # type: ignore[no-untyped-call]


@compiled(fastmath=KEEPS_NAN, inline="always")
def _part(share, sample):  # type: ignore[no-untyped-def]
    # what does not count must not be a NaN either
    return share * sample if share > nb.float32(0) else nb.float32(0)


@compiled(fastmath=KEEPS_NAN)
def _along(row, starts, shares, out):  # type: ignore[no-untyped-def]
    """Average along a row: ``shares``, shape (taps, n), of the samples from ``starts`` on."""
    taps = shares.shape[0]
    if taps == 3:
        # as it is between two levels of a pyramid, where there is most of it
        near, beside, far = shares[0], shares[1], shares[2]
        for j in range(out.size):
            x = starts[j]
            out[j] = _part(near[j], row[x]) + _part(beside[j], row[x + 1]) + _part(far[j], row[x + 2])
        return
    for j in range(out.size):
        total, x = nb.float32(0), starts[j]
        for k in range(taps):
            total += _part(shares[k, j], row[x + k])
        out[j] = total


@compiled()
def _area_rows(samples, table, left, columns, rows, top, first, last, out):  # type: ignore[no-untyped-def]
    """``columns`` and ``rows`` = (starts, shares) of what each pixel is the mean of; ``left`` is the first column."""
    starts, shares = columns
    tops, parts = rows
    wide, high = samples.shape[2], samples.shape[1]
    # a sample more than there is counts for nothing
    row = np.zeros(starts[-1] + shares.shape[0], np.float32)
    end = min(left + row.size, wide)
    for c in range(samples.shape[0]):
        for i in range(first, last):
            row[:] = nb.float32(0)
            for k in range(parts.shape[0]):
                y = top + tops[i] + k
                if parts[k, i] > 0 and y < high:
                    _add_row(samples[c, y, left:end], table, parts[k, i], row)
            _along(row, starts, shares, out[c, i])


@compiled()
def _copy_rows(samples, table, left, top, first, last, out):  # type: ignore[no-untyped-def]
    for c in range(samples.shape[0]):
        for i in range(first, last):
            source = samples[c, top + i]
            for x in range(out.shape[2]):
                out[c, i, x] = _light(source[left + x], table)  # type: ignore[no-untyped-call]


#: a float source needs no table; numba types the two cases alike
NO_TABLE = np.zeros(0, np.float32)


def area_planes(
    samples: NDArray[np.generic], table: NDArray[np.float32], factor: float, place: tuple[int, int, int, int]
) -> Planes:
    """Return linear planes, shape (n, H, W), of the output rectangle ``place`` = (left, top, width, height).

    ``samples`` has shape (n, h, w); ``factor`` is source pixels per output pixel, at least 1.
    """
    left, top, width, height = place
    out = np.empty((samples.shape[0], height, width), np.float32)
    if factor != 1.0:
        leftmost, columns = _axis(left, width, factor, samples.shape[2])
        topmost, rows = _axis(top, height, factor, samples.shape[1])

    def work(first: int, last: int) -> None:
        if factor == 1.0:
            _copy_rows(samples, table, left, top, first, last, out)
        else:
            _area_rows(samples, table, leftmost, columns, rows, topmost, first, last, out)

    for_rows(height, 32, work)
    return out


def _axis(
    before: int, count: int, factor: float, size: int
) -> tuple[int, tuple[NDArray[np.int64], NDArray[np.float32]]]:
    """Return the first sample of an axis, and where each pixel's samples start, from it on, and their shares.

    ``before`` is the first pixel; the axis has ``size`` samples. Shares have shape (samples of a pixel, ``count``).
    """
    ends = (before + np.arange(count + 1)) * factor
    begin, end = ends[:-1], np.minimum(ends[1:], size)
    starts = np.floor(begin).astype(np.int64)
    at = starts + np.arange(max(int((np.ceil(end) - starts).max()), 3))[:, None]
    shares = np.maximum(np.minimum(at + 1, end) - np.maximum(at, begin), 0)
    return int(starts[0]), (starts - starts[0], (shares / shares.sum(axis=0)).astype(np.float32))


def halved(planes: NDArray[np.generic], table: NDArray[np.float32]) -> Planes:
    """Return the linear picture at half size (rounded up), shape (n, ⌈h/2⌉, ⌈w/2⌉)."""
    height, width = planes.shape[1:]
    return area_planes(planes, table, 2.0, (0, 0, ceil(width / 2), ceil(height / 2)))


def level_for(scale: float) -> int:
    """Return the pyramid level (0 = full size) whose grid is the smallest that is not below ``scale``."""
    level = 0
    while 2.0 ** -(level + 1) >= scale - 1e-9:
        level += 1
    return level
