"""The bench: a shot's sheet, its changes, its previews."""

from django.http import HttpRequest, HttpResponse
from ninja import Router

from calado.catalogue import CATALOGUE
from calado.errors import RequestError
from calado.found.find import Offer, find_people
from calado.found.net import ModelError
from calado.inspect.lying import lying_at
from calado.render.engine import Order
from calado.render.preview import View, render_preview
from calado.render.views import Lattice
from calado.render.where import where_of
from calado.sheet.check import check_sheet, read_sheet
from calado.sheet.models import Sheet
from calado.start.about import about_source
from calado.start.begin import Drawn, join_part, start_adjustment, start_pass, start_region
from calado.start.looks import lay_look, read_look
from calado.start.on_find import on_find
from calado.window import window_of_rectangle
from server.api.schemas import (
    BenchOut,
    DescribeOut,
    LyingIn,
    LyingOut,
    MatteValueIn,
    MatteValueOut,
    NameIn,
    PreviewIn,
    Problem,
    SavedOut,
    SeenIn,
    SheetIn,
    SnapshotOut,
    StartIn,
    StartOut,
    StepIn,
)
from server.api.tell import tell_bench, tell_draft, tell_parts
from server.bench.sources import ENGINE, source_for
from server.jobs.actions import thin_shot
from server.projects.access import shot_called
from server.projects.actions import change
from server.projects.actions.looks import look_called
from server.projects.models import Shot, Snapshot
from server.projects.thinning import ROOM

router = Router(tags=["bench"])
SHOT = "/projects/{project}/shots/{shot}"
REFUSED = {404: Problem, 409: Problem, 422: Problem}


@router.get(SHOT + "/bench", response={200: BenchOut, 404: Problem})
def read_bench(request: HttpRequest, project: str, shot: str) -> BenchOut:
    """Return a shot's newest sheet."""
    found = shot_called(project, shot)
    return tell_bench(found, change.head_of(found))


@router.post(SHOT + "/steps", response={200: SavedOut, **REFUSED})
def step(request: HttpRequest, project: str, shot: str, payload: StepIn) -> SavedOut:
    """Change the sheet by a step; when this answers, the step is on disk."""
    found = shot_called(project, shot)
    made = change.take_step(found, payload.seen, payload.step, payload.label)
    if made.number % ROOM == 0:
        thin_shot.enqueue(found.id)
    return SavedOut(revision=made.number, undo=made.label, redo=None)


@router.post(SHOT + "/undo", response={200: BenchOut, **REFUSED})
def undo(request: HttpRequest, project: str, shot: str, payload: SeenIn) -> BenchOut:
    """Take back the newest change."""
    found = shot_called(project, shot)
    return tell_bench(found, change.undo(found, payload.seen))


@router.post(SHOT + "/redo", response={200: BenchOut, **REFUSED})
def redo(request: HttpRequest, project: str, shot: str, payload: SeenIn) -> BenchOut:
    """Bring back what was undone."""
    found = shot_called(project, shot)
    return tell_bench(found, change.redo(found, payload.seen))


@router.get(SHOT + "/snapshots", response={200: list[SnapshotOut], 404: Problem})
def list_snapshots(request: HttpRequest, project: str, shot: str) -> list[SnapshotOut]:
    """Return the named revisions."""
    return [_snapshot(each) for each in shot_called(project, shot).snapshots.all()]


@router.post(SHOT + "/snapshots", response={200: SnapshotOut, 404: Problem})
def take_snapshot(request: HttpRequest, project: str, shot: str, payload: NameIn) -> SnapshotOut:
    """Give the newest revision a name."""
    found = shot_called(project, shot)
    return _snapshot(Snapshot.objects.create(shot=found, name=payload.name, number=found.head))


@router.post(SHOT + "/snapshots/{snapshot}/return", response={200: BenchOut, **REFUSED})
def return_to_snapshot(request: HttpRequest, project: str, shot: str, snapshot: int, payload: SeenIn) -> BenchOut:
    """Make a named revision's sheet the newest."""
    found = shot_called(project, shot)
    return tell_bench(found, change.return_to(found, payload.seen, snapshot))


def _snapshot(snapshot: Snapshot) -> SnapshotOut:
    return SnapshotOut(id=snapshot.id, name=snapshot.name, number=snapshot.number, created=snapshot.created)


@router.post("/describe", response={200: DescribeOut, 422: Problem})
def describe(request: HttpRequest, payload: SheetIn) -> DescribeOut:
    """Return a draft in words."""
    sheet = read_sheet(payload.sheet, CATALOGUE)
    return DescribeOut(told=tell_draft(sheet), parts=tell_parts(sheet))


@router.post(SHOT + "/start", response={200: StartOut, 404: Problem, 422: Problem})
def start(request: HttpRequest, project: str, shot: str, payload: StartIn) -> StartOut:
    """Return a draft with something begun on it; nothing is saved yet."""
    found = shot_called(project, shot)
    sheet, id = _begin(read_sheet(payload.sheet, CATALOGUE), payload, found)
    check_sheet(sheet, CATALOGUE)
    return StartOut(sheet=sheet, id=id)


def _offers(shot: Shot) -> tuple[Offer, ...]:
    try:
        return find_people(ENGINE, source_for(shot))
    except ModelError:  # the stroke is taken as it was drawn
        return ()


def _begin(sheet: Sheet, payload: StartIn, shot: Shot) -> tuple[Sheet, str]:
    aspect = shot.width / shot.height
    if payload.what == "starter":
        return start_pass(sheet, payload.id, about_source(ENGINE, source_for(shot)), payload.region)
    if payload.what == "look":
        look = read_look(payload.look) if payload.look else look_called(payload.id)
        made, ids = lay_look(sheet, look, aspect)
        return made, ids[-1]
    if payload.what == "adjustment":
        return start_adjustment(sheet, payload.id, payload.side, payload.region, aspect)
    drawn = Drawn(payload.id, payload.values, payload.points, payload.freehand, payload.strokes)
    drawn = on_find(drawn, lambda: _offers(shot))
    if payload.what == "region":
        return start_region(sheet, drawn, aspect)
    if payload.region is None:
        raise RequestError("Name the region that the part joins.", code="start.region")
    return join_part(sheet, payload.region, drawn, payload.join, aspect)


@router.post(SHOT + "/preview", response={404: Problem, 422: Problem})
def preview(request: HttpRequest, project: str, shot: str, payload: PreviewIn) -> HttpResponse:
    """Return a view of a draft as a picture; ``X-Rectangle`` tells which full-size pixels it covers.

    ``X-Refining`` says that a solved matte in it is still coarse: *yes* while the fine one is being solved, *stopped*
    when that was called off.
    """
    found = shot_called(project, shot)
    order = Order(read_sheet(payload.sheet, CATALOGUE), read_sheet(found.project.sheet, CATALOGUE), payload.exaggerate)
    view = View(
        payload.view,
        payload.rectangle,
        payload.scale,
        payload.region,
        payload.ground,
        Lattice(payload.thread, payload.density, payload.lattice_inside),
        payload.draft,
        payload.format,
    )
    coarse, stopped = ENGINE.solved.handed_coarse, ENGINE.solved.handed_stopped
    with ENGINE.solved.coarse_will_do(content=payload.coarse):
        made = render_preview(ENGINE, source_for(found), order, view)
    headers = {"X-Rectangle": ",".join(f"{side:.4f}" for side in made.rectangle), "Cache-Control": "no-store"}
    if ENGINE.solved.handed_coarse > coarse:
        headers["X-Refining"] = "stopped" if ENGINE.solved.handed_stopped > stopped else "yes"
    return HttpResponse(made.data, content_type=f"image/{made.format}", headers=headers)


@router.post(SHOT + "/lying", response={200: LyingOut, 404: Problem, 422: Problem})
def lying(request: HttpRequest, project: str, shot: str, payload: LyingIn) -> LyingOut:
    """Return which pass and side, or which region, lies at a place of the full-size picture."""
    found = shot_called(project, shot)
    sheet = read_sheet(payload.sheet, CATALOGUE)
    return LyingOut.model_validate(
        lying_at(ENGINE, source_for(found), sheet, payload.x, payload.y), from_attributes=True
    )


@router.post(SHOT + "/matte-value", response={200: MatteValueOut, 404: Problem, 422: Problem})
def matte_value(request: HttpRequest, project: str, shot: str, payload: MatteValueIn) -> MatteValueOut:
    """Return a region's matte at one pixel of the full-size picture."""
    found = shot_called(project, shot)
    sheet = read_sheet(payload.sheet, CATALOGUE)
    where = where_of(sheet, payload.region)
    if where is None:
        raise RequestError("There is no such region on the shelf.", code="render.region")
    window = window_of_rectangle((found.width, found.height), 1.0, (int(payload.x), int(payload.y), 1, 1))
    return MatteValueOut(value=float(ENGINE.matte(source_for(found), where, window)[0, 0]))
