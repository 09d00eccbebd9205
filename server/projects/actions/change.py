"""Changing a sheet: a step, an undo, a redo, the return to a snapshot. Each is one revision, shortly written."""

from dataclasses import dataclass
from typing import Any, TypeAlias

from django.db import transaction

from calado.catalogue import CATALOGUE
from calado.errors import SheetError
from calado.sheet.models import Sheet
from calado.sheet.steps import NO_STEP, Step, apply_step
from server.projects.errors import Missing, MovedOn, NothingTo, Stale
from server.projects.history import hold, sheet_at, standing
from server.projects.models import Project, Revision, Shot, Snapshot

#: a project's sheet before and after a change
Common: TypeAlias = list[dict[str, Any]]


@dataclass(frozen=True)
class Change:
    """What the next revision will be: its sheet, made by a step on a revision."""

    base: Revision
    step: Step
    sheet: Sheet
    label: str
    undo_to: int | None
    redo_to: int | None
    #: what the change did to the project's sheet, (before, after), if anything
    common: Common | None = None
    #: what it now does to that
    moves: Common | None = None


def head_of(shot: Shot) -> Revision:
    """Return the newest revision of a shot."""
    return _revision(shot, shot.head)


def sheet_of(revision: Revision) -> Sheet:
    """Return the sheet of a revision."""
    return sheet_at(revision.shot_id, revision.number)


def begin(shot: Shot, sheet: Sheet, label: str) -> None:
    """Write the first revision of a new shot."""
    Revision.objects.create(shot=shot, number=0, label=label, **standing(None, sheet, NO_STEP))


def take_step(shot: Shot, seen: int, step: Step, label: str, common: Common | None = None) -> Revision:
    """Apply a step to the newest revision; ``common`` is what it does to the project's sheet.

    Raises
    ------
    Stale
        when ``seen`` is not the newest.
    SheetError
        when the step does not fit or leads to a bad sheet.
    """
    try:
        head = _seen(shot, seen)
        sheet = apply_step(sheet_of(head), step, CATALOGUE)
        return _advance(shot, head, Change(head, step, sheet, label, head.number, None, common, common))
    except Stale as stale:
        raise Stale(seen, stale.newest, *_both(shot, seen, step)) from stale


def undo(shot: Shot, seen: int) -> Revision:
    """Go back to what stood before the newest change."""
    head = _seen(shot, seen)
    if head.undo_to is None:
        raise NothingTo("undo")
    target = _revision(shot, head.undo_to)
    moves = head.common and [*reversed(head.common)]
    return _advance(shot, head, _as(target, target.label, target.undo_to, head.number, target.common, moves))


def redo(shot: Shot, seen: int) -> Revision:
    """Bring back what the newest undo took away."""
    head = _seen(shot, seen)
    if head.redo_to is None:
        raise NothingTo("redo")
    target = _revision(shot, head.redo_to)
    return _advance(shot, head, _as(target, target.label, head.number, target.redo_to, target.common, target.common))


def return_to(shot: Shot, seen: int, snapshot: int) -> Revision:
    """Make a snapshot's sheet the newest one, as a step that can be undone."""
    head = _seen(shot, seen)
    kept = Snapshot.objects.filter(shot=shot, id=snapshot).first()
    if kept is None:
        raise Missing("snapshot")
    target = _revision(shot, kept.number)
    return _advance(shot, head, _as(target, f"return to “{kept.name}”"[:120], head.number, None))


def _as(
    target: Revision,
    label: str,
    undo_to: int | None,
    redo_to: int | None,
    common: Common | None = None,
    moves: Common | None = None,
) -> Change:
    """Return the change that makes the sheet what it was at a revision."""
    return Change(target, NO_STEP, sheet_of(target), label, undo_to, redo_to, common, moves)


def _revision(shot: Shot, number: int) -> Revision:
    return Revision.objects.defer("kept", "step").get(shot=shot, number=number)


def _both(shot: Shot, seen: int, step: Step) -> tuple[Sheet, Sheet | None]:
    """Return the newest sheet, and what a step would make of the one that was seen, if that can still be told."""
    try:
        yours = apply_step(sheet_at(shot.id, seen), step, CATALOGUE)
    except (Revision.DoesNotExist, SheetError):
        yours = None
    return sheet_of(head_of(shot)), yours


def _seen(shot: Shot, seen: int) -> Revision:
    shot.refresh_from_db(fields=["head"])
    if seen != shot.head:
        raise Stale(seen, shot.head)
    return head_of(shot)


def _move_common(shot: Shot, common: Common | None) -> None:
    """Take the project's sheet along, from before to after.

    Raises
    ------
    MovedOn
        when somebody has changed it since.
    """
    if common is None:
        return
    expected, wanted = common
    project = Project.objects.select_for_update().get(id=shot.project_id)
    if project.sheet != expected:
        raise MovedOn
    project.sheet = wanted
    project.save(update_fields=["sheet"])


def _advance(shot: Shot, head: Revision, new: Change) -> Revision:
    """Write the next revision. All is made before the database is locked for writing: it is locked for two rows."""
    fields = standing(new.base, new.sheet, new.step)
    with transaction.atomic():
        number = head.number + 1
        if not Shot.objects.filter(id=shot.id, head=head.number).update(head=number):
            shot.refresh_from_db(fields=["head"])
            raise Stale(head.number, shot.head)
        if not Revision.objects.filter(shot=shot, number=new.base.number).exists():
            raise Missing("revision")
        _move_common(shot, new.moves)
        revision = Revision.objects.create(
            shot=shot,
            number=number,
            label=new.label,
            undo_to=new.undo_to,
            redo_to=new.redo_to,
            common=new.common,
            **fields,
        )
    shot.head = number
    hold(revision, new.sheet)
    return revision
