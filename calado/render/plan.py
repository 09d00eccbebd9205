"""From a sheet to the passes that the engine runs: what is off or neutral is left out, strength is applied."""

import json
from dataclasses import dataclass

from calado.adjust.kind import (
    ClearAdjustment,
    GuardAdjustment,
    Luts,
    PointAdjustment,
    RingAdjustment,
    RingPlan,
    Settings,
    SpatialPlan,
    no_luts,
)
from calado.adjust.registry import ADJUSTMENTS, Adjustment
from calado.adjust.tone_lut import is_table, joined_settings
from calado.colour.spaces import ColourSpace
from calado.region.resolved import ResolvedRegion
from calado.render.resolve import concealing, resolve
from calado.sheet.declare import Value, Values
from calado.sheet.models import Pass, Sheet, Treatment
from calado.sheet.sentence import Side
from calado.window import Window


@dataclass(frozen=True, eq=False)
class PointStep:
    """A compiled point adjustment with its settings."""

    adjustment: PointAdjustment
    settings: Settings


@dataclass(frozen=True, eq=False)
class GuardStep:
    """A guard with its settings; ``of_source`` guards compare with the untouched picture."""

    adjustment: GuardAdjustment
    settings: Settings
    of_source: bool


#: a run of point steps, or one adjustment that looks around
Stage = tuple[PointStep, ...] | SpatialPlan


@dataclass(frozen=True, eq=False)
class SidePlan:
    """What is done on one side of a region: stages in order, guards over them, rings over it all.

    ``clear`` is how much of the side becomes transparent.
    """

    stages: tuple[Stage, ...] = ()
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
        return tuple(stage for stage in self.stages if isinstance(stage, SpatialPlan))


@dataclass(frozen=True, eq=False)
class PassPlan:
    """A pass ready to run. ``key`` tells all that its result depends on, besides its input."""

    key: str
    where: ResolvedRegion | None
    inside: SidePlan
    outside: SidePlan
    mix: float

    @property
    def looks_around(self) -> bool:
        """Whether a pixel depends on its surroundings."""
        return bool(self.inside.spatials or self.outside.spatials)

    @property
    def of_source(self) -> bool:
        """Whether a guard of it compares with the untouched picture."""
        return any(guard.of_source for side in (self.inside, self.outside) for guard in side.guards)

    def reach(self, window: Window) -> int:
        """Return how many pixels around a window this pass reads."""
        return max(sum(plan.reach(window) for plan in side.spatials) for side in (self.inside, self.outside))


def plan_sheets(
    sheets: tuple[Sheet, ...],
    space: ColourSpace,
    exaggerate: str | None = None,
    luts: Luts = no_luts,
    stop: tuple[int, int] | None = None,
) -> tuple[PassPlan, ...]:
    """Return the passes of a shot's sheet, then of the project's, as plans.

    ``exaggerate`` is the id of a pass of the shot to be shown at four times its strength; ``luts`` gives imported
    tables; ``stop``, the numbers of a sheet and of a pass in it, ends the plans before that pass.
    """
    plans = []
    for number, sheet in enumerate(sheets):
        for count, each in enumerate(sheet.passes):
            if stop is not None and (number, count) >= stop:
                break
            factor = 4.0 if number == 0 and each.id == exaggerate else 1.0
            where = resolve(sheet, each.region, each.id, sheets[:number], sheets[number + 1 :])
            plan = _plan_pass(each, where, space, factor, luts)
            if plan is not None:
                plans.append(plan)
    return tuple(plans)


def plan_cover(each: Pass, side: Side, where: ResolvedRegion | None, space: ColourSpace, luts: Luts) -> PassPlan:
    """Return what conceals on one side of a pass as a pass of its own, at full strength."""
    treatment: Treatment = getattr(each, side)
    hiding = list(concealing(treatment))
    # what a whole solid lies over need not be made
    whole = [adjustment for adjustment in hiding if isinstance(adjustment, PointAdjustment)]
    alone = {adjustment.id: treatment[adjustment.id] for adjustment in whole[-1:] or hiding}
    strength = max(each.strength, 1.0)
    plan = _plan_side(alone, strength, True, space, luts)
    key = json.dumps([side, alone, strength, where.key if where else None], sort_keys=True)
    inside, outside = (plan, SidePlan()) if side == "inside" else (SidePlan(), plan)
    return PassPlan(key, where, inside, outside, 1.0)


def _plan_pass(
    each: Pass, where: ResolvedRegion | None, space: ColourSpace, factor: float, luts: Luts
) -> PassPlan | None:
    strength = each.strength * factor
    if not each.on or each.mix == 0 or strength == 0:
        return None
    inside = _plan_side(each.inside, strength, each.must_cover, space, luts)
    outside = SidePlan() if where is None else _plan_side(each.outside, strength, each.must_cover, space, luts)
    if not inside.acts and not outside.acts:
        return None
    depends = [each.inside, each.outside, strength, each.mix, each.must_cover, where.key if where else None]
    return PassPlan(json.dumps(depends, sort_keys=True), where, inside, outside, each.mix)


def _plan_side(treatment: Treatment, strength: float, holds: bool, space: ColourSpace, luts: Luts) -> SidePlan:
    stages: list[Stage] = []
    guards: list[GuardStep] = []
    rings: list[RingPlan] = []
    clear = 0.0
    for adjustment in _in_order(treatment):
        values = _scaled(adjustment, treatment[adjustment.id], strength, holds)
        if adjustment.is_neutral(values):
            continue
        if isinstance(adjustment, PointAdjustment):
            _join(stages, PointStep(adjustment, _settings(adjustment, values, space, luts)))
        elif isinstance(adjustment, GuardAdjustment):
            settings = adjustment.settings(values, space)
            guards.append(GuardStep(adjustment, settings, values.get("reads") == "source"))
        elif isinstance(adjustment, RingAdjustment):
            rings.append(adjustment.plan(values, space))
        elif isinstance(adjustment, ClearAdjustment):
            clear = adjustment.share(values)
        else:
            stages.append(adjustment.plan(values, space))
    return SidePlan(tuple(stages), tuple(guards), tuple(rings), clear)


def _scaled(adjustment: Adjustment, values: Values, strength: float, holds: bool) -> dict[str, Value]:
    """Return the values at a strength; of what conceals and must hold, never less than what is set."""
    if adjustment.holds is None or not holds or adjustment.is_neutral(values):
        return adjustment.scaled(values, strength)
    return {**adjustment.scaled(values, max(strength, 1.0)), **adjustment.holds}


def _settings(adjustment: PointAdjustment, values: Values, space: ColourSpace, luts: Luts) -> Settings:
    if adjustment.from_file is not None:
        return adjustment.from_file(values, space, luts)
    return adjustment.settings(values, space)


def _join(stages: list[Stage], step: PointStep) -> None:
    """Add a step to the run of point steps; two tables in a row become one."""
    if not stages or isinstance(stages[-1], SpatialPlan):
        stages.append((step,))
        return
    *early, last = stages[-1]
    if is_table(step.settings) and is_table(last.settings):
        joined = PointStep(last.adjustment, joined_settings(last.settings, step.settings))
        stages[-1] = (*early, joined)
    else:
        stages[-1] = (*early, last, step)


def _in_order(treatment: Treatment) -> list[Adjustment]:
    return [adjustment for id, adjustment in ADJUSTMENTS.items() if id in treatment]
