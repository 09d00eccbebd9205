"""A frame held against the ground behind it: where it is that ground in another light, and how much shows through."""

import cv2
import numpy as np

from calado.arrays import Floats, Matte
from calado.follow.ground import Behind
from calado.follow.pose import Mask

#: so little alpha is none, and so much is all
CLEAR = 0.04
_SUM = np.ones((1, 3), np.float32)
THIRD = np.full((1, 3), 1 / 3, np.float32)


def dot(a: Floats, b: Floats) -> Floats:
    """Return the sums of products over the last axis."""
    return np.asarray(cv2.transform(a * b, _SUM), np.float32)


def between(codes: Floats, behind: Behind, whole: Floats, near: float) -> tuple[Matte, Floats]:
    """Return how far each pixel lies from the ground's colour to the shape's own nearby, and how sure that is, 0…1.

    ``whole``, shape (H, W), is 1 where nothing shines through; ``near`` the spread, in pixels, of what is nearby.
    """
    weight = cv2.GaussianBlur(whole, (0, 0), near)
    own = cv2.GaussianBlur(codes * whole[..., None], (0, 0), near) / (weight[..., None] + 1e-6)
    apart = own - behind.codes
    square = dot(apart, apart) + 1e-3
    alpha = dot(codes - behind.codes, apart) / square
    off = np.sqrt(3) * behind.strays / np.sqrt(square)
    trust = np.clip(1.5 - off / 0.25, 0, 1) * behind.known * (weight > 1e-4)
    return np.clip((alpha - CLEAR) / (1 - 2 * CLEAR), 0, 1).astype(np.float32), trust.astype(np.float32)


def lit_otherwise(codes: Floats, behind: Behind) -> Mask:
    """Return where a frame shows the ground under another light, shape (H, W): in a shadow, a reflection, a glow.

    Its texture is still there, or at least its hue and some of its texture.
    """
    a, b = (np.asarray(cv2.transform(each, THIRD), np.float32) for each in (codes, behind.codes))
    side = (11, 11)
    mean_a, mean_b = cv2.blur(a, side), cv2.blur(b, side)
    of_a, of_b = cv2.blur(a * a, side) - mean_a**2, cv2.blur(b * b, side) - mean_b**2
    together = (cv2.blur(a * b, side) - mean_a * mean_b) / np.sqrt(np.maximum(of_a, 1) * np.maximum(of_b, 1))
    square = dot(behind.codes, behind.codes)
    gain = dot(codes, behind.codes) / (square + 25)
    left = codes - gain[..., None] * behind.codes
    hue = np.sqrt(dot(left, left)) < 2.5 * behind.strays + 0.05 * np.sqrt(square)
    texture = ((together > 0.8) & (of_b > 9)) | ((together > 0.4) & (of_b > 4) & hue)
    return np.asarray(texture & (gain > 0.5) & (gain < 1.6))
