"""Smoothing an outline: the median over a disc.

A straight edge stays where it is, with its softness; burrs, notches and grain that fill less than half of the disc go.

References
----------
Huang1979: the median by a histogram that follows the window, here with a disc and 256 bins, read between the bins.
"""

from math import floor

import numpy as np

from calado.arrays import Matte
from calado.compiled import compiled
from calado.region.refine.disc import BLOCK, extremes, flat_value
from calado.region.refine.step import RefineStep
from calado.sheet.declare import Number, Unit
from calado.strips import for_rows

ROWS = 32


@compiled(inline="always")
def _middle(bins, half):  # type: ignore[no-untyped-def]
    """Return the value below which half of the window lies, read between the bins."""
    below = 0
    for b in range(256):
        if below + bins[b] >= half:
            return min(max((b - 0.5 + (half - below) / bins[b]) / 255.0, 0.0), 1.0)
        below += bins[b]
    return 1.0


@compiled()
def _median_rows(codes, source, blocks, radius, first, last, out):  # type: ignore[no-untyped-def]
    height, width = codes.shape
    chord = np.array([int(np.sqrt(float(radius * radius - dy * dy))) for dy in range(-radius, radius + 1)])
    bins = np.zeros(256, np.int64)
    for y in range(first, last):
        top, bottom = max(y - radius, 0), min(y + radius + 1, height)
        filled = -2  # the column for which the bins stand
        for x0 in range(0, width, BLOCK):
            x1 = min(x0 + BLOCK, width)
            if flat_value(blocks, top, bottom, x0 - radius, x1 + radius) >= 0:
                out[y, x0:x1] = source[y, x0:x1]
                continue
            for x in range(x0, x1):
                if filled == x - 1:
                    for row in range(top, bottom):
                        wide = chord[row - y + radius]
                        gone, come = x - 1 - wide, x + wide
                        if gone >= 0:
                            bins[codes[row, gone]] -= 1
                        if come < width:
                            bins[codes[row, come]] += 1
                else:
                    bins[:] = 0
                    for row in range(top, bottom):
                        wide = chord[row - y + radius]
                        for column in range(max(x - wide, 0), min(x + wide + 1, width)):
                            bins[codes[row, column]] += 1
                filled = x
                out[y, x] = _middle(bins, bins.sum() * 0.5)


def _median(matte: Matte, radius: int) -> Matte:
    if radius == 0:
        return matte
    source = np.ascontiguousarray(matte)
    codes, blocks = np.rint(source * 255).astype(np.uint8), extremes(source)
    out = np.empty_like(source)

    def work(first: int, last: int) -> None:
        _median_rows(codes, source, blocks, radius, first, last, out)

    for_rows(source.shape[0], ROWS, work)
    return out


def smoothed(matte: Matte, radius_px: float) -> Matte:
    """Return the matte's median over a disc; a radius between two whole pixels mixes theirs."""
    less = floor(radius_px)
    share = np.float32(radius_px - less)
    below = _median(matte, less)
    return below if share == 0 else below + share * (_median(matte, less + 1) - below)


SMOOTH = RefineStep(
    numbers=(Number("smooth", "Smoothed", Unit.LENGTH, 0.0, 0.0, 0.02, 0.0, 0.05, 0.001, word="smoothed"),),
    apply=smoothed,
    reach=abs,
)
