"""Growing by a disc: each place takes the greatest matte within a Euclidean distance, exact also below a pixel.

The matte is read linearly between pixels. The disc is searched along every row from end to end, the ends between
pixels; along its upper and lower rim column by column; and, where it is small, at 16 places of its rim. So an edge
in any direction moves by the radius, soft edges keep their softness, and islands and holes grow and shrink as they
should. What lies in the middle of a flat field costs nothing.

References
----------
Serra1982: flat grey dilation; shrinking is growing what is left out.
"""

from math import ceil, cos, pi, sin

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte
from calado.compiled import compiled
from calado.strips import for_rows

TILE_ROWS, TILE_COLUMNS = 32, 64
BLOCK = 16
#: below this many pixels the rim is searched in directions too
SMALL_PX = 5.0
DIRECTIONS = np.array([(cos(k * pi / 8), sin(k * pi / 8)) for k in range(16)])
#: a tile whose values differ less is flat
FLAT = 1e-7


def extremes(matte: NDArray[np.float32]) -> NDArray[np.float32]:
    """Return (least, greatest) of blocks of a matte, shape (2, ⌈H/BLOCK⌉, ⌈W/BLOCK⌉)."""
    return _extremes(matte)


def grown(matte: Matte, radius_px: float) -> Matte:
    """Return the matte, shape (H, W), grown by a disc, or shrunk where the radius is below 0.

    Convention: beyond the array nothing is searched.
    """
    if radius_px == 0:
        return matte
    if radius_px < 0:
        return np.float32(1) - grown(np.float32(1) - matte, -radius_px)
    source = np.ascontiguousarray(matte)
    reached = _reached(source, radius_px)
    out = np.zeros_like(source)
    if reached is None:
        return out
    # cut where blocks begin, so that each pixel is told by the same ones
    rows, columns = reached
    out[rows, columns] = _grown(np.ascontiguousarray(source[rows, columns]), radius_px)
    return out


def _reached(source: Matte, radius_px: float) -> tuple[slice, slice] | None:
    """Return the rows and columns, in whole blocks, that what is in a matte may reach; None: there is nothing."""
    some = np.asarray(source.any(axis=1))
    if not some.any():
        return None
    rows = _with_room(some, radius_px)
    return rows, _with_room(np.asarray(source[rows].any(axis=0)), radius_px)


def _with_room(some: NDArray[np.bool_], radius_px: float) -> slice:
    at = np.flatnonzero(some)
    more = ceil(radius_px / BLOCK) + 1
    return slice(max(int(at[0]) // BLOCK - more, 0) * BLOCK, (int(at[-1]) // BLOCK + 1 + more) * BLOCK)


def _grown(source: Matte, radius_px: float) -> Matte:
    blocks = extremes(source)
    out = np.empty_like(source)

    def work(first: int, last: int) -> None:
        _grow_rows(source, blocks, radius_px, DIRECTIONS, first, last, out)

    for_rows(source.shape[0], TILE_ROWS, work)
    return out


@compiled()
def _extremes(source):  # type: ignore[no-untyped-def]
    """Return (least, greatest) of blocks of BLOCK × BLOCK pixels."""
    high, wide = -(-source.shape[0] // BLOCK), -(-source.shape[1] // BLOCK)
    out = np.empty((2, high, wide), np.float32)
    for i in range(high):
        for j in range(wide):
            block = source[i * BLOCK : (i + 1) * BLOCK, j * BLOCK : (j + 1) * BLOCK]
            out[0, i, j], out[1, i, j] = block.min(), block.max()
    return out


@compiled()
def flat_value(blocks, top, bottom, left, right):  # type: ignore[no-untyped-def]
    """Return the one value of a rectangle of pixels, or -1 where it has several."""
    i0, i1 = max(top, 0) // BLOCK, min((bottom - 1) // BLOCK + 1, blocks.shape[1])
    j0, j1 = max(left, 0) // BLOCK, min((right - 1) // BLOCK + 1, blocks.shape[2])
    least, greatest = blocks[0, i0:i1, j0:j1].min(), blocks[1, i0:i1, j0:j1].max()
    return greatest if greatest - least < FLAT else np.float32(-1)


@compiled(inline="always")
def _held(value, size):  # type: ignore[no-untyped-def]
    return min(max(value, 0), size - 1)


@compiled(fastmath=True)
def _along_rows(source, radius, y0, y1, x0, x1, out):  # type: ignore[no-untyped-def]
    """Take in each row of the disc, from end to end, by maxima over runs of 2ⁿ pixels."""
    height, width = source.shape
    whole = int(radius)
    pad = whole + 1
    count = x1 - x0
    long = count + 2 * pad
    levels = 1
    while (1 << levels) <= 2 * whole + 1:
        levels += 1
    runs = np.empty((levels, long), np.float32)
    for row in range(max(y0 - whole, 0), min(y1 + whole, height)):
        for k in range(long):
            runs[0, k] = source[row, _held(x0 - pad + k, width)]
        for level in range(1, levels):
            step = 1 << (level - 1)
            for k in range(long - 2 * step + 1):
                runs[level, k] = max(runs[level - 1, k], runs[level - 1, k + step])
        for y in range(max(y0, row - whole), min(y1, row + whole + 1)):
            half = np.sqrt(max(radius * radius - float((y - row) ** 2), 0.0))
            near = int(half)
            share = np.float32(half - near)
            level = 0
            while (2 << level) <= 2 * near + 1:
                level += 1
            run = 1 << level
            line = out[y - y0]
            for k in range(count):
                c = k + pad
                most = max(runs[level, c - near], runs[level, c + near + 1 - run])
                left = runs[0, c - near] + share * (runs[0, c - near - 1] - runs[0, c - near])
                right = runs[0, c + near] + share * (runs[0, c + near + 1] - runs[0, c + near])
                line[k] = max(line[k], max(most, max(left, right)))


@compiled(fastmath=True)
def _along_rim(source, radius, y0, y1, x0, x1, out):  # type: ignore[no-untyped-def]
    """Take in the upper and the lower rim, column by column."""
    height, width = source.shape
    across = int(radius * 0.7072)
    for dx in range(-across, across + 1):
        half = np.sqrt(radius * radius - float(dx * dx))
        near = int(half)
        share = np.float32(half - near)
        for y in range(y0, y1):
            up, further_up = _held(y - near, height), _held(y - near - 1, height)
            down, further_down = _held(y + near, height), _held(y + near + 1, height)
            line = out[y - y0]
            for k in range(x1 - x0):
                x = _held(x0 + k + dx, width)
                above = source[up, x] + share * (source[further_up, x] - source[up, x])
                below = source[down, x] + share * (source[further_down, x] - source[down, x])
                line[k] = max(line[k], max(above, below))


@compiled(fastmath=True)
def _in_directions(source, radius, directions, y0, y1, x0, x1, out):  # type: ignore[no-untyped-def]
    height, width = source.shape
    for d in range(directions.shape[0]):
        dx, dy = directions[d, 0] * radius, directions[d, 1] * radius
        ix, iy = int(np.floor(dx)), int(np.floor(dy))
        fx, fy = np.float32(dx - ix), np.float32(dy - iy)
        for y in range(y0, y1):
            a, b = _held(y + iy, height), _held(y + iy + 1, height)
            line = out[y - y0]
            for k in range(x1 - x0):
                p, q = _held(x0 + k + ix, width), _held(x0 + k + ix + 1, width)
                above = source[a, p] + fx * (source[a, q] - source[a, p])
                below = source[b, p] + fx * (source[b, q] - source[b, p])
                line[k] = max(line[k], above + fy * (below - above))


@compiled()
def _grow_rows(source, blocks, radius, directions, first, last, out):  # type: ignore[no-untyped-def]
    pad = int(radius) + 2
    for x0 in range(0, source.shape[1], TILE_COLUMNS):
        x1 = min(x0 + TILE_COLUMNS, source.shape[1])
        value = flat_value(blocks, first - pad, last + pad, x0 - pad, x1 + pad)
        tile = out[first:last, x0:x1]
        if value >= 0:
            tile[:] = value
            continue
        tile[:] = source[first:last, x0:x1]
        _along_rows(source, radius, first, last, x0, x1, tile)
        _along_rim(source, radius, first, last, x0, x1, tile)
        if radius < SMALL_PX:
            _in_directions(source, radius, directions, first, last, x0, x1, tile)
