"""What a kind of part must bring: a declaration, a matte, and a place to start from."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte
from calado.region.affine import Affine
from calado.region.context import PartContext
from calado.sheet.declare import PartDeclaration, Value
from calado.sheet.models import Corner, Part
from calado.window import Window

Points = tuple[Corner, ...]
#: left, top, right, bottom in picture heights
Box = tuple[float, float, float, float]


@dataclass(frozen=True)
class PartKind(PartDeclaration):
    """A declaration with its matte.

    ``matte(part, window, near)`` gives the raw matte, before complement and opacity; the window may reach beyond the
    picture. ``mapped(part, affine)`` gives the part after a map of the plane, a mirror, another frame or a motion, or
    None where that has no meaning; ``through(part, matrix, mapped)`` gives it under a map in perspective, shape (3, 3),
    whose first order gave ``mapped``; ``changed(old, new)`` tells in which box the two parts' raw mattes can differ, a
    pixel aside, or None where anything may; ``within(part)`` in which box its raw matte is anything, a pixel aside, or
    None where it may be anywhere; ``went_on_into(out, old, new, window, near)`` adds to an older part's raw matte what
    the newer has more, where that is all; ``fitted(path)`` gives the values of a part scribbled round something, for
    kinds that can be drawn so; ``place(aspect)`` the values of a new part on a picture ``aspect`` heights wide,
    ``corners(aspect)`` its points; ``sees(part)`` tells which picture it reads, or "" for none; ``taken(part, sample)``
    gives the part with a sample taken from the picture; ``told(part)`` says in a few words what it lets through.
    ``solved`` tells that the matte is the share of each pixel that the subject holds, so that colours can be parted by
    it; ``by_distance`` that it is told by the distance to an outline alone.
    """

    matte: Callable[[Part, Window, PartContext], Matte] = lambda part, window, near: _missing()
    place: Callable[[float], dict[str, float | str]] = lambda aspect: {}
    corners: Callable[[float], Points] = lambda aspect: ()
    mapped: Callable[[Part, Affine], Part | None] = lambda part, affine: None
    through: Callable[[Part, NDArray[np.float64], Part], Part] = lambda part, matrix, mapped: mapped
    fitted: Callable[[Points], dict[str, Value]] | None = None
    changed: Callable[[Part, Part], Box | None] = lambda old, new: None
    within: Callable[[Part], Box | None] = lambda part: None
    went_on_into: Callable[[Matte, Part, Part, Window, PartContext], bool] = lambda out, old, new, window, near: False
    sees: Callable[[Part], str] = lambda part: ""
    taken: Callable[[Part, Any], Part] | None = None
    told: Callable[[Part], str] = lambda part: ""
    solved: bool = False
    by_distance: bool = False


def _missing() -> Matte:
    raise NotImplementedError("a kind of part without a matte")
