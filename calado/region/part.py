"""What a kind of part must bring: a declaration, a matte, and a place to start from."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte
from calado.errors import SheetError
from calado.region.profile import PROFILES
from calado.sheet.declare import Choice, Declaration, Number, Option, PartDeclaration, Unit, Value, Values
from calado.sheet.models import Corner, Part
from calado.window import Window

Points = tuple[Corner, ...]
#: left, top, right, bottom in picture heights
Box = tuple[float, float, float, float]

#: furthest place or size that may be typed, in picture heights
FAR = 20.0

PROFILE = Choice(
    "profile",
    "Profile",
    (Option("smooth", "smooth"), Option("straight", "straight"), Option("bell", "bell")),
)


def feather(id: str, name: str) -> Number:
    """Return the declaration of one of the two feathers of an outline."""
    return Number(id, name, Unit.LENGTH, 0.0, 0.0, 0.5, 0.0, 4.0, 0.005, curve="square")


FEATHERS = (feather("feather_in", "Feather in"), feather("feather_out", "Feather out"))


def place_parameters() -> tuple[Number, Number]:
    """Return the declarations of where a part stands."""
    return (
        Number("x", "Across", Unit.ACROSS, 0.5, 0.0, 1.0, -FAR, FAR, 0.005),
        Number("y", "Down", Unit.LENGTH, 0.5, 0.0, 1.0, -FAR, FAR, 0.005),
    )


def edge_of(declaration: Declaration, values: Values) -> tuple[NDArray[np.float64], int]:
    """Return the feathers (inward, outward) and the number of the profile, for a kernel."""
    feathers = [declaration.number(values, "feather_in"), declaration.number(values, "feather_out")]
    return np.array(feathers), PROFILES[str(values.get("profile", PROFILE.neutral))]


def _no_region(id: str, window: Window) -> Matte:
    raise SheetError(f"There is no region “{id}” here.", code="sheet.region")


def _no_file(digest: str) -> NDArray[np.float64]:
    raise SheetError("A picture that a region uses as its matte is missing. Import it again.", code="sheet.file")


@dataclass(frozen=True)
class Near:
    """What a part may ask of its surroundings: the matte of another region, and an imported picture's sums.

    ``table(digest)`` gives the summed values of the picture, shape (H + 1, W + 1), from 0 at its corner.
    """

    region: Callable[[str, Window], Matte] = _no_region
    table: Callable[[str], NDArray[np.float64]] = _no_file


#: nothing is near
ALONE = Near()


@dataclass(frozen=True)
class PartKind(PartDeclaration):
    """A declaration with its matte.

    ``matte(part, window, near)`` gives the raw matte, before complement and opacity; the window may reach beyond the
    picture. ``mapped(part, scale, shift)`` gives the part after x → scale · x + shift, for a mirror and for a frame of
    another shape, or None where that has no meaning;
    ``changed(old, new)`` tells in which box the two parts' raw mattes can differ, a pixel aside, or None where
    anything may; ``fitted(path)`` gives the values of a part scribbled round something, for kinds that can be drawn so;
    ``place(aspect)`` the values of a new part on a picture ``aspect`` heights wide, ``corners(aspect)`` its points.
    """

    matte: Callable[[Part, Window, Near], Matte] = lambda part, window, near: _missing()
    place: Callable[[float], dict[str, float | str]] = lambda aspect: {}
    corners: Callable[[float], Points] = lambda aspect: ()
    mapped: Callable[[Part, float, float], Part | None] = lambda part, scale, shift: None
    fitted: Callable[[Points], dict[str, Value]] | None = None
    changed: Callable[[Part, Part], Box | None] = lambda old, new: None


def _missing() -> Matte:
    raise NotImplementedError("a kind of part without a matte")
