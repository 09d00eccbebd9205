"""The polygon and the closed curve: points joined by straight lines or cubic Béziers, feathered inward and outward.

What is inside is decided by the even-odd rule, as ``fill-rule: evenodd`` of SVG 2 does: where an outline crosses
itself, what it goes round twice is outside. The distance is the exact one to the nearest edge, so a feather is as wide
at corners and spikes as along the sides.

A block of pixels asks only the edges that can be nearest to any of them: with d the distance of its middle to the
nearest edge and r its half diagonal, those at most d + 2r from its middle. Which edges are asked never changes the
result, so strips, crops and the whole agree.
"""

from math import ceil, cos, pi, sin, sqrt

import numba as nb
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte
from calado.region.part import ALONE, FEATHERS, PROFILE, Box, Near, PartKind, Points, edge_of
from calado.region.profile import matte_at
from calado.sheet.models import Corner, Part
from calado.strips import each_strip
from calado.window import Window

BLOCK = 16
#: how far chords may leave a curve, in pixels
FLATNESS_PX = 0.02
#: levels in a row of pixels on which a hard outline's coverage is measured
SUBLINES = 16


@nb.njit(nogil=True, cache=True, inline="always")
def _square_to_edge(x, y, points, k):  # type: ignore[no-untyped-def]
    """Return the squared distance of a point to the edge from corner ``k`` to the next."""
    n = k + 1 if k + 1 < points.shape[0] else 0
    ex, ey = points[n, 0] - points[k, 0], points[n, 1] - points[k, 1]
    wx, wy = x - points[k, 0], y - points[k, 1]
    square = ex * ex + ey * ey
    t = min(max((wx * ex + wy * ey) / square, 0.0), 1.0) if square > 0 else 0.0
    px, py = wx - t * ex, wy - t * ey
    return px * px + py * py


@nb.njit(nogil=True, cache=True)
def _crossings(y, points, into):  # type: ignore[no-untyped-def]
    """Fill ``into`` with where the outline crosses the level ``y``, in order; return how often."""
    count = 0
    before = points.shape[0] - 1
    for k in range(points.shape[0]):
        y0, y1 = points[before, 1], points[k, 1]
        # half open: a corner on the level is crossed once, or not at all
        if (y0 <= y) != (y1 <= y):
            share = (y - y0) / (y1 - y0)
            into[count] = points[before, 0] + share * (points[k, 0] - points[before, 0])
            count += 1
        before = k
    into[:count].sort()
    return count


@nb.njit(nogil=True, cache=True)
def _near_edges(x, y, radius, points, squares, near):  # type: ignore[no-untyped-def]
    """List in ``near`` the edges that may be nearest to a point within ``radius``; return (count, distance of all)."""
    least = np.inf
    for k in range(points.shape[0]):
        squares[k] = _square_to_edge(x, y, points, k)
        least = min(least, squares[k])
    distance = np.sqrt(least)
    limit = (distance + 2 * radius) ** 2
    count = 0
    for k in range(points.shape[0]):
        if squares[k] <= limit:
            near[count] = k
            count += 1
    return count, distance


@nb.njit(nogil=True, cache=True)
def _fill(first, last, points, edge, profile, pixel, left, top, out):  # type: ignore[no-untyped-def]
    """Fill rows ``first`` to ``last``, at most BLOCK of them."""
    corners = points.shape[0]
    rows = last - first
    crossed = np.empty((rows, corners), np.float64)
    counts, passed = np.empty(rows, np.int64), np.zeros(rows, np.int64)
    for row in range(rows):
        counts[row] = _crossings((top + first + row + 0.5) * pixel, points, crossed[row])
    squares, near = np.empty(corners), np.empty(corners, np.int64)
    reach = max(edge[0], edge[1]) + pixel
    inward, outward, side = np.float32(edge[0]), np.float32(edge[1]), np.float32(pixel)
    for start in range(0, out.shape[1], BLOCK):
        end = min(start + BLOCK, out.shape[1])
        radius = 0.5 * pixel * np.sqrt(float(rows * rows + (end - start) ** 2))
        middle = (left + (start + end) / 2) * pixel, (top + (first + last) / 2) * pixel
        count, distance = _near_edges(middle[0], middle[1], radius, points, squares, near)
        far = distance - radius > reach
        for row in range(rows):
            y = (top + first + row + 0.5) * pixel
            for x in range(start, end):
                at = (left + x + 0.5) * pixel
                while passed[row] < counts[row] and crossed[row, passed[row]] <= at:
                    passed[row] += 1
                inside = passed[row] % 2 == 1
                if far:
                    out[first + row, x] = np.float32(1 if inside else 0)
                    continue
                least = np.inf
                for k in range(count):
                    least = min(least, _square_to_edge(at, y, points, near[k]))
                d = np.float32(-np.sqrt(least) if inside else np.sqrt(least))
                out[first + row, x] = matte_at(d, inward, outward, side, profile)


@nb.njit(nogil=True, cache=True)
def _cover(first, last, points, left, top, out):  # type: ignore[no-untyped-def]
    """Fill rows with how much of each pixel a hard outline covers: exact along a row, on SUBLINES levels of it.

    ``points`` in pixels. So spikes and threads thinner than a pixel weigh what they cover.
    """
    crossed = np.empty(points.shape[0], np.float64)
    width = out.shape[1]
    for row in range(first, last):
        line = out[row]
        line[:] = 0
        for k in range(SUBLINES):
            count = _crossings(top + row + (k + 0.5) / SUBLINES, points, crossed)
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


def outline_matte(part: Part, window: Window, near: Near = ALONE) -> Matte:
    """Return the raw matte, shape (H, W), of an outline through points; fewer than three enclose nothing.

    Convention: points in order, in picture heights; the last is joined to the first. A curve is followed by chords
    that leave it by at most a fiftieth of a pixel.
    """
    if len(part.points) < (3 if all(len(point) == 2 for point in part.points) else 2):
        return np.zeros((window.height, window.width), np.float32)
    points = flattened(part.points, FLATNESS_PX * window.pixel)
    edge, profile = edge_of(POLYGON, part.values)
    out = np.empty((window.height, window.width), np.float32)

    def work(first: int, last: int) -> None:
        _fill(first, last, points, edge, profile, window.pixel, window.left, window.top, out)

    def cover(first: int, last: int) -> None:
        _cover(first, last, points / window.pixel, window.left, window.top, out)

    each_strip(window.height, BLOCK, work if edge.any() else cover)
    return out


def changed_box(old: Part, new: Part) -> Box | None:
    """Return the box (left, top, right, bottom), in picture heights, in which two outlines' mattes can differ.

    A place beyond the reach of every side that changed has the same nearest side within its reach, and is as often
    crossed: the old and the new sides together close on themselves. None where the outlines are not alike enough.
    """
    if len(old.points) != len(new.points) or old.values != new.values:
        return None
    count = len(new.points)
    moved = [k for k in range(count) if old.points[k] != new.points[k]]
    near = {(k + by) % count for k in moved for by in (-1, 0, 1)}
    ends = [_reaches(points[k]) for k in near for points in (old.points, new.points)]
    if not ends:
        return (0.0, 0.0, 0.0, 0.0)
    sides = np.concatenate(ends)
    reach = max(POLYGON.number(new.values, "feather_in"), POLYGON.number(new.values, "feather_out"))
    low, high = sides.min(axis=0) - reach, sides.max(axis=0) + reach
    return (float(low[0]), float(low[1]), float(high[0]), float(high[1]))


def _reaches(point: Corner) -> NDArray[np.float64]:
    """Return a point and its handles' ends: a cubic lies within the hull of its four."""
    at = np.array(point[:2])
    return np.stack([at, at + point[2:4], at + point[4:6]]) if len(point) > 2 else at[None]


def flattened(points: Points, tolerance: float) -> NDArray[np.float64]:
    """Return the corners, shape (N, 2), of a polygon that follows an outline within ``tolerance``.

    A cubic cut into n equal chords is left by at most (6/8)·M/n², with M the larger of its two second differences:
    a chord misses by h²/8 times the second derivative, which is at most 6·M.
    """
    made: list[NDArray[np.float64]] = []
    for k, point in enumerate(points):
        following = points[(k + 1) % len(points)]
        start, end = np.array(point[:2]), np.array(following[:2])
        out = np.array(point[4:6]) if len(point) > 2 else np.zeros(2)
        into = np.array(following[2:4]) if len(following) > 2 else np.zeros(2)
        if not out.any() and not into.any():
            made.append(start[None])
            continue
        cubic = np.stack([start, start + out, end + into, end])
        bend = np.hypot(*np.diff(cubic, n=2, axis=0).T).max()
        chords = max(1, ceil(sqrt(0.75 * bend / tolerance)))
        t = np.arange(chords) / chords
        s = 1 - t
        made.append(np.stack([s**3, 3 * s * s * t, 3 * s * t * t, t**3], axis=1) @ cubic)
    return np.ascontiguousarray(np.concatenate(made))


def _mapped(part: Part, scale: float, shift: float) -> Part:
    """Return the outline under x → scale · x + shift, its handles with it."""
    points = tuple(
        (
            round(scale * point[0] + shift, 5),
            point[1],
            *(round(scale * way, 5) if k % 2 == 0 else way for k, way in enumerate(point[2:])),
        )
        for point in part.points
    )
    return part.model_copy(update={"points": points, "path": ()})


def _corners(aspect: float) -> Points:
    """Return a hexagon in the middle of the picture."""
    return tuple(
        (round(aspect / 2 + 0.3 * cos(k * pi / 3), 4), round(0.5 + 0.3 * sin(k * pi / 3), 4)) for k in range(6)
    )


def _round(aspect: float) -> Points:
    """Return a soft shape of four points in the middle of the picture."""
    x, across, down = aspect / 2, 0.35, 0.25
    # 0.5523: the handles with which four cubics follow a circle (common practice, no source)
    bow_x, bow_y = round(0.5523 * across, 4), round(0.5523 * down, 4)
    return (
        (round(x + across, 4), 0.5, 0.0, -bow_y, 0.0, bow_y),
        (round(x, 4), 0.5 + down, bow_x, 0.0, -bow_x, 0.0),
        (round(x - across, 4), 0.5, 0.0, bow_y, 0.0, -bow_y),
        (round(x, 4), 0.5 - down, -bow_x, 0.0, bow_x, 0.0),
    )


def _soft(aspect: float) -> dict[str, float | str]:
    return {"feather_in": 0.01, "feather_out": 0.01}


POLYGON = PartKind(
    id="polygon",
    name="Polygon",
    parameters=(*FEATHERS, PROFILE),
    glyph="polygon",
    handles="points",
    noun="polygon",
    points=True,
    says="Corners joined by straight lines.",
    matte=outline_matte,
    changed=changed_box,
    mapped=_mapped,
    place=_soft,
    corners=_corners,
)
CURVE = PartKind(
    id="curve",
    name="Curve",
    parameters=(*FEATHERS, PROFILE),
    glyph="curve",
    handles="curve",
    noun="curve",
    points=True,
    handled=True,
    says="A closed curve through points with handles, as drawn by hand.",
    matte=outline_matte,
    changed=changed_box,
    mapped=_mapped,
    place=_soft,
    corners=_round,
)
