"""Means of a picture on cells of D × D pixels, weighted by what a side of a region has of each pixel.

Cells are anchored at the picture's corner, so strips, crops and the whole agree. Beyond the window's edge its pixels
are continued.
"""

import numpy as np

from calado.arrays import Matte, Planes
from calado.compiled import compiled
from calado.strips import for_rows
from calado.window import Window

NO_WEIGHT = np.zeros((0, 0), np.float32)


@compiled(fastmath=True)
def _add_row(planes, weight, inverse, y, times, line):  # type: ignore[no-untyped-def]
    """Add one row of w·x (lines 0–2) and w (line 3), ``times`` over."""
    red, green, blue = planes[0, y], planes[1, y], planes[2, y]
    if weight.size > 0:
        covered = weight[y]
        for x in range(red.size):
            w = times * (np.float32(1) - covered[x] if inverse else covered[x])
            line[0, x] += w * red[x]
            line[1, x] += w * green[x]
            line[2, x] += w * blue[x]
            line[3, x] += w
    else:
        for x in range(red.size):
            line[0, x] += times * red[x]
            line[1, x] += times * green[x]
            line[2, x] += times * blue[x]


@compiled()
def _beyond(start, end, size):  # type: ignore[no-untyped-def]
    """Return how much of [start, end) lies before 0, and how much from ``size`` on."""
    return max(min(0, end) - start, 0), max(end - max(size, start), 0)


@compiled(fastmath=True)
def _cells_into(planes, weight, inverse, cell, place, first, last, out):  # type: ignore[no-untyped-def]
    """Fill rows of cells with means of w·x (planes 0–2) and w (plane 3); beyond the edge its pixels are continued.

    ``place`` = (x, y) of the first cell's corner in the window.
    """
    rows, columns = planes.shape[1], planes.shape[2]
    line = np.empty((4, columns), np.float32)
    share = np.float32(1.0 / cell**2)
    for i in range(first, last):
        y0 = place[1] + i * cell
        above, below = _beyond(y0, y0 + cell, rows)
        line[:] = 0
        if above:
            _add_row(planes, weight, inverse, 0, np.float32(above), line)
        if below:
            _add_row(planes, weight, inverse, rows - 1, np.float32(below), line)
        for y in range(max(y0, 0), min(y0 + cell, rows)):
            _add_row(planes, weight, inverse, y, np.float32(1), line)
        for c in range(out.shape[0]):
            _summed(line[c], cell, place[0], share, out[c, i])


@compiled(fastmath=True)
def _summed(line, cell, left, share, out):  # type: ignore[no-untyped-def]
    """Fill a row of cells with sums of a line × ``share``; the first begins at ``left``, at or before 0."""
    size = line.size
    # cells that lie within the line: of them no place need be looked at
    inner = min(-(left // cell), out.size)
    end = max(min((size - left) // cell, out.size), inner)
    for j in range(inner):
        out[j] = _continued(line, left + j * cell, cell) * share
    for j in range(end, out.size):
        out[j] = _continued(line, left + j * cell, cell) * share
    _inner(line[left + inner * cell :], cell, share, out[inner:end])


@compiled(fastmath=True)
def _pairs(within, share, row):  # type: ignore[no-untyped-def]
    for j in range(row.size):
        row[j] = (within[2 * j] + within[2 * j + 1]) * share


@compiled(fastmath=True)
def _threes(within, share, row):  # type: ignore[no-untyped-def]
    for j in range(row.size):
        row[j] = (within[3 * j] + within[3 * j + 1] + within[3 * j + 2]) * share


@compiled(fastmath=True)
def _inner(within, cell, share, row):  # type: ignore[no-untyped-def]
    """Fill a row of cells that lie within a line; small ones, of which there are many, by vectors."""
    if cell == 1:
        for j in range(row.size):
            row[j] = within[j] * share
    elif cell == 2:
        _pairs(within, share, row)
    elif cell == 3:
        _threes(within, share, row)
    else:
        for j in range(row.size):
            total = np.float32(0)
            for x in range(j * cell, (j + 1) * cell):
                total += within[x]
            row[j] = total * share


@compiled(fastmath=True)
def _continued(line, start, cell):  # type: ignore[no-untyped-def]
    """Return the sum of ``cell`` places of a line from ``start`` on, its ends continued."""
    before, after = _beyond(start, start + cell, line.size)
    total = np.float32(before) * line[0] + np.float32(after) * line[line.size - 1]
    for x in range(max(start, 0), min(start + cell, line.size)):
        total += line[x]
    return total


@compiled()
def normalise(cells):  # type: ignore[no-untyped-def]
    """Divide w·x, planes 0–2, by w, plane 3, in place."""
    for y in range(cells.shape[1]):
        red, green, blue, weight = cells[0, y], cells[1, y], cells[2, y], cells[3, y]
        for x in range(weight.size):
            w = weight[x]
            over = np.float32(1) / w
            share = over if w > np.float32(1e-30) else np.float32(0)
            red[x] *= share
            green[x] *= share
            blue[x] *= share


def corner(window: Window, cell: int, beyond: int) -> tuple[int, int]:
    """Return (x, y) of the first cell's corner in the window; cells are anchored at the picture's corner."""
    return -(window.left % cell) - beyond * cell, -(window.top % cell) - beyond * cell


def gather(planes: Planes, matte: Matte | None, window: Window, grid: tuple[int, int], *, outside: bool) -> Planes:
    """Return w·x and w on cells, ``grid`` = (side of a cell, how many of them beyond the window)."""
    cell, beyond = grid
    place = corner(window, cell, beyond)
    wide = -(-(window.width - place[0]) // cell) + beyond
    high = -(-(window.height - place[1]) // cell) + beyond
    weight = NO_WEIGHT if matte is None else matte
    cells = np.empty((3 if matte is None else 4, high, wide), np.float32)

    def work(first: int, last: int) -> None:
        _cells_into(planes, weight, outside, cell, place, first, last, cells)

    for_rows(high, max(1, 32 // cell), work)
    return cells
