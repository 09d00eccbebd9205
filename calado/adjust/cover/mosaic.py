"""A mosaic: square, hexagonal or diamond cells, each of one value, the mean of its light on this side of the region.

On a still the grid is fixed to the picture: cells stand where they stand, however the region is moved. In a clip it
goes along with the region and turns with it, so that from frame to frame the same of what is below stands in a cell: on
a grid that stands still while a thing moves below it, each frame tells something else, and many of them the thing.

A hexagon of width w has the height h from flat to flat of its rows; a diamond has its corners at w and h.
"""

from math import ceil
from typing import TypeAlias

import numba as nb
import numpy as np

from calado.adjust.kind import Composited, Rows, SpatialAdjustment, SpatialContext, SpatialPlan
from calado.arrays import Planes
from calado.colour.spaces import ColourSpace
from calado.compiled import compiled
from calado.sheet.declare import Choice, Number, Option, Unit, Values
from calado.sheet.models import Anchor
from calado.strips import for_rows
from calado.window import Window

SHAPES = ("square", "hexagon", "diamond")
#: what takes (x, y) to (a · x + b · y + c, d · x + e · y + f)
Way: TypeAlias = tuple[float, float, float, float, float, float]
#: rows that are added up together
BAND = 128
SQUARE, DIAMOND = 0, 2


@compiled()
def cell_at(shape, x, y, w, h):  # type: ignore[no-untyped-def]
    """Return (row, column) of the cell at a place; lengths in any one unit."""
    if shape == SQUARE:
        return nb.int64(np.floor(y / h)), nb.int64(np.floor(x / w))
    if shape == DIAMOND:
        return nb.int64(np.floor(y / h + x / w)), nb.int64(np.floor(y / h - x / w))
    # hexagons are the places nearest to the centres of two interlaced grids
    row = 2 * nb.int64(np.floor(y / (2 * h) + 0.5))
    column = nb.int64(np.floor(x / w + 0.5))
    # in a unit where hexagons of width 1 are regular: rows stand √¾ apart
    stretch = 0.75 * (w / h) ** 2 * (h / w) ** 2
    dx, dy = x / w - column, (y / h - row)
    near = dx * dx + stretch * dy * dy
    other_row = 2 * nb.int64(np.floor((y - h) / (2 * h) + 0.5)) + 1
    other = nb.int64(np.floor(x / w))
    ex, ey = x / w - other - 0.5, (y / h - other_row)
    if ex * ex + stretch * ey * ey < near:
        return other_row, other
    return row, column


@compiled()
def _of(way, x, y):  # type: ignore[no-untyped-def]
    return way[0] * x + way[1] * y + way[2], way[3] * x + way[4] * y + way[5]


@compiled()
def _gather_into(planes, weight, shape, size, way, origin, first, last, sums):  # type: ignore[no-untyped-def]
    """Add up w·x and w of every cell; ``way`` as :func:`_way` gives it, ``origin`` = the first (row, column)."""
    for y in range(first, last):
        for x in range(planes.shape[2]):
            u, v = _of(way, x + 0.5, y + 0.5)
            row, column = cell_at(shape, u, v, size[0], size[1])
            w = nb.float64(weight[y, x]) if weight.size > 0 else 1.0
            cell = sums[row - origin[0], column - origin[1]]
            if w > 0:
                for c in range(3):
                    cell[c] += w * planes[c, y, x]
                cell[3] += w


@compiled()
def _lay_into(planes, sums, shape, size, way, origin, first, last, out):  # type: ignore[no-untyped-def]
    for y in range(first, last):
        for x in range(out.shape[2]):
            u, v = _of(way, x + 0.5, y + 0.5)
            row, column = cell_at(shape, u, v, size[0], size[1])
            cell = sums[row - origin[0], column - origin[1]]
            for c in range(3):
                out[c, y, x] = cell[c] / cell[3] if cell[3] > 0 else planes[c, y, x]


@compiled()
def _next(cells, at, last):  # type: ignore[no-untyped-def]
    """Return where the cell ends that begins at a place, at most ``last``."""
    end = at + 1
    while end < last and cells[end] == cells[at]:
        end += 1
    return end


@compiled(fastmath={"reassoc", "contract", "arcp", "nsz"})
def _add_row(planes, weight, y, line):  # type: ignore[no-untyped-def]
    """Add one row of w·x (lines 0–2) and w (line 3); what has no weight is not looked at."""
    counts, wide = weight[y], planes.shape[2]
    for c in range(3):
        row, into = planes[c, y], line[c]
        for x in range(wide):
            into[x] += counts[x] * row[x] if counts[x] > 0 else nb.float32(0)
    for x in range(wide):
        line[3, x] += counts[x]


@compiled()
def _gather_squares_into(planes, weight, rows, columns, first, last, sums):  # type: ignore[no-untyped-def]
    """As ``_gather_into`` for squares, whose rows are added up first; the cell of each row and column is given."""
    wide = planes.shape[2]
    line = np.empty((4, wide), np.float32)
    y = first
    while y < last:
        end = _next(rows, y, last)
        line[:] = 0
        for k in range(y, end):
            _add_row(planes, weight, k, line)
        x = 0
        while x < wide:
            after = _next(columns, x, wide)
            for c in range(4):
                total = nb.float64(0)
                for j in range(x, after):
                    total += line[c, j]
                sums[rows[y], columns[x], c] += total
            x = after
        y = end


@compiled()
def _lay_squares_into(planes, sums, rows, columns, first, last, out):  # type: ignore[no-untyped-def]
    wide = planes.shape[2]
    for y in range(first, last):
        for c in range(3):
            made = out[c, y]
            if y > first and rows[y] == rows[y - 1]:
                above = out[c, y - 1]
                for x in range(wide):
                    made[x] = above[x]
                continue
            x = 0
            while x < wide:
                after, cell = _next(columns, x, wide), sums[rows[y], columns[x]]
                value = nb.float32(cell[c] / cell[3]) if cell[3] > 0 else nb.float32(0)
                for j in range(x, after):
                    made[j] = value
                x = after


def _squares(planes: Planes, at: SpatialContext, size_px: tuple[float, float], place: tuple[float, float]) -> Planes:
    """Return the picture in rectangles; where a cell has nothing of this side it is black, which nobody sees."""
    rows, columns = (
        np.floor((np.arange(count) + start + 0.5) / size).astype(np.int64)
        for count, start, size in zip(planes.shape[1:], place[::-1], size_px[::-1], strict=True)
    )
    # counted as they come: of cells smaller than a pixel some are passed over
    rows, columns = (np.cumsum(np.diff(each, prepend=each[0]) > 0, dtype=np.int64) for each in (rows, columns))
    weight = at.weight if at.weight is not None else np.ones(planes.shape[1:], np.float32)
    sums = np.zeros((rows[-1] + 1, columns[-1] + 1, 4), np.float64)
    # a row of cells is added up by one hand, whatever the window: the first pixel of each, and the end
    starts = np.append(np.flatnonzero(np.diff(rows, prepend=-1)), len(rows))

    def add(first: int, last: int) -> None:
        _gather_squares_into(planes, weight, rows, columns, starts[first], starts[last], sums)

    for_rows(len(sums), max(1, BAND * len(sums) // len(rows)), add)
    out = np.empty_like(planes)
    for_rows(len(rows), BAND, lambda first, last: _lay_squares_into(planes, sums, rows, columns, first, last, out))
    return out


def _ends(shape: int, size: tuple[float, float], window: Window, way: Way) -> tuple[tuple[int, int], tuple[int, int]]:
    """Return the first (row, column) that a window can touch, and how many."""
    corners = [_of(way, x, y) for x in (0.0, float(window.width)) for y in (0.0, float(window.height))]
    places = [(v / size[1], u / size[0]) for u, v in corners]
    places = [(v + u, v - u) if shape == DIAMOND else (v, u) for v, u in places]
    low = (int(np.floor(min(p[0] for p in places))) - 2, int(np.floor(min(p[1] for p in places))) - 2)
    high = (int(np.ceil(max(p[0] for p in places))) + 3, int(np.ceil(max(p[1] for p in places))) + 3)
    return low, (high[0] - low[0], high[1] - low[1])


def _way(window: Window, anchor: Anchor) -> Way:
    """Return what takes a place of the window to the region's own frame, (x, y), in pixels there."""
    if anchor.upright:
        return 1.0, 0.0, window.left - anchor.x / window.pixel, 0.0, 1.0, window.top - anchor.y / window.pixel
    det = anchor.xx * anchor.yy - anchor.xy * anchor.yx
    # its pixels are as large as the window's, whatever its size
    a, b, c, d = (each * anchor.scale / det for each in (anchor.yy, -anchor.xy, -anchor.yx, anchor.xx))
    x, y = window.left - anchor.x / window.pixel, window.top - anchor.y / window.pixel
    return a, b, a * x + b * y, c, d, c * x + d * y


def mosaic(planes: Planes, at: SpatialContext, size_px: tuple[float, float], shape: int) -> Planes:
    """Return the picture in cells of ``size_px`` = (width, height)."""
    window, anchor = at.window, at.anchor
    size_px = (size_px[0] * anchor.scale, size_px[1] * anchor.scale)
    way = _way(window, anchor)
    if shape == SQUARE and anchor.upright:
        return _squares(planes, at, size_px, (way[2], way[5]))
    origin, count = _ends(shape, size_px, window, way)
    bands = -(-window.height // BAND)
    sums = np.zeros((bands, *count, 4), np.float64)
    weight = at.weight if at.weight is not None else np.zeros((0, 0), np.float32)

    def add(first: int, last: int) -> None:
        _gather_into(planes, weight, shape, size_px, way, origin, first, last, sums[first // BAND])

    for_rows(window.height, BAND, add)
    cells = sums.sum(axis=0)
    out = np.empty_like(planes)
    for_rows(
        window.height,
        BAND,
        lambda first, last: _lay_into(planes, cells, shape, size_px, way, origin, first, last, out),
    )
    return out


def _plan(values: Values, space: ColourSpace) -> SpatialPlan:
    number = MOSAIC.all_numbers(values)
    shape = SHAPES.index(str(values.get("shape", SHAPES[0])))
    tall = number["size"] * number["tall"]

    def run(planes: Planes, at: SpatialContext, share: float) -> Rows:
        size = (number["size"] / at.window.pixel, tall / at.window.pixel)
        return Composited(planes if max(size) <= 1 else mosaic(planes, at, size, shape))

    return SpatialPlan(run, lambda window: 2 * ceil(max(number["size"], tall) / window.pixel) + 2)


MOSAIC = SpatialAdjustment(
    roles=("cells",),
    id="mosaic",
    name="Mosaic",
    group="Cover",
    space="linear",
    parameters=(
        Number("size", "Mosaic", Unit.LENGTH, 0.0, 0.0, 0.12, 0.0, 0.5, 0.001, curve="square"),
        Number("tall", "Height", Unit.SHARE, 1.0, 0.25, 2.0, 0.1, 10.0, 0.05, word="tall", scales=False),
        Choice("shape", "Cells", tuple(Option(id, id, "" if id == "square" else f"of {id}s") for id in SHAPES)),
    ),
    synonyms=("pixels", "pixelate", "censor", "hide", "conceal", "anonymise", "blocks", "face", "plate"),
    says="Cells of one value each, on a grid fixed to the picture; in a clip it goes along with the region.",
    begins={"size": 0.03},
    holds={},
    plan=_plan,
)
