"""Following a region that is about flat.

By its corners from frame to frame, then by all its pixels against the reference, so that nothing drifts; where it is
hidden, gone or lost, by features in the whole frame.

References
----------
ShiTomasi1994 for corners; Lowe2004 (SIFT) for features found again.
"""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes, Floats
from calado.follow.fits import FAR, NEAR, Kind, Matrix, Points, carried, fitted, looked_for, shift
from calado.follow.motion import State
from calado.follow.outline import FOUND_AGAIN, SUREST, Outline
from calado.follow.template import UNKNOWN, Template

#: least confidence with which it counts as found, and from which on it need not be searched for
FOUND, SURE = 0.3, 0.4
#: how sure a guess may be that could not be made better, as a share
HIDDEN = 0.75
#: after so many frames it is known whether its texture tells anything
HEARD = 3
#: pixels from a frame to the next from which on it can be told by how much it is smeared
TOO_LITTLE = 6.0
#: confidence below which its outline is asked as well as its texture
BY_TEXTURE = 0.5
#: features found elsewhere must fit so much better
ELSEWHERE = 0.5
#: correlation from which on a place agrees
AGREES = 0.55
CORNERS, FEWEST = 250, 6
#: while it is lost, each so-manieth frame is searched after a while
PATIENCE, SELDOM = 12, 3
#: of how much area a region may grow or shrink against the reference
GROWTH = (0.02, 50.0)


@dataclass(frozen=True)
class Found:
    """Where a region is in a frame: a matrix from the reference's pixels, and how sure that is, 0…1.

    ``smear`` is how far, in pixels, it reaches beyond that place on either side while the shutter is open.
    """

    matrix: Matrix
    confidence: float
    state: State
    smear: float = 0.0


class Planar:
    """Follows one region. Frames come one after another; the first is the reference.

    Codes have 8 bits and shape (H, W, 3), luma first, then two differences of colour; or (H, W), luma alone.
    """

    def __init__(self, codes: Codes, mask: NDArray[np.bool_], most: Kind = "perspective") -> None:
        grey, coloured = _luma(codes), _coloured(codes)
        self._most = most
        self._outline = Outline(coloured, mask, most)
        self._template = Template(grey, mask)
        self._points = _corners(grey, mask, self._template.side)
        self._sift = cv2.SIFT.create(1500, contrastThreshold=0.015)
        around = cv2.dilate(mask.astype(np.uint8), np.ones((5, 5), np.uint8))
        self._places, self._words = self._sift.detectAndCompute(grey, around)
        self._before, self._at, self._way = grey, np.eye(3), np.zeros(2)
        #: how it lay where it was sure last
        self._like: Matrix = np.eye(3)
        self._lost = 0
        #: how sure its texture was from frame to frame
        self._said: list[float] = []

    def go_on(self, codes: Codes, matrix: Matrix) -> None:
        """Go on from a frame in which it is known where it is, by a matrix from the reference's pixels."""
        grey = _luma(codes)
        self._outline.learn(_coloured(codes), matrix)
        self._before, self._at, self._like, self._way, self._lost = grey, matrix, matrix, np.zeros(2), 0

    def step(self, codes: Codes) -> Found:
        """Return where it is in the next frame."""
        grey, smear = _luma(codes), 0.0
        matrix, confidence = self._where(codes, grey)
        if matrix is not None and confidence >= FOUND:
            smear = self._smeared(matrix, grey)
            middle = self._template.middle
            moved = (carried(matrix, middle) - carried(self._at, middle))[0]
            self._way = moved if self._lost == 0 else np.zeros(2)
            self._at, self._lost = matrix, 0
            if confidence > BY_TEXTURE:
                self._outline.learn(_coloured(codes), matrix)
                self._like = matrix if confidence > SUREST or self._mute else self._like
        else:
            self._lost += 1
            self._way = np.zeros(2)
        self._before = grey
        return Found(self._at, confidence, "held" if self._lost else "on", smear)

    def _where(self, codes: Codes, grey: Codes) -> tuple[Matrix | None, float]:
        """Return where it is in a frame, if anywhere, and how sure that is."""
        best: tuple[Matrix | None, float] = None, 0.0
        if self._lost == 0:
            guesses, mute = self._gone_on(grey), self._mute
            if mute:
                best = self._by_outline(guesses, codes)
            if best[1] < BY_TEXTURE:
                best = self._best(guesses, grey)
                self._said.append(best[1])
            if best[1] < BY_TEXTURE and self._outline.tells and not mute:
                best = max(best, self._by_outline(guesses, codes), key=lambda each: each[1])
        if best[1] < SURE and (self._lost < PATIENCE or self._lost % SELDOM == 0):
            other = self._anywhere(codes)
            best = other if other[1] > max(best[1], FOUND) else best
        return best

    def _smeared(self, matrix: Matrix, grey: Codes) -> float:
        """Return how far it reaches beyond its place: half of the way of what moves most, while the shutter is open."""
        if self._lost:
            return 0.0
        low, size = self._template.low, self._template.size
        box = low + np.array([[0.0, 0.0], [size[0], 0.0], size, [0.0, size[1]]])
        most = float(np.linalg.norm(carried(matrix, box) - carried(self._at, box), axis=1).max())
        if most < TOO_LITTLE:
            # so short a smear cannot be told from none
            return UNKNOWN * most / 2
        middle = self._template.middle
        way = (carried(matrix, middle) - carried(self._at, middle))[0]
        return self._template.smeared(matrix, grey, way) * most / 2

    def _gone_on(self, grey: Codes) -> list[Matrix]:
        """Return where it may be if it went on from the frame before."""
        at = carried(self._at, self._points)
        inside = ((at > 2) & (at < np.array(grey.shape[::-1]) - 3)).all(axis=1)
        guesses = [shift(*self._way) @ self._at]
        if inside.sum() >= FEWEST:
            there, ok = looked_for(self._before, grey, at[inside], at[inside] + self._way, 1.0, FAR)
            fit = fitted(self._points[inside][ok], there[ok], 2.5, self._most)
            if fit is not None and fit[1].sum() >= FEWEST:
                guesses.insert(0, fit[0])
        return guesses

    def _best(self, guesses: list[Matrix], grey: Codes) -> tuple[Matrix | None, float]:
        """Return the guess that, held against the reference, is the surest."""
        best: tuple[Matrix | None, float] = None, 0.0
        for guess in guesses:
            for made in self._held_against(guess, grey):
                sure = self._confidence(made, grey)
                if sure > best[1]:
                    best = made, sure
            if best[1] > SUREST:
                break
            # of what is hidden in part the guess may be better than what was made of it
            if best[1] < BY_TEXTURE and self._sound(guess) and (sure := self._confidence(guess, grey)) > BY_TEXTURE:
                best = guess, HIDDEN * sure
        return best

    @property
    def _speaks(self) -> bool:
        """Whether its texture has told where it is, as a rule: then what only has its outline is not it."""
        return bool(self._said) and float(np.median(self._said)) > SUREST

    @property
    def _mute(self) -> bool:
        """Whether its texture has told little from the beginning, and its outline tells more."""
        return self._outline.tells and len(self._said) >= HEARD and not self._speaks

    def _anywhere(self, codes: Codes) -> tuple[Matrix | None, float]:
        """Return where it is in a whole frame, by what is coloured as it is, then by features of its texture."""
        best: tuple[Matrix | None, float] = None, 0.0
        if self._outline.hints:
            best = self._by_outline(
                list(self._outline.searched(_coloured(codes), self._like, shaded=not self._mute)), codes, anywhere=True
            )
        if best[1] < ELSEWHERE:
            other = self._best(self._searched(_luma(codes)), _luma(codes))
            best = other if other[1] > ELSEWHERE else best
        return best

    def _by_outline(
        self, guesses: list[Matrix], codes: Codes, *, anywhere: bool = False
    ) -> tuple[Matrix | None, float]:
        """Return the guess that, laid on the edges near it and then held against the reference, is the surest."""
        grey, coloured = _luma(codes), _coloured(codes)
        best: tuple[Matrix | None, float] = None, 0.0
        for guess in guesses:
            laid, sure = self._outline.closer(coloured, guess) if self._outline.tells else (guess, 0.0)
            if not self._sound(laid):
                continue
            by_texture = (None, 0.0) if self._mute else self._best([laid], grey)
            if by_texture[1] > max(best[1], ELSEWHERE):
                best = by_texture
            sure = min(sure, FOUND_AGAIN) if anywhere else sure
            if sure > best[1] and not self._speaks:
                best = laid, sure
            if best[1] > SUREST:
                break
        return best

    def _held_against(self, matrix: Matrix, grey: Codes) -> list[Matrix]:
        """Return a guess made better, by all pixels and by corners."""
        if not self._sound(matrix):
            return []
        alike = self._template.alike(matrix, grey)
        agreed = np.nan_to_num(alike) > 0.3
        share = float(agreed.sum() / max(self._template.mask.sum(), 1))
        # what stands before it would draw the fit to itself; and of a rest less can be told
        trust = None if share > 0.9 or share < 0.15 else agreed.astype(np.float32)
        kind: Kind = self._most if share > 0.45 or share < 0.15 else "similar"
        if self._most == "place":
            kind = "place"
        dense, _ = self._template.refined(matrix, grey, kind, trust)
        corners = self._by_corners(matrix, grey)
        return [each for each in (dense, corners) if each is not None and self._sound(each)]

    def _by_corners(self, matrix: Matrix, grey: Codes) -> Matrix | None:
        template = self._template
        at = self._points - template.low
        for _ in range(2):
            there, ok = looked_for(template.codes, template.cropped(matrix, grey), at, at, 0.7, NEAR)
            fit = fitted(at[ok], there[ok], 1.2, self._most) if ok.sum() >= FEWEST else None
            if fit is None or fit[1].sum() < FEWEST:
                return None
            to = shift(*template.low)
            matrix = matrix @ to @ fit[0] @ np.linalg.inv(to)
            matrix = matrix / matrix[2, 2]
        return matrix

    def _sound(self, matrix: Matrix) -> bool:
        if not np.isfinite(matrix).all() or matrix[2, 2] == 0:
            return False
        corners = np.array([[0.0, 0], [self._template.size[0], 0], self._template.size, [0, self._template.size[1]]])
        depth = np.c_[corners + self._template.low, np.ones(4)] @ matrix[2]
        return bool((depth > 0.1).all() and GROWTH[0] < np.linalg.det(matrix[:2, :2]) < GROWTH[1])

    def _confidence(self, matrix: Matrix, grey: Codes) -> float:
        """Return how sure a place is, 0…1: from how alike the region is there, and in how much of it."""
        alike = self._template.alike(matrix, grey)
        held: Floats = alike[np.isfinite(alike)]
        mean, agreed = float(held.mean()), float((held > AGREES).mean())
        if mean < 0.15:
            return 0.0
        return float(1 / (1 + np.exp(-(6.0 * agreed + 5.0 * mean - 4.4))))

    def _searched(self, grey: Codes) -> list[Matrix]:
        """Return where features of the reference are in a whole frame."""
        places, words = self._sift.detectAndCompute(grey, None)
        if words is None or self._words is None or len(words) < 8:
            return []
        pairs = cv2.BFMatcher().knnMatch(self._words, words, k=2)
        kept = [each[0] for each in pairs if len(each) == 2 and each[0].distance < 0.8 * each[1].distance]
        if len(kept) < FEWEST:
            return []
        a = np.array([self._places[each.queryIdx].pt for each in kept])
        b = np.array([places[each.trainIdx].pt for each in kept])
        fit = fitted(a, b, 4.0, "skewed" if self._most == "perspective" else self._most)
        return [fit[0]] if fit is not None and fit[1].sum() >= FEWEST else []


def _luma(codes: Codes) -> Codes:
    return codes if codes.ndim == 2 else np.ascontiguousarray(codes[..., 0])


def _coloured(codes: Codes) -> Codes:
    return codes if codes.ndim == 3 else np.dstack([codes, np.full((*codes.shape, 2), 128, np.uint8)])


def _corners(grey: Codes, mask: NDArray[np.bool_], side: float) -> Points:
    inner = cv2.erode(mask.astype(np.uint8), np.ones((7, 7), np.uint8))
    found = cv2.goodFeaturesToTrack(grey, CORNERS, 0.005, max(4, side / 30), mask=inner, blockSize=5)
    if found is not None and len(found) >= FEWEST:
        return np.asarray(found[:, 0], np.float64)
    # without any corner its pixels stand in, evenly
    y, x = np.nonzero(mask)
    step = max(len(x) // 50, 1)
    return np.stack([x, y], 1)[::step].astype(np.float64)
