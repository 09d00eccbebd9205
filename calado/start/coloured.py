"""The things of one colour that stand out most: their core, all that hangs together with it, how much a thing each is.

Read from a small copy. The measures are ours: begun at any place of pots of three colours with exact mattes, the middle
case takes less than 2 % beside them. Pots of the wood's own colour before wood are not told from it; such a find is too
large to be a thing, and none is made (`calado/start/tests/test_coloured.py`).
"""

from dataclasses import dataclass

import cv2
import numpy as np
import scipy
from numpy.typing import NDArray

from calado.arrays import Floats

Mask = NDArray[np.bool_]

#: how far from the core's colour a pixel may be and still hang together with it: hue in degrees; saturation (chroma for
#: its lightness, which shading leaves alone) and chroma in shares of the core's
HUE, SATURATION, CHROMA = 22.0, 0.62, 0.25
DARK = 0.08
#: a core's radius and what is blurred to find one, in picture heights; gaps so wide in a thing, in pixels, are closed
CORE, BLUR, GAP = 0.02, 0.015, 3
#: so many places are tried, each at least so colourful for the most colourful
TRIED, LEAST = 8, 0.35
#: a thing has at least such an area, in squared picture heights, and at most such a share of the frame
SMALL, LARGE = 0.02, 0.35


@dataclass(frozen=True, eq=False)
class Coloured:
    """A thing of one colour: where it is, shape (H, W), the core it grew from, and how well it stands out (0: not)."""

    mask: Mask
    core: Mask
    worth: float


def coloured_things(lch: Floats) -> list[Coloured]:
    """Return what stands out by its colour in OKLCh pixels, shape (H, W, 3), what does so most first."""
    left = scipy.ndimage.gaussian_filter(lch[..., 1], BLUR * lch.shape[0])
    top, found = float(left.max()), []
    for _ in range(TRIED):
        place = np.unravel_index(int(left.argmax()), left.shape)
        if left[place] < max(LEAST * top, 0.02):
            break
        core = _around(left.shape, (int(place[0]), int(place[1])))
        mask = hanging_together(lch, core)
        found.append(Coloured(mask, core, _worth(lch, mask)))
        left[scipy.ndimage.binary_dilation(mask | core, iterations=GAP)] = 0
    return sorted((each for each in found if each.worth > 0), key=lambda each: -each.worth)


def hanging_together(lch: Floats, core: Mask) -> Mask:
    """Return the pixels, shape (H, W), that have the colour of a core and hang together with it, their holes filled."""
    light, chroma, hue = (lch[..., k] for k in range(3))
    saturation, turn = chroma / np.maximum(light, DARK), np.radians(hue)
    middle = np.degrees(np.arctan2((chroma * np.sin(turn))[core].sum(), (chroma * np.cos(turn))[core].sum()))
    like = np.abs((hue - middle + 180) % 360 - 180) < HUE
    like &= (saturation > SATURATION * np.median(saturation[core])) & (chroma > CHROMA * np.median(chroma[core]))
    labels, _ = scipy.ndimage.label(scipy.ndimage.binary_opening(like))
    counts = np.bincount(labels[core])
    counts[0] = 0
    if not counts.any():
        return core
    room = 2 * GAP
    closed = scipy.ndimage.binary_closing(np.pad(labels == counts.argmax(), room), iterations=GAP)
    return np.asarray(scipy.ndimage.binary_fill_holes(closed)[room:-room, room:-room])


def _around(shape: tuple[int, ...], place: tuple[int, int]) -> Mask:
    rows, columns = np.ogrid[: shape[0], : shape[1]]
    return np.asarray(np.hypot(rows - place[0], columns - place[1]) < CORE * shape[0])


def _worth(lch: Floats, mask: Mask) -> float:
    """Return how much of a thing it is: colourful, compact, not too small or large, not cut by the frame."""
    high, wide = mask.shape
    area = mask.sum() / high**2
    if area > LARGE * wide / high:
        return 0.0
    hull = cv2.contourArea(cv2.convexHull(np.argwhere(mask)[:, ::-1].astype(np.int32))) / high**2
    rim = mask & ~scipy.ndimage.binary_erosion(mask)
    frame = np.ones_like(mask)
    frame[1:-1, 1:-1] = False
    cut = (rim & frame).sum() / max(int(rim.sum()), 1)
    solid = min(area / max(hull, 1e-6), 1.0)
    return float(np.median(lch[..., 1][mask]) * solid**2 * (1 - cut) * min(area / SMALL, 1.0) ** 0.5)
