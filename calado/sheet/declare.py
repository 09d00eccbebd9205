"""Declarations: what an adjustment or a kind of part says about itself, once.

Schema, validation, faders, sentences and docs are all read from these. Kernels and mattes are added by the
subclasses in ``calado.adjust`` and ``calado.region``; nothing here computes a pixel.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Literal, TypeAlias

#: points (x, y) of a curve, x rising, both 0…1
CurvePoints: TypeAlias = tuple[tuple[float, ...], ...]
Value: TypeAlias = float | str | CurvePoints
Values: TypeAlias = Mapping[str, Value]

GROUPS = ("Light", "Colour", "Detail", "Blur", "Cover", "Texture", "Lens")


#: daylight of 6504 K, the white of sRGB, in mired
MIRED_OF_WHITE = 1e6 / 6504


class Unit(StrEnum):
    """How a number is stored and said."""

    STOPS = "EV"  # stored as stops
    SHARE = "share"  # stored as a fraction of 1, said in per cent
    LENGTH = "length"  # stored in picture heights, said in per cent of the height
    ACROSS = "across"  # a place from the left edge: stored in picture heights, said in per cent of the width
    ANGLE = "angle"  # stored in degrees, clockwise on screen
    MIRED = "mired"  # stored as a shift from daylight of 6504 K, said in kelvin
    DUV = "duv"  # stored and said as a distance in the CIE 1960 diagram
    FACTOR = "factor"  # stored and said as a plain factor or offset
    COUNT = "count"  # a whole number
    DELTA = "delta"  # a colour difference
    CHROMA = "chroma"  # of OKLCh, stored and said as it is


@dataclass(frozen=True)
class Number:
    """A numeric parameter.

    ``low`` and ``high`` are the ends of the fader; ``floor`` and ``ceiling`` are what may be typed.
    ``curve`` is ``"square"`` where small values need a finer touch.
    """

    id: str
    name: str
    unit: Unit
    neutral: float
    low: float
    high: float
    floor: float
    ceiling: float
    step: float
    word: str = ""
    curve: str = "linear"
    #: (choice, option): the number means something only while that choice has that option
    needs: tuple[str, str] | None = None
    #: whether a pass's strength scales it; a place or a colour has no strength
    scales: bool = True
    #: whether it is said, and its fader drawn, the other way round: where less is more
    turned: bool = False
    #: whether a rule stands before its fader: another kind of number begins
    apart: bool = False

    @property
    def signed(self) -> bool:
        """Whether a plus sign is said: the neutral value is 0 and both sides of it are allowed."""
        return self.neutral == 0 and self.floor < 0

    def scaled(self, value: float, strength: float) -> float:
        """Return ``value`` moved from neutral in proportion to ``strength``, within floor and ceiling."""
        if not self.scales:
            return value
        moved = self.neutral + (value - self.neutral) * strength
        return min(max(moved, self.floor), self.ceiling)


@dataclass(frozen=True)
class Option:
    """One choice: its id, its name in the tray and the words it adds to the sentence."""

    id: str
    name: str
    phrase: str = ""


@dataclass(frozen=True)
class Choice:
    """A parameter with a few named values; the first is the neutral one."""

    id: str
    name: str
    options: tuple[Option, ...]

    @property
    def neutral(self) -> str:
        """The id of the first option."""
        return self.options[0].id

    def option(self, id: str) -> Option:
        """Return the option called ``id``."""
        return next(option for option in self.options if option.id == id)


@dataclass(frozen=True)
class Reference:
    """A parameter that names something else: another region of the sheet, or a file by the hash of its content."""

    id: str
    name: str
    to: Literal["region", "file", "lut", "word"]
    neutral: str = ""
    #: whether its value is a name that the sentence says
    shown: bool = False


@dataclass(frozen=True)
class Curve:
    """A parameter that is a curve through points; none is the neutral one.

    ``usual`` are the points that stand for none, where that is not the straight line.
    """

    id: str
    name: str
    usual: CurvePoints = ((0.0, 0.0), (1.0, 1.0))
    neutral: CurvePoints = ()

    def points(self, value: Value) -> CurvePoints:
        """Return the points of a value, or the usual ones."""
        return value if isinstance(value, tuple) and value else self.usual


Parameter: TypeAlias = Number | Choice | Reference | Curve


@dataclass(frozen=True)
class Declaration:
    """What adjustments and parts have in common."""

    id: str
    name: str
    parameters: tuple[Parameter, ...]

    def parameter(self, id: str) -> Parameter | None:
        """Return the parameter called ``id``, or None."""
        return next((parameter for parameter in self.parameters if parameter.id == id), None)

    @property
    def numbers(self) -> tuple[Number, ...]:
        """The numeric parameters, in order."""
        return tuple(parameter for parameter in self.parameters if isinstance(parameter, Number))

    def complete(self, values: Values) -> dict[str, Value]:
        """Return ``values`` with the neutral value wherever nothing is said."""
        return {p.id: values.get(p.id, p.neutral) for p in self.parameters}

    def number(self, values: Values, id: str) -> float:
        """Return the number called ``id`` from ``values``, or its neutral value."""
        parameter = self.parameter(id)
        assert isinstance(parameter, Number)  # a mistake in a declaration, never in a sheet
        value = values.get(id, parameter.neutral)
        assert isinstance(value, int | float)  # checked when the sheet was read
        return float(value)

    def all_numbers(self, values: Values) -> dict[str, float]:
        """Return every number of ``values`` by its id, the neutral one where nothing is said."""
        return {number.id: self.number(values, number.id) for number in self.numbers}

    def curve(self, values: Values, id: str) -> CurvePoints:
        """Return the points of the curve called ``id``."""
        parameter = self.parameter(id)
        assert isinstance(parameter, Curve)
        return parameter.points(values.get(id, ()))


#: what an adjustment is for, where something else must know: *light* makes lighter or darker as a whole, *shadows*
#: keeps the dark legible, *curve* is a curve through points, *blur* softens (*sized*: by a radius), *stark* is often
#: meant to end hard, *plain* lets nothing through, *cells* shows cells of one colour, *gone* leaves nothing of the
#: picture, *clear* makes it transparent
Role: TypeAlias = Literal["light", "shadows", "curve", "blur", "sized", "stark", "plain", "cells", "gone", "clear"]


@dataclass(frozen=True)
class AdjustmentDeclaration(Declaration):
    """An adjustment of a treatment.

    ``switch`` tells what makes it act: a *first* parameter that is not neutral, or *any* number that has a strength.
    ``control`` names a special control that the web has for it; ``wide`` ones take the whole tray when in hand.
    """

    group: str = "Light"
    space: str = "linear"
    synonyms: tuple[str, ...] = ()
    says: str = ""
    #: whether it means nothing on the whole picture
    of_a_region: bool = False
    switch: Literal["first", "any"] = "first"
    control: str = ""
    wide: bool = False
    #: what it begins with when it is started by itself; nothing: a quarter of its fader's way
    begins: Mapping[str, Value] = field(default_factory=dict)
    #: the side on which it is most often wanted
    side: Literal["inside", "outside"] = "inside"
    #: for one that conceals: the values at which it holds, whatever is set; None: it conceals nothing
    holds: Mapping[str, Value] | None = None
    #: for one that takes pixels to other places: its numbers for the circle in which it does (across, down, radius)
    moves: tuple[str, str, str] | None = None
    roles: tuple[Role, ...] = ()

    def is_neutral(self, values: Values) -> bool:
        """Whether these values change nothing, hence are not written in the sentence."""
        deciding = self.parameters[:1] if self.switch == "first" else [n for n in self.numbers if n.scales]
        return all(values.get(each.id, each.neutral) == each.neutral for each in deciding)

    def scaled(self, values: Values, strength: float) -> dict[str, Value]:
        """Return the complete values with each number scaled about its neutral value."""
        complete = self.complete(values)
        for number in self.numbers:
            complete[number.id] = number.scaled(self.number(values, number.id), strength)
        return complete


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


@dataclass(frozen=True)
class Catalogue:
    """All declarations, in the order in which treatments are applied and words are said."""

    adjustments: Mapping[str, AdjustmentDeclaration] = field(default_factory=dict)
    parts: Mapping[str, PartDeclaration] = field(default_factory=dict)
    #: what may be done to a finished matte, in the order in which it is done
    refine: Declaration = field(default_factory=lambda: Declaration("refine", "Refine", ()))
