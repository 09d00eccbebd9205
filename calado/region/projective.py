"""Boxes under a map in perspective, exactly: a rectangle becomes a quadrangle, an ellipse another ellipse.

References
----------
HartleyZisserman2004, section 2.2.3: under a map H of the plane a conic C becomes H⁻ᵀ C H⁻¹.
"""

from math import atan2, cos, degrees, pi, radians, sin

import numpy as np
from numpy.typing import NDArray

from calado.region.part import Points
from calado.sheet.models import Part

#: a map of the plane, shape (3, 3), in picture heights, of homogeneous columns
Map = NDArray[np.float64]
#: corners this near to where a rectangle's would be, in picture heights, make it one
SQUARE = 2e-5
#: chords of a rounded corner
ARC = 12
#: what a box has where its sheet says nothing
USUAL = {"turn": 0.0, "corner": 0.0, "roundness": 1.0}
_DIGITS = 5


def rectangle_through(part: Part, matrix: Map, mapped: Part) -> Part:
    """Return a rectangle under a map; ``mapped``, its first order, gets the outline as points where that is none."""
    outline, box = _goes(matrix, _rim(part)), _rim(mapped)
    if outline is None:
        return mapped
    # a box that turned by more than a right angle is told as the same one that turned the other way
    if min(np.abs(outline - np.roll(box, half, axis=0)).max() for half in (0, len(box) // 2)) < SQUARE:
        return mapped
    points: Points = tuple((round(float(x), _DIGITS), round(float(y), _DIGITS)) for x, y in outline)
    return mapped.model_copy(update={"points": points})


def ellipse_through(part: Part, matrix: Map, mapped: Part) -> Part:
    """Return an ellipse under a map: the ellipse that it becomes; one that is squared stays at ``mapped``."""
    rim = np.stack([_own(part, u, v) for u, v in ((1, 0), (0, 1), (-1, 0), (0, -1))])
    if _number(part, "roundness") != 1 or _goes(matrix, rim) is None:
        return mapped
    middle = rim.mean(axis=0)
    circle = np.column_stack([np.append(rim[0] - middle, 0), np.append(rim[1] - middle, 0), np.append(middle, 1)])
    back = np.linalg.inv(matrix @ circle)
    conic = back.T @ np.diag([1.0, 1.0, -1.0]) @ back
    square, way = conic[:2, :2], conic[:2, 2]
    if np.linalg.det(square) <= 0:  # it reaches the horizon
        return mapped
    x, y = np.linalg.solve(square, -way)
    bends, axes = np.linalg.eigh(square / -(conic[2, 2] + way @ (x, y)))
    lengths = 2 / np.sqrt(bends)
    turn = radians(_number(mapped, "turn"))
    first = int(
        abs(axes[0, 1] * cos(turn) + axes[1, 1] * sin(turn)) > abs(axes[0, 0] * cos(turn) + axes[1, 0] * sin(turn))
    )
    angle = (degrees(atan2(axes[1, first], axes[0, first])) + 90) % 180 - 90
    values = {
        **mapped.values,
        "x": round(float(x), _DIGITS),
        "y": round(float(y), _DIGITS),
        "width": round(float(lengths[first]), _DIGITS),
        "height": round(float(lengths[1 - first]), _DIGITS),
        "turn": round(90.0 if angle == -90 else angle, 4),
    }
    return mapped.model_copy(update={"values": values})


def _goes(matrix: Map, places: NDArray[np.float64]) -> NDArray[np.float64] | None:
    """Return where places go, shape (N, 2), or None where one goes to the horizon or beyond."""
    to = np.column_stack([places, np.ones(len(places))]) @ matrix.T
    return to[:, :2] / to[:, 2:] if (to[:, 2] > 1e-6).all() else None


def _own(part: Part, u: float, v: float) -> NDArray[np.float64]:
    """Return the place at shares of a box's half width and height."""
    turn, a, b = radians(_number(part, "turn")), u * _number(part, "width") / 2, v * _number(part, "height") / 2
    x, y = _number(part, "x"), _number(part, "y")
    return np.array([x + a * cos(turn) - b * sin(turn), y + a * sin(turn) + b * cos(turn)])


def _number(part: Part, id: str) -> float:
    value = part.values.get(id, USUAL.get(id, 0.5))
    assert isinstance(value, int | float)  # checked when the sheet was read
    return float(value)


def _rim(part: Part) -> NDArray[np.float64]:
    """Return the outline of a rectangle, shape (N, 2), in order; rounded corners as chords."""
    wide, high = (max(_number(part, id) / 2, 1e-9) for id in ("width", "height"))
    radius = _number(part, "corner") * min(wide, high)
    around = [(0.0, 0.0)] if radius == 0 else [(cos(k * pi / 2 / ARC), sin(k * pi / 2 / ARC)) for k in range(ARC + 1)]
    made = []
    for quarter in range(4):
        c, s = ((1, 0), (0, 1), (-1, 0), (0, -1))[quarter]
        corner = ((1, 1), (-1, 1), (-1, -1), (1, -1))[quarter]
        for x, y in around:
            u = corner[0] * (wide - radius) + radius * (c * x - s * y)
            v = corner[1] * (high - radius) + radius * (s * x + c * y)
            made.append(_own(part, u / wide, v / high))
    return np.stack(made)
