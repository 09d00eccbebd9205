"""Regions read from the picture: samples, ranges, finds, further places, solving."""

from dataclasses import asdict
from typing import Any

from django.http import HttpRequest
from ninja import Query, Router

from calado.catalogue import CATALOGUE
from calado.detect.find import TOLD, find
from calado.detect.offer import Offer
from calado.edit.balance import balanced
from calado.edit.sample import take_sample
from calado.inspect.brush_fit import touch_at
from calado.inspect.distribution import ranged
from calado.inspect.similar import further_places
from calado.sheet.check import read_sheet
from calado.sheet.within import part_called
from server.api.at import DRAFT, REFUSED, SHOT, At, frame_of, kept
from server.api.schemas.common import RegionIn, StartOut
from server.api.schemas.sampling import (
    BalanceIn,
    BrushFitIn,
    BrushFitOut,
    DistributionOut,
    FindsOut,
    OfferOut,
    PartIn,
    PlaceOut,
    RangedOut,
    SampleIn,
    SolvingIn,
    SolvingOut,
    Told,
)
from server.bench.sources import ENGINE, source_for
from server.projects.access import shot_called

router = Router(tags=["read"])


@router.post(DRAFT + "/sample", response={200: StartOut, **REFUSED})
def sample(request: HttpRequest, project: str, shot: str, draft: str, payload: SampleIn) -> StartOut:
    """Return a draft with a sample taken for a part; nothing is saved yet."""
    at = At(project, shot, draft)
    made = take_sample(ENGINE, at.source, at.draft, (payload.region, payload.part), payload.box, payload.does)
    return StartOut(sheet=read_sheet(made.model_dump(mode="json"), CATALOGUE), id=payload.part)


@router.post(DRAFT + "/balance", response={200: StartOut, **REFUSED})
def balance(request: HttpRequest, project: str, shot: str, draft: str, payload: BalanceIn) -> StartOut:
    """Return a draft with a pass balanced for the light of a place that should be grey; nothing is saved yet."""
    at = At(project, shot, draft)
    made = balanced(ENGINE, at.source, at.draft, payload.pass_id, payload.side, payload.box)
    return StartOut(sheet=read_sheet(made.model_dump(mode="json"), CATALOGUE), id=payload.pass_id)


@router.get(DRAFT + "/ranged", response={200: RangedOut, **REFUSED})
@kept
def range_of(request: HttpRequest, project: str, shot: str, draft: str, query: Query[PartIn]) -> RangedOut:
    """Return what a range is drawn over, and what is worth knowing of it."""
    at = At(project, shot, draft)
    where = at.where(query.region)
    made = ranged(ENGINE, at.source, where, part_called(where.region, query.part))
    return RangedOut(
        distributions=[
            DistributionOut(axis=d.axis, everywhere=_short(d.everywhere), inside=_short(d.inside))
            for d in made.distributions
        ],
        notes=list(made.notes),
        steep=list(made.steep),
        brightest=list(made.brightest),
        darkest=list(made.darkest),
    )


@router.get(DRAFT + "/further", response={200: list[PlaceOut], **REFUSED})
@kept
def further(request: HttpRequest, project: str, shot: str, draft: str, query: Query[RegionIn]) -> list[PlaceOut]:
    """Return further places like a region, the likest and largest first."""
    at = At(project, shot, draft)
    return [
        PlaceOut(box=list(p.box), outline=[list(point) for point in p.outline], area=p.area, away=p.away)
        for p in further_places(ENGINE, at.source, at.where(query.region))
    ]


@router.get(SHOT + "/found", response={200: FindsOut, **REFUSED})
def found(request: HttpRequest, project: str, shot: str, frame: str = "", kind: Told | None = None) -> FindsOut:
    """Return the subjects, faces and lines of text in a shot, of a clip in a frame; nothing is begun by itself.

    With a ``kind`` those alone are looked for: “read” are lines with what they say.
    """
    of = shot_called(project, shot)
    finds = find(ENGINE, source_for(of, frame_of(of, frame)), (kind,) if kind else TOLD)
    return FindsOut(offers=[offer_out(offer) for offer in finds.offers], says=finds.says)


@router.get(SHOT + "/touch", response={200: BrushFitOut, **REFUSED})
def touch(request: HttpRequest, project: str, shot: str, query: Query[BrushFitIn]) -> BrushFitOut:
    """Return which brush fits the picture's edge near a place."""
    return BrushFitOut(**asdict(touch_at(ENGINE, source_for(shot_called(project, shot)), query.x, query.y)))


@router.post("/solving", response=SolvingOut)
def solving(request: HttpRequest, payload: SolvingIn) -> SolvingOut:
    """Call off what is being solved, or let it go on."""
    if payload.go_on:
        ENGINE.solved.resume()
    else:
        ENGINE.solved.call_off()
    return SolvingOut(busy=ENGINE.solved.busy)


def _short(shares: Any) -> list[float]:
    return [round(float(share), 4) for share in shares]


def offer_out(offer: Offer) -> OfferOut:
    """Return a find."""
    return OfferOut(**{**{name: getattr(offer, name) for name in OfferOut.model_fields}, "box": list(offer.box)})
