"""What a starter is, and the places it puts its regions."""

from collections.abc import Callable
from dataclasses import dataclass, field
from math import sqrt

from calado.sheet.declare import Value
from calado.sheet.models import Part, Region, Treatment
from calado.start.analysis import Oval, PictureAnalysis

Values = dict[str, Value]


@dataclass(frozen=True)
class Made:
    """What a starter makes for a picture: parts of a region (none: the whole picture), treatments, how much."""

    parts: tuple[Part, ...] = ()
    inside: Treatment = field(default_factory=dict)
    outside: Treatment = field(default_factory=dict)
    refine: Values = field(default_factory=dict)
    mix: float = 1.0


@dataclass(frozen=True)
class Starter:
    """A purpose, told in a sentence; ``make`` reads the picture at hand and returns a region and treatments.

    ``asked``: it shows where it is searched for, and not among those that are offered to begin with.
    """

    id: str
    name: str
    says: str
    synonyms: tuple[str, ...]
    region_name: str
    make: Callable[[PictureAnalysis], Made]
    asked: bool = False

    def region(self, made: Made) -> Region | None:
        """Return the region of what was made, or None for the whole picture."""
        if not made.parts:
            return None
        return Region(id="region", name=self.region_name, parts=made.parts, refine=made.refine)


def part(kind: str, number: int = 1, **values: Value) -> Part:
    """Return a part with its numbers rounded to what is worth keeping."""
    rounded = {id: round(value, 4) if isinstance(value, float) else value for id, value in values.items()}
    return Part(id=f"part-{number}", kind=kind, values=rounded)


def frame_oval(aspect: float) -> Part:
    """Return an ellipse at 88 % of the frame, with a wide feather.

    The feather reaches from well inside to just beyond the corners, whose distance follows from the frame: the corner
    of a frame lies √2 times the inscribed ellipse's radius away (common practice, no source for 88 %).
    """
    share = 0.88
    corner = sqrt((aspect / 2) ** 2 + 0.25) - share * 0.5 * (aspect + 1) / 2
    return part(
        "ellipse",
        x=aspect / 2,
        y=0.5,
        width=share * aspect,
        height=share,
        feather_in=0.2,
        feather_out=max(corner, 0.12),
    )


def oval_part(oval: Oval, feather: tuple[float, float], number: int = 1, *, grown: float = 1.0) -> Part:
    """Return an ellipse part over an oval that was read, ``grown`` times its size, with feathers (inward, outward)."""
    return part(
        "ellipse",
        number,
        x=oval.x,
        y=oval.y,
        width=min(max(oval.width * grown, 0.05), 3.0),
        height=min(max(oval.height * grown, 0.05), 2.0),
        turn=oval.angle,
        feather_in=feather[0],
        feather_out=feather[1],
    )
