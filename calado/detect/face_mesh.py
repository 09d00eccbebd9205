"""A face looked at closely: how surely it is one, and the ellipse of its outline, by a model of its surface.

The model sees a square round a face, its eyes level, and gives 468 places of its surface and how surely it is one. It
knows faces that look this way: of one that is turned away by more than some 60 degrees it says nothing.

References
----------
Kartynnik2019: the model, its square, and which of its places lie on the outline.
"""

from dataclasses import dataclass
from math import cos, radians, sin

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes
from calado.detect.net import run
from calado.detect.softened import softened

SIDE, PLACES = 192, 468
#: the square's side in widths of the box that the finders give
ROUND = 1.5
#: the places on the outline, from the forehead's middle over the picture's right to the chin and back
OUTLINE = (
    *(10, 338, 297, 332, 284, 251, 389, 356, 454, 323, 361, 288, 397, 365, 379, 378, 400, 377),
    *(152, 148, 176, 149, 150, 136, 172, 58, 132, 93, 234, 127, 162, 21, 54, 103, 67, 109),
)


@dataclass(frozen=True)
class Oval:
    """An ellipse in picture heights: centre, width, height, and turn in degrees, clockwise, of its width."""

    x: float
    y: float
    width: float
    height: float
    turn: float


@dataclass(frozen=True)
class Closely:
    """What is seen of a face closely: how surely it is one, 0…1, and the ellipse that lies nearest to its outline."""

    certainty: float
    oval: Oval


def closely(codes: Codes, x: float, y: float, width: float, turn: float) -> Closely:
    """Return what is seen of a face closely whose finder's box has a middle and a width, in pixels, and a turn.

    ``codes`` are 8-bit, shape (H, W, 3).

    Raises
    ------
    ModelError
        when the model's file cannot be used.
    """
    scale = ROUND * width / SIDE
    way = radians(turn)
    matrix = np.array([[cos(way), -sin(way)], [sin(way), cos(way)]]) * scale
    shift = np.array([x, y]) - matrix @ ((SIDE - 1) / 2, (SIDE - 1) / 2)
    seen = cv2.warpAffine(
        softened(codes, x, y, ROUND * width, scale),
        np.column_stack([matrix, shift]),
        (SIDE, SIDE),
        flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP,
    )
    out = run("face_mesh", np.asarray(seen, np.float32) / np.float32(255))
    surface, presence = sorted(out, key=lambda each: -each.size)
    places = surface.reshape(PLACES, 3)[list(OUTLINE), :2].astype(np.float64) @ matrix.T + shift
    certainty = 1 / (1 + np.exp(-np.clip(float(presence.ravel()[0]), -60, 60)))
    return Closely(float(certainty), _oval(places / codes.shape[0], turn))


def _oval(places: NDArray[np.float64], turn: float) -> Oval:
    """Return the ellipse that an outline fills, turned as the eyes are, since a nearly round one tells no turn."""
    way = radians(turn)
    axes = np.array([[cos(way), -sin(way)], [sin(way), cos(way)]])
    level = places @ axes
    low, high = level.min(axis=0), level.max(axis=0)
    (x, y), (wide, tall) = axes @ ((low + high) / 2), high - low
    return Oval(float(x), float(y), float(wide), float(tall), turn)
