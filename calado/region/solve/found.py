"""What is found between marks: cut out in the neighbourhood of the marks, mark by mark.

The cut sees what lies round the marks only, as fine as it can; what is far from every mark would but mislead it. The
first marks, up to the first on the subject after one on the surround, are answered together. Each later one corrects:
what lies far from it stays as it is, and a new cut near it, with that known, changes what hangs together with it, its
way only. One of the first corrections on the subject may show that most of it was missing: where a cut by all marks
finds much more, that is taken. Ours; measured on marks drawn at random (``docs/quality.md``).
"""

import threading
from collections import OrderedDict
from collections.abc import Callable

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.region.part import Points
from calado.region.solve.cut import INSIDE, OUTSIDE, UNKNOWN, Seeds, cut
from calado.sheet.models import Stroke
from calado.window import Window, full_window

#: the longer side, in pixels, of what is cut, and what is seen round the marks, in picture heights
SIDE, AROUND = 320, 0.12
#: how often more is looked at, and what share of a side is in what runs out of it
WIDER, RUNS_OUT = 2, 0.03
#: how far from a correcting mark anything changes, in picture heights; beyond so much of it all is known
NEAR, KNOWN = 0.2, 0.8
#: so many corrections may find that a subject is much larger, so many times
EARLY, MUCH = 3, 2.2
#: answers kept, each a bit a pixel of a copy 1000 pixels long
KEPT = 96
Box = tuple[float, float, float, float]
Strokes = tuple[Stroke, ...]
Found = NDArray[np.bool_]
Pictured = Callable[[Window], NDArray[np.float32]]
Seeded = Callable[[Points, Strokes, Window], Seeds]


def marked_box(points: Points, strokes: Strokes, aspect: float) -> Box:
    """Return what is looked at, in picture heights: what lies round the marks, or the whole frame.

    With nothing marked on the subject, or nothing on the surround, all of the frame may be meant.
    """
    whole = 0.0, 0.0, aspect, 1.0
    put = any(each.does == "add" for each in strokes)
    taken = len(points) > 2 or any(each.does == "erase" for each in strokes)
    if not taken or not (put or len(points) > 2):
        return whole
    places = [np.reshape(each.points, (-1, 3))[:, :2] for each in strokes]
    places += [np.array([point[:2] for point in points])] if points else []
    low, high = (side(np.concatenate(places), axis=0) for side in (np.min, np.max))
    left, top = np.maximum(low - AROUND, 0)
    right, bottom = np.minimum(high + AROUND, (aspect, 1.0))
    return (float(left), float(top), float(right), float(bottom)) if right > left and bottom > top else whole


def cut_window(box: Box, window: Window) -> Window:
    """Return the window of a box, its longer side at most ``SIDE`` pixels."""
    longer = max(box[2] - box[0], box[3] - box[1]) * window.picture_height
    scale = min(1.0, SIDE / longer)
    grid = full_window(window.picture_width, window.picture_height, scale)
    return grid.within(box) or grid


class Answers:
    """Finds what belongs to subjects, and keeps what it found, so that a further mark costs one more cut."""

    def __init__(self) -> None:
        self._kept: OrderedDict[object, NDArray[np.uint8]] = OrderedDict()
        self._lock = threading.Lock()

    def found(
        self, key: str, points: Points, strokes: Strokes, grid: Window, picture: Pictured, seeds: Seeded
    ) -> Found:
        """Return what is subject, shape (H, W), in the grid of a whole picture named by ``key``."""
        first, count = _first_group(strokes), len(strokes)
        made = self._held((key, points, strokes, grid))
        while made is None and count > first:
            count -= 1
            made = self._held((key, points, strokes[:count], grid))
        if made is None:
            made = self._one(key, points, strokes[:first], grid, picture, seeds, None)
        for further in range(count + 1, len(strokes) + 1):
            made = self._one(key, points, strokes[:further], grid, picture, seeds, made)
        return made

    def _held(self, named: tuple[str, Points, Strokes, Window]) -> Found | None:
        with self._lock:
            kept = self._kept.get(named)
            if kept is None:
                return None
            self._kept.move_to_end(named)
        grid = named[3]
        return np.unpackbits(kept, count=grid.height * grid.width).reshape(grid.height, grid.width).astype(bool)

    def _one(
        self,
        key: str,
        points: Points,
        strokes: Strokes,
        grid: Window,
        picture: Pictured,
        seeds: Seeded,
        before: Found | None,
    ) -> Found:
        """Find anew what all these marks give, the last of them a correction of what was found ``before``."""
        if before is None:
            made = _answer(points, strokes, grid, picture, seeds)
        else:
            made = _further(before, points, strokes, grid, picture, seeds)
        marked = seeds(points, strokes, grid)
        made = (made | (marked == INSIDE)) & (marked != OUTSIDE)
        with self._lock:
            self._kept[key, points, strokes, grid] = np.packbits(made)
            while len(self._kept) > KEPT:
                self._kept.popitem(last=False)
        return made


def _first_group(strokes: Strokes) -> int:
    """Return how many marks are answered together: up to the first on the subject after one on the surround."""
    taken = False
    for number, each in enumerate(strokes):
        if taken and each.does == "add":
            return number
        taken = taken or each.does == "erase"
    return len(strokes)


def _answer(points: Points, strokes: Strokes, grid: Window, picture: Pictured, seeds: Seeded) -> Found:
    """Return what one cut by all marks finds, shape (H, W), in a grid.

    Where it runs out of what is looked at, more is looked at: a straight edge is nothing's own.
    """
    box = marked_box(points, strokes, grid.aspect)
    for _ in range(1 + WIDER):
        small, inner = cut_window(box, grid), grid.within(box) or grid
        found = cut(picture(small), seeds(points, strokes, small), outlined=len(points) > 2)
        wider = _wider(box, found, grid.aspect)
        if wider == box:
            break
        box = wider
    made = np.zeros((grid.height, grid.width), bool)
    made[inner.inside(grid)] = in_window(found, small, inner)
    return made


def _wider(box: Box, found: Found, aspect: float) -> Box:
    """Return a box that goes on where what was found runs out of it, within the frame."""
    left, top, right, bottom = box
    runs = [float(side.mean()) > RUNS_OUT for side in (found[:, 0], found[0], found[:, -1], found[-1])]
    return (
        max(left - AROUND * runs[0], 0.0),
        max(top - AROUND * runs[1], 0.0),
        min(right + AROUND * runs[2], aspect),
        min(bottom + AROUND * runs[3], 1.0),
    )


def seen_box(points: Points, strokes: Strokes, found: Found, grid: Window) -> Box:
    """Return what lies round the marks and round what was found, in picture heights."""
    box = marked_box(points, strokes, grid.aspect)
    rows, columns = (np.flatnonzero(found.any(axis=k)) for k in (1, 0))
    if not rows.size:
        return box
    return (
        max(min(box[0], columns[0] * grid.pixel - AROUND / 2), 0.0),
        max(min(box[1], rows[0] * grid.pixel - AROUND / 2), 0.0),
        min(max(box[2], columns[-1] * grid.pixel + AROUND / 2), grid.aspect),
        min(max(box[3], rows[-1] * grid.pixel + AROUND / 2), 1.0),
    )


def in_window(found: Found, small: Window, window: Window) -> Found:
    """Return what was found in one window as another, finer or coarser one of about the same place has it."""
    step = window.pixel / small.pixel
    # centres of pixels are at their halves
    lead = np.array(
        [
            [step, 0, (window.left + 0.5) * step - small.left - 0.5],
            [0, step, (window.top + 0.5) * step - small.top - 0.5],
        ]
    )
    flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    size = window.width, window.height
    laid = cv2.warpAffine(found.astype(np.float32), lead, size, flags=flags, borderMode=cv2.BORDER_REPLICATE)
    return np.asarray(laid > 0.5)


def _further(before: Found, points: Points, strokes: Strokes, grid: Window, picture: Pictured, seeds: Seeded) -> Found:
    """Return what was found before, corrected by the last mark."""
    mark, put = seeds((), strokes[-1:], grid), strokes[-1].does == "add"
    if not (mark != UNKNOWN).any():
        return before
    if put and len(strokes) - _first_group(strokes) <= EARLY:
        whole = _corrected(before, _answer(points, strokes, grid, picture, seeds), mark, put)
        if whole.sum() > MUCH * before.sum():
            return whole
    return _corrected(before, _near_answer(before, mark, points, strokes, grid, picture, seeds), mark, put)


def _near_answer(
    before: Found, mark: Seeds, points: Points, strokes: Strokes, grid: Window, picture: Pictured, seeds: Seeded
) -> Found:
    """Return what a cut near the last mark finds, what was found before further off being known."""
    rows, columns = (np.flatnonzero((mark != UNKNOWN).any(axis=k)) * grid.pixel for k in (1, 0))
    left, right = max(columns[0] - NEAR, 0.0), min(columns[-1] + grid.pixel + NEAR, grid.aspect)
    box = (left, max(rows[0] - NEAR, 0.0), right, min(rows[-1] + grid.pixel + NEAR, 1.0))
    small, inner = cut_window(box, grid), grid.within(box) or grid
    marked = seeds(points, strokes, small)
    last = seeds((), strokes[-1:], small) == UNKNOWN
    away = cv2.distanceTransform(last.astype(np.uint8), cv2.DIST_L2, 5) * small.pixel
    known = np.where(in_window(before, grid, small), INSIDE, OUTSIDE)
    free = (marked == UNKNOWN) & (away > KNOWN * NEAR)
    found = cut(picture(small), np.where(free, known, marked).astype(np.int8))
    made = before.copy()
    made[inner.inside(grid)] = in_window(found, small, inner)
    return made


def _corrected(before: Found, now: Found, mark: Seeds, put: bool) -> Found:
    """Return what was found before, changed by what a mark and all that hangs together with it change, its way only."""
    marked = mark != UNKNOWN
    wanted = (now & ~before) if put else (before & ~now)
    _, labels = cv2.connectedComponents((wanted | marked).astype(np.uint8), connectivity=8)
    touched = np.isin(labels, np.setdiff1d(labels[marked], [0]))
    return before | (touched & (wanted | marked)) if put else before & ~(touched & (wanted | marked))
