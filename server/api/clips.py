"""Clips: how they stand at a frame, played, in thumbnails, heard."""

import json
import struct
from collections.abc import Iterator

from django.http import FileResponse, HttpRequest, HttpResponse, StreamingHttpResponse
from ninja import Query, Router

from calado.catalogue import CATALOGUE
from calado.clip_render import ClipOrder
from calado.errors import RequestError
from calado.media.clips.along import ROW, loop_of, square_at, squares_at, stops
from calado.media.clips.formats import ClipTarget
from calado.region.solve.matting_store import SolvedStore
from calado.render.engine import Order
from calado.render.preview import View
from calado.render.source import Source
from calado.render.strip import frame_strip
from calado.sheet.check import read_sheet
from calado.sheet.timed import fix_at, moves
from calado.sheet.timed import frames_of as keyframes_of
from calado.through_codec import beside, through_codec
from server.api.at import DRAFT, REFUSED, SHOT, At, kept, name_of
from server.api.described import gives
from server.api.schemas.clips import CodecIn, LoopOut, MovedOut, OwnOut, PlayedIn, RenderedIn, StopOut, StripIn
from server.api.schemas.views import Viewed
from server.bench.clips import frames_of, motions_of, sound_of
from server.bench.played import PLAYING, play, rendered
from server.bench.sources import ASSETS, ENGINE, solved_folder
from server.projects.access import clip, shot_called
from server.projects.errors import Missing
from server.projects.models import Shot

#: pixels of a picture of what lies round a region
SQUARE = 208
router = Router(tags=["clips"])


@router.get(DRAFT + "/moved", response={200: list[MovedOut], **REFUSED})
@kept
def moved(request: HttpRequest, project: str, shot: str, draft: str) -> list[MovedOut]:
    """Return the parts that move, as they stand at the draft's frame."""
    at = At(project, shot, draft)
    return [
        MovedOut(
            region=region.id,
            part=part.id,
            values=now.values,
            points=list(now.points),
            keyed=list(keyframes_of(part)),
            own=OwnOut(values=part.values, points=list(part.points))
            if region.track and region.track.at != at.frame
            else None,
            fix=fix_at(region.track, at.frame) if region.track else None,
        )
        for region, standing in zip(at.draft.regions, at.sheet.regions, strict=True)
        for part, now in zip(region.parts, standing.parts, strict=True)
        if moves(part) or region.track
    ]


@router.get(DRAFT + "/strip", response=REFUSED, openapi_extra=gives("image/jpeg"))
@kept
def strip(request: HttpRequest, project: str, shot: str, draft: str, query: Query[StripIn]) -> HttpResponse:
    """Return a row of finished frames, evenly spaced over the whole length, as one picture."""
    at = At(project, shot, draft)
    count = clip(at.shot).frames
    frames = [min(int((k + 0.5) * count / query.count), count - 1) for k in range(query.count)]
    pictures = ((at.at(frame).source, at.at(frame).order()) for frame in frames)
    made = frame_strip(PLAYING, pictures, query.count, (query.width, query.height))
    return HttpResponse(made, content_type="image/jpeg")


@router.get(DRAFT + "/along/{region}", response={200: list[StopOut], **REFUSED})
@kept
def along(request: HttpRequest, project: str, shot: str, draft: str, region: str) -> list[StopOut]:
    """Return frames on the way of a region that follows: evenly spaced ones, and those in which it is least sure."""
    at = At(project, shot, draft)
    found = stops(frames_of(clip(at.shot)), ENGINE, at.draft, region, motions_of(at.shot))
    return [StopOut(frame=each.frame, side=each.side, sure=each.sure, fix=each.fix) for each in found]


@router.get(DRAFT + "/along/{region}/{frame}", response=REFUSED, openapi_extra=gives("image/jpeg"))
@kept
def along_at(request: HttpRequest, project: str, shot: str, draft: str, region: str, frame: int) -> HttpResponse:
    """Return what lies round a region in one of those frames, without what covers it."""
    at = At(project, shot, draft)
    frames, motions = frames_of(clip(at.shot)), motions_of(at.shot)
    stop = next((each for each in stops(frames, ENGINE, at.draft, region, motions) if each.frame == frame), None)
    if stop is None:
        raise Missing("frame")
    sheets = at.draft, read_sheet(at.shot.project.sheet, CATALOGUE)
    return HttpResponse(square_at(frames, ENGINE, sheets, motions, stop, SQUARE), content_type="image/jpeg")


@router.get(DRAFT + "/loop/{region}", response={200: LoopOut, **REFUSED})
@kept
def loop(request: HttpRequest, project: str, shot: str, draft: str, region: str) -> LoopOut:
    """Return which frames of a region that follows are played as a loop of what lies round it."""
    at = At(project, shot, draft)
    found = loop_of(frames_of(clip(at.shot)), ENGINE, at.draft, region, motions_of(at.shot))
    return LoopOut(frames=[each.frame for each in found], sure=[each.sure for each in found], row=ROW)


@router.get(DRAFT + "/loop/{region}/picture", response=REFUSED, openapi_extra=gives("image/jpeg"))
@kept
def loop_picture(request: HttpRequest, project: str, shot: str, draft: str, region: str) -> HttpResponse:
    """Return those frames, cut out round the region and without what covers it, in rows of one picture."""
    at = At(project, shot, draft)
    frames, motions = frames_of(clip(at.shot)), motions_of(at.shot)
    found = loop_of(frames, ENGINE, at.draft, region, motions)
    if not found:
        raise Missing("loop")
    sheets = at.draft, read_sheet(at.shot.project.sheet, CATALOGUE)
    return HttpResponse(squares_at(frames, PLAYING, sheets, motions, found, SQUARE, region), content_type="image/jpeg")


@router.get(DRAFT + "/play", response=REFUSED, openapi_extra=gives("application/octet-stream"))
def play_frames(
    request: HttpRequest, project: str, shot: str, draft: str, query: Query[PlayedIn]
) -> StreamingHttpResponse:
    """Stream frames as JPEGs, each after its number and its length: two unsigned 32-bit numbers, big end first."""
    at = At(project, shot, draft)
    if not query.first <= query.last < clip(at.shot).frames:
        raise RequestError(f"This clip has frames 0 to {at.shot.frames - 1}.", code="render.frame")
    whole = (0.0, 0.0, float(at.shot.width), float(at.shot.height))
    scale = min(query.scale, 1.0)
    view = View(query.view, whole, scale, query.region, query.ground, query.lattice)
    frames = range(query.first, query.last + 1, query.step)

    def source(frame: int) -> Source:
        return frames_of(at.shot).sized(frame, scale)

    def order(frame: int) -> Order:
        return at.at(frame).order(query.exaggerate)

    def sent() -> Iterator[bytes]:
        for number, data in play(_played(at, draft, query), frames, source, order, view):
            yield struct.pack(">II", number, len(data)) + data

    return StreamingHttpResponse(sent(), content_type="application/octet-stream", headers={"Cache-Control": "no-store"})


@router.get(DRAFT + "/rendered", response={200: list[list[int]], **REFUSED})
def rendered_frames(
    request: HttpRequest, project: str, shot: str, draft: str, query: Query[RenderedIn]
) -> list[list[int]]:
    """Return the first and last of each run of frames that play at once, because they were rendered before."""
    return [list(run) for run in rendered(_played(At(project, shot, draft), draft, query))]


def _played(at: At, draft: str, look: Viewed) -> str:
    """Return a name for all that played frames depend on but their number."""
    seen = Viewed.model_validate(look.model_dump()).model_copy(update={"scale": round(min(look.scale, 1.0), 5)})
    # the source is the same whatever is done to it
    of = at.shot.id if look.view == "source" else name_of(at, draft.partition("@")[0])
    return f"{of} {seen.model_dump_json()}"


@router.get(DRAFT + "/codec", response=REFUSED, openapi_extra=gives("image/png"))
@kept
def codec(request: HttpRequest, project: str, shot: str, draft: str, query: Query[CodecIn]) -> HttpResponse:
    """Return a piece of the finished frame and, right of it, the same after the codec; ``X-Codec`` tells figures."""
    at = At(project, shot, draft)
    clip(at.shot)
    order = ClipOrder(at.draft, read_sheet(at.shot.project.sheet, CATALOGUE), motions=motions_of(at.shot))
    target = ClipTarget(query.format, query.quality, sound=False)
    made = through_codec(frames_of(at.shot), order, at.frame, target, ASSETS, SolvedStore(solved_folder))
    shown = beside(made, (query.x, query.y), (query.width, query.height))
    return HttpResponse(shown, content_type="image/png", headers={"X-Codec": made.told()})


@router.get(SHOT + "/sound", response=REFUSED, openapi_extra=gives("audio/flac"))
def sound(request: HttpRequest, project: str, shot: str) -> FileResponse:
    """Return the first track of a clip's sound, from its first frame on."""
    file = sound_of(_heard(shot_called(project, shot)))
    return FileResponse(file.open("rb"), content_type="audio/flac", headers={"Cache-Control": "private, max-age=3600"})


@router.get(SHOT + "/peaks", response={200: list[float], **REFUSED})
def peaks(request: HttpRequest, project: str, shot: str) -> list[float]:
    """Return how loud a clip is, 0…1, fifty times a second."""
    said: list[float] = json.loads(sound_of(_heard(shot_called(project, shot))).with_suffix(".json").read_text())
    return said


def _heard(shot: Shot) -> Shot:
    if not clip(shot).sound:
        raise RequestError("This clip has no sound.", code="render.silent")
    return shot
