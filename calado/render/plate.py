"""The surround alone: the picture without what lies inside a region, its place filled from around it outward in.

Push and pull: means of w·x and w at ever halved sizes, then back up, each level filling what the finer one lacks. A
flat surround fills flat; an even slope fills as one.

References
----------
GortlerPushPull
"""

import cv2
import numpy as np

from calado.arrays import Matte, Planes


def plate_of(planes: Planes, outside: Matte) -> Planes:
    """Return the picture, shape (3, H, W), with all that ``outside`` does not cover filled from what it covers."""
    weighed = np.concatenate([planes * outside, outside[None]]).transpose(1, 2, 0)
    filled = _pull(np.ascontiguousarray(weighed, np.float32))
    share = outside[None]
    return np.asarray(planes * share + filled.transpose(2, 0, 1)[:3] * (1 - share), np.float32)


def _pull(level: np.ndarray) -> np.ndarray:
    """Return the colours of a level, shape (H, W, 4) of w·x and w, with nothing left open."""
    high, wide = level.shape[:2]
    weight = level[..., 3:]
    own = np.divide(level, weight, out=np.zeros_like(level), where=weight > 1e-6)
    if min(high, wide) <= 1 or float(weight.min()) > 0.999:
        mean = level.mean(axis=(0, 1))
        return np.where(weight > 1e-6, own, mean / max(float(mean[3]), 1e-6)).astype(np.float32)
    coarse = cv2.resize(level, ((wide + 1) // 2, (high + 1) // 2), interpolation=cv2.INTER_AREA)
    # what is covered at all counts in full one level up, or thin remains would fade out of the fill
    whole = np.minimum(coarse[..., 3:] * 4, 1) / np.maximum(coarse[..., 3:], 1e-6)
    below = cv2.resize(_pull(coarse * whole), (wide, high), interpolation=cv2.INTER_LINEAR)
    return own * weight + below * (1 - weight)
