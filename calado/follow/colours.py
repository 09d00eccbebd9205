"""How common each colour is in what is followed, and beside it."""

import cv2
import numpy as np

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
