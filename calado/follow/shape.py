"""A shape that changes as it moves, from its matte in one frame to its mattes in others.

In each frame three witnesses are heard: where it was before, carried by dense flow, or, while it moves as one piece,
its matte in the reference laid by that motion and bent by what flow is left; its colours, against those beside it; and
the ground, wherever that is known: what differs from it, and is not the ground under another light, is not ground. What
they agree on, and hangs together with what was there before, is the shape. Along its edge, and where its matte was
soft, alpha is how far a pixel lies from the ground's colour to the shape's own nearby. Ours.

References
----------
Kroeger2016 for dense flow.
"""

from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes, Floats, Matte
from calado.follow.against import between, dot, lit_otherwise
from calado.follow.colours import Colours
from calado.follow.fits import Matrix
from calado.follow.ground import Backdrop
from calado.follow.pose import Key, Mask, Pose, overlap

Slices = tuple[slice, slice]
#: pixels beside where it was within which it is looked for, and within which what it was part of goes on
REACH, FARTHEST = (64, 140), 40
#: how well a key's outline must lie on that of before, and the share of it that must look the same, to be laid there
POSE, SAME = 0.75, 0.9
#: codes by which it may look otherwise there, once its light is allowed for
OTHERWISE = 14.0
#: of one step of likelihood, so many pixels from the edge of where it was
PLACE = 4.0
#: pixels in which likelihood is gathered
GATHERED = 5
#: pixels of the smallest piece that is kept; of its area the largest hole that is closed, and the least piece that
#: comes out from behind something
PIECE, HOLE, COMES = 20, 0.02, 0.02
#: how much more common a piece's colours must be in the shape than any colour is, as a logarithm, and the ground's
#: own evidence against it
COMMON, APART = 4.0, 2.0
#: pixels to each side of an edge in which it may be soft
EDGE = 3.0
#: what was something else beside it is so still, by so much
ELSE = 16.0
#: a likelihood below which the ground may shine through
SHINES = -1.0
#: of its size in the reference, below which it is lost
LOST = 0.04
#: how alike colours must be where it is found again
ALIKE = 0.6


@dataclass(frozen=True, eq=False)
class Shown:
    """A frame in which a shape is looked for: codes, shape (H, W, 3), grey, and the ground behind it."""

    codes: Codes
    grey: Codes
    behind: Backdrop


@dataclass(frozen=True, eq=False)
class Cut:
    """What was found: a matte of the frame, and how sure that is, 0…1."""

    matte: Matte
    confidence: float
    state: Literal["on", "held"]


class Shape:
    """Follows one shape from a key on. Frames come one after another, in either direction.

    ``keys`` are frames in which it is known, this one among them; ``behind`` is the ground behind the key it begins
    with: what is neither that nor the shape there is something else, and stays so. ``roughly``, it takes half the time.
    """

    def __init__(self, key: Key, keys: list[Key], behind: Backdrop, *, roughly: bool = False) -> None:
        self._poses = [Pose(each) for each in keys]
        codes = np.concatenate([each.codes[each.matte > 0.9] for each in keys])
        self._own = Colours(codes, np.ones(len(codes), np.float32))
        beside = (cv2.dilate(key.matte, _disc(61)) > 0.05) & (key.matte < 0.05)
        self._beside = Colours(key.codes[beside], np.ones(int(beside.sum()), np.float32))
        self._width = softness(key.matte)
        self._area = max(float(key.matte.sum()), 1.0)
        self._reach = int(np.clip(np.sqrt(self._area) / 2, *REACH))
        self._flow = cv2.DISOpticalFlow.create(
            cv2.DISOPTICAL_FLOW_PRESET_FAST if roughly else cv2.DISOPTICAL_FLOW_PRESET_MEDIUM
        )
        self._last, self._grey, self._lost = key.matte, key.grey, False
        whole = (slice(0, key.grey.shape[0]), slice(0, key.grey.shape[1]))
        away = _gathered(self._evidence(Shown(key.codes, key.grey, behind), whole)) > 0
        self._else = (away & behind.whole.known & (cv2.dilate(key.matte, _disc(5)) < 0.1)).astype(np.float32)

    def step(self, now: Shown) -> Cut:
        """Return the shape in the next frame."""
        made = self._again(now) if self._lost else self._gone_on(now)
        self._grey = now.grey
        if made is None or made.matte.sum() < LOST * self._area:
            self._lost = True
            return Cut(np.zeros_like(self._last), 0.0, "held")
        self._lost, self._last = False, made.matte
        return made

    def _gone_on(self, now: Shown) -> Cut | None:
        y, x = np.nonzero(self._last > 0.1)
        if len(x) < PIECE:
            return None
        at = _around(y, x, self._last.shape, self._reach)
        back = self._back(now.grey[at], self._grey[at])
        flowed = _remapped(self._last[at], back, cv2.INTER_LINEAR)
        there = _remapped(self._else[at], back, cv2.INTER_LINEAR)
        self._else = np.zeros_like(self._else)
        self._else[at] = there
        laid = self._laid(now, at, flowed)
        return self._cut(now, at, flowed if laid is None else laid, as_one=laid is not None)

    def _again(self, now: Shown) -> Cut | None:
        """Look for it in the whole frame, where the ground is known: what is none, and is coloured as it is."""
        at = (slice(0, now.grey.shape[0]), slice(0, now.grey.shape[1]))
        self._else = np.zeros_like(self._else)
        away = _gathered(self._evidence(now, at)) > 0
        _, labels, about, _ = cv2.connectedComponentsWithStats((away & now.behind.whole.known).astype(np.uint8))
        for piece in np.argsort(-about[1:, cv2.CC_STAT_AREA])[:3] + 1:
            if about[piece, cv2.CC_STAT_AREA] < 2 * LOST * self._area:
                return None
            if self._alike(now.codes[labels == piece]) > ALIKE:
                return self._cut(now, at, (labels == piece).astype(np.float32), as_one=False)
        return None

    def _alike(self, codes: Codes) -> float:
        return self._own.like(Colours(codes, np.ones(len(codes), np.float32)))

    def _back(self, now: Codes, before: Codes) -> Floats:
        """Return where each pixel of one picture was in another, less where it is."""
        made = self._flow.calc(np.ascontiguousarray(now), np.ascontiguousarray(before), None)  # type: ignore[call-overload]
        return np.asarray(made, np.float32)

    def _laid(self, now: Shown, at: Slices, prior: Matte) -> Matte | None:
        """Return a key's matte as it lies here if it moved as one piece from there; None: no key looks the same."""
        whole = np.zeros_like(self._last)
        whole[at] = prior
        best = max((each.guessed(whole) for each in self._poses), key=lambda each: each.likeness)
        matrix = best.pose.refined(best.matrix, now.grey) if best.likeness > POSE else None
        made = None if matrix is None else self._bent(now, at, best.pose.key, matrix)
        for each in self._poses:
            each.at = matrix if made is not None and each is best.pose else None
        return made

    def _bent(self, now: Shown, at: Slices, key: Key, matrix: Matrix) -> Matte | None:
        """Return a key's matte laid by a motion and bent by what flow is left; None: it does not look the same."""
        size = now.grey.shape[::-1]
        matte = np.asarray(cv2.warpPerspective(key.matte, matrix, size), np.float32)[at]
        was = np.asarray(cv2.warpPerspective(key.grey, matrix, size), np.uint8)[at]
        back = np.asarray(cv2.GaussianBlur(self._back(now.grey[at], was), (0, 0), 3), np.float32)
        # it is bent by little: what is left over of a motion, not another one
        back *= np.clip(2 - np.linalg.norm(back, axis=2, keepdims=True) / 5, 0, 1)
        laid = np.clip(_remapped(matte, back, cv2.INTER_CUBIC), 0, 1)
        body = laid > 0.9
        if body.sum() < PIECE:
            return None
        codes = np.asarray(cv2.warpPerspective(key.codes, matrix, size), np.float32)[at]
        off = cv2.blur(now.codes[at] - _remapped(codes, back, cv2.INTER_LINEAR), (7, 7))
        off -= np.median(off[body], axis=0)
        return laid if float((np.abs(off).max(axis=2)[body] < OTHERWISE).mean()) > SAME else None

    def _evidence(self, now: Shown, at: Slices, own: Floats | None = None) -> Floats:
        """Return what colours and the ground say, as a logarithm of likelihood, shape (H, W): above 0 for the shape."""
        own = self._own.log(now.codes[at]) if own is None else own
        behind = now.behind.within(at)
        codes = now.codes[at].astype(np.float32)
        apart = codes - behind.codes
        square = dot(apart, apart)
        ground = -square / (2 * behind.strays**2) - 3 * np.log(behind.strays * np.sqrt(2 * np.pi))
        by_ground = np.clip(own - np.maximum(ground, -40), -8, 8)
        by_ground[lit_otherwise(codes, behind)] = -3
        by_colour = np.clip(own - self._beside.log(now.codes[at]), -2, 2)
        return np.where(behind.known, by_ground, by_colour).astype(np.float32)

    def _cut(self, now: Shown, at: Slices, prior: Matte, *, as_one: bool) -> Cut:
        away = signed(prior > 0.5)
        place = np.clip(away / PLACE, -4, 4)
        known = now.behind.within(at).known
        weight = np.where(known, 1.5 if as_one else 0.5, 1.0)
        own = self._own.log(now.codes[at])
        evidence = self._evidence(now, at, own) - ELSE * (self._else[at] > 0.5)
        likely = _gathered(evidence + weight * place) > 0
        found = self._pieces(likely & (away > -FARTHEST), prior > 0.5)
        found = found | self._come_out(likely & known & ~found, own, evidence)
        soft = self._softened(now, at, prior, found, evidence < SHINES, as_one=as_one)
        matte = np.zeros_like(self._last)
        matte[at] = soft
        return Cut(matte, self._sureness(now.codes[at], prior, found, known), "on")

    def _pieces(self, found: Mask, was: Mask) -> Mask:
        """Return the pieces that were there before, without small holes where it was."""
        count, labels, about, _ = cv2.connectedComponentsWithStats(found.astype(np.uint8), connectivity=8)
        shared = np.bincount(labels[was], minlength=count)
        kept = (shared > 0.2 * about[:, 4]) & (about[:, 4] > PIECE)
        kept[0] = False
        made = kept[labels]
        count, labels, about, _ = cv2.connectedComponentsWithStats((~made).astype(np.uint8), connectivity=4)
        shared = np.bincount(labels[was], minlength=count)
        filled = (about[:, 4] < HOLE * self._area) & (shared > 0.5 * about[:, 4])
        filled[0] = False
        return np.asarray(made | filled[labels])

    def _come_out(self, found: Mask, common: Floats, evidence: Floats) -> Mask:
        """Return pieces beside it that are no ground and coloured as it is: they came out from behind something."""
        count, labels, about, _ = cv2.connectedComponentsWithStats(found.astype(np.uint8), connectivity=8)
        size = np.maximum(about[:, 4], 1)
        mean = [
            np.bincount(labels.ravel(), weights=each.ravel(), minlength=count) / size for each in (common, evidence)
        ]
        kept = (size > COMES * self._area) & (mean[0] > COMMON - 3 * np.log(256)) & (mean[1] > APART)
        kept[0] = False
        return np.asarray(kept[labels])

    def _softened(self, now: Shown, at: Slices, prior: Matte, found: Mask, shines: Mask, *, as_one: bool) -> Matte:
        """Return the matte: its edge, and what was soft or looks like the ground, takes its alpha from both colours."""
        away = signed(found)
        behind = now.behind.within(at)
        fringe = cv2.dilate((((prior > 0.02) & (prior < 0.98)) | (found & shines)).astype(np.uint8), _disc(5)) > 0
        if as_one:
            whole = (prior > 0.97) & (away > 2) & ~fringe
            soft = prior * np.clip(1.5 + away / 4, 0, 1)
        else:
            whole = (away > EDGE) & ~(fringe & (away < self._width))
            soft = np.clip(0.5 + away / 3, 0, 1)
        near = max(self._width / 2, 4.0)
        alpha, trust = between(now.codes[at].astype(np.float32), behind, whole.astype(np.float32), near)
        band = (fringe | (np.abs(away) < EDGE)) & (np.abs(away) < self._width)
        share = trust * cv2.blur(band.astype(np.float32), (3, 3)) * ~whole
        return np.asarray(soft * (1 - share) + alpha * share, np.float32)

    def _sureness(self, codes: Codes, prior: Matte, found: Mask, known: Mask) -> float:
        """Return how sure it is, 0…1: from its colours, its size, and how well the witnesses agree."""
        if not found.any():
            return 0.0
        was = prior > 0.5
        agreed = overlap(was, found)
        size = float(found.sum()) / self._area
        alike = self._alike(codes[found])
        seen = float(known[found | was].mean())
        told = 0.5 + 0.5 * max(seen, agreed)
        return float(
            np.clip((alike - 0.3) / 0.4, 0, 1) * np.clip(2.5 * size, 0, 1) * np.clip(1.6 * agreed - 0.3, 0, 1) * told
        )


def softness(matte: Matte) -> float:
    """Return how wide the soft part of a matte is, in pixels: half as much again as its area over its length."""
    outline = (cv2.GaussianBlur(matte, (0, 0), 7) > 0.4).astype(np.uint8)
    length = cv2.morphologyEx(outline, cv2.MORPH_GRADIENT, _disc(3)).sum() / 2
    soft = ((matte > 0.02) & (matte < 0.98)).sum()
    return float(np.clip(1.5 * soft / max(float(length), 1.0), EDGE, 40))


def signed(found: Mask) -> Floats:
    """Return how deep each pixel lies within a mask, in pixels; negative: how far beside it."""
    into, beside = (cv2.distanceTransform(each.astype(np.uint8), cv2.DIST_L2, 5) for each in (found, ~found))
    return np.asarray(into - beside, np.float32)


def _gathered(likelihood: Floats) -> Floats:
    around = cv2.boxFilter(likelihood, -1, (GATHERED, GATHERED))
    return np.asarray(1.5 * around + 0.5 * likelihood, np.float32)


def _around(y: NDArray[np.intp], x: NDArray[np.intp], shape: tuple[int, ...], by: int) -> Slices:
    rows, columns = (
        slice(max(int(each.min()) - by, 0), min(int(each.max()) + by + 1, side))
        for each, side in zip((y, x), shape, strict=False)
    )
    return rows, columns


def _remapped(matte: Floats, back: Floats, way: int) -> Matte:
    high, wide = back.shape[:2]
    grid = np.mgrid[:high, :wide][::-1].transpose(1, 2, 0).astype(np.float32)
    made = cv2.remap(np.ascontiguousarray(matte), grid + back, None, way)  # type: ignore[call-overload]
    return np.asarray(made, np.float32)


def _disc(side: int) -> NDArray[np.uint8]:
    return np.asarray(cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (side, side)), np.uint8)
