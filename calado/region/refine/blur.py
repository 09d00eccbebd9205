"""Blurring a matte by a Gaussian."""

from math import ceil

import numpy as np

from calado.arrays import Matte
from calado.compiled import compiled
from calado.region.refine.disc import extremes, flat_value
from calado.region.refine.step import RefineStep
from calado.sheet.declare import Number, Unit
from calado.strips import for_rows

CUT_SIGMAS = 4.0
#: below this many pixels a Gaussian moves nothing that shows
LEAST_PX = 0.12
ROWS, COLUMNS = 32, 128


@compiled(fastmath=True)
def _blur_rows(source, blocks, taps, first, last, out):  # type: ignore[no-untyped-def]
    """Blur rows tile by tile: across first, into lines of their own, then down. At the array's border it goes on."""
    height, width = source.shape
    half = taps.size - 1
    lines = np.empty((last - first + 2 * half, COLUMNS), np.float32)
    wide = np.empty(COLUMNS + 2 * half, np.float32)
    for x0 in range(0, width, COLUMNS):
        x1 = min(x0 + COLUMNS, width)
        value = flat_value(blocks, first - half, last + half, x0 - half, x1 + half)
        if value >= 0:
            out[first:last, x0:x1] = value
            continue
        count = x1 - x0
        for k in range(lines.shape[0]):
            row = source[min(max(first - half + k, 0), height - 1)]
            for j in range(count + 2 * half):
                wide[j] = row[min(max(x0 - half + j, 0), width - 1)]
            line = lines[k]
            for j in range(count):
                line[j] = taps[0] * wide[j + half]
            for t in range(1, half + 1):
                weight = taps[t]
                for j in range(count):
                    line[j] += weight * (wide[j + half - t] + wide[j + half + t])
        for y in range(first, last):
            made = out[y, x0:x1]
            middle = lines[y - first + half]
            for j in range(count):
                made[j] = taps[0] * middle[j]
            for t in range(1, half + 1):
                weight, up, down = taps[t], lines[y - first + half - t], lines[y - first + half + t]
                for j in range(count):
                    made[j] += weight * (up[j] + down[j])


def blurred(matte: Matte, sigma_px: float) -> Matte:
    """Return the matte, shape (H, W), under a Gaussian; beyond the array it counts as continued."""
    if sigma_px < LEAST_PX:
        return matte
    taps = np.exp(-0.5 * (np.arange(ceil(CUT_SIGMAS * sigma_px) + 1) / sigma_px) ** 2)
    taps = (taps / (2 * taps.sum() - taps[0])).astype(np.float32)
    source = np.ascontiguousarray(matte)
    blocks = extremes(source)
    out = np.empty_like(source)

    def work(first: int, last: int) -> None:
        _blur_rows(source, blocks, taps, first, last, out)

    for_rows(source.shape[0], ROWS, work)
    return np.clip(out, 0, 1, out=out)


BLUR = RefineStep(
    numbers=(Number("blur", "Blurred", Unit.LENGTH, 0.0, 0.0, 0.05, 0.0, 0.25, 0.001, "blurred", "square"),),
    apply=blurred,
    reach=lambda blur: CUT_SIGMAS * blur,
)
