"""Looks, passes copied between shots, and the passes of a project."""

import json
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import File, Router, UploadedFile

from calado.catalogue import CATALOGUE
from calado.edit.looks import Look as Taken
from calado.edit.looks import read_look, take_look
from calado.errors import SheetError
from calado.sheet.models import Sheet
from calado.sheet.sentence import describe
from server.api.at import DRAFT, SHOT, At
from server.api.described import gives
from server.api.schemas.common import BenchOut, Problem
from server.api.schemas.looks import (
    BegunOut,
    LookOnShots,
    LookOut,
    MoveIn,
    ProjectPassIn,
    ProjectSheetOut,
    StartOnShots,
    TakeIn,
)
from server.api.serializers import bench_out, describe_draft
from server.projects.access import project_called, shot_called
from server.projects.actions import looks
from server.projects.actions.starting import Begun, start_on
from server.projects.errors import Missing
from server.projects.models import Look

router = Router(tags=["looks"])
REFUSED = {404: Problem, 409: Problem, 422: Problem}
MOST_BYTES = 2**20


def _look(kept: Look) -> LookOut:
    taken = read_look(kept.data)
    lines = [line.strip() for line in describe(taken.sheet, CATALOGUE).splitlines()[1::2]]
    return LookOut(id=kept.id, name=kept.name, says=" ".join(lines))


@router.get("/looks", response=list[LookOut])
def list_looks(request: HttpRequest) -> list[LookOut]:
    """Return the kept looks."""
    return [_look(each) for each in Look.objects.all()]


@router.post(DRAFT + "/take", response={200: dict[str, Any], **REFUSED})
def take(request: HttpRequest, project: str, shot: str, draft: str, payload: TakeIn) -> dict[str, Any]:
    """Return passes of a draft as a look, to be laid on other shots or kept in a file."""
    return _taken(At(project, shot, draft), payload).model_dump(mode="json")


@router.post(DRAFT + "/looks", response={200: LookOut, **REFUSED})
def keep(request: HttpRequest, project: str, shot: str, draft: str, payload: TakeIn) -> LookOut:
    """Keep passes of a draft as a look."""
    return _look(looks.keep_look(_taken(At(project, shot, draft), payload)))


def _taken(at: At, payload: TakeIn) -> Taken:
    return take_look(at.draft, tuple(payload.passes), payload.name, at.aspect)


@router.post("/looks/file", response={200: LookOut, **REFUSED})
def import_look(request: HttpRequest, file: UploadedFile = File(...)) -> LookOut:
    """Keep a look from a JSON file."""
    data = file.read(MOST_BYTES + 1)
    if len(data) > MOST_BYTES:
        raise SheetError("This file is too large for a look. Choose a look's JSON file.", code="look.invalid")
    try:
        parsed = json.loads(data)
    except (ValueError, RecursionError) as error:  # RecursionError: attack by deep nesting
        raise SheetError("This is not a look: it is not valid JSON.", code="look.invalid") from error
    return _look(looks.keep_look(read_look(parsed)))


@router.post("/looks/lay", response={200: list[str], **REFUSED})
def lay(request: HttpRequest, payload: LookOnShots) -> list[str]:
    """Lay a look on shots, each as one step that can be undone; return the shots' names."""
    look = looks.look_called(payload.id) if payload.id else read_look(payload.look)
    return looks.lay_on(look, [shot_called(each.project, each.shot) for each in payload.to])


@router.post("/projects/{project}/starts", response={200: list[BegunOut], **REFUSED})
def start_on_shots(request: HttpRequest, project: str, payload: StartOnShots) -> list[Begun]:
    """Begin a starter's pass on each shot, its values read from it, as one step that can be undone."""
    return start_on(payload.starter, payload.level, [shot_called(project, each) for each in payload.shots])


@router.get("/looks/{look}/file", response=REFUSED, openapi_extra=gives("application/json"))
def export_look(request: HttpRequest, look: str) -> HttpResponse:
    """Return a look as a JSON file."""
    taken = looks.look_called(look)
    headers = {"Content-Disposition": "attachment; filename=look.json"}
    return HttpResponse(taken.model_dump_json(indent=2), content_type="application/json", headers=headers)


@router.delete("/looks/{look}", response={204: None, **REFUSED})
def delete_look(request: HttpRequest, look: str) -> tuple[int, None]:
    """Forget a look. Where it was laid, its passes stay."""
    if not Look.objects.filter(id=look).delete()[0]:
        raise Missing("look")
    return 204, None


@router.get("/projects/{project}/sheet", response={200: ProjectSheetOut, 404: Problem})
def project_sheet(request: HttpRequest, project: str) -> ProjectSheetOut:
    """Return the passes that run on every shot of a project."""
    return _told(looks.project_sheet(project_called(project)))


@router.post("/projects/{project}/passes/undo", response={200: ProjectSheetOut, **REFUSED})
def bring_back(request: HttpRequest, project: str) -> ProjectSheetOut:
    """Bring back the pass that was taken away last."""
    return _told(looks.bring_back_pass(project_called(project)))


@router.patch("/projects/{project}/passes/{pass_id}", response={200: ProjectSheetOut, **REFUSED})
def change_pass(request: HttpRequest, project: str, pass_id: str, payload: ProjectPassIn) -> ProjectSheetOut:
    """Switch a pass of the project on or off, fade it, or change what it does."""
    return _told(looks.change_project_pass(project_called(project), pass_id, payload.model_dump(exclude_none=True)))


@router.delete("/projects/{project}/passes/{pass_id}", response={200: ProjectSheetOut, **REFUSED})
def delete_pass(request: HttpRequest, project: str, pass_id: str) -> ProjectSheetOut:
    """Take a pass of the project away."""
    return _told(looks.take_project_pass(project_called(project), pass_id))


def _told(sheet: Sheet) -> ProjectSheetOut:
    return ProjectSheetOut(sheet=sheet, told=describe_draft(sheet))


@router.post(SHOT + "/to-project", response={200: BenchOut, **REFUSED})
def to_project(request: HttpRequest, project: str, shot: str, payload: MoveIn) -> BenchOut:
    """Move a pass of a shot to the passes of its project."""
    found = shot_called(project, shot)
    return bench_out(found, looks.to_project(found, payload.seen, payload.pass_id))


@router.post(SHOT + "/from-project", response={200: BenchOut, **REFUSED})
def from_project(request: HttpRequest, project: str, shot: str, payload: MoveIn) -> BenchOut:
    """Move a pass of the project to the passes of one shot."""
    found = shot_called(project, shot)
    return bench_out(found, looks.from_project(found, payload.seen, payload.pass_id))
