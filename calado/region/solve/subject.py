"""The subject between marks on it and on its surround, finer than the cut that found it.

Where the cut and the colours' opinion agree all is settled but for a band along the edge; in what is left alpha is
solved.
"""

from dataclasses import dataclass

import cv2
import numpy as np
import scipy
from numpy.typing import NDArray

from calado.arrays import Matte
from calado.region.solve.alpha import cleared, solve_alpha
from calado.region.solve.cut import INSIDE, OUTSIDE, Seeds
from calado.region.solve.prior import opinion
from calado.region.solve.solved import Stop, go_on

#: how sure the colours must be to agree with the cut
SURE = 0.6
#: measured: marks stand for colours also some way off
PLACE = 0.08
Encoded = NDArray[np.float32]


@dataclass(frozen=True)
class Cut:
    """A small copy of a picture, shape (H, W, 3), what is marked in it, and what was found in it, shape (H, W) each."""

    picture: Encoded
    seeds: Seeds
    found: NDArray[np.bool_]


def fine_subject(small: Cut, encoded: Encoded, seeds: Seeds, band_px: float, stop: Stop = go_on) -> Matte:
    """Return the subject's alpha, shape (H, W), of an encoded picture; ``small`` is a copy of it that was cut.

    ``band_px`` is how far from the cut's edge alpha is unknown, to both sides.
    """
    inside, outside = seeds == INSIDE, seeds == OUTSIDE
    settled_in, settled_out = settled(small)
    stop()
    size = encoded.shape[1::-1]
    deep_in, deep_out = (_deep(each, size, band_px) for each in (settled_in, settled_out))
    inside, outside = inside | (deep_in & ~outside), outside | (deep_out & ~inside)
    if (inside | outside).all() or not inside.any() or not outside.any():
        return inside.astype(np.float32)
    stop()
    return cleared(solve_alpha(encoded, inside, outside, opinion(encoded, inside, outside, PLACE), stop))


def settled(cut: Cut) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """Return what is surely inside and outside, shape (H, W) each: the cut says so, and the colours do not object."""
    found, inside, outside = cut.found, cut.seeds == INSIDE, cut.seeds == OUTSIDE
    if not inside.any() or not outside.any():
        return found, ~found
    share = inside.astype(np.float32)
    unknown = cut.seeds < 0
    if unknown.any():
        share[unknown] = opinion(cut.picture, inside, outside, PLACE)
    return found & (share > SURE), ~found & (share < 1 - SURE)


def _deep(settled: NDArray[np.bool_], size: tuple[int, int], band_px: float) -> NDArray[np.bool_]:
    """Return, at a size (W, H), what lies deeper than the band within what is settled; the frame is no edge."""
    large = np.asarray(cv2.resize(settled.astype(np.float32), size, interpolation=cv2.INTER_LINEAR))
    padded = np.pad(large > 0.5, 1, mode="edge")
    deep: NDArray[np.bool_] = scipy.ndimage.distance_transform_edt(padded)[1:-1, 1:-1] > band_px
    return deep
