"""How common each colour is in what is followed, and beside it."""

from collections.abc import Iterable

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes, Floats

#: steps of an axis of colour, and how wide they are in codes
STEPS, WIDE = 32, 8
#: the share of any colour at all: one that was never seen is still possible
ANY = 0.05


class Colours:
    """Shares of colours, smoothed to their neighbours. ``codes`` has shape (N, 3), ``weights`` (N,)."""

    def __init__(self, codes: Codes, weights: Floats) -> None:
        steps = (codes // WIDE).astype(np.int64)
        index = (steps[:, 0] * STEPS + steps[:, 1]) * STEPS + steps[:, 2]
        counts = np.bincount(index, weights=weights, minlength=STEPS**3).astype(np.float32)
        cube = counts.reshape(STEPS, STEPS, STEPS)
        for _ in range(3):  # along one axis after another
            flat = cv2.GaussianBlur(
                np.ascontiguousarray(cube).reshape(STEPS, -1), (1, 5), 0.7, borderType=cv2.BORDER_REPLICATE
            )
            cube = np.moveaxis(np.asarray(flat, np.float32).reshape(STEPS, STEPS, STEPS), 0, -1)
        shares = cube / max(float(cube.sum()), 1e-9)
        self.shares = shares
        self._log = np.log((1 - ANY) * shares / WIDE**3 + ANY / 256**3).astype(np.float32)

    def log(self, codes: Codes) -> Floats:
        """Return the logarithm of how common colours are, shape (H, W), of codes, shape (H, W, 3); per cubic code."""
        steps = codes // WIDE
        return np.asarray(self._log[steps[..., 0], steps[..., 1], steps[..., 2]])

    def like(self, other: "Colours") -> float:
        """Return how alike two are, 0…1 (Bhattacharyya1943)."""
        return float(np.sqrt(self.shares * other.shares).sum())


def hues_in(codes: Codes, box: Iterable[float]) -> NDArray[np.float32]:
    """Return how often each of 16 × 16 hues and strengths stands in a box (left, top, right, bottom), in pixels."""
    high, wide = codes.shape[:2]
    left, top, right, bottom = (round(each) for each in box)
    x0, y0 = min(max(left, 0), wide - 1), min(max(top, 0), high - 1)
    part = np.ascontiguousarray(codes[y0 : max(bottom, y0 + 1), x0 : max(right, x0 + 1)])
    lab = cv2.cvtColor(part, cv2.COLOR_RGB2LAB)
    found = cv2.calcHist([lab], [1, 2], None, [16, 16], [64, 192, 64, 192])
    return np.asarray(found / max(float(found.sum()), 1.0), np.float32)


def alike(one: NDArray[np.float32], other: NDArray[np.float32]) -> float:
    """Return how alike what stands in two boxes is, 0…1 (Bhattacharyya1943)."""
    return float(np.sqrt(one * other).sum())
