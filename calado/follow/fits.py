"""Points carried by a matrix, looked for in another picture, and the matrix that explains where they went.

Convention: places are in pixels whose centres are whole numbers, as OpenCV counts them.

References
----------
Bouguet2001 for points in a pyramid; Barath2020 (MAGSAC++) for a fit among outliers.
"""

from typing import Any, Literal, TypeAlias

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes

Points: TypeAlias = NDArray[np.float64]
Matrix: TypeAlias = NDArray[np.float64]
Kind: TypeAlias = Literal["place", "similar", "skewed", "perspective"]
KINDS: tuple[Kind, ...] = ("place", "similar", "skewed", "perspective")
#: of each kind, fewest points, and by how much worse than a richer one it may be and is still taken
_LEAST = {"place": 3, "similar": 4, "skewed": 8, "perspective": 14}
_PRICE = {"place": 1.0, "similar": 1.03, "skewed": 1.08, "perspective": 1.15}
_ENDS = cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT
#: from frame to frame, and near where they are already
FAR: dict[str, Any] = {"winSize": (21, 21), "maxLevel": 4, "criteria": (_ENDS, 30, 0.01)}
NEAR: dict[str, Any] = {"winSize": (15, 15), "maxLevel": 2, "criteria": (_ENDS, 30, 0.003)}


def carried(matrix: Matrix, points: Points) -> Points:
    """Return points, shape (n, 2), carried by a matrix, shape (3, 3)."""
    made = np.c_[points, np.ones(len(points))] @ matrix.T
    return np.asarray(made[:, :2] / made[:, 2:])


def shift(x: float, y: float) -> Matrix:
    """Return a shift."""
    return np.array([[1.0, 0, x], [0, 1, y], [0, 0, 1]])


def looked_for(
    a: Codes, b: Codes, at: Points, guess: Points, back: float, settings: dict[str, Any]
) -> tuple[Points, NDArray[np.bool_]]:
    """Return where points of ``a`` are in ``b``, and which of them come back from there within ``back`` pixels."""
    flags = cv2.OPTFLOW_USE_INITIAL_FLOW
    # only what any of the points can look at is halved again and again
    box, low = _seen(np.concatenate([at, guess]), a.shape, settings)
    a, b = np.ascontiguousarray(a[box]), np.ascontiguousarray(b[box])
    begun, aim = ((each - low).astype(np.float32)[:, None] for each in (at, guess))
    there, ok, _ = cv2.calcOpticalFlowPyrLK(a, b, begun, aim.copy(), flags=flags, **settings)
    again, also, _ = cv2.calcOpticalFlowPyrLK(b, a, there, begun.copy(), flags=flags, **settings)
    missed = np.linalg.norm(again[:, 0] - begun[:, 0], axis=1)
    return there[:, 0].astype(np.float64) + low, (ok[:, 0] > 0) & (also[:, 0] > 0) & (missed < back)


def _seen(
    points: Points, shape: tuple[int, ...], settings: dict[str, Any]
) -> tuple[tuple[slice, slice], NDArray[np.float64]]:
    """Return the box of a picture round points in which they are looked for, and its corner (x, y)."""
    block = 1 << settings["maxLevel"]
    room = block * settings["winSize"][0]
    kept = points[np.isfinite(points).all(axis=1)]
    if not len(kept):
        return (slice(None), slice(None)), np.zeros(2)
    # it begins where a pixel of the coarsest begins
    low = np.maximum(kept.min(axis=0) - room, 0) // block * block
    high = np.maximum(kept.max(axis=0) + room + 1, low + 2 * room)
    left, top = low.astype(int)
    right, bottom = np.minimum(high, shape[1::-1]).astype(int)
    if right - left < room or bottom - top < room:
        return (slice(None), slice(None)), np.zeros(2)
    return (slice(top, bottom), slice(left, right)), low


def fitted(a: Points, b: Points, near: float, most: Kind) -> tuple[Matrix, NDArray[np.bool_]] | None:
    """Return the simplest matrix that explains points nearly as well as the richest, and which of them it explains.

    ``near`` is within how many pixels it does; ``most`` the richest that is tried. None where there are too few.
    """
    found: list[tuple[float, Matrix, NDArray[np.bool_]]] = []
    for kind in KINDS[: KINDS.index(most) + 1]:
        if len(a) < _LEAST[kind]:
            break
        matrix = _fit(a, b, near, kind)
        if matrix is None or not np.isfinite(matrix).all():
            continue
        off = np.linalg.norm(carried(matrix, a) - b, axis=1)
        found.append((float(np.minimum(off, near).mean()) * _PRICE[kind], matrix, off < near))
    if not found:
        return None
    _, matrix, good = min(found, key=lambda each: each[0])
    return matrix, good


def _fit(a: Points, b: Points, near: float, kind: Kind) -> Matrix | None:
    if kind == "place":
        return shift(*np.median(b - a, axis=0))
    more: dict[str, Any] = {"ransacReprojThreshold": near, "maxIters": 1500, "confidence": 0.999}
    if kind == "perspective":
        matrix, _ = cv2.findHomography(a, b, cv2.USAC_MAGSAC, **more)
        return None if matrix is None else np.asarray(matrix, np.float64)
    fit = cv2.estimateAffinePartial2D if kind == "similar" else cv2.estimateAffine2D
    matrix, _ = fit(a, b, method=cv2.RANSAC, **more)
    return None if matrix is None else np.vstack([matrix, [0.0, 0, 1]])
