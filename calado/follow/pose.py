"""How a shape that was known in one frame may lie, as one piece, in another."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes, Matte
from calado.follow.fits import FAR, Matrix, carried, fitted, looked_for

Mask = NDArray[np.bool_]
#: corners that tell how a key lies, and fewest of them
CORNERS, FEWEST = 200, 8


@dataclass(frozen=True, eq=False)
class Key:
    """What is known of a shape in a frame: codes, shape (H, W, 3), grey, and its matte, shape (H, W)."""

    codes: Codes
    grey: Codes
    matte: Matte


@dataclass(eq=False)
class Pose:
    """A key as it may lie in another frame; ``at`` is how it lay in the frame before, if it did."""

    key: Key
    at: Matrix | None = None

    def __post_init__(self) -> None:
        inner = cv2.erode((self.key.matte > 0.9).astype(np.uint8), np.ones((5, 5), np.uint8))
        found = cv2.goodFeaturesToTrack(self.key.grey, CORNERS, 0.005, 5, mask=inner, blockSize=5)
        self._points = np.zeros((0, 2)) if found is None else np.asarray(found[:, 0], np.float64)

    def guessed(self, whole: Matte) -> "Guess":
        """Return where it may lie, by where it lay before or by its middle and size, and how well it fits a matte."""
        tried = [placed(self.key.matte, whole)] if self.at is None else [self.at, placed(self.key.matte, whole)]
        was = whole[::2, ::2] > 0.5
        every = [Guess(self, each, overlap(self._laid(each) > 0.5, was)) for each in tried]
        return max(every, key=lambda each: each.likeness)

    def _laid(self, matrix: Matrix) -> Matte:
        half = np.diag([0.5, 0.5, 1.0])
        high, wide = self.key.matte[::2, ::2].shape
        return np.asarray(cv2.warpPerspective(self.key.matte, half @ matrix, (wide, high)), np.float32)

    def refined(self, matrix: Matrix, grey: Codes) -> Matrix:
        """Return a guess made better by its corners, where enough of them are found."""
        if len(self._points) < FEWEST:
            return matrix
        laid = np.asarray(cv2.warpPerspective(self.key.grey, matrix, grey.shape[::-1]), np.uint8)
        guess = carried(matrix, self._points)
        there, ok = looked_for(laid, grey, guess, guess, 0.7, FAR)
        fit = fitted(self._points[ok], there[ok], 2.0, "skewed") if ok.sum() >= FEWEST else None
        return matrix if fit is None or fit[1].sum() < FEWEST else fit[0]


@dataclass(frozen=True, eq=False)
class Guess:
    """How a key may lie in a frame, by a matrix of its pixels, and how well it fits what was there, 0…1."""

    pose: Pose
    matrix: Matrix
    likeness: float


def placed(before: Matte, after: Matte) -> Matrix:
    """Return the shift and size, in pixels, that take a shape's middle and area to another's."""
    area_a, area_b = max(float(before.sum()), 1.0), max(float(after.sum()), 1.0)
    scale = float(np.sqrt(area_b / area_a))
    x, y = _middle(after, area_b) - scale * _middle(before, area_a)
    return np.array([[scale, 0, x], [0, scale, y], [0, 0, 1]])


def _middle(matte: Matte, area: float) -> NDArray[np.float64]:
    columns, rows = matte.sum(axis=0, dtype=np.float64), matte.sum(axis=1, dtype=np.float64)
    return np.array([columns @ np.arange(len(columns)), rows @ np.arange(len(rows))]) / area


def overlap(a: Mask, b: Mask) -> float:
    """Return how much of two masks they share, 0…1."""
    return float((a & b).sum()) / max(float((a | b).sum()), 1.0)
