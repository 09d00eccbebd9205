"""Faces and lettering along a clip: looked for as a job, listed, begun on."""

from typing import Any

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from ninja import Query, Router

from calado.catalogue import CATALOGUE
from calado.edit.create import start_on_finds
from calado.errors import RequestError
from calado.media.clips.along import square_of
from calado.sheet.check import check_sheet
from calado.start.proof import lies_under_a_cover
from server.api.at import DRAFT, REFUSED, SHOT, At, frame_of
from server.api.described import gives
from server.api.jobs import job_out
from server.api.sampling import offer_out
from server.api.schemas.finding import (
    AlongOut,
    CoveredIn,
    CoveredOut,
    OnFindsIn,
    OnFindsOut,
    SquareIn,
    ThingOut,
    ToFollowOut,
)
from server.api.schemas.jobs import JobOut
from server.bench.clips import frames_of
from server.bench.sources import ENGINE
from server.jobs.finding import offer_of
from server.jobs.models import Job
from server.jobs.work import enqueue_job
from server.projects.access import clip_called
from server.projects.errors import Missing

#: pixels of a picture of what was found
SQUARE = 208
router = Router(tags=["finds"])


def _jobs(shot: Any) -> Any:
    return Job.objects.filter(project=shot.project, kind=Job.Kind.FIND, order__shot=shot.id)


def _things(at: At, id: str) -> list[dict[str, Any]]:
    """Return what a job found along a clip.

    Raises
    ------
    Missing
        when there is no such job of this clip.
    """
    job = _jobs(at.shot).filter(id=id).first()
    if job is None:
        raise Missing("list of finds")
    return list(job.result.get("things", []))


@router.post(SHOT + "/along", response={200: JobOut, **REFUSED})
def look_along(request: HttpRequest, project: str, shot: str) -> JobOut:
    """Look for faces and lettering along a clip, as a job; one that looks already is the answer."""
    found = clip_called(project, shot)
    with transaction.atomic():
        job = _jobs(found).filter(state__in=Job.OPEN).first()
        if job is None:
            # what was found before gives way
            _jobs(found).delete()
            order = {"shot": found.id}
            job = Job.objects.create(project=found.project, kind=Job.Kind.FIND, name=found.name, order=order)
            enqueue_job(job)
    return job_out(job)


@router.get(SHOT + "/along", response={200: AlongOut, **REFUSED})
def found_along(request: HttpRequest, project: str, shot: str) -> AlongOut:
    """Return what was found along a clip."""
    job = _jobs(clip_called(project, shot)).first()
    result = job.result if job else {}
    things = [ThingOut(**{**each, "offer": offer_out(offer_of(each))}) for each in result.get("things", ())]
    return AlongOut(job=job and job_out(job), every=result.get("every", 0), things=things)


@router.get(DRAFT + "/on-finds", response={200: CoveredOut, **REFUSED})
def covered_finds(request: HttpRequest, project: str, shot: str, draft: str, query: Query[CoveredIn]) -> CoveredOut:
    """Return which of the finds along a clip the draft conceals already, each where it shows best."""
    at = At(project, shot, draft)
    covered = []
    for number, each in enumerate(_things(at, query.job)):
        there = at.at(each["frame"])
        if lies_under_a_cover(ENGINE, there.source, there.order(), offer_of(each)):
            covered.append(number)
    return CoveredOut(covered=covered)


@router.post(DRAFT + "/on-finds", response={200: OnFindsOut, **REFUSED})
def begin_on_finds(request: HttpRequest, project: str, shot: str, draft: str, payload: OnFindsIn) -> OnFindsOut:
    """Return a draft with a region on each of some finds along a clip; nothing is saved or followed yet."""
    at = At(project, shot, draft)
    things = _things(at, payload.job)
    if any(not 0 <= k < len(things) for k in payload.things):
        raise RequestError(f"There are {len(things)} finds, counted from 0.", code="finds.number")
    chosen = [things[k] for k in payload.things]
    sheet, ids = start_on_finds(at.draft, [offer_of(each) for each in chosen], conceal=payload.conceal)
    check_sheet(sheet, CATALOGUE)
    follows = [ToFollowOut(region=id, frame=each["frame"]) for id, each in zip(ids, chosen, strict=True)]
    return OnFindsOut(sheet=sheet, follows=follows)


@router.get(SHOT + "/square", response=REFUSED, openapi_extra=gives("image/jpeg"))
def square(request: HttpRequest, project: str, shot: str, query: Query[SquareIn]) -> HttpResponse:
    """Return a square of a clip's frame as it came."""
    found = clip_called(project, shot)
    frame = frame_of(found, str(query.frame))
    assert frame is not None  # it is a clip
    picture = square_of(frames_of(found), ENGINE, (query.x, query.y, query.side), frame, SQUARE)
    return HttpResponse(picture, content_type="image/jpeg", headers={"Cache-Control": "max-age=3600"})
