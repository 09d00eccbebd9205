"""Files that come in pieces, by the open protocol tus 1.0.0 (core, creation, termination), and the jobs of a project.

References
----------
https://tus.io/protocols/resumable-upload, version 1.0.0
"""

import base64
import binascii
from collections.abc import Iterator

from django.db import transaction
from django.http import HttpRequest, HttpResponse, UnreadablePostError
from ninja import Router
from ninja.errors import HttpError

from calado.errors import RequestError
from calado.follow.carried import doubtful, weakest
from calado.follow.motion import marked_in
from calado.sheet.models import Track
from calado.sheet.steps import sheet_data
from calado.sheet.within import region_called
from server.api.at import DRAFT, REFUSED, SHOT, At
from server.api.schemas.clips import MotionIn, MotionOut
from server.api.schemas.common import Problem, ShotOut
from server.api.schemas.jobs import JobOut, SplitIn
from server.api.serializers import shot_out
from server.bench.clips import motions_of
from server.config.uploads import MAX_BYTES
from server.jobs.actions import refuse_while_exported
from server.jobs.joining import join
from server.jobs.models import Job, Upload
from server.jobs.uploading import PIECE, append, arrived, begin_upload, drop_upload
from server.jobs.work import call_off_job, enqueue_job
from server.projects.access import clip, clip_called, project_called, shot_called
from server.projects.actions.splitting import split
from server.projects.errors import Missing
from server.projects.history import sheet_at

router = Router(tags=["jobs"])
UPLOADS = "/projects/{project}/uploads"
VERSION = "1.0.0"
SPOKEN = {"Tus-Resumable": VERSION, "Cache-Control": "no-store"}


def _answer(status: int, **headers: object) -> HttpResponse:
    named = {name.replace("_", "-"): str(value) for name, value in headers.items()}
    return HttpResponse(status=status, headers={**SPOKEN, **named})


def _number(request: HttpRequest, name: str) -> int:
    said = request.headers.get(name, "")
    if not said.isascii() or not said.isdigit() or len(said) > 18:
        raise RequestError(f"Say {name} as a whole number of bytes.", code="upload.header")
    return int(said)


def _file_name(request: HttpRequest) -> str:
    """Return the name that the file has where it comes from."""
    for pair in request.headers.get("Upload-Metadata", "").split(","):
        key, _, value = pair.strip().partition(" ")
        if key == "filename":
            try:
                return base64.b64decode(value, validate=True).decode()
            except (binascii.Error, UnicodeDecodeError) as error:
                raise RequestError("The file's name is not readable.", code="upload.header") from error
    return ""


def _called(project: str, id: str) -> Upload:
    found = Upload.objects.filter(project=project_called(project), id=id).select_related("project").first()
    if found is None:
        raise Missing("file on its way")
    return found


@router.api_operation(["OPTIONS"], UPLOADS, response={204: None, 404: Problem})
def spoken(request: HttpRequest, project: str) -> HttpResponse:
    """Return which protocol is spoken and how large a file may be."""
    project_called(project)
    return _answer(204, Tus_Version=VERSION, Tus_Extension="creation,termination", Tus_Max_Size=MAX_BYTES)


@router.post(UPLOADS, response={201: None, **REFUSED, 507: Problem})
def begin(request: HttpRequest, project: str) -> HttpResponse:
    """Begin a file of so many bytes (``Upload-Length``), with its name in ``Upload-Metadata``."""
    made = begin_upload(project_called(project), _file_name(request), _number(request, "Upload-Length"))
    return _answer(201, Location=f"/api/projects/{project}/uploads/{made.id}", Upload_Offset=0)


@router.api_operation(["HEAD"], UPLOADS + "/{upload}", response={200: None, 404: Problem})
def how_far(request: HttpRequest, project: str, upload: str) -> HttpResponse:
    """Return how many bytes have arrived (``Upload-Offset``)."""
    found = _called(project, upload)
    return _answer(200, Upload_Offset=arrived(found), Upload_Length=found.size)


@router.patch(UPLOADS + "/{upload}", response={204: None, **REFUSED, 415: Problem, 423: Problem, 507: Problem})
def go_on(request: HttpRequest, project: str, upload: str) -> HttpResponse:
    """Take more bytes from ``Upload-Offset`` on; once all are there a job of this id reads them."""
    found = _called(project, upload)
    if request.content_type != "application/offset+octet-stream":
        raise HttpError(415, "Send bytes as application/offset+octet-stream")
    return _answer(204, Upload_Offset=append(found, _number(request, "Upload-Offset"), _pieces(request)))


def _pieces(request: HttpRequest) -> Iterator[bytes]:
    """Yield what comes; where it breaks off, what came before is all."""
    try:
        while piece := request.read(PIECE):
            yield piece
    except UnreadablePostError:
        return


@router.delete(UPLOADS + "/{upload}", response={204: None, 404: Problem})
def drop(request: HttpRequest, project: str, upload: str) -> HttpResponse:
    """Forget a file on its way."""
    drop_upload(_called(project, upload))
    return _answer(204)


@router.get("/projects/{project}/jobs", response={200: list[JobOut], 404: Problem})
def list_jobs(request: HttpRequest, project: str) -> list[JobOut]:
    """Return what a worker does for a project, or did lately, newest first."""
    return [job_out(job) for job in Job.objects.filter(project=project_called(project))[:50]]


def job_out(job: Job) -> JobOut:
    """Return how far a job is."""
    return JobOut(
        id=job.id,
        kind=job.kind,
        name=job.name,
        state=job.state,
        progress=job.progress,
        problem=job.problem,
        shot=job.result.get("shot"),
        cuts=job.result.get("cuts"),
        region=job.order.get("region"),
        of=job.order.get("shot"),
        track=job.result.get("track"),
        created=job.created,
    )


def _job(project: str, id: str) -> Job:
    found = Job.objects.filter(project=project_called(project), id=id).first()
    if found is None:
        raise Missing("job")
    return found


@router.post("/projects/{project}/jobs/{job}/cancel", response={200: JobOut, 404: Problem})
def cancel_job(request: HttpRequest, project: str, job: str) -> JobOut:
    """Call a job off."""
    call_off_job(_job(project, job))
    return job_out(_job(project, job))


@router.delete("/projects/{project}/jobs/{job}", response={204: None, 404: Problem})
def forget_job(request: HttpRequest, project: str, job: str) -> tuple[int, None]:
    """Strike a job that ended off the list; one that runs is called off first."""
    found = _job(project, job)
    if found.state in Job.OPEN:
        call_off_job(found)
    else:
        found.delete()
    return 204, None


@router.post(SHOT + "/cuts", response={200: JobOut, **REFUSED})
def look_for_cuts(request: HttpRequest, project: str, shot: str) -> JobOut:
    """Look for cuts in a clip, as a job."""
    found = clip_called(project, shot)
    order = {"shot": found.id}
    with transaction.atomic():
        job = Job.objects.create(project=found.project, kind=Job.Kind.CUTS, name=found.name, order=order)
        enqueue_job(job)
    return job_out(job)


@router.post(DRAFT + "/track/{region}", response={200: JobOut, 409: Problem, **REFUSED})
def follow_region(request: HttpRequest, project: str, shot: str, draft: str, region: str, payload: MotionIn) -> JobOut:
    """Follow a region from the draft's frame on, as a job; one that follows already, from there on anew."""
    at = At(project, shot, draft)
    clip(at.shot)
    found = region_called(at.draft, region)
    own = Job.objects.filter(project=at.shot.project, kind=Job.Kind.FOLLOW, state__in=Job.OPEN)
    if any(job.order["shot"] == shot and job.order["region"] == region for job in own):
        raise HttpError(409, f"“{found.name}” is being followed. Stop that, or wait for it")
    last = at.shot.frames - 1 if payload.last is None else min(payload.last, at.shot.frames - 1)
    order = {
        "shot": at.shot.id,
        "sheet": sheet_data(at.draft.model_copy(update={"passes": ()})),
        "region": region,
        "frame": at.frame,
        "frames": [min(payload.first, at.frame), max(last, at.frame)],
        "motion": payload.motion,
    }
    with transaction.atomic():
        job = Job.objects.create(project=at.shot.project, kind=Job.Kind.FOLLOW, name=found.name, order=order)
        enqueue_job(job)
    return job_out(job)


@router.get(SHOT + "/motions/{motion}", response={200: MotionOut, **REFUSED})
def motion_of(request: HttpRequest, project: str, shot: str, motion: str) -> MotionOut:
    """Return how sure a motion is, frame by frame."""
    of = shot_called(project, shot)
    found = motions_of(of)(motion) if len(motion) == 64 and motion.isalnum() else None
    if found is None:
        raise Missing("motion")
    frames = range(min(found.steps), max(found.steps) + 1)
    steps = [found.near(frame) for frame in frames]
    held = [frame for frame, step in zip(frames, steps, strict=True) if step.state == "held"]
    whole = range(of.frames)
    return MotionOut(
        at=found.at,
        kind=found.kind,
        first=frames[0],
        confidence=[each.confidence for each in steps],
        held=held,
        doubtful=doubtful(Track(motion=motion, at=found.at), whole, found),
        weakest=weakest(whole, found),
        marked=marked_in(found),
    )


@router.post(SHOT + "/split", response={200: list[ShotOut], 409: Problem, **REFUSED})
def split_clip(request: HttpRequest, project: str, shot: str, payload: SplitIn) -> list[ShotOut]:
    """Split a clip into shots that share its file, each with the passes that it had."""
    found = shot_called(project, shot)
    refuse_while_exported(found)
    return [shot_out(each, sheet_at(each.id, each.head)) for each in split(found, payload.at)]


@router.post(SHOT + "/join", response={200: ShotOut, 409: Problem, **REFUSED})
def join_clip(request: HttpRequest, project: str, shot: str) -> ShotOut:
    """Make the pieces of a file one clip again."""
    found = shot_called(project, shot)
    refuse_while_exported(found)
    whole = join(found)
    return shot_out(whole, sheet_at(whole.id, whole.head))
