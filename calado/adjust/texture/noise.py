"""Noise that stands still in the picture: the same at every size, and the same on every machine.

A value hashed from a lattice point's place and a seed (our choice: a 32-bit integer mix, public domain) is roughly
normal (sum of four even ones, variance 1). Between lattice points it is interpolated by a raised cosine, with its
variance brought back to 1. Where a pixel is larger than the lattice it shows the mean of several points: its variance
falls in proportion to the area.
"""

import numba as nb
import numpy as np
from numpy.typing import NDArray

from calado.compiled import compiled
from calado.sheet.models import UNMOVED, Anchor
from calado.strips import for_rows
from calado.window import Window


@compiled(inline="always")
def _mixed(h):  # type: ignore[no-untyped-def]
    """Return 32 bits mixed once more; in single steps of 32 bits the processor does many places at a time."""
    h = nb.uint32(h ^ (h >> nb.uint32(16)))
    h = nb.uint32(h * nb.uint32(0x7FEB352D))
    h = nb.uint32(h ^ (h >> nb.uint32(15)))
    h = nb.uint32(h * nb.uint32(0x846CA68B))
    return nb.uint32(h ^ (h >> nb.uint32(16)))


@compiled()
def _lattice_into(row, column, seed, keys, first, last, out):  # type: ignore[no-untyped-def]
    """Fill rows with the noise of lattice points: mean 0, variance 1.

    With keys each point has a seed that only who has them can tell.
    """
    own, wide = np.empty(out.shape[1], np.uint32), out.shape[1]
    across, salt = nb.uint32(column * 19349663), nb.uint32(nb.uint32(seed) * nb.uint32(83492791))
    for i in range(first, last):
        line, down = out[i], nb.uint32((i + row) * 73856093)
        for j in range(wide):
            own[j] = salt
        for k in range(keys.size):
            key = nb.uint32(keys[k])
            for j in range(wide):
                place = nb.uint32(down ^ nb.uint32(across + nb.uint32(j) * nb.uint32(19349663)))
                own[j] = _mixed(nb.uint32((own[j] if k else nb.uint32(place ^ salt)) ^ key))
        for j in range(wide):
            place = nb.uint32(down ^ nb.uint32(across + nb.uint32(j) * nb.uint32(19349663)))
            h = nb.uint32(place ^ (nb.uint32(own[j] * nb.uint32(83492791)) if keys.size else salt))
            total = nb.float32(0)
            for _ in range(4):
                h = _mixed(h)
                total += nb.float32(nb.int32(h >> nb.uint32(1))) * nb.float32(1 / 2147483648.0)
                h = nb.uint32(h + nb.uint32(0x9E3779B9))
            line[j] = (total - nb.float32(2)) * nb.float32(1.7320508)


@compiled(fastmath=True)
def _along(lattice, columns, ways, even, out):  # type: ignore[no-untyped-def]
    """Interpolate one row of the lattice to pixels; ``even`` brings their variance back to 1."""
    for x in range(out.size):
        j = columns[x]
        out[x] = even[x] * (lattice[j] + ways[x] * (lattice[j + 1] - lattice[j]))


@compiled(fastmath=True)
def _field_into(lattice, rows, row_ways, columns, ways, even, first, last, out):  # type: ignore[no-untyped-def]
    """``rows`` and ``columns``: the lattice point before each pixel; the ways: how far the pixel is to the next."""
    above, below, at = np.empty(out.shape[1], np.float32), np.empty(out.shape[1], np.float32), -2
    for y in range(first, last):
        if rows[y] == at + 1:
            above, below = below, above
        elif rows[y] != at:
            _along(lattice[rows[y]], columns, ways, even, above)
        if rows[y] != at:
            at = rows[y]
            _along(lattice[at + 1], columns, ways, even, below)
        fy, line = row_ways[y], out[y]
        level = nb.float32(1) / np.sqrt((1 - fy) * (1 - fy) + fy * fy)
        for x in range(out.shape[1]):
            line[x] = level * (above[x] + fy * (below[x] - above[x]))


def _axis(start: float, count: int, step: float) -> tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.float32]]:
    """Return the first lattice point, the point before each pixel, counted from it, and the eased way to the next."""
    places = (np.arange(count) + start + 0.5) * step - 0.5
    points = np.floor(places).astype(np.int64)
    return points[:1], points - points[0], (0.5 - 0.5 * np.cos(np.pi * (places - points))).astype(np.float32)


@compiled()
def _turned_into(lattice, way, first, last, out):  # type: ignore[no-untyped-def]
    """``way`` takes a pixel's place to the lattice, (column, row) in its points."""
    for y in range(first, last):
        for x in range(out.shape[1]):
            u = way[0] * (x + 0.5) + way[1] * (y + 0.5) + way[2]
            v = way[3] * (x + 0.5) + way[4] * (y + 0.5) + way[5]
            j, i = int(np.floor(u)), int(np.floor(v))
            fx, fy = 0.5 - 0.5 * np.cos(np.pi * (u - j)), 0.5 - 0.5 * np.cos(np.pi * (v - i))
            above = lattice[i, j] + fx * (lattice[i, j + 1] - lattice[i, j])
            below = lattice[i + 1, j] + fx * (lattice[i + 1, j + 1] - lattice[i + 1, j])
            level = np.sqrt(((1 - fx) * (1 - fx) + fx * fx) * ((1 - fy) * (1 - fy) + fy * fy))
            out[y, x] = (above + fy * (below - above)) / level


def _turned(window: Window, held: float, seed: int, keys: NDArray[np.int64], anchor: Anchor) -> NDArray[np.float32]:
    """Return the noise of a frame of reference that is turned or skewed against the picture's."""
    back = np.linalg.inv(np.array([[anchor.xx, anchor.xy], [anchor.yx, anchor.yy]])) * anchor.scale * held
    corner = np.array([window.left - anchor.x / window.pixel, window.top - anchor.y / window.pixel])
    ends = np.array([(x, y) for x in (0, window.width) for y in (0, window.height)]) + corner
    places = ends @ back.T - 0.5
    low, high = np.floor(places.min(axis=0)).astype(int), np.ceil(places.max(axis=0)).astype(int)
    lattice = np.empty((high[1] - low[1] + 2, high[0] - low[0] + 2), np.float32)
    for_rows(len(lattice), 32, lambda first, last: _lattice_into(low[1], low[0], seed, keys, first, last, lattice))
    x, y = back @ corner - 0.5 - low
    way = (back[0, 0], back[0, 1], x, back[1, 0], back[1, 1], y)
    out = np.empty((window.height, window.width), np.float32)
    for_rows(window.height, 32, lambda first, last: _turned_into(lattice, way, first, last, out))
    return out


def field(window: Window, size: float, seed: int, secret: int = 0, anchor: Anchor = UNMOVED) -> NDArray[np.float32]:
    """Return noise in a window, shape (H, W), of mean 0 and variance 1 at grains of ``size`` picture heights.

    With a ``secret`` of up to 96 bits it can be told only by who knows that. It stands still in the frame of reference
    that ``anchor`` tells.
    """
    keys = np.array([secret >> shift & 0xFFFFFFFF for shift in (0, 32, 64)] if secret else [], np.int64)
    step = window.pixel / (size * anchor.scale)
    held = min(step, 1.0)
    if not anchor.upright:
        made = _turned(window, held, seed, keys, anchor)
        return made if step <= 1 else made / np.float32(step)
    row, rows, row_ways = _axis(window.top - anchor.y / window.pixel, window.height, held)
    column, columns, ways = _axis(window.left - anchor.x / window.pixel, window.width, held)
    lattice = np.empty((int(rows[-1]) + 2, int(columns[-1]) + 2), np.float32)
    for_rows(
        lattice.shape[0],
        32,
        lambda first, last: _lattice_into(row[0], column[0], seed, keys, first, last, lattice),
    )
    out = np.empty((window.height, window.width), np.float32)
    even = (1 / np.sqrt((1 - ways) ** 2 + ways**2)).astype(np.float32)
    for_rows(
        out.shape[0],
        32,
        lambda first, last: _field_into(lattice, rows, row_ways, columns, ways, even, first, last, out),
    )
    return out if step <= 1 else out / np.float32(step)
