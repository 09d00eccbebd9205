"""Gaussian blur of one side of a region by normalised convolution, at the smallest size that shows no difference.

B = G∗(w·x) / G∗w with the side's coverage w as certainty (Knutsson1993): the side takes no light from the other, so no
halo can appear. A large Gaussian is computed on cells of D × D pixels, D = ⌊σ/3⌋: cell means, a Gaussian whose
variance is reduced by the cells' own, (σ² − (D² − 1)/12)/D², and Catmull–Rom interpolation back, which adds none
(Keys1981). Cells are anchored at the picture's corner, so strips, crops and the whole agree. Beyond the frame the
picture counts as continued, so a flat picture stays flat.
"""

from dataclasses import dataclass
from math import ceil, floor

import numpy as np
from numpy.typing import NDArray

from calado.adjust.blur.gather import corner, gather, normalise
from calado.arrays import Matte, Planes
from calado.compiled import compiled
from calado.strips import for_rows
from calado.window import Window

#: measured: at 2.95 what is dithered for a file errs by more than a code where it is worst
CELL_OF_SIGMA = 3.0
CUT_SIGMAS = 4.0
#: below this many pixels a Gaussian moves no 8-bit code
LEAST_SIGMA_PX = 0.12


def cell_of(sigma_px: float) -> int:
    """Return the side of the cells, in pixels, for a Gaussian of ``sigma_px``."""
    return max(1, floor(sigma_px / CELL_OF_SIGMA))


def reach_px(sigmas_px: tuple[float, float]) -> int:
    """Return how many pixels around a window a Gaussian reads, from its standard deviations (across, down)."""
    cell = cell_of(min(sigmas_px))
    return (_half_taps(max(sigmas_px), cell) + 4) * cell


def _cell_sigma(sigma_px: float, cell: int) -> float:
    return float(np.sqrt(sigma_px**2 - (cell**2 - 1) / 12) / cell)


def _half_taps(sigma_px: float, cell: int) -> int:
    """Return how many taps stand on each side of the centre: an even number, as the convolution takes them in pairs."""
    return 2 * ceil(CUT_SIGMAS * _cell_sigma(sigma_px, cell) / 2)


def half_kernel(sigma_px: float, cell: int) -> NDArray[np.float32]:
    """Return the centre and right half of the sampled Gaussian on cells; the whole sums to 1."""
    half = _half_taps(sigma_px, cell)
    if half == 0:
        return np.ones(1, np.float32)
    taps = np.exp(-0.5 * (np.arange(half + 1) / _cell_sigma(sigma_px, cell)) ** 2)
    return (taps / (2 * taps.sum() - taps[0])).astype(np.float32)


@compiled(fastmath=True)
def _convolve_rows(source, kernel, across, first, last, out):  # type: ignore[no-untyped-def]
    """Separable convolution of rows ``first`` to ``last``; edges are continued.

    Two taps are added at a time: the sums are then read and written half as often, which is most of the work.
    ``kernel`` runs down, ``across`` along the rows; each has an even number of taps beside its centre.
    """
    count, height, width = source.shape
    half = across.size - 1
    line = np.empty(width + 2 * half, np.float32)
    for c in range(count):
        for y in range(first, last):
            middle = line[half : half + width]
            middle[:] = kernel[0] * source[c, y]
            for k in range(1, kernel.size - 1, 2):
                a, b = source[c, max(y - k, 0)], source[c, min(y + k, height - 1)]
                d, e = source[c, max(y - k - 1, 0)], source[c, min(y + k + 1, height - 1)]
                near, far = kernel[k], kernel[k + 1]
                for x in range(width):
                    middle[x] += near * (a[x] + b[x]) + far * (d[x] + e[x])
            line[:half] = middle[0]
            line[half + width :] = middle[width - 1]
            row = out[c, y]
            for x in range(width):
                row[x] = across[0] * line[half + x]
            for k in range(1, half, 2):
                a, b = line[half - k : half - k + width], line[half + k : half + k + width]
                d, e = line[half - k - 1 : half - k - 1 + width], line[half + k + 1 : half + k + 1 + width]
                near, far = across[k], across[k + 1]
                for x in range(width):
                    row[x] += near * (a[x] + b[x]) + far * (d[x] + e[x])


@compiled()
def _keys(t, weights):  # type: ignore[no-untyped-def]
    """Catmull–Rom weights of the four cells around a point at fraction ``t`` between the inner two."""
    weights[0] = ((-0.5 * t + 1.0) * t - 0.5) * t
    weights[1] = (1.5 * t - 2.5) * t * t + 1.0
    weights[2] = ((-1.5 * t + 2.0) * t + 0.5) * t
    weights[3] = (0.5 * t - 0.5) * t * t


@compiled()
def _cell_at(pixel, cell):  # type: ignore[no-untyped-def]
    """Return the cell whose centre stands at or before a pixel's, and how far on the pixel is, 0…1.

    In whole numbers: the place one cell further is then one cell further, without exception.
    """
    halves = 2 * pixel + 1 - cell
    base = halves // (2 * cell)
    return base, (halves - 2 * cell * base) / (2 * cell)


@compiled(fastmath=True)
def _between(cells, cell, offset, y, weights, line):  # type: ignore[no-untyped-def]
    """Interpolate the four planes' cells at row ``y`` of the window into ``line``, two cells continued on each side."""
    high, wide = cells.shape[1], cells.shape[2]
    base, way = _cell_at(y - offset, cell)
    _keys(way, weights)
    r0, r1 = min(max(base - 1, 0), high - 1), min(max(base, 0), high - 1)
    r2, r3 = min(max(base + 1, 0), high - 1), min(max(base + 2, 0), high - 1)
    w0, w1 = np.float32(weights[0]), np.float32(weights[1])
    w2, w3 = np.float32(weights[2]), np.float32(weights[3])
    for c in range(3):
        a, b, d, e, row = cells[c, r0], cells[c, r1], cells[c, r2], cells[c, r3], line[c]
        for j in range(wide):
            row[j + 2] = w0 * a[j] + w1 * b[j] + w2 * d[j] + w3 * e[j]
        row[:2] = row[2]
        row[wide + 2 :] = row[wide + 1]


@compiled(fastmath=True)
def _spread_into(cells, cell, place, first, last, column, out):  # type: ignore[no-untyped-def]
    """Interpolate rows ``first`` to ``last`` and columns from ``column`` on of the window from its cells.

    Each row of cells is spread to pixels once, every cell over its own; the four cells around a pixel are then that
    line at 0, 1, 2 and 3 cells' distance, all of it contiguous.
    """
    width = out.shape[2]
    weights = np.empty(4)
    taps = np.empty((4, width), np.float32)
    near = np.empty(width + 3 * cell, np.uint32)
    for x in range(near.size):
        base, way = _cell_at(column + x - place[0], cell)
        # the line has two cells more on the left, of which one is before base
        near[x] = min(base + 1, cells.shape[2] + 4)
        if x < width:
            _keys(way, weights)
            taps[:, x] = weights
    line = np.empty((3, cells.shape[2] + 5), np.float32)
    spread = np.empty(near.size, np.float32)
    t0, t1, t2, t3 = taps[0], taps[1], taps[2], taps[3]
    for y in range(first, last):
        _between(cells, cell, place[1], y, weights, line)
        for c in range(3):
            whole, row = line[c], out[c, y - first]
            for x in range(near.size):
                spread[x] = whole[near[x]]
            s0, s1 = spread[:width], spread[cell : cell + width]
            s2, s3 = spread[2 * cell : 2 * cell + width], spread[3 * cell : 3 * cell + width]
            for x in range(width):
                row[x] = t0[x] * s0[x] + t1[x] * s1[x] + t2[x] * s2[x] + t3[x] * s3[x]


@dataclass(frozen=True, eq=False)
class Blurred:
    """A blurred picture on cells, from which rows are interpolated when they are wanted.

    ``place`` = (x, y) of the first cell's corner in the window.
    """

    cells: Planes
    cell: int
    place: tuple[int, int]

    def rows_into(self, first: int, last: int, column: int, out: Planes) -> None:
        """Fill ``out``, shape (3, last − first, n), with the rows of the window from ``column`` on."""
        if self.cell == 1:
            out[:] = self.cells[:3, first:last, column : column + out.shape[2]]
        else:
            _spread_into(self.cells, self.cell, self.place, first, last, column, out)


def blur(
    planes: Planes,
    matte: Matte | None,
    window: Window,
    sigmas_px: tuple[float, float],
    *,
    outside: bool,
) -> Blurred:
    """Return one side of a picture blurred by a Gaussian, taking no light from the other side.

    ``planes`` has shape (3, H, W), ``matte`` (H, W) or None for the whole picture; ``outside`` names the side;
    ``sigmas_px`` are the standard deviations (across, down).
    """
    cell = cell_of(min(sigmas_px))
    # single pixels are continued by the convolution itself; cells need what their edge pixels would be
    beyond = max(_half_taps(sigma, cell) for sigma in sigmas_px) if cell > 1 else 0
    cells = gather(planes, matte, window, (cell, beyond), outside=outside)
    across, down = (half_kernel(sigma, cell) for sigma in sigmas_px)
    cells = _convolved(cells, down, across)
    if matte is not None:
        normalise(cells)
    return Blurred(cells, cell, corner(window, cell, beyond))


def _convolved(cells: Planes, down: NDArray[np.float32], across: NDArray[np.float32]) -> Planes:
    out = np.empty_like(cells)
    for_rows(cells.shape[1], 16, lambda first, last: _convolve_rows(cells, down, across, first, last, out))
    return out
