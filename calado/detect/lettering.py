"""Lines of lettering, however turned: where names, numbers and plates stand, as turned boxes, and how sure that is.

The model gives a share for each place of the picture; a patch of sure places is the middle of a line, and its smallest
rectangle, let out by a fixed share, the line. One that is not sure at once is looked at again, levelled, larger and
smaller and upside down: lettering stays lettering, glints and wings seldom do.

References
----------
Liao2020: the share's map, its thresholds, and by how much its rectangles are let out.
"""

from dataclasses import dataclass, replace
from math import cos, radians, sin
from typing import TypeAlias

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes, Matte
from calado.detect.net import run
from calado.detect.softened import softened

#: the longer side, in pixels, in which a picture is looked at: less is made larger
SMALLEST, LARGEST = 1104, 1600
#: the model takes sides of a multiple of this
STEP = 32
#: of the model's share: what belongs to a line, and from how sure, on the whole, a line is one
INSIDE, LEAST = 0.3, 0.5
#: a line's middle is let out by its area over its girth times this
LET_OUT = 1.6
#: from how sure a line is one at the first look, where it is so many heights long and so low, in picture heights (rows
#: of coins and of windows are taller), and at the second look
AT_ONCE, LONG, LOW, AGAIN = 0.9, 4.0, 0.06, 0.55
#: glints and ornaments are short: from how sure a short line is one at the second look
SHORT_AGAIN = 0.85
#: a line that is not so sure at the second look is nothing, unless it is long
HARDLY = 0.7
#: the second looks: height of the line in pixels, whether upside down, and how far beside, in heights
LOOKS = ((24.0, False, 0.0), (32.0, False, 0.3), (36.0, True, 0.4))
#: in heights of the line: room round it at the second look; of it the middle that is held against the model's share
ROOM, MIDDLE, LENGTH = 1.5, 0.2, 0.4
#: a longer line is looked at again in its middle part alone, in heights
LONGEST = 16.0
#: two boxes that share more than this of the smaller are of one line, when their turns differ by no more degrees
SHARED, TURNED = 0.3, 12.0
#: mean and spread of the pictures that the model was made with, red first (its own notes)
MEAN = np.array([0.485, 0.456, 0.406], np.float32)
SPREAD = np.array([0.229, 0.224, 0.225], np.float32)

#: from this share on there may be letters that are too small, of 3 pixels and more; and so many pixels round them
TRACE, AROUND = 0.05, 24

Box: TypeAlias = tuple[float, float, float, float]
Turned: TypeAlias = tuple[tuple[float, float], tuple[float, float], float]


@dataclass(frozen=True)
class Line:
    """A line of lettering in picture heights: its middle, length, height, turn in degrees; ``certainty`` 0…1.

    The turn is that of its length, clockwise, from -90 to 90. One that is not ``sure`` was none at the second look.
    """

    x: float
    y: float
    width: float
    height: float
    turn: float
    certainty: float
    sure: bool = True

    @property
    def turned(self) -> Turned:
        """The box as OpenCV has it."""
        return (self.x, self.y), (self.width, self.height), self.turn

    @property
    def corners(self) -> NDArray[np.float32]:
        """Its corners, shape (4, 2), in picture heights."""
        return np.asarray(cv2.boxPoints(self.turned), np.float32)

    def placed(self, left: int, top: int, high: int, whole: int) -> "Line":
        """Return the line of a part of a picture, ``high`` pixels high, as one of the whole, which is ``whole``."""
        scale = high / whole
        x, y = self.x * scale + left / whole, self.y * scale + top / whole
        return replace(self, x=x, y=y, width=self.width * scale, height=self.height * scale)


def find_lettering(codes: Codes, *, smallest: int = SMALLEST) -> list[Line]:
    """Return the lines of lettering in a picture of 8-bit codes, shape (H, W, 3), the surest first.

    One whose longer side is less than ``smallest`` pixels is made larger before.

    Raises
    ------
    ModelError
        when the model's file cannot be used.
    """
    return lines_of(codes, shares(codes, smallest))


def shares(codes: Codes, smallest: int = SMALLEST) -> Matte:
    """Return how surely each place of a picture belongs to a line's middle, in about the size in which it is looked at.

    Raises
    ------
    ModelError
        when the model's file cannot be used.
    """
    high, wide = codes.shape[:2]
    longer = max(high, wide)
    scale = min(max(longer, smallest), LARGEST) / longer
    sides = [max(STEP, round(side * scale / STEP) * STEP) for side in (wide, high)]
    return _share(np.asarray(cv2.resize(codes, sides, interpolation=cv2.INTER_AREA if scale < 1 else cv2.INTER_CUBIC)))


def lines_of(codes: Codes, share: Matte) -> list[Line]:
    """Return the lines of lettering in a picture, of which the model's shares are known, the surest first.

    Raises
    ------
    ModelError
        when the model's file cannot be used.
    """
    found = _boxes(share, share.shape[1] / codes.shape[1] * codes.shape[0], share.shape[0])
    seen = [_looked_at_again(codes, line) for line in found]
    return sorted((line for line in seen if line.sure or line.certainty >= HARDLY), key=_surest)


def traces(share: Matte, aspect: float) -> list[Box]:
    """Return where lettering may be that is too small to be told: (left, top, width, height) in picture heights.

    ``aspect`` is the picture's width in its heights, ``share`` the model's shares.
    """
    near = cv2.dilate((share > TRACE).astype(np.uint8), np.ones((2 * AROUND + 1,) * 2, np.uint8))
    count, _, boxes, _ = cv2.connectedComponentsWithStats(near)
    across, down = share.shape[1] / aspect, share.shape[0]
    return [(x / across, y / down, wide / across, high / down) for x, y, wide, high, _ in boxes[1:count].tolist()]


def joined(lines: list[Line]) -> list[Line]:
    """Return lines, each once, of which some were found in several parts of a picture or cut by their rims."""
    made: list[Line] = []
    for line in sorted(lines, key=lambda each: -each.width):
        k = next((k for k, other in enumerate(made) if _of_one_line(line, other)), None)
        if k is None:
            made.append(line)
        else:
            made[k] = _both(made[k], line)
    return sorted(made, key=_surest)


def _surest(line: Line) -> tuple[bool, float]:
    return not line.sure, -line.certainty


def _share(rgb: Codes) -> Matte:
    """Return how surely each pixel belongs to a line's middle, shape (H, W), 0…1."""
    # the model was made with blue first
    seen = (rgb[..., ::-1].astype(np.float32) / np.float32(255) - MEAN) / SPREAD
    return np.asarray(run("lettering", seen.astype(np.float32))[0][0, 0], np.float32)


def _boxes(share: Matte, across: float, down: float) -> list[Line]:
    """Return the lines in a map of shares; ``across`` and ``down`` are a picture height in its pixels."""
    patches, _ = cv2.findContours((share > INSIDE).astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    lines = []
    for patch in patches:
        left, top, wide, high = cv2.boundingRect(patch)
        mask = np.zeros((high, wide), np.uint8)
        cv2.drawContours(mask, [patch - (left, top)], -1, 1, -1)
        certainty = float(share[top : top + high, left : left + wide][mask > 0].mean())
        if certainty >= LEAST and min(wide, high) > 2:
            places = (patch[:, 0] + 0.5) / (across, down)
            lines.append(_line(places.astype(np.float32), certainty))
    return lines


def _line(places: NDArray[np.float32], certainty: float) -> Line:
    """Return a line whose middle has its rim at some places, shape (N, 2)."""
    (x, y), (wide, high), turn = cv2.minAreaRect(places)
    out = wide * high * LET_OUT / (wide + high)
    return _long(x, y, wide + out, high + out, turn, certainty)


def _long(x: float, y: float, wide: float, high: float, turn: float, certainty: float, *, sure: bool = True) -> Line:
    """Return a line that lies along the longer side of a box."""
    if high > wide:
        wide, high, turn = high, wide, turn + 90
    return Line(x, y, wide, high, (turn + 90) % 180 - 90, certainty, sure)


def _looked_at_again(codes: Codes, line: Line) -> Line:
    """Return a line with how sure the second looks were; one that was sure at once as it is."""
    long = line.width >= LONG * line.height
    if long and line.height <= LOW and line.certainty >= AT_ONCE:
        return line
    certainty = float(np.mean([_again(codes, line, *look) for look in LOOKS]))
    return replace(line, certainty=min(certainty, line.certainty), sure=certainty >= (AGAIN if long else SHORT_AGAIN))


def _again(codes: Codes, line: Line, tall: float, over: bool, beside: float) -> float:
    """Return how sure the model is of a line's middle when the line lies level and is so many pixels tall."""
    scale = tall / (line.height * codes.shape[0])
    length = min(line.width / line.height, LONGEST) * tall
    wide, high = (int(np.ceil((side + 2 * ROOM * tall) / STEP) * STEP) for side in (length, tall))
    middle = np.array([wide / 2 + beside * tall, high / 2 + beside * tall])
    way = radians(line.turn + 180 * over)
    turn = np.array([[cos(way), -sin(way)], [sin(way), cos(way)]]) / scale
    x, y = line.x * codes.shape[0], line.y * codes.shape[0]
    room = (line.width / 2 + 2 * ROOM * line.height) * codes.shape[0]
    level = cv2.warpAffine(
        softened(codes, x, y, room, 1 / scale),
        np.column_stack([turn, np.array([x, y]) - 0.5 - turn @ (middle - 0.5)]),
        (wide, high),
        flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP,
        borderMode=cv2.BORDER_REPLICATE,
    )
    share = _share(np.asarray(level, np.uint8))
    across, down = middle
    rows = slice(int(down - MIDDLE * tall), int(np.ceil(down + MIDDLE * tall)))
    return float(share[rows, int(across - LENGTH * length) : int(np.ceil(across + LENGTH * length))].mean())


def _of_one_line(one: Line, other: Line) -> bool:
    apart = abs((one.turn - other.turn + 90) % 180 - 90)
    _, shared = cv2.rotatedRectangleIntersection(one.turned, other.turned)
    if shared is None or len(shared) < 3:
        return False
    area = cv2.contourArea(cv2.convexHull(shared))
    smaller = min(one.width * one.height, other.width * other.height)
    # what is hardly longer than tall may lie either way
    return area > SHARED * smaller and (apart < TURNED or min(one.width / one.height, other.width / other.height) < 2)


def _both(one: Line, other: Line) -> Line:
    """Return the line that holds two, on which the surer one decides."""
    (x, y), (wide, high), turn = cv2.minAreaRect(np.concatenate([one.corners, other.corners]))
    return _long(x, y, wide, high, turn, max(one.certainty, other.certainty), sure=one.sure or other.sure)
