"""Spill: the subject's colour found in what lies just outside of it.

For each pixel of a band outside, the subject's colour S is the mean of the inside near it and the surround's colour B
that of the outside a little farther off (normalised Gaussians); the spill is how far the pixel stands on the way from B
to S, (x − B)·(S − B)/|S − B|², on the tone of each channel (cube root). Where S and B are alike nothing can be told,
and nothing is said.
"""

from dataclasses import dataclass

import cv2
import numpy as np

from calado.arrays import Matte, Planes

#: the band read outside, and how far away the plain surround begins, in picture heights
BAND, FAR = 0.012, 0.03
ALIKE = 0.08


@dataclass(frozen=True)
class Spill:
    """``share``: the spill of the worst hundredth of the band, 0…1; (``x``, ``y``): where it is worst, in pixels."""

    share: float
    x: int
    y: int


def spill_of(planes: Planes, matte: Matte) -> Spill | None:
    """Return the spill around a region in a picture, shape (3, H, W), or None where nothing can be told."""
    height = planes.shape[1]
    away = cv2.distanceTransform((matte < 0.5).astype(np.uint8), cv2.DIST_L2, 5)
    band = (away > 1) & (away < max(BAND * height, 2.5)) & (matte < 0.4)
    far = ((away >= BAND * height) & (away < FAR * 2 * height) & (matte < 0.02)).astype(np.float32)
    near = (matte > 0.95).astype(np.float32)
    if not band.any() or not far.any() or not near.any():
        return None
    tone = np.cbrt(np.maximum(planes, 0))
    subject, surround = (_spread(tone, weight, FAR * height) for weight in (near, far))
    way = subject - surround
    size = (way**2).sum(axis=0)
    told = band & (size > ALIKE**2)
    if told.sum() < 10:
        return None
    share = np.where(told, ((tone - surround) * way).sum(axis=0) / np.maximum(size, 1e-9), -1)
    level = float(np.quantile(share[told], 0.99))
    y, x = np.unravel_index(np.argmin(np.abs(share - level) + 10.0 * ~told), share.shape)
    return Spill(float(np.clip(level, 0, 1)), int(x), int(y))


def _spread(tone: np.ndarray, weight: np.ndarray, sigma: float) -> np.ndarray:
    total = cv2.GaussianBlur(weight, (0, 0), sigma) + 1e-6
    return np.stack([cv2.GaussianBlur(each * weight, (0, 0), sigma) / total for each in tone])
