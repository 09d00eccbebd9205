"""Strokes to coverage.

Convention
----------
A touch of the brush is a disc: whole within ``hardness`` of its radius, falling to nothing at its rim; a hard rim is
antialiased. A stroke lifts the matte, at each place, toward the touch's own ceiling, ``density`` times the disc: with
``flow`` 1 at once, with less a little more with each touch, a quarter of a radius apart. So a stroke never exceeds its
density, and a soft rim stays as soft as it was set, however often the pen goes over it (our choice). Strokes join what
stands before them as parts do: put in is a + b − ab, take out a − ab.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte
from calado.compiled import compiled
from calado.region.profile import matte_at
from calado.sheet.models import Stroke
from calado.strips import for_rows
from calado.window import Window

ROWS = 64
#: how far touches are apart, in radii
SPACING = 0.25
#: a touch smaller than this radius, in pixels, is drawn so large and as much fainter
LEAST_PX = 0.5
ADD, ERASE = 1.0, 0.0
PENS = {"none": 0.0, "flow": 1.0, "size": 2.0}

Box = tuple[float, float, float, float]


@dataclass(frozen=True, eq=False)
class Composited:
    """Strokes as a kernel wants them: ``points`` (x, y, pressure), shape (N, 3); ``starts`` of each stroke; numbers.

    ``numbers``: radius, hardness, flow, density, put, pen, in one row a stroke.
    """

    points: NDArray[np.float64]
    starts: NDArray[np.int64]
    numbers: NDArray[np.float64]
    boxes: NDArray[np.float64]


def laid(strokes: Sequence[Stroke]) -> Composited:
    """Return strokes laid out for the kernel."""
    ways = [np.asarray(stroke.points, np.float64).reshape(-1, 3) for stroke in strokes]
    starts = np.cumsum([0, *(len(way) for way in ways)])
    numbers = [
        (s.size / 2, s.hardness, s.flow, s.density, ADD if s.does == "add" else ERASE, PENS[s.pen]) for s in strokes
    ]
    boxes = [stroke_box(stroke) for stroke in strokes]
    return Composited(
        np.ascontiguousarray(np.concatenate(ways)) if ways else np.zeros((0, 3)),
        starts.astype(np.int64),
        np.array(numbers, np.float64).reshape(-1, 6),
        np.array(boxes, np.float64).reshape(-1, 4),
    )


def stroke_box(stroke: Stroke) -> Box:
    """Return the box (left, top, right, bottom), in picture heights, of what a stroke can change."""
    xs, ys, half = stroke.points[0::3], stroke.points[1::3], stroke.size / 2
    return min(xs) - half, min(ys) - half, max(xs) + half, max(ys) + half


def _touches(box: Box, other: Box, pixel: float) -> bool:
    """Return whether two boxes touch, two pixels to spare."""
    room = 2 * pixel
    across = box[0] - room < other[2] and box[2] + room > other[0]
    return across and box[1] - room < other[3] and box[3] + room > other[1]


@compiled(inline="always")
def _radius(base, pressure, pen, pixel):  # type: ignore[no-untyped-def]
    """Return the radius of a touch and how much of it there is, for one smaller than a pixel."""
    radius = base * pressure if pen == 2.0 else base
    least = LEAST_PX * pixel
    if radius < least:
        return least, (radius / least) ** 2
    return radius, 1.0


@compiled()
def _span(low, high, pixel, start, count):  # type: ignore[no-untyped-def]
    """Return the first and last + 1 pixel that a stretch touches, with one to spare."""
    first = int(np.floor(low / pixel)) - 1 - start
    last = int(np.ceil(high / pixel)) + 1 - start
    return min(max(first, 0), count), min(max(last, 0), count)


@compiled()
def _swept(a, y0, width, left, top, pixel, p, q, numbers):  # type: ignore[no-untyped-def]
    """Lift rows to the ceiling of all touches between two points at once."""
    hardness, density, pen = numbers[1], numbers[3], numbers[5]
    rp, sp = _radius(numbers[0], p[2], pen, pixel)
    rq, sq = _radius(numbers[0], q[2], pen, pixel)
    most = max(rp, rq)
    dx, dy = q[0] - p[0], q[1] - p[1]
    long = dx * dx + dy * dy
    first, last = _span(min(p[1], q[1]) - most, max(p[1], q[1]) + most, pixel, top + y0, a.shape[0])
    start, end = _span(min(p[0], q[0]) - most, max(p[0], q[0]) + most, pixel, left, width)
    for j in range(first, last):
        y = (top + y0 + j + 0.5) * pixel
        for i in range(start, end):
            x = (left + i + 0.5) * pixel
            t = 0.0 if long == 0.0 else min(max(((x - p[0]) * dx + (y - p[1]) * dy) / long, 0.0), 1.0)
            radius, share = rp + t * (rq - rp), sp + t * (sq - sp)
            ex, ey = x - p[0] - t * dx, y - p[1] - t * dy
            d = np.sqrt(ex * ex + ey * ey) - radius
            if d < pixel:
                soft = np.float32((1.0 - hardness) * radius)
                disc = matte_at(np.float32(d), soft, np.float32(0), np.float32(pixel), 0)
                a[j, i] = max(a[j, i], np.float32(density * share) * disc)


@compiled()
def _touched(a, y0, width, left, top, pixel, x0, y_at, pressure, numbers):  # type: ignore[no-untyped-def]
    """Lift rows toward the ceiling of one touch."""
    hardness, density, pen = numbers[1], numbers[3], numbers[5]
    radius, share = _radius(numbers[0], pressure, pen, pixel)
    flow = np.float32(numbers[2] * (pressure if pen == 1.0 else 1.0))
    soft = np.float32((1.0 - hardness) * radius)
    first, last = _span(y_at - radius, y_at + radius, pixel, top + y0, a.shape[0])
    start, end = _span(x0 - radius, x0 + radius, pixel, left, width)
    for j in range(first, last):
        ey = (top + y0 + j + 0.5) * pixel - y_at
        for i in range(start, end):
            ex = (left + i + 0.5) * pixel - x0
            d = np.sqrt(ex * ex + ey * ey) - radius
            if d < pixel:
                disc = matte_at(np.float32(d), soft, np.float32(0), np.float32(pixel), 0)
                ceiling = np.float32(density * share) * disc
                if ceiling > a[j, i]:
                    a[j, i] += flow * (ceiling - a[j, i])


@compiled()
def _stroke(a, y0, width, left, top, pixel, points, numbers):  # type: ignore[no-untyped-def]
    """Draw one stroke into rows of zeros."""
    if numbers[2] >= 1.0 and numbers[5] != 1.0:
        if points.shape[0] == 1:
            _swept(a, y0, width, left, top, pixel, points[0], points[0], numbers)
        for k in range(points.shape[0] - 1):
            _swept(a, y0, width, left, top, pixel, points[k], points[k + 1], numbers)
        return
    # touches stand evenly along the way, whatever the points
    ahead = 0.0
    _touched(a, y0, width, left, top, pixel, points[0, 0], points[0, 1], points[0, 2], numbers)
    for k in range(points.shape[0] - 1):
        p, q = points[k], points[k + 1]
        long = np.sqrt((q[0] - p[0]) ** 2 + (q[1] - p[1]) ** 2)
        at = ahead
        while True:
            t = 0.0 if long == 0.0 else min(at / long, 1.0)
            radius, _ = _radius(numbers[0], p[2] + t * (q[2] - p[2]), numbers[5], pixel)
            step = SPACING * radius
            at += step
            if at > long:
                ahead = at - step - long
                break
            t = at / long
            x, y = p[0] + t * (q[0] - p[0]), p[1] + t * (q[1] - p[1])
            _touched(a, y0, width, left, top, pixel, x, y, p[2] + t * (q[2] - p[2]), numbers)


@compiled()
def _fold_rows(out, first, last, left, top, pixel, points, starts, numbers, boxes):  # type: ignore[no-untyped-def]
    """Fold strokes in order into rows of a matte."""
    width = out.shape[1]
    a = np.zeros((last - first, width), np.float32)
    for s in range(starts.size - 1):
        y0, y1 = _span(boxes[s, 1], boxes[s, 3], pixel, top + first, last - first)
        x0, x1 = _span(boxes[s, 0], boxes[s, 2], pixel, left, width)
        if y1 <= y0 or x1 <= x0:
            continue
        a[y0:y1, x0:x1] = 0
        _stroke(a, first, width, left, top, pixel, points[starts[s] : starts[s + 1]], numbers[s])
        put = numbers[s, 4]
        for j in range(y0, y1):
            for i in range(x0, x1):
                m = out[first + j, i]
                out[first + j, i] = m + a[j, i] - m * a[j, i] if put == 1.0 else m - m * a[j, i]


def fold_into(out: Matte, strokes: Sequence[Stroke], window: Window) -> None:
    """Fold strokes, in order, into the matte of a window, shape (H, W)."""
    if not strokes:
        return
    left, top = window.left * window.pixel, window.top * window.pixel
    right, bottom = left + window.width * window.pixel, top + window.height * window.pixel
    made = laid([each for each in strokes if _touches(stroke_box(each), (left, top, right, bottom), window.pixel)])

    def work(first: int, last: int) -> None:
        _fold_rows(
            out,
            first,
            last,
            window.left,
            window.top,
            window.pixel,
            made.points,
            made.starts,
            made.numbers,
            made.boxes,
        )

    for_rows(window.height, ROWS, work)


def coverage(stroke: Stroke, window: Window) -> Matte:
    """Return how much of each pixel of a window one stroke covers, shape (H, W), whatever it does."""
    out = np.zeros((window.height, window.width), np.float32)
    fold_into(out, [stroke.model_copy(update={"does": "add"})], window)
    return out
