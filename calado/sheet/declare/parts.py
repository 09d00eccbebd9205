"""What a kind of part says about itself, and how a hand draws it."""

from dataclasses import dataclass
from typing import Literal, TypeAlias

from calado.sheet.declare.declaration import Declaration
from calado.sheet.declare.parameters import Reference


@dataclass(frozen=True)
class Slope:
    """A stretch of an axis that a part lets through, drawn over the picture's distribution on that axis.

    The ids are of its numbers: whole between ``low`` and ``high``, falling to nothing over ``soft_low`` below and
    ``soft_high`` above; on the hue circle ``low`` is the middle and ``high`` how far to both sides. ``on`` is the
    choice that tells whether it counts.
    """

    axis: Literal["signal", "hue", "chroma", "lightness"]
    name: str
    low: str
    soft_low: str
    high: str
    soft_high: str
    on: str = ""


#: how a hand draws a part: by a drag from corner to corner or along its axis, point by point, along the path of a pen,
#: by strokes, by marks on a thing and its surround, or by a sample taken from the picture
Drawn: TypeAlias = Literal["", "corners", "axis", "points", "path", "strokes", "marks", "sample"]


@dataclass(frozen=True)
class PartDeclaration(Declaration):
    """A kind of part of a region.

    ``glyph`` is its mark, an SVG path in a frame of 18 × 13; ``drawn`` tells how a hand draws it, "" for what is not
    drawn; ``beads`` which handles its outline has, "" for none: *box* stands on x, y, width, height and turn, with
    ``roundness`` or ``corner`` where it has one, *axis* on x, y, angle and its feathers, *points* on its points.
    ``noun`` is what a new region of it is called; ``points`` tells whether its outline goes through points, ``handled``
    whether these may have Bézier handles; ``strokes`` whether it is brushed, ``samples`` whether colours are taken for
    it; ``slopes`` are what its wide control draws.
    """

    glyph: str = "M0 0h18v13H0z"
    drawn: Drawn = ""
    beads: Literal["", "box", "axis", "points"] = ""
    noun: str = ""
    points: bool = False
    handled: bool = False
    strokes: bool = False
    samples: bool = False
    slopes: tuple[Slope, ...] = ()
    says: str = ""

    def reference(self, to: Literal["region", "file"]) -> Reference | None:
        """Return the parameter that names another region, or a file, or None."""
        return next((p for p in self.parameters if isinstance(p, Reference) and p.to == to), None)
