"""From a sheet to the passes that the engine runs: what is off or neutral is left out, strength is applied."""

import json
from dataclasses import dataclass

from calado.adjust.kind import Luts, PointAdjustment, no_luts
from calado.adjust.registry import ADJUSTMENTS, Adjustment
from calado.adjust.side import SideBuilder, SidePlan
from calado.colour.spaces import ColourSpace
from calado.region.extent import part_within
from calado.region.resolved import ResolvedRegion
from calado.region.solve.foreground import AROUND
from calado.render.resolve import concealing, resolve
from calado.sheet.declare import Value, Values
from calado.sheet.models import Pass, Sheet, Treatment
from calado.sheet.sentence import Side
from calado.window import Window


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

    def parts(self, side: SidePlan) -> bool:
        """Whether a side works on its own colours: it blurs, beside an edge that was solved, and covers nothing."""
        if self.where is None or not self.where.solved or self.where.cover is not None:
            return False
        return any(plan.parted for plan in side.spatials) and all(plan.grade == "mix" for plan in side.spatials)

    def rows(self, window: Window) -> tuple[int, int] | None:
        """Return the rows of a window, from the first to the last, not included, in which its inside can be anything.

        None: in all of them.
        """
        if self.where is None:
            return None
        inner = part_within(self.where.region, window)
        return (inner.top - window.top, inner.top - window.top + inner.height) if inner else (0, 0)

    def within(self, window: Window) -> Window | None:
        """Return the part of a window outside of which it changes nothing; None: it changes nothing in all of it."""
        return window if self.where is None or self.outside.acts else part_within(self.where.region, window)

    def reach(self, window: Window) -> int:
        """Return how many pixels around a window this pass reads."""
        sides = (self.inside, self.outside)
        return max(sum(plan.reach(window) for plan in side.spatials) + AROUND * self.parts(side) for side in sides)


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
    side = SideBuilder()
    for adjustment in _in_order(treatment):
        values = _scaled(adjustment, treatment[adjustment.id], strength, holds)
        if not adjustment.is_neutral(values):
            adjustment.add_to(side, values, space, luts)
    return side.plan()


def _scaled(adjustment: Adjustment, values: Values, strength: float, holds: bool) -> dict[str, Value]:
    """Return the values at a strength; of what conceals and must hold, never less than what is set."""
    if adjustment.holds is None or not holds or adjustment.is_neutral(values):
        return adjustment.scaled(values, strength)
    return {**adjustment.scaled(values, max(strength, 1.0)), **adjustment.holds}


def _in_order(treatment: Treatment) -> list[Adjustment]:
    return [adjustment for id, adjustment in ADJUSTMENTS.items() if id in treatment]
