"""Figures of people: the body that belongs to a face.

The net looks at a square in which it expects a person from head to foot, and gives for each of 256 × 256 places how
likely that is the person's. The first square is laid by the face, the second one round what was seen in the first.

References
----------
Bazarevsky2020: the model.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes
from calado.detect.faces import Face
from calado.detect.net import run

SIDE = 256
#: the first square in heights of the face, and how far below the face its middle lies, in shares of it
FACES, BELOW = 5.5, 0.3
#: the second one in sizes of what was seen
ROUND = 1.25
#: a face higher than this, in picture heights, has no body in the picture that the net would know
CLOSEST = 0.35
#: the net's certainty that somebody is there
LEAST = 0.85
#: two figures that share more than this are one
SAME = 0.5
#: of the square, what must be seen
LEAST_AREA = 0.01

Share = NDArray[np.float32]


@dataclass(frozen=True, eq=False)
class Figure:
    """Where a figure is: shares 0…1, shape (H, W), and how certain the net is of it."""

    share: Share
    certainty: float


def find_figures(codes: Codes, faces: Sequence[Face], size: tuple[int, int]) -> list[Figure]:
    """Return the figures of faces in a picture of 8-bit codes, shape (H, W, 3), as shares of ``size`` = (high, wide).

    Raises
    ------
    ModelError
        when the model's file cannot be used.
    """
    found: list[Figure] = []
    for face in faces:
        figure = _figure(codes, face, size) if face.sure and (face.oval or face).height <= CLOSEST else None
        if figure is not None:
            found.append(figure)
    kept: list[Figure] = []
    for figure in sorted(found, key=lambda each: -each.certainty):
        if all(shared(figure.share > 0.5, other.share > 0.5) < SAME for other in kept):
            kept.append(figure)
    return kept


def shared(one: NDArray[np.bool_], other: NDArray[np.bool_]) -> float:
    """Return how much of the smaller of two areas is in both, 0…1."""
    return float((one & other).sum() / max(min(one.sum(), other.sum()), 1))


def _figure(codes: Codes, face: Face, size: tuple[int, int]) -> Figure | None:
    at, high = face.oval or face, codes.shape[0]
    side = FACES * at.height * high
    seen, _ = _look(codes, (at.x * high, at.y * high + BELOW * side), side)
    there = np.argwhere(seen > 0.5)
    if len(there) < LEAST_AREA * SIDE * SIDE:
        return None
    (top, left), (bottom, right) = there.min(axis=0), there.max(axis=0)
    x, y = ((n / SIDE - 0.5) * side for n in ((left + right + 1) / 2, (top + bottom + 1) / 2))
    middle = (at.x * high + x, at.y * high + BELOW * side + y)
    nearer = ROUND * max(right + 1 - left, bottom + 1 - top) / SIDE * side
    seen, certainty = _look(codes, middle, nearer)
    if certainty < LEAST or not _holds(seen, middle, nearer, face, high):
        return None
    # from the square to the picture in the size that is wanted
    scale = nearer / SIDE * size[0] / high
    shift = [(n - nearer / 2) * size[0] / high for n in middle]
    matrix = np.array([[scale, 0, shift[0] + scale / 2 - 0.5], [0, scale, shift[1] + scale / 2 - 0.5]])
    share = cv2.warpAffine(seen, matrix, (size[1], size[0]), flags=cv2.INTER_LINEAR, borderValue=0.0)
    return Figure(np.asarray(share, np.float32), certainty)


def _holds(seen: Share, middle: tuple[float, float], side: float, face: Face, high: int) -> bool:
    """Whether what is seen has the face in it: it is not somebody else's."""
    x, y = ((n * high - m) / side + 0.5 for n, m in zip((face.x, face.y), middle, strict=True))
    radius = max(1, round(0.25 * face.height * high / side * SIDE))
    row, column = round(y * SIDE), round(x * SIDE)
    there = seen[max(row - radius, 0) : row + radius + 1, max(column - radius, 0) : column + radius + 1]
    return there.size > 0 and float(there.mean()) > 0.5


def _look(codes: Codes, middle: tuple[float, float], side: float) -> tuple[Share, float]:
    """Return what the net says of a square, in pixels: the share of each of its places, and its certainty."""
    left, top = middle[0] - side / 2, middle[1] - side / 2
    x0, y0 = max(int(left), 0), max(int(top), 0)
    x1, y1 = min(int(left + side) + 1, codes.shape[1]), min(int(top + side) + 1, codes.shape[0])
    part, step = codes[y0:y1, x0:x1], side / SIDE
    if step > 1:  # smaller by its mean, so that nothing aliases
        share = 1 / step
        part = np.asarray(cv2.resize(part, None, fx=share, fy=share, interpolation=cv2.INTER_AREA), np.uint8)
        shift, scale = ((x0 - left) * share, (y0 - top) * share), 1.0
    else:
        shift, scale = ((x0 - left) / step, (y0 - top) / step), 1 / step
    matrix = np.array([[scale, 0, shift[0]], [0, scale, shift[1]]])
    square = cv2.warpAffine(part, matrix, (SIDE, SIDE), flags=cv2.INTER_LINEAR)
    outputs = run("figure", np.asarray(square, np.float32) / np.float32(255))
    logits = next(each for each in outputs if each.shape[-2:] == (SIDE, SIDE))
    (certainty,) = next(each for each in outputs if each.size == 1).ravel().tolist()
    share_of: Share = np.asarray(1 / (1 + np.exp(-np.clip(logits.reshape(SIDE, SIDE), -30, 30))), np.float32)
    return share_of, certainty
