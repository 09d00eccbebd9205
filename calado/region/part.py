"""What a kind of part must bring: a declaration, a matte, and a place to start from."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte
from calado.errors import SheetError
from calado.region.affine import Affine
from calado.region.profile import PROFILES
from calado.region.sampler import PictureSampler
from calado.region.solve.solved import Solved, solved_now
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


def _no_region(id: str, window: Window) -> Matte:
    raise SheetError(f"There is no region “{id}” here.", code="sheet.region")


def _no_file(digest: str) -> NDArray[np.float64]:
    raise SheetError("A picture that a region uses as its matte is missing. Import it again.", code="sheet.file")


@dataclass(frozen=True)
class PartContext:
    """What a part may ask of its surroundings: the matte of another region, an imported picture's sums, the picture.

    ``sums(digest)`` gives the summed values of the imported picture, shape (H + 1, W + 1), from 0 at its corner;
    ``name`` is the id of the region that is made.
    """

    region: Callable[[str, Window], Matte] = _no_region
    sums: Callable[[str], NDArray[np.float64]] = _no_file
    seen: PictureSampler | None = None
    name: str = ""
    solved: Solved = solved_now

    @property
    def picture(self) -> PictureSampler:
        """The picture that is read.

        Raises
        ------
        SheetError
            where there is none.
        """
        if self.seen is None:
            raise SheetError("This region is read from a picture, and there is none here.", code="sheet.picture")
        return self.seen


#: nothing is near
ALONE = PartContext()


@dataclass(frozen=True)
class PartKind(PartDeclaration):
    """A declaration with its matte.

    ``matte(part, window, near)`` gives the raw matte, before complement and opacity; the window may reach beyond the
    picture. ``mapped(part, affine)`` gives the part after a map of the plane, a mirror, another frame or a motion, or
    None where that has no meaning; ``changed(old, new)`` tells in which box the two parts' raw mattes can differ, a
    pixel aside, or None where anything may; ``went_on_into(out, old, new, window, near)`` adds to an older part's raw
    matte what the newer has more, where that is all; ``fitted(path)`` gives the values of a part scribbled round
    something, for kinds that can be drawn so; ``place(aspect)`` the values of a new part on a picture ``aspect``
    heights wide, ``corners(aspect)`` its points; ``sees(part)`` tells which picture it reads, or "" for none;
    ``taken(part, sample)`` gives the part with a sample taken from the picture; ``told(part)`` says in a few words what
    it lets through.
    """

    matte: Callable[[Part, Window, PartContext], Matte] = lambda part, window, near: _missing()
    place: Callable[[float], dict[str, float | str]] = lambda aspect: {}
    corners: Callable[[float], Points] = lambda aspect: ()
    mapped: Callable[[Part, Affine], Part | None] = lambda part, affine: None
    fitted: Callable[[Points], dict[str, Value]] | None = None
    changed: Callable[[Part, Part], Box | None] = lambda old, new: None
    went_on_into: Callable[[Matte, Part, Part, Window, PartContext], bool] = lambda out, old, new, window, near: False
    sees: Callable[[Part], str] = lambda part: ""
    taken: Callable[[Part, Any], Part] | None = None
    told: Callable[[Part], str] = lambda part: ""


def _missing() -> Matte:
    raise NotImplementedError("a kind of part without a matte")
