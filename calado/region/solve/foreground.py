"""The subject's own colours at its edge, freed from the surround that shines through.

A pixel of the edge holds α of the subject and 1 − α of the surround, in linear light; the subject's colour is what is
smooth along it and explains the mixture. Where alpha is a little off this would overshoot into the surround's opposite
hue; so its hue stays within those of the subject close by (ours).

References
----------
Germer2020b: fast multi-level foreground estimation.
"""

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte, Planes
from calado.region.solve.pymatting import matting

Pixels = NDArray[np.float32]

#: so near to 0 and 1 nothing shines through
SOLID = 1 / 512
#: rows and columns around a window that its estimate reads
AROUND = 64
#: the subject's hues are read from a copy whose longer side has at most so many pixels, and from so many to each side
HUES_SIDE, HUES_AROUND = 400, 20
#: how far beyond them a hue may lie, as a share of the light; light below DARK has no hue
BEYOND, DARK = 0.01, 1e-4
#: a pixel of the copy counts from so much of the subject in it
ENOUGH = 0.3


def freed(planes: Planes, matte: Matte) -> Planes:
    """Return planes, shape (3, H, W), linear light, whose colours under a soft matte, shape (H, W), are the subject's.

    What is whole stays bit for bit as it is; what is all surround, near the edge, becomes a colour of the subject.
    """
    soft = (matte > SOLID) & (matte < 1 - SOLID)
    if not soft.any() or not (matte > 0.5).any():
        return planes
    box = _around(soft)
    inner = matte[box]
    seen = np.nan_to_num(planes[:, *box])
    # the estimate is of light between 0 and 1
    most = max(float(seen.max()), 1.0)
    bounded = np.clip(np.moveaxis(seen, 0, -1) / most, 0, 1).astype(np.float64)
    estimate = np.asarray(matting().foreground(bounded, inner.astype(np.float64)), np.float32)
    estimate = most * np.moveaxis(_with_hues_of(bounded, inner >= 1 - SOLID, estimate), -1, 0)
    made = planes.copy()
    made[:, *box] = np.where(inner >= 1 - SOLID, planes[:, *box], estimate)
    return made


def _with_hues_of(picture: NDArray[np.float64], whole: NDArray[np.bool_], made: Pixels) -> Pixels:
    """Return colours, shape (H, W, 3), whose shares of the light lie within those of the whole subject close by."""
    low, high = _shares_near(picture, whole)
    light = made.sum(axis=2, keepdims=True)
    kept = np.clip(made / np.maximum(light, DARK), low - BEYOND, high + BEYOND)
    told = kept * (light / np.maximum(kept.sum(axis=2, keepdims=True), DARK))
    # low above high: no subject close by
    return np.where((low > high).any(axis=2, keepdims=True) | (light < DARK), made, told).astype(np.float32)


def _shares_near(picture: NDArray[np.float64], whole: NDArray[np.bool_]) -> tuple[Pixels, Pixels]:
    """Return the least and the largest share of each primary in the whole subject round each pixel, (H, W, 3)."""
    high, wide = whole.shape
    step = max(1.0, max(high, wide) / HUES_SIDE)
    size = (max(1, round(wide / step)), max(1, round(high / step)))
    held = cv2.resize(whole.astype(np.float32), size, interpolation=cv2.INTER_AREA)
    colours = cv2.resize((picture * whole[..., None]).astype(np.float32), size, interpolation=cv2.INTER_AREA)
    light = colours.sum(axis=2)
    counts = ((held > ENOUGH) & (light > DARK * held))[..., None]
    shares = colours / np.maximum(light, DARK)[..., None]
    around = np.ones((2 * HUES_AROUND + 1,) * 2, np.uint8)
    least = cv2.erode(np.where(counts, shares, 2.0).astype(np.float32), around)
    most = cv2.dilate(np.where(counts, shares, -1.0).astype(np.float32), around)
    low, top = (cv2.resize(each, (wide, high), interpolation=cv2.INTER_NEAREST) for each in (least, most))
    return np.asarray(low, np.float32), np.asarray(top, np.float32)


def _around(soft: NDArray[np.bool_]) -> tuple[slice, slice]:
    """Return the slices of the box that holds what is marked, with AROUND pixels beside it."""
    sides = []
    for axis in (1, 0):
        found = np.flatnonzero(soft.any(axis=axis))
        sides.append(slice(max(int(found[0]) - AROUND, 0), int(found[-1]) + 1 + AROUND))
    return sides[0], sides[1]
