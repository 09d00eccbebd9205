"""The parameters that kinds of part share: where they stand, how soft their outline is."""

import numpy as np
from numpy.typing import NDArray

from calado.region.profile import PROFILES
from calado.sheet.declare import Choice, Declaration, Number, Option, Unit, Values

#: furthest place or size that may be typed, in picture heights
FAR = 20.0

PROFILE = Choice(
    "profile",
    "Profile",
    (Option("smooth", "smooth"), Option("straight", "straight"), Option("bell", "bell")),
)


def feather(id: str, name: str) -> Number:
    """Return the declaration of one of the two feathers of an outline."""
    inner = id == "feather_in"
    return Number(id, name, Unit.LENGTH, 0.0, 0.0, 0.5, 0.0, 4.0, 0.005, curve="square", apart=inner)


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
