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
from calado.follow.template import Template

#: least confidence with which it counts as found, and from which on it need not be searched for
FOUND, SURE = 0.3, 0.4
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
    """Where a region is in a frame: a matrix from the reference's pixels, and how sure that is, 0…1."""

    matrix: Matrix
    confidence: float
    state: State


class Planar:
    """Follows one region. Frames come one after another, shape (H, W), 8 bits; the first is the reference."""

    def __init__(self, grey: Codes, mask: NDArray[np.bool_], most: Kind = "perspective") -> None:
        self._most = most
        self._template = Template(grey, mask)
        self._points = _corners(grey, mask, self._template.side)
        self._sift = cv2.SIFT.create(1500, contrastThreshold=0.015)
        around = cv2.dilate(mask.astype(np.uint8), np.ones((5, 5), np.uint8))
        self._places, self._words = self._sift.detectAndCompute(grey, around)
        self._before, self._at, self._way = grey, np.eye(3), np.zeros(2)
        self._lost = 0

    def go_on(self, grey: Codes, matrix: Matrix) -> None:
        """Go on from a frame in which it is known where it is, by a matrix from the reference's pixels."""
        self._before, self._at, self._way, self._lost = grey, matrix, np.zeros(2), 0

    def step(self, grey: Codes) -> Found:
        """Return where it is in the next frame."""
        matrix, confidence = None, 0.0
        if self._lost == 0:
            matrix, confidence = self._best(self._gone_on(grey), grey)
        if confidence < SURE and (self._lost < PATIENCE or self._lost % SELDOM == 0):
            other, sure = self._best(self._searched(grey), grey)
            if sure > max(confidence, ELSEWHERE):
                matrix, confidence = other, sure
        if matrix is not None and confidence >= FOUND:
            middle = self._template.middle
            moved = (carried(matrix, middle) - carried(self._at, middle))[0]
            self._way = moved if self._lost == 0 else np.zeros(2)
            self._at, self._lost = matrix, 0
        else:
            self._lost += 1
            self._way = np.zeros(2)
        self._before = grey
        return Found(self._at, confidence, "held" if self._lost else "on")

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
            if best[1] > 0.8:
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


def _corners(grey: Codes, mask: NDArray[np.bool_], side: float) -> Points:
    inner = cv2.erode(mask.astype(np.uint8), np.ones((7, 7), np.uint8))
    found = cv2.goodFeaturesToTrack(grey, CORNERS, 0.005, max(4, side / 30), mask=inner, blockSize=5)
    if found is not None and len(found) >= FEWEST:
        return np.asarray(found[:, 0], np.float64)
    # without any corner its pixels stand in, evenly
    y, x = np.nonzero(mask)
    step = max(len(x) // 50, 1)
    return np.stack([x, y], 1)[::step].astype(np.float64)
