"""Faces: where they are, how large, how turned, and how sure that is.

Two models look at squares of the picture: the whole first, then ever smaller ones, half over each other. One knows near
faces, however they are turned, the other small ones too. Of finds that lie on each other the surest is kept. What a
close look bears out is a face, and has its outline from there. Of the others a small one is none; a near one, which may
be turned away, is looked at again, from nearer and farther, from beside and in a mirror: a face stays one, a wheel
seldom does.

References
----------
Bazarevsky2019: the models and their anchors: two on each of 16 × 16 places and six on each of 8 × 8; one on each of
48 × 48.
"""

from dataclasses import dataclass, field, replace
from math import atan2, degrees, hypot
from typing import Literal, TypeAlias

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes
from calado.detect.face_mesh import Curves, Oval, closely
from calado.detect.lips import fitted
from calado.detect.net import run

SIDE, FAR_SIDE = 128, 192
#: from how sure a find is offered
LEAST = 0.7
#: from how sure a find is a face at the first look
AT_ONCE = 0.8
#: the same for the model that knows small faces, of which none is sure at once, and for the close look
FAR_LEAST, CLOSELY = 0.3, 0.9
#: the second look's squares, in widths of the face, and how far beside it they stand
AGAIN, BESIDE = (1.7, 2.3, 3.2), ((0.0, 0.0), (0.12, 0.0), (-0.12, 0.0), (0.0, 0.12), (0.0, -0.12))
#: a find of the second look that shares less than this with the first is another one
THE_SAME = 0.5
#: at the second look what is less sure than this counts as nothing, and a find that is so on the whole is none
HARDLY, DOUBTFUL = 0.2, 0.4
#: squares in picture heights, besides the whole picture, for near faces and for small ones
SQUARES, FAR_SQUARES = (1.0, 0.5, 0.35), (0.5, 0.25)
#: two finds that share more of their area than this are one
SAME = 0.25
#: of the model's square, from the brows to the chin: how wide and high the face is, and how far above its middle
WIDE, HIGH, ABOVE = 1.05, 1.4, 0.12


Place: TypeAlias = tuple[float, float]


@dataclass(frozen=True)
class Face:
    """A face as an ellipse in picture heights: centre, width, height, turn in degrees; ``certainty`` 0…1.

    ``eyes`` and ``mouth`` are their middles. One that is not ``sure`` was no face at the second look.
    """

    x: float
    y: float
    width: float
    height: float
    turn: float
    certainty: float
    eyes: tuple[Place, Place]
    mouth: Place
    sure: bool = True
    #: of one that a close look bore out, the ellipse of its outline, and its features
    oval: Oval | None = None
    curves: Curves = field(default_factory=dict)


def _anchors(grids: tuple[tuple[int, int], ...]) -> NDArray[np.float64]:
    places = []
    for count, each in grids:
        y, x = (np.mgrid[:count, :count] + 0.5) / count
        places.append(np.repeat(np.stack([x.ravel(), y.ravel()], axis=1), each, axis=0))
    return np.concatenate(places)


ANCHORS = _anchors(((16, 2), (8, 6)))
FAR_ANCHORS = _anchors(((48, 1),))


def find_faces(codes: Codes, *, small: bool = True) -> list[Face]:
    """Return the faces in a picture of 8-bit codes, shape (H, W, 3), the surest first.

    Without ``small`` ones, those of less than a tenth of the height, it takes a sixth of the time.

    Raises
    ------
    ModelError
        when the model's file cannot be used.
    """
    high, wide = codes.shape[:2]
    near = _apart([face for square in _squares(high, wide, SQUARES) for face in look(codes, *square, LEAST)])
    far = [face for square in _squares(high, wide, FAR_SQUARES) if small for face in _look_far(codes, square)]
    seen = [_closely(codes, face) for face in (*near, *_apart(far))]
    made = _apart([face for face in seen if face.oval])
    for face in seen[: len(near)]:
        if face.oval is None and all(_shared(face, other) < SAME for other in made):
            made.append(_looked_at_again(codes, face))
    return sorted(
        (face for face in made if face.certainty >= DOUBTFUL), key=lambda each: (not each.sure, -each.certainty)
    )


def _apart(faces: list[Face]) -> list[Face]:
    """Return the surest of all finds that lie on each other."""
    kept: list[Face] = []
    for face in sorted(faces, key=lambda each: -each.certainty):
        if all(_shared(face, other) < SAME for other in kept):
            kept.append(face)
    return kept


def _closely(codes: Codes, face: Face) -> Face:
    """Return a face, with its outline and how sure that is where a close look bears it out."""
    high = codes.shape[0]
    middle = face.y + ABOVE / HIGH * face.height
    seen = closely(codes, face.x * high, middle * high, face.width / WIDE * high, face.turn)
    if seen.certainty < CLOSELY:
        return face
    certainty = max(face.certainty, seen.certainty * AT_ONCE)
    (ax, ay), (bx, by) = face.eyes
    lips = tuple(tuple(fitted(codes, loop, hypot(bx - ax, by - ay))) for loop in seen.curves["lips"])
    return replace(face, certainty=certainty, oval=seen.oval, curves={**seen.curves, "lips": lips})


def _looked_at_again(codes: Codes, face: Face) -> Face:
    """Return a face with how sure the second look was; one that was sure at once as it is."""
    if face.certainty >= AT_ONCE:
        return face
    high, wide = codes.shape[:2]
    mirrored = replace(face, x=wide / high - face.x)
    ways = ((codes, face), (np.ascontiguousarray(codes[:, ::-1]), mirrored))
    looks = []
    for widths in AGAIN:
        side = round(widths * face.width * high)
        for across, down in BESIDE:
            for seen, there in ways:
                left = round((there.x + across * there.width) * high - side / 2)
                top = round((there.y + down * there.width) * high - side / 2)
                same = (each for each in look(seen, left, top, side, HARDLY) if _shared(each, there) > THE_SAME)
                looks.append(max((each.certainty for each in same), default=0.0))
    certainty = float(np.mean(looks))
    return replace(face, certainty=certainty, sure=certainty >= LEAST)


def _squares(high: int, wide: int, shares: tuple[float, ...]) -> list[tuple[int, int, int]]:
    """Return (left, top, side) of the squares that are looked at; the first holds the whole picture."""
    longer = max(high, wide)
    squares = [((wide - longer) // 2, (high - longer) // 2, longer)]
    for share in shares:
        side = round(share * min(high, wide))
        for top in range(0, high - side + 1, max(1, side // 2)):
            squares += [(left, top, side) for left in range(0, wide - side + 1, max(1, side // 2))]
    return squares


def look(codes: Codes, left: int, top: int, side: int, least: float) -> list[Face]:
    """Return the faces that are surer than ``least`` in a square of a picture, which may stand over its rim.

    Raises
    ------
    ModelError
        when the model's file cannot be used.
    """
    return _look(codes, (left, top, side), "face", SIDE, ANCHORS, least)


def _look_far(codes: Codes, square: tuple[int, int, int]) -> list[Face]:
    return _look(codes, square, "face_far", FAR_SIDE, FAR_ANCHORS, FAR_LEAST)


def _look(
    codes: Codes,
    square: tuple[int, int, int],
    name: Literal["face", "face_far"],
    pixels: int,
    anchors: NDArray[np.float64],
    least: float,
) -> list[Face]:
    high, wide = codes.shape[:2]
    left, top, side = square
    seen = np.zeros((side, side, 3), np.uint8)
    y0, x0, y1, x1 = max(top, 0), max(left, 0), min(top + side, high), min(left + side, wide)
    seen[y0 - top : y1 - top, x0 - left : x1 - left] = codes[y0:y1, x0:x1]
    small = cv2.resize(seen, (pixels, pixels), interpolation=cv2.INTER_AREA).astype(np.float32) / 127.5 - 1
    scores, boxes = sorted((each[0] for each in run(name, small)), key=lambda each: each.shape[-1])
    certainty = 1 / (1 + np.exp(-np.clip(scores[:, 0].astype(np.float64), -60, 60)))
    made = []
    for k in np.flatnonzero(certainty > least):
        numbers = boxes[k].astype(np.float64) / pixels
        place = numbers.reshape(-1, 2) + anchors[k]
        made.append(_face(place, numbers[2:4], float(certainty[k]), square, high))
    return made


def _face(
    place: NDArray[np.float64], size: NDArray[np.float64], certainty: float, square: tuple[int, int, int], high: int
) -> Face:
    """Return a face from the model's centre and points: pairs 2, 3 and 5 are the eyes' places and the mouth's."""
    left, top, side = square
    (ax, ay), (bx, by) = place[2], place[3]
    turn = degrees(atan2(by - ay, bx - ax))
    one, other, mouth = ((float(left + px * side) / high, float(top + py * side) / high) for px, py in place[[2, 3, 5]])
    x, y = left + place[0, 0] * side, top + (place[0, 1] - ABOVE * size[1]) * side
    return Face(
        x / high,
        y / high,
        WIDE * size[0] * side / high,
        HIGH * size[1] * side / high,
        round(turn, 1),
        certainty,
        (one, other),
        mouth,
    )


def _shared(one: Face, other: Face) -> float:
    """Return the area that two faces' boxes share, over the smaller."""
    across = min(one.x + one.width / 2, other.x + other.width / 2) - max(
        one.x - one.width / 2, other.x - other.width / 2
    )
    down = min(one.y + one.height / 2, other.y + other.height / 2) - max(
        one.y - one.height / 2, other.y - other.height / 2
    )
    return max(across, 0.0) * max(down, 0.0) / min(one.width * one.height, other.width * other.height)
