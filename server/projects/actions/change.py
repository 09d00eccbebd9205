"""Changing a sheet: a step, an undo, a redo, the return to a snapshot. Each is one transaction and one revision."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, TypeAlias

from django.db import transaction

from calado.catalogue import CATALOGUE
from calado.sheet.check import read_sheet
from calado.sheet.models import Sheet
from calado.sheet.steps import Patch, apply_step, sheet_data, step_between
from server.projects.errors import Missing, MovedOn, NothingTo, Stale
from server.projects.models import Project, Revision, Shot, Snapshot

#: a project's sheet before and after a change
Common: TypeAlias = list[dict[str, Any]]


@dataclass(frozen=True)
class Change:
    """What the next revision will be."""

    sheet: Sheet
    label: str
    undo_to: int | None
    redo_to: int | None
    #: what the change did to the project's sheet, (before, after), if anything
    common: Common | None = None


def head_of(shot: Shot) -> Revision:
    """Return the newest revision of a shot."""
    return Revision.objects.get(shot=shot, number=shot.head)


def sheet_of(revision: Revision) -> Sheet:
    """Return the sheet of a revision."""
    return read_sheet(revision.sheet, CATALOGUE)


def begin(shot: Shot, sheet: Sheet, label: str) -> None:
    """Write the first revision of a new shot."""
    Revision.objects.create(shot=shot, number=0, sheet=sheet_data(sheet), label=label)


def take_step(shot: Shot, seen: int, patch: Patch, label: str, common: Common | None = None) -> Revision:
    """Apply a step to the newest revision; ``common`` is what it does to the project's sheet.

    Raises
    ------
    Stale
        when ``seen`` is not the newest.
    SheetError
        when the step does not fit or leads to a bad sheet.
    """

    def change(head: Revision) -> Change:
        _move_common(shot, common, back=False)
        return Change(apply_step(sheet_of(head), patch, CATALOGUE), label, head.number, None, common)

    return _advance(shot, seen, change)


def undo(shot: Shot, seen: int) -> Revision:
    """Go back to what stood before the newest change."""

    def change(head: Revision) -> Change:
        if head.undo_to is None:
            raise NothingTo("undo")
        target = Revision.objects.get(shot=shot, number=head.undo_to)
        _move_common(shot, head.common, back=True)
        return Change(sheet_of(target), target.label, target.undo_to, head.number, target.common)

    return _advance(shot, seen, change)


def redo(shot: Shot, seen: int) -> Revision:
    """Bring back what the newest undo took away."""

    def change(head: Revision) -> Change:
        if head.redo_to is None:
            raise NothingTo("redo")
        target = Revision.objects.get(shot=shot, number=head.redo_to)
        _move_common(shot, target.common, back=False)
        return Change(sheet_of(target), target.label, head.number, target.redo_to, target.common)

    return _advance(shot, seen, change)


def return_to(shot: Shot, seen: int, snapshot: int) -> Revision:
    """Make a snapshot's sheet the newest one, as a step that can be undone."""

    def change(head: Revision) -> Change:
        kept = Snapshot.objects.filter(shot=shot, id=snapshot).first()
        if kept is None:
            raise Missing("snapshot")
        target = Revision.objects.get(shot=shot, number=kept.number)
        return Change(sheet_of(target), f"return to “{kept.name}”"[:120], head.number, None)

    return _advance(shot, seen, change)


def _move_common(shot: Shot, common: Common | None, *, back: bool) -> None:
    """Take the project's sheet along, from before to after or back.

    Raises
    ------
    MovedOn
        when somebody has changed it since.
    """
    if common is None:
        return
    expected, wanted = reversed(common) if back else common
    project = Project.objects.select_for_update().get(id=shot.project_id)
    if project.sheet != expected:
        raise MovedOn
    project.sheet = wanted
    project.save(update_fields=["sheet"])


def _advance(shot: Shot, seen: int, change: Callable[[Revision], Change]) -> Revision:
    """Write the next revision; the database is locked for writing from the first line to the last."""
    with transaction.atomic():
        shot.refresh_from_db(fields=["head"])
        if seen != shot.head:
            raise Stale(seen, shot.head)
        head = head_of(shot)
        new = change(head)
        revision = Revision.objects.create(
            shot=shot,
            number=head.number + 1,
            sheet=sheet_data(new.sheet),
            step=step_between(sheet_of(head), new.sheet),
            label=new.label,
            undo_to=new.undo_to,
            redo_to=new.redo_to,
            common=new.common,
        )
        shot.head = revision.number
        shot.save(update_fields=["head"])
    return revision
