"""The subject between marks on it and on its surround: coarse at once, then fine.

Coarse: the cut on a small copy, its edge laid along the picture's own. Fine: where the cut and the colours' opinion
agree all is settled but for a band along the edge; in what is left alpha is solved.
"""

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from calado.arrays import Matte
from calado.region.solve.alpha import cleared, solve_alpha
from calado.region.solve.cut import INSIDE, OUTSIDE, Seeds, cut
from calado.region.solve.prior import opinion
from calado.region.solve.solved import Stop, go_on

#: how sure the colours must be to agree with the cut
SURE = 0.6
#: measured: marks stand for colours also some way off
PLACE = 0.08
Encoded = NDArray[np.float32]


def coarse_subject(encoded: Encoded, seeds: Seeds) -> Matte:
    """Return the subject, shape (H, W), 0 or 1, of a small encoded picture, shape (H, W, 3)."""
    return cut(encoded, seeds).astype(np.float32)


def fine_subject(
    small: Encoded, small_seeds: Seeds, encoded: Encoded, seeds: Seeds, band_px: float, stop: Stop = go_on
) -> Matte:
    """Return the subject's alpha, shape (H, W), of an encoded picture; ``small`` is a copy of it for the cut.

    ``band_px`` is how far from the cut's edge alpha is unknown, to both sides.
    """
    inside, outside = seeds == INSIDE, seeds == OUTSIDE
    settled_in, settled_out = settled(small, small_seeds)
    stop()
    size = encoded.shape[1::-1]
    deep_in, deep_out = (_deep(each, size, band_px) for each in (settled_in, settled_out))
    inside, outside = inside | (deep_in & ~outside), outside | (deep_out & ~inside)
    if (inside | outside).all() or not inside.any() or not outside.any():
        return inside.astype(np.float32)
    stop()
    return cleared(solve_alpha(encoded, inside, outside, opinion(encoded, inside, outside, PLACE), stop))


def settled(small: Encoded, seeds: Seeds) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """Return what is surely inside and outside, shape (H, W) each: the cut says so, and the colours do not object."""
    found = cut(small, seeds)
    inside, outside = seeds == INSIDE, seeds == OUTSIDE
    if not inside.any() or not outside.any():
        return found, ~found
    share = inside.astype(np.float32)
    unknown = seeds < 0
    if unknown.any():
        share[unknown] = opinion(small, inside, outside, PLACE)
    return found & (share > SURE), ~found & (share < 1 - SURE)


def _deep(settled: NDArray[np.bool_], size: tuple[int, int], band_px: float) -> NDArray[np.bool_]:
    """Return, at a size (W, H), what lies deeper than the band within what is settled; the frame is no edge."""
    large = np.asarray(cv2.resize(settled.astype(np.float32), size, interpolation=cv2.INTER_LINEAR))
    padded = np.pad(large > 0.5, 1, mode="edge")
    deep: NDArray[np.bool_] = ndimage.distance_transform_edt(padded)[1:-1, 1:-1] > band_px
    return deep
