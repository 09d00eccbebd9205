"""Projects, shots, uploads, thumbnails."""

import hashlib
import json
from pathlib import Path

from django.db.models import Count
from django.http import HttpRequest, HttpResponse
from ninja import File, Form, Router, UploadedFile

from calado.catalogue import CATALOGUE
from calado.errors import MediaError, RequestError
from calado.render.engine import Engine, Order
from calado.render.preview import View, render_preview
from calado.sheet.check import read_sheet
from calado.sheet.models import Sheet
from calado.start.search import search
from server.api.at import REFUSED, SHOT
from server.api.described import gives
from server.api.schemas.catalogue import CatalogueOut
from server.api.schemas.common import FoundOut, NameIn, Problem, ProjectDetailOut, ProjectOut, SequenceIn, ShotOut
from server.api.serializers import catalogue_out, shot_out
from server.bench.clips import frames_of, poster_of
from server.bench.sources import ASSETS, as_shown, source_for
from server.config.uploads import MAX_BYTES, TOO_LARGE
from server.jobs.removal import remove_project, remove_shot
from server.projects.access import project_called, projects, shot_called
from server.projects.actions.add_shot import THUMBNAIL_SIDE, add_shot
from server.projects.actions.order import put_in_order
from server.projects.history import sheet_at
from server.projects.models import Project, Shot

router = Router(tags=["projects"])
#: thumbnails of many shots must not push the bench's pictures out of its engine
_THUMBNAILS = Engine(32 * 2**20, ASSETS)


@router.get("/catalogue", response=CatalogueOut)
def catalogue(request: HttpRequest) -> CatalogueOut:
    """Return everything that is declared: adjustments, parts, starters."""
    return catalogue_out()


@router.get("/find", response=FoundOut)
def find(request: HttpRequest, q: str = "") -> FoundOut:
    """Return the starters and adjustments that fit a purpose."""
    found = search(q[:80])
    return FoundOut.model_validate(found, from_attributes=True)


@router.get("/projects", response=list[ProjectOut])
def list_projects(request: HttpRequest) -> list[ProjectOut]:
    """Return all projects."""
    found = projects().annotate(count=Count("shots")).prefetch_related("shots")
    return [
        ProjectOut(
            id=p.id, name=p.name, shots=p.count, covers=[s.id for s in list(p.shots.all())[:4]], created=p.created
        )
        for p in found
    ]


@router.post("/projects", response={200: ProjectDetailOut, 422: Problem})
def create_project(request: HttpRequest, payload: NameIn) -> ProjectDetailOut:
    """Begin an empty project."""
    project = Project.objects.create(name=payload.name)
    return ProjectDetailOut(id=project.id, name=project.name, shots=[])


@router.get("/projects/{project}", response={200: ProjectDetailOut, 404: Problem})
def read_project(request: HttpRequest, project: str) -> ProjectDetailOut:
    """Return a project and its shots."""
    found = project_called(project)
    shots = [shot_out(shot, sheet_at(shot.id, shot.head)) for shot in found.shots.all()]
    return ProjectDetailOut(id=found.id, name=found.name, shots=shots)


@router.patch("/projects/{project}", response={200: NameIn, 404: Problem})
def rename_project(request: HttpRequest, project: str, payload: NameIn) -> NameIn:
    """Give a project another name."""
    projects().filter(id=project_called(project).id).update(name=payload.name)
    return payload


@router.put("/projects/{project}/order", response={204: None, 404: Problem})
def order_shots(request: HttpRequest, project: str, payload: SequenceIn) -> tuple[int, None]:
    """Put the shots of a project into another order."""
    put_in_order(project_called(project), payload.shots)
    return 204, None


@router.delete("/projects/{project}", response={204: None, 404: Problem})
def delete_project(request: HttpRequest, project: str) -> tuple[int, None]:
    """Remove a project and its shots."""
    remove_project(project_called(project))
    return 204, None


@router.post("/projects/{project}/shots", response={200: ShotOut, 404: Problem, 409: Problem, 422: Problem})
def upload(request: HttpRequest, project: str, file: UploadedFile = File(...), name: str = Form("")) -> ShotOut:
    """Add a still or a clip. It was streamed to disk on the way in; what it is, its content says."""
    if file.size is None or file.size > MAX_BYTES:
        raise MediaError(TOO_LARGE, code="media.large")
    path = Path(file.temporary_file_path())  # type: ignore[attr-defined]
    shot = add_shot(project_called(project), path, file.name or "untitled", name)
    return shot_out(shot, Sheet())


@router.patch("/projects/{project}/shots/{shot}", response={200: NameIn, 404: Problem})
def rename_shot(request: HttpRequest, project: str, shot: str, payload: NameIn) -> NameIn:
    """Give a shot another name."""
    Shot.objects.filter(id=shot_called(project, shot).id).update(name=payload.name)
    return payload


@router.delete("/projects/{project}/shots/{shot}", response={204: None, 404: Problem})
def delete_shot(request: HttpRequest, project: str, shot: str) -> tuple[int, None]:
    """Remove a shot."""
    remove_shot(shot_called(project, shot))
    return 204, None


def _state(shot: Shot) -> str:
    """Return what a shot's finished picture depends on, besides its source: its own sheet and the project's."""
    finish = json.dumps(shot.project.sheet, sort_keys=True).encode()
    return f"{shot.head}-{hashlib.sha256(finish).hexdigest()[:12]}"


@router.get(SHOT + "/thumbnail", response=REFUSED, openapi_extra=gives("image/jpeg"))
def thumbnail(
    request: HttpRequest, project: str, shot: str, of: str = "done", frame: int | None = None
) -> HttpResponse:
    """Return a small picture: as it is done now, or of the source; of a clip the frame on its card, or another."""
    found = shot_called(project, shot)
    if frame is not None and not 0 <= frame < found.frames:
        raise RequestError(f"This clip has frames 0 to {found.frames - 1}.", code="render.frame")
    piece = f"{found.sha256[:16]}.{found.first}.{found.frames}.{frame}"
    etag = f'"{piece}-{_state(found) if of == "done" else "source"}"'
    if request.headers.get("If-None-Match") == etag:
        return HttpResponse(status=304)
    if frame is not None:
        source = frames_of(found).sized(frame, min(THUMBNAIL_SIDE / max(found.width, found.height), 1.0))
    else:
        source = poster_of(found, THUMBNAIL_SIDE) if found.is_clip else source_for(found)
    finish = read_sheet(found.project.sheet, CATALOGUE)
    done = Order(as_shown(found, sheet_at(found.id, found.head), frame), as_shown(found, finish, frame))
    order = Order() if of == "source" else done
    scale = min(THUMBNAIL_SIDE / max(source.width, source.height), 1.0)
    whole = (0.0, 0.0, float(source.width), float(source.height))
    made = render_preview(_THUMBNAILS, source, order, View("picture", whole, scale))
    return HttpResponse(made.data, content_type="image/jpeg", headers={"ETag": etag, "Cache-Control": "no-cache"})
