"""What an adjustment must bring besides its declaration.

A *point* adjustment changes each pixel by itself: its kernel runs in place over a contiguous strip of planes, shape
(3, rows, W), float32, linear light. A *spatial* one looks around and says how far (its *reach*). A *guard* comes last
and holds back what the others did, by what stood there before. A *ring* is a line, a *cut* takes the picture away.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any, Literal, Protocol

import numpy as np

from calado.adjust.side import GuardStep, PointStep, SideBuilder
from calado.adjust.stats import PictureStats
from calado.adjust.tone_lut import channels_into, is_table
from calado.arrays import Matte, Planes, Settings
from calado.colour.spaces import ColourSpace
from calado.sheet.declare import AdjustmentDeclaration, Values
from calado.sheet.models import UNMOVED, Anchor
from calado.window import Window

#: gives the content of an imported table by its hash
Luts = Callable[[str], Any]
Grade = Literal["mix", "radius", "distance"]


def no_luts(digest: str) -> Any:
    """Return nothing: there are no imported tables here."""
    raise KeyError(digest)


@dataclass(frozen=True)
class PointAdjustment(AdjustmentDeclaration):
    """A point adjustment.

    ``settings(values, space)`` turns values into the numbers of the kernel, contiguous float32;
    ``into(planes, settings)`` is a compiled kernel that changes a strip in place; settings that are one table a channel
    are read by the one that all such adjustments share.
    """

    settings: Callable[[Values, ColourSpace], Settings] = lambda values, space: np.zeros(0, np.float32)
    into: Callable[[Planes, Settings], None] = lambda planes, settings: None
    #: in place of ``settings`` where an imported table is read
    from_file: Callable[[Values, ColourSpace, Luts], Settings] | None = None

    def add_to(self, side: SideBuilder, values: Values, space: ColourSpace, luts: Luts) -> None:
        """Add what these values do to a side."""
        made = self.settings(values, space) if self.from_file is None else self.from_file(values, space, luts)
        side.add_point(self.step(made))

    def step(self, settings: Settings) -> PointStep:
        """Return what is done by a kernel's numbers."""
        return PointStep(channels_into if is_table(settings) else self.into, settings)


@dataclass(frozen=True)
class GuardAdjustment(AdjustmentDeclaration):
    """Holds back what a side's other adjustments did: ``into(treated, before, settings)`` changes ``treated``."""

    settings: Callable[[Values, ColourSpace], Settings] = lambda values, space: np.zeros(0, np.float32)
    into: Callable[[Planes, Planes, Settings], None] = lambda treated, before, settings: None

    def add_to(self, side: SideBuilder, values: Values, space: ColourSpace, luts: Luts) -> None:
        """Add what these values do to a side."""
        side.guards.append(GuardStep(self.into, self.settings(values, space), values.get("reads") == "source"))


@dataclass(frozen=True, eq=False)
class SpatialContext:
    """Where a spatial adjustment runs: one side of a region (``matte`` None: the whole picture), in a window.

    ``secret`` seeds noise that must not be guessed; ``anchor`` tells where the region's own frame of reference lies, in
    which what conceals stands still.
    """

    matte: Matte | None
    outside: bool
    window: Window
    space: ColourSpace
    stats: PictureStats
    secret: int = 0
    anchor: Anchor = UNMOVED

    @cached_property
    def weight(self) -> Matte | None:
        """How much each pixel belongs to this side, shape (H, W), or None where all belong to it."""
        if self.matte is None or not self.outside:
            return self.matte
        return np.float32(1) - self.matte


class Rows(Protocol):
    """A picture whose rows are made when they are wanted."""

    def rows_into(self, first: int, last: int, column: int, out: Planes) -> None:
        """Fill ``out``, shape (3, last − first, n), with the rows of the window from ``column`` on."""


@dataclass(frozen=True, eq=False)
class Composited:
    """A finished picture, shape (3, H, W), as rows."""

    planes: Planes

    def rows_into(self, first: int, last: int, column: int, out: Planes) -> None:
        """Fill ``out``, shape (3, last − first, n), with the rows of the window from ``column`` on."""
        out[:] = self.planes[:, first:last, column : column + out.shape[2]]


@dataclass(frozen=True, eq=False)
class SpatialPlan:
    """What a spatial adjustment does with its values.

    ``run(planes, at, share)`` returns the picture with ``share`` of the full radius; ``reach`` tells how many pixels
    around a window it reads. ``grade`` tells how a blur meets the other side; by *distance* it grows with the distance
    from the level ``contact``, and is whole at ``span`` picture heights from it. ``sigma`` is a blur's standard
    deviation, in picture heights; ``parted`` asks for the side's own colours where those of both sides can be parted.
    """

    run: Callable[[Planes, SpatialContext, float], Rows]
    reach: Callable[[Window], int]
    grade: Grade = "mix"
    contact: float = 0.0
    span: float = 1.0
    sigma: float = 0.0
    parted: bool = False


@dataclass(frozen=True)
class SpatialAdjustment(AdjustmentDeclaration):
    """An adjustment that looks around; ``plan`` says what the engine has to do."""

    plan: Callable[[Values, ColourSpace], SpatialPlan] = lambda values, space: SpatialPlan(
        lambda planes, at, share: Composited(planes), lambda window: 0
    )

    def add_to(self, side: SideBuilder, values: Values, space: ColourSpace, luts: Luts) -> None:
        """Add what these values do to a side."""
        side.stages.append(replace(self.plan(values, space), parted="blur" in self.roles))


@dataclass(frozen=True)
class RingPlan:
    """A line at ``offset`` outside of a region's outline, ``width`` wide, lengths in picture heights; no dash: whole.

    ``light`` is its colour in the picture's linear light.
    """

    offset: float
    width: float
    dash: float
    light: tuple[float, float, float]


@dataclass(frozen=True)
class RingAdjustment(AdjustmentDeclaration):
    """A line along a region's outline; ``plan`` says which."""

    plan: Callable[[Values, ColourSpace], RingPlan] = lambda values, space: RingPlan(0.0, 0.0, 0.0, (1.0, 1.0, 1.0))

    def add_to(self, side: SideBuilder, values: Values, space: ColourSpace, luts: Luts) -> None:
        """Add what these values do to a side."""
        side.rings.append(self.plan(values, space))


@dataclass(frozen=True)
class ClearAdjustment(AdjustmentDeclaration):
    """Takes a side away from the picture; ``share`` tells how much of it becomes transparent, 0…1."""

    share: Callable[[Values], float] = lambda values: 0.0

    def add_to(self, side: SideBuilder, values: Values, space: ColourSpace, luts: Luts) -> None:
        """Add what these values do to a side."""
        side.clear = self.share(values)


def numbers(*values: Any) -> Settings:
    """Return contiguous float32 settings (a Python scalar would compile a new specialisation)."""
    return np.concatenate([np.ravel(np.asarray(value, np.float32)) for value in values] or [np.zeros(0, np.float32)])
