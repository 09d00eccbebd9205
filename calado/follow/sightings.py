"""Faces and lines of lettering along a clip: finders now and then, tracks between, joined into one thing each.

Between two frames that are looked at, corners inside each thing go from frame to frame (pyramidal Lucas–Kanade), so
that what is found next is known to be it or another. What was lost is known again by what it looks like: a face by the
colours of it, of the hair and of what is worn (two in like clothes may so be taken for one where one goes as the other
comes), a line by its letters. Two things at once stay two: no frame gives one thing two finds (Kuhn1955).

References
----------
Bouguet2001 for corners and their way; Bhattacharyya1943 for likeness of colours; Kuhn1955 for the assignment.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

import cv2
import numpy as np
import scipy
from numpy.typing import NDArray

from calado.arrays import Codes
from calado.detect.offer import Offer
from calado.follow.colours import alike, hues_in
from calado.follow.fits import FAR, Points, looked_for

#: corners that carry a thing, and fewest that tell where it went; pixels by which one may miss itself there and back
CORNERS, FEWEST, BACK = 24, 3, 1.5
#: a find is a thing's own within so many of its widths and heights of where it went, and of such a likeness in size
NEAR_WIDE, NEAR_HIGH, LARGER = 0.6, 0.8, 1.8
#: likeness from which on what comes back is the same: of a face's colours, of a line's letters
ALIKE = {"face": 0.72, "text": 0.6}
#: where hair, face and clothes are, from a face's middle, in its widths and heights: left, top, right, bottom
WORN = ((-0.5, -1.0, 0.5, -0.45), (-0.4, -0.4, 0.4, 0.4), (-0.6, 0.7, 0.6, 1.2))
#: what was there to be seen in so many looks for each in which it was found is doubtful
SELDOM = 4
#: and so is what was found once only, less sure than this
SURE_AT_ONCE = 0.8
#: how like in shape two lines must be to be compared, and the height at which they are
SHAPE, LETTERS = 1.3, 24
#: a thing that one look missed is still there
MISSED = 1

Box = tuple[float, float, float, float]
#: what a find looks like
Look = list[NDArray[np.float32]]


class Sighting(NamedTuple):
    """What was found in a frame that was looked at."""

    frame: int
    offer: Offer


@dataclass(frozen=True)
class Thing:
    """A face or a line of lettering along a clip: where it was seen, in the order of frames.

    ``spans`` are its runs of frames, first and last; ``best`` is where it shows best. It is not ``sure`` where most
    looks at it found nothing.
    """

    kind: str
    sightings: tuple[Sighting, ...]
    spans: tuple[tuple[int, int], ...]
    best: Sighting
    sure: bool


@dataclass
class _Thread:
    kind: str
    sightings: list[Sighting]
    looks: list[Look]
    #: where it is now, and the corners that tell, in pixels; without any it is lost
    box: Box
    points: Points = field(default_factory=lambda: np.zeros((0, 2)))
    #: looks at where it is that found nothing, in all and since it was found last
    missed: int = 0
    lately: int = 0

    @property
    def lost(self) -> bool:
        return len(self.points) < FEWEST


class Sightings:
    """Joins finds to things. Frames come one after another; ``aspect`` is their width over their height."""

    def __init__(self, aspect: float) -> None:
        self._aspect = aspect
        self._before: Codes | None = None
        self._threads: list[_Thread] = []
        self._looks: dict[str, list[int]] = {}

    def carry(self, grey: Codes) -> None:
        """Take what is known to the next frame, shape (H, W), 8 bits."""
        if self._before is not None and self._before.shape == grey.shape:
            known = [thread for thread in self._threads if not thread.lost]
            if known:
                # all at once: the pyramids of both frames take longer than the corners
                points = np.concatenate([thread.points for thread in known])
                there, good = looked_for(self._before, grey, points, points, BACK, FAR)
                ends = np.cumsum([len(thread.points) for thread in known])[:-1]
                for thread, to, kept in zip(known, np.split(there, ends), np.split(good, ends), strict=True):
                    _carry(thread, to, kept, grey.shape[::-1])
        self._before = grey

    def look(self, frame: int, codes: Codes, offers: Sequence[Offer], kind: str) -> None:
        """Join what was found of a kind ("face", "text") in the frame that was carried to last.

        ``codes`` are its colours, shape (H, W, 3), 8 bits, of any size. A doubtful find joins what is known and begins
        nothing.
        """
        assert self._before is not None
        self._looks.setdefault(kind, []).append(frame)
        own = [thread for thread in self._threads if thread.kind == kind]
        found = [offer for offer in offers if offer.name.endswith(kind)]
        seen = [_looks_like(kind, offer, codes) for offer in found]
        high = self._before.shape[0]
        scores = np.array([[_score(t, o, look, high) for o, look in zip(found, seen, strict=True)] for t in own])
        left, missing = set(range(len(found))), {id(thread): thread for thread in own if not thread.lost}
        for row, column in (
            zip(*scipy.optimize.linear_sum_assignment(scores, maximize=True), strict=True) if scores.size else ()
        ):
            if scores[row, column] > 0:
                self._join(own[row], Sighting(frame, found[column]), seen[column])
                left.discard(column)
                missing.pop(id(own[row]), None)
        for thread in missing.values():
            thread.missed += 1
            thread.lately += 1
        for k in sorted(left):
            # a piece of a line that was found whole before is no other line
            if found[k].sure and not any(_inside(found[k], thread, high) for thread in own if not thread.lost):
                thread = _Thread(kind, [], [], (0.0, 0.0, 0.0, 0.0))
                self._threads.append(thread)
                self._join(thread, Sighting(frame, found[k]), seen[k])

    def things(self) -> list[Thing]:
        """Return all things, faces first, each kind in the order in which they came; doubtful ones at the end."""
        made = [self._thing(thread) for thread in self._threads]
        return sorted(made, key=lambda thing: (not thing.sure, thing.kind, thing.spans[0][0], thing.best.offer.box[1]))

    def _thing(self, thread: _Thread) -> Thing:
        best = max(thread.sightings, key=lambda each: _shows(each.offer, self._aspect))
        order = {frame: k for k, frame in enumerate(self._looks[thread.kind])}
        spans: list[tuple[int, int]] = []
        for frame, _ in thread.sightings:
            if spans and order[frame] - order[spans[-1][1]] <= 1 + MISSED:
                spans[-1] = spans[-1][0], frame
            else:
                spans.append((frame, frame))
        once = len(thread.sightings) == 1 and best.offer.certainty < SURE_AT_ONCE
        sure = thread.missed < SELDOM * len(thread.sightings) and not once
        return Thing(thread.kind, tuple(thread.sightings), tuple(spans), best, sure)

    def _join(self, thread: _Thread, sighting: Sighting, look: Look) -> None:
        assert self._before is not None
        thread.sightings.append(sighting)
        thread.looks.append(look)
        thread.lately = 0
        high = self._before.shape[0]
        thread.box = _pixels(sighting.offer, high)
        thread.points = _corners(self._before, sighting.offer, high)


def _pixels(offer: Offer, high: int) -> Box:
    left, top, wide, tall = (each * high for each in offer.box)
    return left, top, wide, tall


def _corners(grey: Codes, offer: Offer, high: int) -> Points:
    """Return corners inside a find's outline."""
    within = np.zeros(grey.shape, np.uint8)
    cv2.fillConvexPoly(within, np.round(np.array(offer.outline) * high).astype(np.int32), 255)
    found = cv2.goodFeaturesToTrack(grey, CORNERS, 0.02, 3, mask=within)
    return np.zeros((0, 2)) if found is None else np.asarray(found[:, 0], np.float64)


def _carry(thread: _Thread, there: Points, good: NDArray[np.bool_], size: tuple[int, ...]) -> None:
    """Take a thing to where most of its corners went; in a frame of a size (wide, high), in pixels."""
    a, b = thread.points[good], there[good]
    inside = ((b >= 0) & (b < size)).all(axis=1)
    if inside.sum() >= FEWEST:
        way = np.median(b[inside] - a[inside], axis=0)
        # what went another way stood before it, or behind
        same = inside & (np.abs(b - a - way) < 0.1 * max(thread.box[2:]) + 2).all(axis=1)
        spread = [np.median(np.linalg.norm(each[same] - each[same].mean(axis=0), axis=1)) for each in (a, b)]
        scale = float(np.clip(spread[1] / max(spread[0], 1.0), 0.9, 1.1))
        left, top, wide, tall = thread.box
        x, y = left + wide / 2 + way[0], top + tall / 2 + way[1]
        thread.box = x - scale * wide / 2, y - scale * tall / 2, scale * wide, scale * tall
        thread.points = b[same]
    else:
        thread.points = thread.points[:0]


def _middle(box: Box) -> tuple[float, float]:
    return box[0] + box[2] / 2, box[1] + box[3] / 2


def _score(thread: _Thread, offer: Offer, look: Look, high: int) -> float:
    """Return how much speaks for a find being a thing, 0: nothing; where it went counts more than how it looks."""
    like = max(_likeness(thread.kind, look, each) for each in thread.looks)
    if not thread.lost:
        (x, y), (a, b) = _middle(thread.box), _middle(_pixels(offer, high))
        wide, tall = (max(thread.box[k], offer.box[k] * high) for k in (2, 3))
        larger = max(thread.box[3], offer.box[3] * high) / max(min(thread.box[3], offer.box[3] * high), 1e-6)
        apart = float(np.hypot((x - a) / (NEAR_WIDE * wide), (y - b) / (NEAR_HIGH * tall)))
        if apart < 1 and larger < LARGER:
            return 3.0 - apart + like
        # corners may have stayed with what it went behind
        if not thread.lately:
            return 0.0
    return like if like > ALIKE[thread.kind] else 0.0


def _inside(offer: Offer, thread: _Thread, high: int) -> bool:
    x, y = _middle(_pixels(offer, high))
    left, top, wide, tall = thread.box
    return left <= x <= left + wide and top <= y <= top + tall


def _shows(offer: Offer, aspect: float) -> float:
    """Return how well a find shows its thing: sure, large, whole within the frame."""
    left, top, wide, tall = offer.box
    cut = left < 0 or top < 0 or left + wide > aspect or top + tall > 1
    return offer.certainty * tall**0.5 * (0.3 if cut else 1.0)


def _looks_like(kind: str, offer: Offer, codes: Codes) -> Look:
    """Return what a find looks like: a face's colours, its hair's and clothes', or a line laid level in grey."""
    high = codes.shape[0]
    corners = np.array(offer.outline, np.float32) * high
    if kind == "face":
        left, top, wide, tall = (each * high for each in offer.box)
        x, y = left + wide / 2, top + tall / 2
        return [hues_in(codes, (x + a * wide, y + b * tall, x + c * wide, y + d * tall)) for a, b, c, d in WORN]
    sides = np.linalg.norm(corners - np.roll(corners, -1, axis=0), axis=1)
    wide, tall = max(sides[1], 1.0), max(sides[0], 1.0)
    if wide < tall:
        corners, wide, tall = np.roll(corners, 1, axis=0), tall, wide
    across = int(np.clip(round(LETTERS * wide / tall), LETTERS, 20 * LETTERS))
    level = np.array([[0, LETTERS], [0, 0], [across, 0], [across, LETTERS]], np.float32)
    grey = cv2.cvtColor(codes, cv2.COLOR_RGB2GRAY)
    laid = cv2.warpPerspective(grey, cv2.getPerspectiveTransform(corners, level), (across, LETTERS))
    return [np.asarray(laid, np.float32)]


def _likeness(kind: str, one: Look, other: Look) -> float:
    if kind == "face":
        return sum(map(alike, one, other)) / len(one)
    (line,), (of,) = one, other
    if not 1 / SHAPE < line.shape[1] / of.shape[1] < SHAPE:
        return 0.0
    of = np.asarray(cv2.resize(of, line.shape[::-1], interpolation=cv2.INTER_AREA), np.float32)
    # a little aside still counts: the box was not found to the pixel
    room = LETTERS // 6
    found = cv2.matchTemplate(line, np.ascontiguousarray(of[room:-room, room:-room]), cv2.TM_CCOEFF_NORMED)
    return max(float(found.max()), 0.0)
