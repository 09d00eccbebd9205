"""A face looked at closely: how surely it is one, its outline, its eyes, brows and lips, by a model of its surface.

The model sees a square round a face, its eyes level, and gives 468 places of its surface and how surely it is one. It
knows faces that look this way: of one that is turned away by more than some 60 degrees it says nothing.

References
----------
Kartynnik2019: the model, its square, and which of its places lie on which outline (of nostrils: ours).
"""

from dataclasses import dataclass
from math import cos, radians, sin
from typing import TypeAlias

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
#: the places on the outlines of features, every other one where there are many; first that at the picture's left
FEATURES: dict[str, tuple[tuple[int, ...], ...]] = {
    "face": (OUTLINE[::2],),
    "eyes": ((33, 163, 145, 154, 133, 157, 159, 161), (362, 381, 374, 390, 263, 388, 386, 384)),
    "brows": ((46, 53, 52, 65, 55, 107, 66, 105, 63, 70), (276, 283, 282, 295, 285, 336, 296, 334, 293, 300)),
    "lips": ((61, 91, 84, 17, 314, 321, 291, 270, 267, 0, 37, 40),),
    "mouth": ((78, 88, 87, 14, 317, 318, 308, 310, 312, 13, 82, 80),),
    "nostrils": ((60, 44, 141, 97), (326, 370, 274, 290)),
}
#: closed outlines in picture heights, by the name of the feature
Curves: TypeAlias = dict[str, tuple[tuple[tuple[float, float], ...], ...]]


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
    """What is seen of a face closely: how surely it is one, 0…1, the ellipse nearest to its outline, its features."""

    certainty: float
    oval: Oval
    curves: Curves


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
    # a pixel's middle lies at its half
    places = (surface.reshape(PLACES, 3)[:, :2].astype(np.float64) @ matrix.T + shift + 0.5) / codes.shape[0]
    certainty = 1 / (1 + np.exp(-np.clip(float(presence.ravel()[0]), -60, 60)))
    curves: Curves = {
        name: tuple(tuple((round(x, 5), round(y, 5)) for x, y in places[list(loop)].tolist()) for loop in loops)
        for name, loops in FEATURES.items()
    }
    return Closely(float(certainty), _oval(places[list(OUTLINE)], turn), curves)


def _oval(places: NDArray[np.float64], turn: float) -> Oval:
    """Return the ellipse that an outline fills, turned as the eyes are, since a nearly round one tells no turn."""
    way = radians(turn)
    axes = np.array([[cos(way), -sin(way)], [sin(way), cos(way)]])
    level = places @ axes
    low, high = level.min(axis=0), level.max(axis=0)
    (x, y), (wide, tall) = axes @ ((low + high) / 2), high - low
    return Oval(float(x), float(y), float(wide), float(tall), turn)
