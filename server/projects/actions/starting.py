"""A pass begun on several shots at once, its values read from each; vignettes brought to one level."""

from dataclasses import dataclass

from calado.catalogue import CATALOGUE
from calado.edit.create import start_pass
from calado.render.engine import Order
from calado.sheet.check import check_sheet, read_sheet
from calado.sheet.models import Pass, Sheet
from calado.sheet.numbers import MINUS, SPACE
from calado.sheet.steps import step_between
from calado.start.analysis import analyse
from calado.start.level import Level, levelled, vignette_of, with_amount
from server.bench.sources import ENGINE, as_shown, source_for
from server.projects.actions.change import head_of, sheet_of, take_step
from server.projects.errors import Stale
from server.projects.models import Shot

#: a shot that is changed in this very moment is tried so often
TRIES = 5
VIGNETTE = "vignette"
#: a vignette weaker than this shows nothing
LEAST = -0.05


@dataclass(frozen=True)
class Begun:
    """What was done to a shot, in words; ``changed`` tells whether there is a step to take back."""

    shot: str
    says: str
    changed: bool


def start_on(starter: str, level: float | None, shots: list[Shot]) -> list[Begun]:
    """Begin a starter's pass on each shot as one step that can be undone.

    With a ``level``, stops at the corners, a vignette is brought to it, its own falloff included; one that is there
    already is changed instead of a second begun.

    Raises
    ------
    SheetError
        when there is no such starter, or a shot has no room for another pass; shots before it keep theirs.
    """
    return [_begin(starter, level, shot) for shot in shots]


def _begin(starter: str, level: float | None, shot: Shot) -> Begun:
    for last in (False,) * (TRIES - 1) + (True,):
        shot.refresh_from_db(fields=["head"])
        before = sheet_of(head_of(shot))
        after, says = _begun(starter, level, shot, before)
        if after == before:
            return Begun(shot.id, says, changed=False)
        check_sheet(after, CATALOGUE)
        try:
            take_step(shot, shot.head, step_between(before, after), says[:120])
        except Stale:
            if last:
                raise
        else:
            break
    return Begun(shot.id, says, changed=True)


def _begun(starter: str, level: float | None, shot: Shot, before: Sheet) -> tuple[Sheet, str]:
    source = source_for(shot)
    if starter != VIGNETTE:
        level = None
    there = vignette_of(ENGINE, source, as_shown(shot, before)) if level is not None else None
    after, id = (before, there.id) if there else start_pass(before, starter, analyse(ENGINE, source))
    made = next(each for each in after.passes if each.id == id)
    if level is None:
        return after, made.name
    common = as_shown(shot, read_sheet(shot.project.sheet, CATALOGUE))
    amount, reached = levelled(ENGINE, source, Order(as_shown(shot, after), common), id, level)
    after = _without(before, there) if amount > LEAST else with_amount(after, id, amount)
    return after, _said(amount, reached)


def _without(sheet: Sheet, there: Pass | None) -> Sheet:
    """Return a sheet whose vignette, if it has one, does nothing any more."""
    return with_amount(sheet, there.id, 0.0) if there else sheet


def ev(stops: float) -> str:
    """Return stops at the corners as they are said."""
    return f"{MINUS if stops < 0 else ''}{abs(stops):.1f}{SPACE}EV"


def _said(amount: float, reached: Level) -> str:
    own = "" if reached.own is None else f", {ev(reached.own)} of them its own"
    if amount > LEAST:
        return f"corners at {ev(reached.total)} by themselves: no vignette added"
    return f"corners at {ev(reached.total)}{own}"
