"""Where an outline reaches, and what a moved point of it can change: only there a matte is made, or made anew."""

import numpy as np
from numpy.typing import NDArray

from calado.region.parameters import FEATHERS
from calado.region.part import Box
from calado.sheet.declare import Declaration
from calado.sheet.models import Corner, Part

_FEATHERED = Declaration("outline", "Outline", FEATHERS)


def changed_box(old: Part, new: Part) -> Box | None:
    """Return the box (left, top, right, bottom), in picture heights, in which two outlines' mattes can differ.

    A place beyond the reach of every side that changed has the same nearest side within its reach, and is as often
    crossed: the old and the new sides together close on themselves. None where the outlines are not alike enough.
    """
    if len(old.points) != len(new.points) or old.values != new.values:
        return None
    count = len(new.points)
    moved = [k for k in range(count) if old.points[k] != new.points[k]]
    near = {(k + by) % count for k in moved for by in (-1, 0, 1)}
    ends = [_reaches(points[k]) for k in near for points in (old.points, new.points)]
    if not ends:
        return (0.0, 0.0, 0.0, 0.0)
    return _round(ends, new)


def outline_within(part: Part) -> Box | None:
    """Return the box, in picture heights, outside of which an outline's matte is nothing."""
    return _round([_reaches(point) for point in part.points], part) if part.points else None


def _round(ends: list[NDArray[np.float64]], part: Part) -> Box:
    sides = np.concatenate(ends)
    reach = max(_FEATHERED.number(part.values, feather.id) for feather in FEATHERS)
    low, high = sides.min(axis=0) - reach, sides.max(axis=0) + reach
    return (float(low[0]), float(low[1]), float(high[0]), float(high[1]))


def _reaches(point: Corner) -> NDArray[np.float64]:
    """Return a point and its handles' ends: a cubic lies within the hull of its four."""
    at = np.array(point[:2])
    return np.stack([at, at + point[2:4], at + point[4:6]]) if len(point) > 2 else at[None]
