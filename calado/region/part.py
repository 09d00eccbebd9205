"""What a kind of part must bring: a declaration, a matte, and a place to start from."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte
from calado.region.profile import PROFILES
from calado.sheet.declare import Choice, Declaration, Number, Option, PartDeclaration, Unit, Values
from calado.sheet.models import Corner, Part
from calado.window import Window

Points = tuple[Corner, ...]

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


@dataclass(frozen=True)
class PartKind(PartDeclaration):
    """A declaration with its matte.

    ``matte(part, window)`` gives the raw matte, before complement and opacity;
    ``place(aspect)`` the values of a new part on a picture ``aspect`` heights wide, ``corners(aspect)`` its points.
    """

    matte: Callable[[Part, Window], Matte] = lambda part, window: _missing()
    place: Callable[[float], dict[str, float | str]] = lambda aspect: {}
    corners: Callable[[float], Points] = lambda aspect: ()


def _missing() -> Matte:
    raise NotImplementedError("a kind of part without a matte")
