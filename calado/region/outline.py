"""The polygon and the closed curve: points joined by straight lines or cubic Béziers, feathered inward and outward.

What is inside is decided by the even-odd rule, as ``fill-rule: evenodd`` of SVG 2 does: where an outline crosses
itself, what it goes round twice is outside. The distance is the exact one to the nearest edge, so a feather is as wide
at corners and spikes as along the sides.

A block of pixels asks only the edges that can be nearest to any of them: with d the distance of its middle to the
nearest edge and r its half diagonal, those at most d + 2r from its middle. Which edges are asked never changes the
result, so strips, crops and the whole agree.
"""

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte
from calado.compiled import compiled
from calado.region.chords import flattened
from calado.region.context import ALONE, PartContext
from calado.region.parameters import FEATHERS, PROFILE, edge_of
from calado.region.profile import matte_at
from calado.sheet.declare import Declaration
from calado.sheet.models import Part
from calado.strips import for_rows
from calado.window import Window

#: what every outline through points has
EDGE = Declaration("outline", "Outline", (*FEATHERS, PROFILE))
BLOCK = 16
#: a stretch of blocks for which the edges near it are listed first
LONG = 128
#: edges in a row that are passed over together where they are far
GROUP = 16
#: how far chords may leave a curve, in pixels
FLATNESS_PX = 0.03
#: levels in a row of pixels on which a hard outline's coverage is measured
SUBLINES = 16


def _edges(points: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return the edges of a closed polygon, shape (N, 5): where each begins, its way, and 1 over its square."""
    ways = np.roll(points, -1, axis=0) - points
    squares = (ways**2).sum(axis=1)
    inverse = np.divide(1.0, squares, out=np.zeros_like(squares), where=squares > 0)
    return np.ascontiguousarray(np.column_stack([points, ways, inverse]))


@compiled(inline="always")
def _square_to_edge(x, y, edges, k):  # type: ignore[no-untyped-def]
    """Return the squared distance of a point to an edge."""
    wx, wy, ex, ey = x - edges[k, 0], y - edges[k, 1], edges[k, 2], edges[k, 3]
    t = min(max((wx * ex + wy * ey) * edges[k, 4], 0.0), 1.0)
    px, py = wx - t * ex, wy - t * ey
    return px * px + py * py


@compiled()
def _crossings(y, edges, among, into):  # type: ignore[no-untyped-def]
    """Fill ``into`` with where the edges ``among`` all cross the level ``y``, in order; return how often."""
    count = 0
    for k in among:
        y0 = edges[k, 1]
        y1 = edges[k + 1, 1] if k + 1 < edges.shape[0] else edges[0, 1]
        # half open: a corner on the level is crossed once, or not at all
        if (y0 <= y) != (y1 <= y):
            into[count] = edges[k, 0] + (y - y0) / (y1 - y0) * edges[k, 2]
            count += 1
    into[:count].sort()
    return count


@compiled()
def _near_edges(x, y, radius, edges, among, count, squares, near):  # type: ignore[no-untyped-def]
    """List in ``near`` those of ``count`` edges in ``among`` that may be nearest to a place within ``radius`` of here.

    Return (how many, the distance of the nearest).
    """
    least = np.inf
    for k in range(count):
        squares[k] = _square_to_edge(x, y, edges, among[k])
        least = min(least, squares[k])
    distance = np.sqrt(least)
    limit = (distance + 2 * radius) ** 2
    found = 0
    for k in range(count):
        if squares[k] <= limit:
            near[found] = among[k]
            found += 1
    return found, distance


@compiled()
def _near_groups(x, y, radius, corners, groups, near):  # type: ignore[no-untyped-def]
    """List in ``near`` the edges of all groups that may hold the nearest; ``groups`` (G, 3) = (x, y, radius)."""
    least = np.inf
    for g in range(groups.shape[0]):
        least = min(least, np.sqrt((groups[g, 0] - x) ** 2 + (groups[g, 1] - y) ** 2) + groups[g, 2])
    count = 0
    for g in range(groups.shape[0]):
        away = np.sqrt((groups[g, 0] - x) ** 2 + (groups[g, 1] - y) ** 2) - groups[g, 2]
        if away <= least + 2 * radius:
            for k in range(g * GROUP, min((g + 1) * GROUP, corners)):
                near[count] = k
                count += 1
    return count


def _groups(points: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return a circle round each GROUP edges in a row, shape (G, 3)."""
    made = []
    closed = np.concatenate([points, points[:1]])
    for start in range(0, len(points), GROUP):
        some = closed[start : start + GROUP + 1]
        middle = (some.min(axis=0) + some.max(axis=0)) / 2
        made.append((*middle, np.hypot(*(some - middle).T).max()))
    return np.array(made)


@compiled(inline="always")
def _least(x, y, edges, near, count):  # type: ignore[no-untyped-def]
    least = np.inf
    for k in range(count):
        least = min(least, _square_to_edge(x, y, edges, near[k]))
    return np.sqrt(least)


@compiled()
def _fill(row, edges, groups, edge, profile, pixel, left, top, out):  # type: ignore[no-untyped-def]
    """Fill the row of blocks number ``row`` of the picture's grid, as far as it lies in the window."""
    corners = edges.shape[0]
    y0 = row * BLOCK
    first, last = max(y0, top), min(y0 + BLOCK, top + out.shape[0])
    crossed = np.empty((BLOCK, corners), np.float64)
    counts, passed = np.empty(BLOCK, np.int64), np.zeros(BLOCK, np.int64)
    level = np.empty(corners, np.int64)
    beside = 0
    for k in range(corners):
        y1, y2 = edges[k, 1], edges[k, 1] + edges[k, 3]
        if min(y1, y2) <= (y0 + BLOCK) * pixel and max(y1, y2) >= y0 * pixel:
            level[beside] = k
            beside += 1
    for y in range(first, last):
        counts[y - y0] = _crossings((y + 0.5) * pixel, edges, level[:beside], crossed[y - y0])
    squares = np.empty(corners)
    listed, some, near = np.empty(corners, np.int64), np.empty(corners, np.int64), np.empty(corners, np.int64)
    reach = max(edge[0], edge[1]) + pixel
    inward, outward, side = np.float32(edge[0]), np.float32(edge[1]), np.float32(pixel)
    block_radius = 0.75 * BLOCK * pixel
    long_radius = 0.51 * pixel * np.sqrt(float(LONG * LONG + BLOCK * BLOCK)) + pixel
    end = left + out.shape[1]
    for long in range(left // LONG * LONG, end, LONG):
        middle = (long + LONG / 2 + 0.5) * pixel, (y0 + BLOCK / 2 + 0.5) * pixel
        count = _near_groups(middle[0], middle[1], long_radius, corners, groups, listed)
        few, away = _near_edges(middle[0], middle[1], long_radius, edges, listed, count, squares, some)
        empty = away - long_radius > reach
        for x0 in range(long, min(long + LONG, end), BLOCK):
            start, stop = max(x0, left), min(x0 + BLOCK, end)
            if start >= stop:
                continue
            count, distance = 0, away
            if not empty:
                x, y = (x0 + BLOCK / 2 + 0.5) * pixel, (y0 + BLOCK / 2 + 0.5) * pixel
                count, distance = _near_edges(x, y, block_radius, edges, some, few, squares, near)
            far = empty or distance - block_radius > reach
            for y in range(first, last):
                k = y - y0
                for x in range(start, stop):
                    at = (x + 0.5) * pixel
                    while passed[k] < counts[k] and crossed[k, passed[k]] <= at:
                        passed[k] += 1
                    inside = passed[k] % 2 == 1
                    if far:
                        out[y - top, x - left] = np.float32(1 if inside else 0)
                        continue
                    d = _least(at, (y + 0.5) * pixel, edges, near, count)
                    out[y - top, x - left] = matte_at(np.float32(-d if inside else d), inward, outward, side, profile)


@compiled()
def _cover(first, last, edges, left, top, out):  # type: ignore[no-untyped-def]
    """Fill rows with how much of each pixel a hard outline covers: exact along a row, on SUBLINES levels of it.

    ``edges`` in pixels. So spikes and threads thinner than a pixel weigh what they cover.
    """
    crossed, everything = np.empty(edges.shape[0], np.float64), np.arange(edges.shape[0])
    width = out.shape[1]
    for row in range(first, last):
        line = out[row]
        line[:] = 0
        for k in range(SUBLINES):
            count = _crossings(top + row + (k + 0.5) / SUBLINES, edges, everything, crossed)
            for pair in range(0, count - 1, 2):
                start = min(max(crossed[pair] - left, 0.0), float(width))
                end = min(max(crossed[pair + 1] - left, 0.0), float(width))
                if end <= start:
                    continue
                a, b = int(start), min(int(end), width - 1)
                if a >= b:
                    line[min(a, width - 1)] += end - start
                    continue
                line[a] += a + 1 - start
                for x in range(a + 1, b):
                    line[x] += 1
                line[b] += end - b
        for x in range(width):
            line[x] = min(line[x] / SUBLINES, np.float32(1))


def outline_matte(part: Part, window: Window, near: PartContext = ALONE) -> Matte:
    """Return the raw matte, shape (H, W), of an outline through points; fewer than three enclose nothing.

    Convention: points in order, in picture heights; the last is joined to the first. A curve is followed by chords
    that leave it by at most a thirtieth of a pixel.
    """
    if len(part.points) < (3 if all(len(point) == 2 for point in part.points) else 2):
        return np.zeros((window.height, window.width), np.float32)
    points = flattened(part.points, FLATNESS_PX * window.pixel)
    edge, profile = edge_of(EDGE, part.values)
    out = np.empty((window.height, window.width), np.float32)

    groups, edges, in_pixels = _groups(points), _edges(points), _edges(points / window.pixel)
    first_row, last_row = window.top // BLOCK, (window.top + window.height - 1) // BLOCK + 1

    def work(first: int, last: int) -> None:
        for row in range(first_row + first, first_row + last):
            _fill(row, edges, groups, edge, profile, window.pixel, window.left, window.top, out)

    def cover(first: int, last: int) -> None:
        _cover(first, last, in_pixels, window.left, window.top, out)

    if edge.any():
        for_rows(last_row - first_row, 1, work)
    else:
        for_rows(window.height, BLOCK, cover)
    return out
