"""From a sheet to the passes that the engine runs: what is off or neutral is left out, strength is applied."""

import json
from dataclasses import dataclass

from calado.adjust.kind import PointAdjustment, RingAdjustment, RingPlan, Settings, Softening
from calado.adjust.registry import ADJUSTMENTS, Adjustment
from calado.colour.spaces import ColourSpace
from calado.region.where import Where, where_of
from calado.sheet.models import Pass, Sheet, Treatment


@dataclass(frozen=True, eq=False)
class PointStep:
    """A compiled point adjustment with its settings."""

    adjustment: PointAdjustment
    settings: Settings


@dataclass(frozen=True, eq=False)
class SidePlan:
    """What is done on one side of a region: point steps, a softening, point steps, rings over it all."""

    before: tuple[PointStep, ...] = ()
    soft: Softening | None = None
    after: tuple[PointStep, ...] = ()
    rings: tuple[RingPlan, ...] = ()

    @property
    def acts(self) -> bool:
        """Whether anything is done on this side."""
        return bool(self.before or self.soft or self.after or self.rings)


@dataclass(frozen=True, eq=False)
class PassPlan:
    """A pass ready to run. ``key`` tells all that its result depends on, besides its input."""

    key: str
    where: Where | None
    inside: SidePlan
    outside: SidePlan
    mix: float

    @property
    def softenings(self) -> tuple[Softening, ...]:
        """The softenings of both sides."""
        return tuple(side.soft for side in (self.inside, self.outside) if side.soft)

    @property
    def reach(self) -> float:
        """How far a pixel of this pass looks, in picture heights."""
        return max((soft.reach for soft in self.softenings), default=0.0)


def plan_sheets(sheets: tuple[Sheet, ...], space: ColourSpace, exaggerate: str | None = None) -> tuple[PassPlan, ...]:
    """Return the passes of a shot's sheet, then of the project's, as plans.

    ``exaggerate`` is the id of a pass to be shown at four times its strength.
    """
    plans = []
    for sheet in sheets:
        for each in sheet.passes:
            plan = _plan_pass(each, sheet, space, 4.0 if each.id == exaggerate else 1.0)
            if plan is not None:
                plans.append(plan)
    return tuple(plans)


def _plan_pass(each: Pass, sheet: Sheet, space: ColourSpace, factor: float) -> PassPlan | None:
    strength = each.strength * factor
    if not each.on or each.mix == 0 or strength == 0:
        return None
    where = where_of(sheet, each.region)
    inside = _plan_side(each.inside, strength, space)
    outside = SidePlan() if where is None else _plan_side(each.outside, strength, space)
    if not inside.acts and not outside.acts:
        return None
    depends = [each.inside, each.outside, strength, each.mix, where.key if where else None]
    return PassPlan(json.dumps(depends, sort_keys=True), where, inside, outside, each.mix)


def _plan_side(treatment: Treatment, strength: float, space: ColourSpace) -> SidePlan:
    before: list[PointStep] = []
    after: list[PointStep] = []
    soft: Softening | None = None
    rings: list[RingPlan] = []
    for adjustment in _in_order(treatment):
        values = adjustment.scaled(treatment[adjustment.id], strength)
        if adjustment.is_neutral(values):
            continue
        if isinstance(adjustment, PointAdjustment):
            (after if soft else before).append(PointStep(adjustment, adjustment.settings(values, space)))
        elif isinstance(adjustment, RingAdjustment):
            rings.append(adjustment.plan(values, space))
        else:
            soft = adjustment.plan(values)
    return SidePlan(tuple(before), soft, tuple(after), tuple(rings))


def _in_order(treatment: Treatment) -> list[Adjustment]:
    return [adjustment for id, adjustment in ADJUSTMENTS.items() if id in treatment]
