"""Regions: mirrored, copied, imported and exported, their pieces and their edges."""

import json
from dataclasses import asdict

from django.http import HttpRequest, HttpResponse
from ninja import File, Router, UploadedFile

from calado.catalogue import CATALOGUE
from calado.errors import RequestError
from calado.region.where import Where
from calado.render.edge import edge_profile
from calado.render.engine import Order
from calado.render.ribbon import Cut, encoded_ribbon, ribbon
from calado.render.softness import edge_softness
from calado.render.where import where_of
from calado.sheet.check import check_sheet, read_sheet
from calado.sheet.models import Sheet
from calado.start.arrange import mirror
from calado.start.begin import follow_again
from calado.start.outlines import region_svg, start_outlines
from server.api.marking import (
    CopiedOut,
    CopyRegionIn,
    EdgeIn,
    EdgeOut,
    FollowIn,
    ImportedOut,
    MirrorIn,
    PieceOut,
    PiecesOut,
    RibbonIn,
    SoftnessOut,
    SvgIn,
)
from server.api.schemas import Problem, RegionIn, StartOut
from server.api.tell import tell_softness
from server.bench.imported import keep_matte
from server.bench.sources import ENGINE, source_for
from server.projects.access import shot_called
from server.projects.actions.copy_region import copy_to
from server.projects.models import Shot

router = Router(tags=["regions"])
SHOT = "/projects/{project}/shots/{shot}"
REFUSED = {404: Problem, 422: Problem}
#: more pieces than this are counted, not listed
MOST_PIECES = 60


def _where(payload: RegionIn) -> tuple[Sheet, Where]:
    sheet = read_sheet(payload.sheet, CATALOGUE)
    where = where_of(sheet, payload.region)
    if where is None:
        raise RequestError("There is no such region on the shelf.", code="render.region")
    return sheet, where


def _order(sheet: Sheet, shot: Shot) -> Order:
    return Order(sheet, read_sheet(shot.project.sheet, CATALOGUE))


@router.post(SHOT + "/mirror", response={200: StartOut, **REFUSED})
def mirror_region(request: HttpRequest, project: str, shot: str, payload: MirrorIn) -> StartOut:
    """Return a draft with a region, or one part of it, mirrored; nothing is saved yet."""
    found = shot_called(project, shot)
    sheet, where = _where(payload)
    return StartOut(sheet=mirror(sheet, where.region.id, payload.part, found.width / found.height), id=where.region.id)


@router.post(SHOT + "/follow", response={200: StartOut, **REFUSED})
def follow_path(request: HttpRequest, project: str, shot: str, payload: FollowIn) -> StartOut:
    """Return a draft with a curve that follows its pen's path closer, or looser; nothing is saved yet."""
    shot_called(project, shot)
    sheet, where = _where(payload)
    made = follow_again(sheet, where.region.id, payload.part, payload.tolerance)
    return StartOut(sheet=made, id=payload.part)


@router.post(SHOT + "/outlines", response={200: StartOut, **REFUSED})
def outlines_in(request: HttpRequest, project: str, shot: str, payload: SvgIn) -> StartOut:
    """Return a draft with the outlines of an SVG document as a region, or joined to one; nothing is saved yet."""
    found = shot_called(project, shot)
    sheet = read_sheet(payload.sheet, CATALOGUE)
    aspect = found.width / found.height
    made, id = start_outlines(sheet, payload.svg, payload.name, aspect, payload.region, payload.join)
    check_sheet(made, CATALOGUE)
    return StartOut(sheet=made, id=id)


@router.post(SHOT + "/svg", response=REFUSED)
def outlines_out(request: HttpRequest, project: str, shot: str, payload: RegionIn) -> HttpResponse:
    """Return a region's outlines as an SVG document."""
    found = shot_called(project, shot)
    _, where = _where(payload)
    made = region_svg(ENGINE.mattes(source_for(found)), where, (found.width, found.height))
    return HttpResponse(made, content_type="image/svg+xml", headers={"Content-Disposition": "attachment"})


@router.post(SHOT + "/mattes", response={200: ImportedOut, **REFUSED})
def import_matte(request: HttpRequest, project: str, shot: str, file: UploadedFile = File(...)) -> ImportedOut:
    """Keep a picture as a matte, for parts to stand for."""
    shot_called(project, shot)
    return ImportedOut(**asdict(keep_matte(file)))


@router.post(SHOT + "/pieces", response={200: PiecesOut, **REFUSED})
def list_pieces(request: HttpRequest, project: str, shot: str, payload: RegionIn) -> PiecesOut:
    """Return the islands and holes of a region's matte, the dropped ones among them."""
    found = shot_called(project, shot)
    _, where = _where(payload)
    pieces = ENGINE.mattes(source_for(found)).pieces(where, source_for(found).full())
    told = [
        PieceOut(**each.piece.model_dump(), area=each.area, box=each.box, dropped=each.dropped)
        for each in pieces[:MOST_PIECES]
    ]
    return PiecesOut(pieces=told, more=max(len(pieces) - MOST_PIECES, 0))


@router.post(SHOT + "/softness", response={200: SoftnessOut, **REFUSED})
def softness(request: HttpRequest, project: str, shot: str, payload: RegionIn) -> SoftnessOut:
    """Return how soft the picture's edge is along a region, and how far the region should grow beside a blur."""
    found = shot_called(project, shot)
    _, where = _where(payload)
    return tell_softness(edge_softness(ENGINE, source_for(found), where), found.height)


@router.post(SHOT + "/ribbon", response=REFUSED)
def edge_ribbon(request: HttpRequest, project: str, shot: str, payload: RibbonIn) -> HttpResponse:
    """Return a part of the edge ribbon as a picture; ``X-Ribbon`` tells its length, its lines and places on it."""
    found = shot_called(project, shot)
    sheet, where = _where(payload)
    cut = Cut(payload.start, payload.width, payload.half, payload.zoom, payload.of)
    made = ribbon(ENGINE, source_for(found), _order(sheet, found), where, cut)
    headers = {"X-Ribbon": json.dumps(made.told()), "Cache-Control": "no-store"}
    return HttpResponse(encoded_ribbon(made), content_type="image/png", headers=headers)


@router.post(SHOT + "/edge", response={200: EdgeOut, **REFUSED})
def edge(request: HttpRequest, project: str, shot: str, payload: EdgeIn) -> EdgeOut:
    """Return a profile across the nearest place of a region's edge."""
    found = shot_called(project, shot)
    sheet, where = _where(payload)
    at = (payload.x, payload.y)
    made = edge_profile(ENGINE, source_for(found), _order(sheet, found), where, at, payload.reach)
    return EdgeOut.model_validate(asdict(made))


@router.post(SHOT + "/copy-region", response={200: list[CopiedOut], 409: Problem, **REFUSED})
def copy_region_to(request: HttpRequest, project: str, shot: str, payload: CopyRegionIn) -> list[CopiedOut]:
    """Lay a copy of a region on the shelf of other shots; each is one step there, which can be undone."""
    found = shot_called(project, shot)
    sheet, where = _where(payload)
    shots = [shot_called(each.project, each.shot) for each in payload.to]
    return [
        CopiedOut(project=each.project.id, shot=each.id, name=copy_to(each, sheet, where.region.id, found))
        for each in shots
    ]
