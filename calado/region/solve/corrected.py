"""A matte corrected by marks: near them it is cut and solved anew, away from them it stays as it is."""

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte
from calado.region.solve.cut import INSIDE, OUTSIDE, UNKNOWN, Seeds, cut
from calado.region.solve.solved import Stop, go_on
from calado.region.solve.subject import Cut, fine_subject

#: picture heights round a mark in which something may change, and round that, what is read
NEAR, AROUND = 0.06, 0.05
#: alpha from which on, away from the marks, a pixel is taken as known
KNOWN = 0.9


def corrected(picture: NDArray[np.float32], matte: Matte, seeds: Seeds, band_px: float, stop: Stop = go_on) -> Matte:
    """Return a matte, shape (H, W), corrected by marks on an encoded picture, shape (H, W, 3), of the same size."""
    marked = seeds != UNKNOWN
    if not marked.any():
        return matte
    high = matte.shape[0]
    distance = cv2.distanceTransform((~marked).astype(np.uint8), cv2.DIST_L2, 5) / high
    y, x = np.nonzero(distance < NEAR + AROUND)
    box = np.s_[y.min() : y.max() + 1, x.min() : x.max() + 1]
    away = np.where(matte[box] > KNOWN, INSIDE, np.where(matte[box] < 1 - KNOWN, OUTSIDE, UNKNOWN)).astype(np.int8)
    inner = np.where(distance[box] < NEAR, seeds[box], away)
    part = np.ascontiguousarray(picture[box])
    found = fine_subject(Cut(part, inner, cut(part, inner)), part, inner, band_px, stop)
    # the rim of what changes leads from the one to the other
    share = np.clip((NEAR - distance[box]) / (NEAR / 4), 0, 1)
    made = matte.copy()
    made[box] += share * (found - matte[box])
    made[seeds == INSIDE], made[seeds == OUTSIDE] = 1, 0
    return made
