"""The bench: a shot's sheet, its changes, its snapshots."""

from django.http import HttpRequest
from ninja import Router

from server.api.at import SHOT
from server.api.schemas.common import BenchOut, NameIn, Problem, SavedOut, SeenIn, SnapshotOut, StepIn
from server.api.serializers import bench_out
from server.jobs.actions import thin_shot
from server.projects.access import shot_called
from server.projects.actions import change
from server.projects.models import Snapshot
from server.projects.thinning import ROOM

router = Router(tags=["bench"])
REFUSED = {404: Problem, 409: Problem, 422: Problem}


@router.get(SHOT + "/bench", response={200: BenchOut, 404: Problem})
def read_bench(request: HttpRequest, project: str, shot: str) -> BenchOut:
    """Return a shot's newest sheet."""
    found = shot_called(project, shot)
    return bench_out(found, change.head_of(found))


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
    return bench_out(found, change.undo(found, payload.seen))


@router.post(SHOT + "/redo", response={200: BenchOut, **REFUSED})
def redo(request: HttpRequest, project: str, shot: str, payload: SeenIn) -> BenchOut:
    """Bring back what was undone."""
    found = shot_called(project, shot)
    return bench_out(found, change.redo(found, payload.seen))


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
    return bench_out(found, change.return_to(found, payload.seen, snapshot))


def _snapshot(snapshot: Snapshot) -> SnapshotOut:
    return SnapshotOut(id=snapshot.id, name=snapshot.name, number=snapshot.number, created=snapshot.created)
