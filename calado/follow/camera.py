"""The camera's own motion before a set that stands still: a homography takes each frame to the reference.

By corners from frame to frame, spread evenly so that nobody who walks by has the majority, then by all pixels against
frames that were kept: the reference as long as it is in sight, further ones as the camera goes on, so that what is off
grows with their number and not with that of the frames. Where that fails, after a cut, features of kept frames are
searched for. Exact where the camera turns and zooms about one point; where it travels, where the set is far or flat.
"""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes, Floats
from calado.follow.features import FEWEST, features, fitted_among, moved_between
from calado.follow.fits import Matrix, carried, shift
from calado.follow.planar import Found
from calado.follow.template import Template

#: pixels of the longer side at which it is looked at
SIDE = 640
#: share of a kept frame that must be in sight: to be chosen before later ones, not to keep another one, to be of use
IN_SIGHT, ENOUGH, LEAST = 0.55, 0.5, 0.1
KEPT_AT_MOST = 24
#: correlation from which on a place agrees, and how sure a motion must be: to be taken, to be relied on, and between
ALIKE, TAKEN, KEPT, HALF = 0.5, 0.4, 0.8, 0.55
#: frame widths by which the corners of a frame may lie away from where they are looked for
NEAR_BY = 0.05
#: frames after which another one is kept, at the soonest, while those that are kept are hidden
OFTEN = 2
#: correlation from which on a place is taken for one of the set, and the share from which on all of it is
STAYS, NEARLY = 0.3, 0.97
#: pixels of softening before corners are looked for, of the neighbourhood that light is levelled by, and its floor
SOFT, AROUND, FLOOR = 1.0, 61, 5.0
#: frames for which one that is lost is searched for in each, later in every second; and that may go by unanchored
PATIENCE, LOOSE = 12, 6


class _Kept:
    """A frame that others are held against: what it shows, its map to the reference, and features to be found by."""

    def __init__(self, shot: "_Shot", at: Matrix, where: NDArray[np.bool_]) -> None:
        self.at, self.template = at, Template(shot.codes, where)
        self.places, self.words = features(shot.levelled, where)
        high, wide = where.shape
        across, down = np.meshgrid((np.arange(16) + 0.5) * wide / 16, (np.arange(9) + 0.5) * high / 9)
        self._spots = np.stack([across.ravel(), down.ravel()], 1)

    def in_sight(self, back: Matrix, now: Codes) -> float:
        """Return the share of it that a frame shows, by the frame's map from the reference."""
        there = carried(back @ self.at, self._spots)
        return float(((there > 0) & (there < np.array(now.shape[::-1]) - 1)).all(axis=1).mean())


@dataclass(frozen=True)
class _Shot:
    """A frame, reduced, as it is and with its light levelled, shape (H, W) each."""

    codes: Codes
    levelled: Codes


@dataclass(frozen=True)
class _Held:
    """A motion, how sure it is, and where the frame shows what is not of the set, shape (H, W)."""

    matrix: Matrix
    sure: float
    strangers: NDArray[np.bool_]


class Camera:
    """The camera's motion. Frames come one after another, shape (H, W), 8 bits; the first is the reference.

    ``away``, shape (H, W), is what is not of the set in the reference.
    """

    def __init__(self, grey: Codes, away: NDArray[np.bool_]) -> None:
        self._scale = min(SIDE / max(grey.shape), 1.0)
        first = self._shot(grey)
        away = cv2.resize(away.astype(np.uint8), first.codes.shape[::-1], interpolation=cv2.INTER_NEAREST) > 0
        self._kept = [_Kept(first, np.eye(3), ~away)]
        #: the last frame, its map to the reference, and what took the one before to it
        self._before, self._at, self._way = first, np.eye(3), np.eye(3)
        self._lost = self._loose = self._since = 0
        #: how sure the last motion is, 0…1
        self.sure = 1.0

    def step(self, grey: Codes) -> Matrix | None:
        """Return what takes pixels of the next frame to the reference's; None: the set is not found in it."""
        now = self._shot(grey)
        moved = None if self._lost else moved_between(self._before.levelled, now.levelled, self._way)
        self._before = now
        # as it went until now, where corners do not tell
        guess = self._way if moved is None else moved
        at = self._at @ _inverse(guess)
        held = self._held(now, at)
        unsure = held is None or held.sure < KEPT
        relied = moved is not None
        if unsure and not relied and (self._lost < PATIENCE or self._lost % 2 == 0):
            found = self._searched(now)
            other = None if found is None else self._held(now, found)
            relied = other is not None and (held is None or other.sure > held.sure)
            held = other if relied else held
        # a mere guess that is borne out by little is none; nor is what was searched for, by half of it
        if moved is None and held is not None and held.sure < (HALF if relied else KEPT):
            held = None
        began = self._at if self._lost == 0 else None
        if held is not None:
            self._at, self._lost, self._loose, self.sure = held.matrix, 0, 0, held.sure
            if relied:
                self._keep(now, held)
        elif moved is not None and self._loose < LOOSE:
            self._at, self._loose, self.sure = at / at[2, 2], self._loose + 1, TAKEN
        else:
            self._lost, self.sure, self._way = self._lost + 1, 0.0, np.eye(3)
            return None
        # found again it has not come from where it was
        self._way = np.eye(3) if began is None else _inverse(self._at) @ began
        return self._of_the_frame(self._at)

    def _of_the_frame(self, matrix: Matrix) -> Matrix:
        """Return a matrix between the pixels that are looked at as one between those of the frames."""
        middle = 0.5 * self._scale - 0.5
        to = np.array([[self._scale, 0, middle], [0, self._scale, middle], [0, 0, 1]])
        made = np.linalg.inv(to) @ matrix @ to
        return np.asarray(made / made[2, 2])

    def _shot(self, grey: Codes) -> _Shot:
        """Return a frame reduced; levelled it has each place against those around it, by how much they vary."""
        size = tuple(round(each * self._scale) for each in grey.shape[::-1])
        small = np.asarray(cv2.resize(grey, size, interpolation=cv2.INTER_AREA), np.uint8)
        codes = cv2.GaussianBlur(small.astype(np.float32), (0, 0), SOFT)
        codes = codes - cv2.blur(codes, (AROUND, AROUND))
        spread = np.sqrt(cv2.blur(codes * codes, (AROUND, AROUND))) + FLOOR
        return _Shot(small, np.clip(np.rint(codes / spread * 45 + 128), 0, 255).astype(np.uint8))

    def _held(self, now: _Shot, at: Matrix) -> _Held | None:
        """Hold a motion against the kept frames that show most of the same, and return what comes of it."""
        best: _Held | None = None
        back = _inverse(at)
        for kept in self._in_sight(now, back):
            made = _held_against(kept, back @ kept.at, now.codes)
            if made is None or _apart(back @ made.matrix, now.codes) > NEAR_BY:
                continue
            if best is None or made.sure > best.sure:
                best = made
            if best is not None and best.sure > KEPT:
                break
        return best

    def _in_sight(self, now: _Shot, back: Matrix) -> list[_Kept]:
        """Return the first and the last kept frame of which enough is in sight, or the one of which most is."""
        shares = [each.in_sight(back, now.codes) for each in self._kept]
        enough = [kept for kept, share in zip(self._kept, shares, strict=True) if share >= IN_SIGHT]
        if enough:
            return enough[:1] + enough[1:][-1:]
        most = int(np.argmax(shares))
        return [self._kept[most]] if shares[most] > LEAST else []

    def _keep(self, now: _Shot, held: _Held) -> None:
        """Keep this frame too where too little of the kept ones is left in sight, or somebody stands before them."""
        self._since += 1
        if len(self._kept) >= KEPT_AT_MOST or held.sure < HALF:
            return
        back = _inverse(held.matrix)
        near = any(each.in_sight(back, now.codes) > ENOUGH for each in self._kept)
        if (not near and held.sure > KEPT) or (held.sure < KEPT and self._since >= OFTEN):
            self._kept.append(_Kept(now, held.matrix, ~held.strangers))
            self._since = 0

    def _searched(self, now: _Shot) -> Matrix | None:
        """Return where the camera looks, by features of the kept frames, the latest first."""
        places, words = features(now.levelled, np.ones(now.codes.shape, bool))
        for kept in reversed(self._kept):
            if min(len(places), len(kept.places)) < FEWEST:
                continue
            pairs = cv2.BFMatcher().knnMatch(words, kept.words, k=2)
            same = [each[0] for each in pairs if len(each) == 2 and each[0].distance < 0.75 * each[1].distance]
            matrix = fitted_among(
                places[[m.queryIdx for m in same]], kept.places[[m.trainIdx for m in same]], 3.0, FEWEST / 2
            )
            if matrix is not None:
                return kept.at @ matrix
        return None


def _inverse(matrix: Matrix) -> Matrix:
    return np.asarray(np.linalg.inv(matrix), np.float64)


def _apart(matrix: Matrix, now: Codes) -> float:
    """Return how far a motion moves the corners of a frame, in frame widths."""
    high, wide = now.shape
    corners = np.array([[0.0, 0], [wide, 0], [wide, high], [0, high]])
    return float(np.linalg.norm(carried(matrix, corners) - corners, axis=1).max()) / wide


def _held_against(kept: _Kept, matrix: Matrix, now: Codes) -> _Held | None:
    """Return a motion by all pixels of a kept frame, or None where they do not agree; ``matrix`` is the guess."""
    template = kept.template
    matrix, share = template.refined(matrix, now, "perspective", _shown(template, matrix, now), finest=2)
    if share == 0.0:
        return None
    shown = _shown(template, matrix, now)
    alike = template.alike(matrix, now)
    for _ in range(2):
        same = (np.nan_to_num(alike) > STAYS).astype(np.float32) * shown
        if not LEAST < same.mean() < NEARLY * shown.mean():
            break
        # again without those who stand before the set, in either frame
        apart = np.asarray(cv2.erode(same, np.ones((9, 9), np.uint8)), np.float32)
        matrix, share = template.refined(matrix, now, "perspective", apart, finest=1)
        shown, alike = _shown(template, matrix, now), template.alike(matrix, now)
    if share == 0.0:
        return None
    alike = np.where(shown > 0, alike, np.nan)
    held = alike[np.isfinite(alike)]
    if held.size < LEAST * shown.size:
        return None
    agreed, mean = float((held > ALIKE).mean()), float(held.mean())
    sure = float(1 / (1 + np.exp(-(6.0 * agreed + 5.0 * mean - 4.4))))
    if sure < TAKEN:
        return None
    made = kept.at @ np.linalg.inv(matrix)
    return _Held(made / made[2, 2], sure, _strangers(template, alike, matrix, now))


def _strangers(template: Template, alike: Floats, matrix: Matrix, now: Codes) -> NDArray[np.bool_]:
    """Return where a frame shows what is not of the set, shape (H, W), as far as a kept frame tells."""
    other = (np.nan_to_num(alike, nan=1.0) < STAYS).astype(np.float32)
    there = cv2.warpPerspective(other, matrix @ shift(*template.low), now.shape[::-1])
    return np.asarray(cv2.dilate(np.asarray(there, np.float32), np.ones((15, 15), np.uint8)) > 0.3)


def _shown(template: Template, matrix: Matrix, now: Codes) -> Floats:
    """Return where of a kept frame's patch the frame shows something, 0 or 1."""
    to = matrix @ shift(*template.low)
    flags = cv2.INTER_NEAREST | cv2.WARP_INVERSE_MAP
    return np.asarray(cv2.warpPerspective(np.ones(now.shape, np.float32), to, template.size, flags=flags), np.float32)


class OnSet:
    """Follows a region that stays where it is on the set. Frames come one after another; the first is the reference."""

    def __init__(self, grey: Codes) -> None:
        self._camera = Camera(grey, np.zeros(grey.shape, bool))
        self._begun = self._at = np.eye(3)

    def go_on(self, grey: Codes, matrix: Matrix) -> None:
        """Go on from a frame in which it is known where it is, by a matrix from the reference's pixels."""
        self._camera = Camera(grey, np.zeros(grey.shape, bool))
        self._begun = self._at = matrix

    def step(self, grey: Codes) -> Found:
        """Return where it is in the next frame."""
        motion = self._camera.step(grey)
        if motion is None:
            return Found(self._at, 0.0, "held")
        self._at = np.asarray(np.linalg.inv(motion) @ self._begun)
        return Found(self._at, self._camera.sure, "on")
