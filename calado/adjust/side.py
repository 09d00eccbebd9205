"""What is done on one side of a region, as adjustments add to it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from calado.adjust.tone_lut import is_table, joined_settings
from calado.arrays import Planes, Settings

if TYPE_CHECKING:
    from calado.adjust.kind import RingPlan, SpatialPlan


@dataclass(frozen=True, eq=False)
class PointStep:
    """A compiled point adjustment, which changes a strip in place, with its settings."""

    into: Callable[[Planes, Settings], None]
    settings: Settings

    def run(self, planes: Planes) -> None:
        """Do it to planes, in place."""
        self.into(planes, self.settings)


@dataclass(frozen=True, eq=False)
class GuardStep:
    """A guard with its settings; ``of_source`` guards compare with the untouched picture."""

    into: Callable[[Planes, Planes, Settings], None]
    settings: Settings
    of_source: bool


@dataclass(frozen=True, eq=False)
class SidePlan:
    """What is done on one side of a region: stages in order, guards over them, rings over it all.

    A stage is a run of point steps, or one adjustment that looks around. ``clear`` is how much of the side becomes
    transparent.
    """

    stages: tuple[tuple[PointStep, ...] | SpatialPlan, ...] = ()
    guards: tuple[GuardStep, ...] = ()
    rings: tuple[RingPlan, ...] = ()
    clear: float = 0.0

    @property
    def acts(self) -> bool:
        """Whether anything is done on this side."""
        return bool(self.stages or self.rings or self.clear)

    @property
    def spatials(self) -> tuple[SpatialPlan, ...]:
        """The stages that look around, in order."""
        return tuple(stage for stage in self.stages if not isinstance(stage, tuple))


@dataclass
class SideBuilder:
    """Takes what adjustments do, in their order."""

    stages: list[tuple[PointStep, ...] | SpatialPlan] = field(default_factory=list)
    guards: list[GuardStep] = field(default_factory=list)
    rings: list[RingPlan] = field(default_factory=list)
    clear: float = 0.0

    def add_point(self, step: PointStep) -> None:
        """Add a step to the run of point steps; two tables in a row become one."""
        run = self.stages[-1] if self.stages else None
        if not isinstance(run, tuple):
            self.stages.append((step,))
            return
        *early, last = run
        if is_table(step.settings) and is_table(last.settings):
            step = PointStep(last.into, joined_settings(last.settings, step.settings))
        else:
            early.append(last)
        self.stages[-1] = (*early, step)

    def plan(self) -> SidePlan:
        """Return what was added."""
        return SidePlan(tuple(self.stages), tuple(self.guards), tuple(self.rings), self.clear)
