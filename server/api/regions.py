"""Regions: mirrored, copied, imported and exported, their pieces and their edges."""

import json
from dataclasses import asdict

from django.http import HttpRequest, HttpResponse
from ninja import File, Query, Router, UploadedFile

from calado.catalogue import CATALOGUE
from calado.edit.create import follow_again
from calado.edit.svg import region_svg, start_outlines
from calado.edit.transform import mirror
from calado.inspect.edge.profile import edge_profile
from calado.inspect.edge.ribbon import Cut, encoded_ribbon, ribbon
from calado.inspect.edge.softness import edge_softness
from calado.sheet.check import check_sheet
from server.api.at import DRAFT, REFUSED, SHOT, At, kept
from server.api.described import gives
from server.api.schemas.common import Problem, RegionIn, StartOut
from server.api.schemas.regions import (
    ComponentOut,
    ComponentsOut,
    CopiedOut,
    CopyRegionIn,
    EdgeIn,
    EdgeOut,
    FollowIn,
    ImportedOut,
    MirrorIn,
    RibbonIn,
    SoftnessOut,
    SvgIn,
)
from server.api.serializers import softness_out
from server.bench.imported import keep_matte
from server.bench.sources import ENGINE
from server.projects.access import shot_called
from server.projects.actions.copy_region import copy_to

router = Router(tags=["regions"])
#: more pieces than this are counted, not listed
MOST_PIECES = 60


@router.post(DRAFT + "/mirror", response={200: StartOut, **REFUSED})
def mirror_region(request: HttpRequest, project: str, shot: str, draft: str, payload: MirrorIn) -> StartOut:
    """Return a draft with a region, or one part of it, mirrored; nothing is saved yet."""
    at = At(project, shot, draft)
    region = at.where(payload.region).region.id
    return StartOut(sheet=mirror(at.draft, region, payload.part, at.aspect), id=region)


@router.post(DRAFT + "/follow", response={200: StartOut, **REFUSED})
def follow_path(request: HttpRequest, project: str, shot: str, draft: str, payload: FollowIn) -> StartOut:
    """Return a draft with a curve that follows its pen's path closer, or looser; nothing is saved yet."""
    at = At(project, shot, draft)
    region = at.where(payload.region).region.id
    return StartOut(sheet=follow_again(at.draft, region, payload.part, payload.tolerance), id=payload.part)


@router.post(DRAFT + "/outlines", response={200: StartOut, **REFUSED})
def outlines_in(request: HttpRequest, project: str, shot: str, draft: str, payload: SvgIn) -> StartOut:
    """Return a draft with the outlines of an SVG document as a region, or joined to one; nothing is saved yet."""
    at = At(project, shot, draft)
    made, id = start_outlines(at.draft, payload.svg, payload.name, at.aspect, payload.region, payload.join)
    check_sheet(made, CATALOGUE)
    return StartOut(sheet=made, id=id)


@router.get(DRAFT + "/svg", response=REFUSED, openapi_extra=gives("image/svg+xml"))
@kept
def outlines_out(request: HttpRequest, project: str, shot: str, draft: str, query: Query[RegionIn]) -> HttpResponse:
    """Return a region's outlines as an SVG document."""
    at = At(project, shot, draft)
    made = region_svg(ENGINE.mattes(at.source), at.where(query.region), at.size)
    return HttpResponse(made, content_type="image/svg+xml", headers={"Content-Disposition": "attachment"})


@router.post(SHOT + "/mattes", response={200: ImportedOut, **REFUSED})
def import_matte(request: HttpRequest, project: str, shot: str, file: UploadedFile = File(...)) -> ImportedOut:
    """Keep a picture as a matte, for parts to stand for."""
    shot_called(project, shot)
    return ImportedOut(**asdict(keep_matte(file)))


@router.get(DRAFT + "/pieces", response={200: ComponentsOut, **REFUSED})
@kept
def list_pieces(request: HttpRequest, project: str, shot: str, draft: str, query: Query[RegionIn]) -> ComponentsOut:
    """Return the islands and holes of a region's matte, the dropped ones among them."""
    at = At(project, shot, draft)
    pieces = ENGINE.mattes(at.source).pieces(at.where(query.region), at.source.full())
    told = [
        ComponentOut(**each.piece.model_dump(), area=each.area, box=each.box, removed=each.removed)
        for each in pieces[:MOST_PIECES]
    ]
    return ComponentsOut(pieces=told, more=max(len(pieces) - MOST_PIECES, 0))


@router.get(DRAFT + "/softness", response={200: SoftnessOut, **REFUSED})
@kept
def softness(request: HttpRequest, project: str, shot: str, draft: str, query: Query[RegionIn]) -> SoftnessOut:
    """Return how soft the picture's edge is along a region, and how far the region should grow beside a blur."""
    at = At(project, shot, draft)
    return softness_out(edge_softness(ENGINE, at.source, at.where(query.region)), at.shot.height)


@router.get(DRAFT + "/ribbon", response=REFUSED, openapi_extra=gives("image/png"))
@kept
def edge_ribbon(request: HttpRequest, project: str, shot: str, draft: str, query: Query[RibbonIn]) -> HttpResponse:
    """Return a part of the edge ribbon as a picture; ``X-Ribbon`` tells its length, its lines and places on it."""
    at = At(project, shot, draft)
    cut = Cut(query.start, query.width, query.half, query.zoom, query.of)
    made = ribbon(ENGINE, at.source, at.order(), at.where(query.region), cut)
    return HttpResponse(encoded_ribbon(made), content_type="image/png", headers={"X-Ribbon": json.dumps(made.told())})


@router.get(DRAFT + "/edge", response={200: EdgeOut, **REFUSED})
@kept
def edge(request: HttpRequest, project: str, shot: str, draft: str, query: Query[EdgeIn]) -> EdgeOut:
    """Return a profile across the nearest place of a region's edge."""
    at = At(project, shot, draft)
    place = (query.x, query.y)
    made = edge_profile(ENGINE, at.source, at.order(), at.where(query.region), place, query.reach)
    return EdgeOut.model_validate(asdict(made))


@router.post(DRAFT + "/copy-region", response={200: list[CopiedOut], 409: Problem, **REFUSED})
def copy_region_to(request: HttpRequest, project: str, shot: str, draft: str, payload: CopyRegionIn) -> list[CopiedOut]:
    """Lay a copy of a region on the shelf of other shots; each is one step there, which can be undone."""
    at = At(project, shot, draft)
    region = at.where(payload.region).region.id
    shots = [shot_called(each.project, each.shot) for each in payload.to]
    return [
        CopiedOut(project=each.project.id, shot=each.id, name=copy_to(each, at.draft, region, at.shot))
        for each in shots
    ]
