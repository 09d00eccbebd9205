"""Corners and features of a whole frame, and the homography of which most of them agree.

References
----------
ShiTomasi1994 for corners, Bouguet2001 for points in a pyramid; Barath2020 (MAGSAC++) for the fit; Lowe2004 (SIFT).
"""

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes
from calado.follow.fits import FAR, Matrix, Points, carried, looked_for

#: cells of the frame in each of which as many of the best corners count; and the fewest corners that tell a motion
CELLS, EACH, FEWEST = (16, 9), 3, 30
#: pixels within which a corner agrees, and the share that must
AGREES, SHARE = 1.2, 0.35
FEATURES = 1200


def corners(levelled: Codes) -> Points:
    """Return the best corners of each cell of a frame, shape (n, 2)."""
    high, wide = levelled.shape
    near = max(wide // 110, 3)
    found = cv2.goodFeaturesToTrack(levelled, 4000, 1e-3, near, blockSize=5)
    if found is None:
        return np.zeros((0, 2))
    # the best come first
    places = np.asarray(found[:, 0], np.float64)
    cells = (places / (wide, high) * CELLS).astype(int) @ (1, CELLS[0])
    order = np.argsort(cells, kind="stable")
    ranks = np.empty(len(cells), int)
    starts = np.r_[True, np.diff(cells[order]) > 0]
    ranks[order] = np.arange(len(cells)) - np.maximum.accumulate(np.where(starts, np.arange(len(cells)), 0))
    return places[ranks < EACH]


def moved_between(a: Codes, b: Codes, way: Matrix) -> Matrix | None:
    """Return what takes a frame to the next by its corners, or None where too few agree; ``way`` is the guess."""
    at = corners(a)
    if len(at) < FEWEST:
        return None
    there, ok = looked_for(a, b, at, carried(way, at), 0.7, {**FAR, "winSize": (15, 15)})
    return fitted_among(at[ok], there[ok], AGREES, max(FEWEST, SHARE * len(at)))


def fitted_among(a: Points, b: Points, near: float, least: float) -> Matrix | None:
    """Return the homography of which at least so many points agree."""
    if len(a) < max(least, 4):
        return None
    matrix, good = cv2.findHomography(a, b, cv2.USAC_MAGSAC, near, maxIters=2000, confidence=0.999)
    if matrix is None or good.sum() < least or not np.isfinite(matrix).all() or abs(np.linalg.det(matrix)) < 1e-6:
        return None
    return np.asarray(matrix / matrix[2, 2], np.float64)


def features(levelled: Codes, where: NDArray[np.bool_]) -> tuple[Points, NDArray[np.float32]]:
    """Return places of features where they count, shape (n, 2), and what they look like, shape (n, 128)."""
    keys, words = cv2.SIFT.create(FEATURES).detectAndCompute(levelled, where.astype(np.uint8))
    if words is None:
        return np.zeros((0, 2)), np.zeros((0, 128), np.float32)
    return np.array([each.pt for each in keys], np.float64), np.asarray(words, np.float32)
