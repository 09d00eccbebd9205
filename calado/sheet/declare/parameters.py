"""Parameters: a number, a choice, a name of something else, a curve."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Literal, TypeAlias

#: points (x, y) of a curve, x rising, both 0…1
CurvePoints: TypeAlias = tuple[tuple[float, ...], ...]
Value: TypeAlias = float | str | CurvePoints
Values: TypeAlias = Mapping[str, Value]

#: daylight of 6504 K, the white of sRGB, in mired
MIRED_OF_WHITE = 1e6 / 6504


class Unit(StrEnum):
    """How a number is stored and said."""

    STOPS = "EV"  # stored as stops
    SHARE = "share"  # stored as a fraction of 1, said in per cent
    LENGTH = "length"  # stored in picture heights, said in per cent of the height
    ACROSS = "across"  # a place from the left edge: stored in picture heights, said in per cent of the width
    ANGLE = "angle"  # stored in degrees, clockwise on screen
    MIRED = "mired"  # stored as a shift from daylight of 6504 K, warmer above 0, said in kelvin balanced for
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
    #: (choice, options …): the number means something only while that choice has one of those
    needs: tuple[str, ...] | None = None
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
