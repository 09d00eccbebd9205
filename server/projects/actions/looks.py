"""Looks: kept, found, laid on shots; and passes moved between a shot and its project."""

from collections.abc import Iterable, Mapping

from django.db import transaction

from calado.catalogue import CATALOGUE
from calado.edit.looks import Look as Taken
from calado.edit.looks import apply_look, read_look, take_look
from calado.sheet.check import read_sheet
from calado.sheet.models import Sheet
from calado.sheet.steps import sheet_data, step_between
from server.projects.actions.change import head_of, sheet_of, take_step
from server.projects.errors import Missing, MovedOn, NothingTo, Stale
from server.projects.models import Look, Project, Revision, Shot


def aspect_of(shot: Shot) -> float:
    """Return a shot's width in its heights."""
    return shot.width / shot.height


def look_called(id: str) -> Taken:
    """Return a kept look.

    Raises
    ------
    Missing
        when there is none of this id.
    """
    found = Look.objects.filter(id=id).first()
    if found is None:
        raise Missing("look")
    return read_look(found.data)


def keep_look(look: Taken) -> Look:
    """Keep a look under its name."""
    return Look.objects.create(name=look.name, data=look.model_dump(mode="json"))


#: a shot that is changed in this very moment is tried so often
TRIES = 5


def lay_on(look: Taken, shots: Iterable[Shot]) -> list[str]:
    """Lay a look on each shot as one step that can be undone; return the shots' names.

    It is tried on all before any is changed; then each is a short write of its own, so that nobody waits for them all.

    Raises
    ------
    SheetError
        when it can't be laid on one of them; then none has it.
    """
    targets = list(shots)
    for shot in targets:
        apply_look(sheet_of(head_of(shot)), look, aspect_of(shot))
    for shot in targets:
        _lay(look, shot)
    return [shot.name for shot in targets]


def _lay(look: Taken, shot: Shot) -> None:
    for last in (False,) * (TRIES - 1) + (True,):
        shot.refresh_from_db(fields=["head"])
        before = sheet_of(head_of(shot))
        after, _ = apply_look(before, look, aspect_of(shot))
        try:
            take_step(shot, shot.head, step_between(before, after), f"look “{look.name}”"[:120])
        except Stale:
            if last:
                raise
        else:
            return


def to_project(shot: Shot, seen: int, pass_id: str) -> Revision:
    """Move a pass from a shot to the end of its project's passes, which run on every shot."""
    project = Project.objects.get(id=shot.project_id)
    before = sheet_of(head_of(shot))
    look = take_look(before, (pass_id,), "pass", aspect_of(shot))
    laid, _ = apply_look(project_sheet(project), look, aspect_of(shot))
    name = look.sheet.passes[0].name
    step = step_between(before, _without(before, pass_id))
    return take_step(shot, seen, step, f"“{name}” to all shots"[:120], [project.sheet, sheet_data(laid)])


def from_project(shot: Shot, seen: int, pass_id: str) -> Revision:
    """Move a pass of the project to the end of one shot's own passes."""
    project = Project.objects.get(id=shot.project_id)
    common, before = project_sheet(project), sheet_of(head_of(shot))
    look = take_look(common, (pass_id,), "pass", aspect_of(shot))
    after, _ = apply_look(before, look, aspect_of(shot))
    less = [project.sheet, sheet_data(_without(common, pass_id, with_region=True))]
    name = look.sheet.passes[0].name
    return take_step(shot, seen, step_between(before, after), f"“{name}” to this shot alone"[:120], less)


def change_project_pass(project: Project, pass_id: str, fields: Mapping[str, object]) -> Sheet:
    """Set fields of a pass of the project; return the project's sheet."""
    with transaction.atomic():
        project, sheet = _holding(project, pass_id)
        data = sheet_data(sheet)
        passes = [{**each, **fields} if each["id"] == pass_id else each for each in data["passes"]]
        changed = read_sheet({**data, "passes": passes}, CATALOGUE)
        _save(project, changed)
        return changed


def take_project_pass(project: Project, pass_id: str) -> Sheet:
    """Take a pass of the project away, to be brought back at will; return the project's sheet."""
    with transaction.atomic():
        project, sheet = _holding(project, pass_id)
        sheet = _without(sheet, pass_id, with_region=True)
        project.taken = [project.sheet, sheet_data(sheet)]
        project.save(update_fields=["taken"])
        _save(project, sheet)
        return sheet


def _holding(project: Project, pass_id: str) -> tuple[Project, Sheet]:
    """Return the project as it stands in this transaction and its sheet, which must hold a pass."""
    project = Project.objects.select_for_update().get(id=project.id)
    sheet = project_sheet(project)
    if all(each.id != pass_id for each in sheet.passes):
        raise Missing("pass")
    return project, sheet


def bring_back_pass(project: Project) -> Sheet:
    """Bring back the pass that was taken from a project last; return the project's sheet.

    Raises
    ------
    NothingTo
        when none was.
    MovedOn
        when the project's passes were changed since.
    """
    with transaction.atomic():
        project = Project.objects.select_for_update().get(id=project.id)
        if not project.taken:
            raise NothingTo("undo")
        before, after = project.taken
        if project.sheet != after:
            raise MovedOn
        project.sheet, project.taken = before, None
        project.save(update_fields=["sheet", "taken"])
        return project_sheet(project)


def project_sheet(project: Project) -> Sheet:
    """Return the passes that run on every shot of a project."""
    return read_sheet(project.sheet, CATALOGUE)


def _save(project: Project, sheet: Sheet) -> None:
    project.sheet = sheet_data(sheet)
    project.save(update_fields=["sheet"])


def _without(sheet: Sheet, pass_id: str, *, with_region: bool = False) -> Sheet:
    passes = tuple(each for each in sheet.passes if each.id != pass_id)
    regions = sheet.regions
    if with_region:  # the project has no shelf, so a region goes with its last pass
        used = {each.region for each in passes}
        regions = tuple(each for each in regions if each.id in used)
    return sheet.model_copy(update={"passes": passes, "regions": regions})
