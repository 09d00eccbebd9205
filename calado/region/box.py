"""What parts with a width, a height and a turn have in common: going over into another frame, and being scribbled.

References
----------
Green's theorem gives the area and the second moments of a polygon; an ellipse has λ = a²/4 along an axis of half
length a, a rectangle of side s has λ = s²/12 (standard tables of plane sections).
"""

from math import atan2, cos, degrees, hypot, pi, radians, sin, sqrt

import numpy as np
import scipy
from numpy.typing import NDArray

from calado.errors import SheetError
from calado.region.affine import Affine
from calado.region.moved import outline_within
from calado.region.part import Box, Points
from calado.sheet.declare import Value, Values
from calado.sheet.models import Part

#: an ellipse nearer to a circle than this stands upright: its turn would be the hand's tremor
ROUND = 1.08
_DIGITS = 5
_LEAST = 0.004


def mapped_box(part: Part, affine: Affine) -> Part:
    """Return an ellipse or rectangle under a map of the plane.

    An ellipse goes over into the ellipse that it becomes; a rectangle that would be sheared keeps its right angles,
    with the direction and the lengths that its sides get.
    """
    turn = radians(_number(part.values, "turn"))
    width, height = _number(part.values, "width") / 2, _number(part.values, "height") / 2
    along = affine.vector(cos(turn) * width, sin(turn) * width)
    across = affine.vector(-sin(turn) * height, cos(turn) * height)
    square = abs(along[0] * across[0] + along[1] * across[1]) <= 1e-9 * hypot(*along) * hypot(*across)
    if part.kind == "ellipse" and _number(part.values, "roundness", 1.0) == 1 and not square:
        along, across = _axes(along, across)
    x, y = affine.place(_number(part.values, "x"), _number(part.values, "y"))
    values = {
        **part.values,
        **affine.lengths(part.values, "feather_in", "feather_out"),
        "x": x,
        "y": y,
        "width": round(2 * hypot(*along), _DIGITS),
        "height": round(2 * hypot(*across), _DIGITS),
        "turn": round(_upright(degrees(atan2(along[1], along[0]))), 4),
    }
    return part.model_copy(update={"values": values})


def box_within(part: Part) -> Box | None:
    """Return the box, in picture heights, outside of which an ellipse or rectangle with its feather is nothing."""
    if part.points:
        return outline_within(part)
    turn = radians(_number(part.values, "turn"))
    width, height = max(_number(part.values, "width") / 2, _LEAST), max(_number(part.values, "height") / 2, _LEAST)
    feather = _number(part.values, "feather_out", 0.0)
    across = abs(cos(turn)) * width + abs(sin(turn)) * height + feather
    down = abs(sin(turn)) * width + abs(cos(turn)) * height + feather
    x, y = _number(part.values, "x"), _number(part.values, "y")
    return (x - across, y - down, x + across, y + down)


def _number(values: Values, id: str, usual: float = 0.5) -> float:
    value = values.get(id, 0.0 if id == "turn" else usual)
    assert isinstance(value, int | float)  # checked when the sheet was read
    return float(value)


def _upright(turn: float) -> float:
    """Return the same turn of an axis, above −90 and not above 90 degrees."""
    turn = (turn + 90) % 180 - 90
    return 90.0 if turn == -90 else turn


def _axes(along: tuple[float, float], across: tuple[float, float]) -> tuple[tuple[float, float], tuple[float, float]]:
    """Return the axes of the ellipse through two conjugate half diameters, the first one nearest to ``along``."""
    left, lengths, _ = np.linalg.svd(np.array([along, across]).T)
    axes = [(float(left[0, k] * lengths[k]), float(left[1, k] * lengths[k])) for k in (0, 1)]
    near = [abs(axis[0] * along[0] + axis[1] * along[1]) for axis in left.T]
    first = int(near[1] > near[0])
    return axes[first], axes[1 - first]


def fitted_ellipse(path: Points) -> dict[str, Value]:
    """Return the turned ellipse that has the area's place and second moments of what a scribble goes round.

    Raises
    ------
    SheetError
        when the scribble encloses nothing.
    """
    hull = _hull(path)
    centre, spread = _moments(hull)
    lengths, axes = np.linalg.eigh(spread)
    width, height = 4 * sqrt(lengths[1]), 4 * sqrt(lengths[0])
    turn = _upright(degrees(atan2(axes[1, 1], axes[0, 1])))
    if width < ROUND * height:
        return _box(centre, width, height, 0.0)
    if abs(turn) > 45:
        # the axis nearer to level is the width
        width, height, turn = height, width, turn - 90 if turn > 0 else turn + 90
    return _box(centre, width, height, turn)


def fitted_rectangle(path: Points) -> dict[str, Value]:
    """Return the turned rectangle of what a scribble goes round: lying as its smallest frame, as wide as its moments.

    Raises
    ------
    SheetError
        when the scribble encloses nothing.
    """
    hull = _hull(path)
    centre, spread = _moments(hull)
    turn = min(_edges(hull), key=lambda angle: _frame_area(hull, angle))
    if turn > pi / 4:
        turn -= pi / 2
    along, across = np.array([cos(turn), sin(turn)]), np.array([-sin(turn), cos(turn)])
    return _box(centre, sqrt(12 * along @ spread @ along), sqrt(12 * across @ spread @ across), degrees(turn))


def _box(centre: NDArray[np.float64], width: float, height: float, turn: float) -> dict[str, Value]:
    return {
        "x": round(float(centre[0]), _DIGITS),
        "y": round(float(centre[1]), _DIGITS),
        "width": round(max(width, _LEAST), _DIGITS),
        "height": round(max(height, _LEAST), _DIGITS),
        "turn": round(turn, 2),
    }


def _hull(path: Points) -> NDArray[np.float64]:
    """Return the corners, in order, of the smallest convex outline round a path."""
    points = np.array([point[:2] for point in path], np.float64).reshape(-1, 2)
    try:
        return points[scipy.spatial.ConvexHull(points).vertices]
    except (scipy.spatial.QhullError, ValueError) as error:
        raise SheetError("The line goes round nothing. Draw once round the thing.", code="start.scribble") from error


def _moments(hull: NDArray[np.float64]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return the centre and the covariance of the area of a polygon, by Green's theorem."""
    origin = hull.mean(axis=0)
    p = hull - origin
    q = np.roll(p, -1, axis=0)
    cross = p[:, 0] * q[:, 1] - q[:, 0] * p[:, 1]
    area = cross.sum() / 2
    centre = ((p + q) * cross[:, None]).sum(axis=0) / (6 * area)
    squares = np.einsum("ki,kj->kij", p, p) + np.einsum("ki,kj->kij", q, q)
    mixed = np.einsum("ki,kj->kij", p, q)
    second = ((2 * squares + mixed + mixed.transpose(0, 2, 1)) * cross[:, None, None]).sum(axis=0) / (24 * area)
    return origin + centre, second - np.outer(centre, centre)


def _edges(hull: NDArray[np.float64]) -> list[float]:
    """Return the directions of a convex outline's edges, within a quarter turn: its smallest frame lies along one."""
    ways = np.roll(hull, -1, axis=0) - hull
    return [float(angle % (pi / 2)) for angle in np.arctan2(ways[:, 1], ways[:, 0])]


def _frame_area(hull: NDArray[np.float64], angle: float) -> float:
    u = hull @ np.array([cos(angle), sin(angle)])
    v = hull @ np.array([-sin(angle), cos(angle)])
    return float(np.ptp(u) * np.ptp(v))
