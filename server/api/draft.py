"""A draft in hand: in words, with something begun on it, as a picture, read at a place."""

from django.http import HttpRequest, HttpResponse
from ninja import Query, Router

from calado.catalogue import CATALOGUE
from calado.detect.find import find_kind, known_offers
from calado.detect.net import ModelError
from calado.detect.offer import Kind, Offer
from calado.edit.create import Drawn, each_apart, join_part, start_adjustment, start_feature, start_pass, start_region
from calado.edit.looks import apply_look, read_look
from calado.edit.on_find import marks_one, on_find
from calado.errors import RequestError
from calado.inspect.lying import lying_at
from calado.render.preview import View, render_preview
from calado.sheet.check import check_sheet
from calado.sheet.models import Region, Sheet
from calado.sheet.within import pass_called
from calado.start.analysis import analyse
from calado.window import window_of_rectangle
from server.api.at import DRAFT, At, kept
from server.api.described import gives
from server.api.schemas.common import (
    DescribeOut,
    DraftOut,
    LyingOut,
    MatteValueIn,
    MatteValueOut,
    PixelIn,
    Problem,
    StartIn,
    StartOut,
    ToldOf,
)
from server.api.schemas.views import PreviewIn
from server.api.serializers import cover_out, describe_draft, describe_parts
from server.bench.clips import covers_on
from server.bench.drafts import draft_called, keep_draft
from server.bench.sources import ENGINE
from server.projects.access import shot_called
from server.projects.actions.looks import look_called

#: starters that cover each thing in a clip for itself, since each goes its own way
COVERS_EACH = ("conceal", "conceal-faces", "conceal-lettering", "conceal-private")
#: starters whose region goes along with what it was laid on
GO_ALONG = ("spotlight", "selective-focus", *COVERS_EACH, "calm-skin", "call-out")
router = Router(tags=["draft"])


@router.post("/drafts", response={200: DraftOut, 422: Problem})
def send_draft(request: HttpRequest, payload: Sheet) -> DraftOut:
    """Take a draft in hand: previews, readings and whatever is begun on it name it by what this returns."""
    return DraftOut(draft=keep_draft(payload, request.body))


@router.get("/drafts/{draft}/told", response={200: DescribeOut, 404: Problem})
def describe(request: HttpRequest, draft: str, of: Query[ToldOf]) -> DescribeOut:
    """Return a draft in words; of a shot that is a clip also in which frames its covers hold."""
    sheet = draft_called(draft)
    covers = covers_on(shot_called(of.project, of.shot), sheet) if of.shot else []
    told = describe_draft(sheet, covers)
    return DescribeOut(told=told, parts=describe_parts(sheet), covers=[cover_out(each) for each in covers])


@router.post(DRAFT + "/start", response={200: StartOut, 404: Problem, 422: Problem})
def start(request: HttpRequest, project: str, shot: str, draft: str, payload: StartIn) -> StartOut:
    """Return a draft with something begun on it; nothing is saved yet."""
    at = At(project, shot, draft)
    sheet, id = _begin(at, payload)
    follows: list[str] = []
    if at.shot.is_clip and payload.what == "starter" and payload.id in GO_ALONG:
        # a region of the shelf stays as somebody made it
        if payload.id in COVERS_EACH and payload.region is None:
            sheet = each_apart(sheet, id)
        begun = {each.region for each in sheet.passes} - {each.region for each in at.draft.passes}
        begun |= {pass_called(sheet, id).region}
        follows = _follows(at, [region for region in sheet.regions if region.id in begun and region.track is None])
    check_sheet(sheet, CATALOGUE)
    return StartOut(sheet=sheet, id=id, follows=follows)


def _follows(at: At, begun: list[Region]) -> list[str]:
    """Return which new regions on a clip lie on what was found, and go along with it."""
    # of lettering what its starter has looked for
    found = (*_offers(at, "subject"), *_offers(at, "face"), *known_offers(at.source))
    sure = [offer for offer in found if offer.sure]
    return [region.id for region in begun if marks_one(region, sure)]


def _offers(at: At, kind: Kind) -> tuple[Offer, ...]:
    try:
        return find_kind(ENGINE, at.source, kind)
    except ModelError:  # nothing is found: what was drawn or begun stays as it is
        return ()


def _faces(at: At, asked: list[int]) -> list[Offer]:
    """Return the faces asked for; without any, all whose features are seen."""
    faces = [offer for offer in _offers(at, "face") if offer.name == "face"]
    if any(not 0 <= k < len(faces) for k in asked):
        raise RequestError(f"Faces found here: {len(faces)}, counted from 0.", code="feature.face")
    return [faces[k] for k in asked] or [face for face in faces if face.closely]


def _begin(at: At, payload: StartIn) -> tuple[Sheet, str]:
    if payload.what == "starter":
        return start_pass(at.draft, payload.id, analyse(ENGINE, at.source), payload.region)
    if payload.what == "look":
        look = read_look(payload.look) if payload.look else look_called(payload.id)
        made, ids = apply_look(at.draft, look, at.aspect)
        return made, ids[-1]
    if payload.what == "adjustment":
        return start_adjustment(at.draft, payload.id, payload.side, payload.region, at.aspect)
    if payload.what == "feature":
        return start_feature(at.draft, _faces(at, payload.faces), payload.id)
    drawn = Drawn(payload.id, payload.values, payload.points, payload.freehand, payload.strokes)
    drawn = on_find(drawn, lambda: _offers(at, "subject"))
    if payload.what == "region":
        return start_region(at.draft, drawn, at.aspect)
    if payload.region is None:
        raise RequestError("Name the region that the part joins.", code="start.region")
    return join_part(at.draft, payload.region, drawn, payload.join, at.aspect)


@router.get(DRAFT + "/preview", response={404: Problem, 422: Problem}, openapi_extra=gives("image/jpeg", "image/png"))
@kept
def preview(request: HttpRequest, project: str, shot: str, draft: str, query: Query[PreviewIn]) -> HttpResponse:
    """Return a view of a draft as a picture; ``X-Rectangle`` tells which full-size pixels it covers.

    ``X-Refining`` says that a solved matte in it is still coarse: *yes* while the fine one is being solved, *stopped*
    when that was called off.
    """
    at = At(project, shot, draft)
    view = View(
        query.view,
        query.rectangle,
        query.scale,
        query.region,
        query.ground,
        query.lattice,
        query.draft,
        query.format,
    )
    coarse, stopped = ENGINE.solved.handed_coarse, ENGINE.solved.handed_stopped
    with ENGINE.solved.coarse_will_do(content=query.coarse):
        made = render_preview(ENGINE, at.source, at.order(query.exaggerate), view)
    headers = {"X-Rectangle": ",".join(f"{side:.4f}" for side in made.rectangle)}
    if ENGINE.solved.handed_coarse > coarse:
        headers["X-Refining"] = "stopped" if ENGINE.solved.handed_stopped > stopped else "yes"
    return HttpResponse(made.data, content_type=f"image/{made.format}", headers=headers)


@router.get(DRAFT + "/lying", response={200: LyingOut, 404: Problem, 422: Problem})
@kept
def lying(request: HttpRequest, project: str, shot: str, draft: str, query: Query[PixelIn]) -> LyingOut:
    """Return which pass and side, or which region, lies at a place of the full-size picture."""
    at = At(project, shot, draft)
    return LyingOut.model_validate(lying_at(ENGINE, at.source, at.sheet, query.x, query.y), from_attributes=True)


@router.get(DRAFT + "/matte-value", response={200: MatteValueOut, 404: Problem, 422: Problem})
@kept
def matte_value(request: HttpRequest, project: str, shot: str, draft: str, query: Query[MatteValueIn]) -> MatteValueOut:
    """Return a region's matte at one pixel of the full-size picture."""
    at = At(project, shot, draft)
    window = window_of_rectangle(at.size, 1.0, (int(query.x), int(query.y), 1, 1))
    return MatteValueOut(value=float(ENGINE.matte(at.source, at.where(query.region), window)[0, 0]))
