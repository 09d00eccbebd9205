"""Regions read from the picture: samples, ranges, finds, further places, solving."""

from dataclasses import asdict
from typing import Any, Literal

from django.http import HttpRequest
from ninja import Field, Router, Schema

from calado.catalogue import CATALOGUE
from calado.errors import RequestError
from calado.found.find import find
from calado.inspect.distribution import ranged
from calado.inspect.further import further_places
from calado.inspect.touch import touch_at
from calado.render.where import where_of
from calado.sheet.check import read_sheet
from calado.sheet.models import Corner, ParameterValues, Sheet, Stroke
from calado.start.taking import take_sample
from server.api.schemas import Length, Problem, RegionIn, StartOut
from server.bench.sources import ENGINE, source_for
from server.projects.access import shot_called

router = Router(tags=["read"])
SHOT = "/projects/{project}/shots/{shot}"
REFUSED = {404: Problem, 422: Problem}


class PartIn(RegionIn):
    """A part of a region of a draft."""

    part: str


class SampleIn(PartIn):
    """A sample: its box (x, y, width, height) in picture heights; *set* begins anew, *put* adds, *take* keeps out."""

    box: tuple[Length, Length, Length, Length]
    does: Literal["set", "put", "take"] = "set"


class DistributionOut(Schema):
    """How often values of an axis occur, the fullest bin 1: in the whole picture, and inside the region."""

    axis: str
    everywhere: list[float]
    inside: list[float]


class RangedOut(Schema):
    """What a range's control shows; places are (x, y, matte) in picture heights."""

    distributions: list[DistributionOut]
    notes: list[str]
    steep: list[str]
    brightest: list[float]
    darkest: list[float]


class PlaceOut(Schema):
    """A place like the region; ``box`` in picture heights, ``outline`` as a pen's way round it."""

    box: list[float]
    outline: list[list[float]]
    area: float
    away: float


class OfferOut(Schema):
    """A find and the part it would be; ``box`` in picture heights."""

    name: str
    certainty: float
    box: list[float]
    kind: str
    values: ParameterValues
    points: tuple[Corner, ...]
    strokes: tuple[Stroke, ...]


class FindsOut(Schema):
    """What was found, and a sentence."""

    offers: list[OfferOut]
    says: str


class TouchIn(Schema):
    """A place in picture heights."""

    x: Length
    y: Length


class TouchOut(Schema):
    """How soft the picture's edge is near a place: a brush of this size, in picture heights, and hardness fits it."""

    size: float | None
    hardness: float | None
    says: str


class SolvingIn(Schema):
    """Whether solving goes on."""

    go_on: bool


class SolvingOut(Schema):
    """Whether anything is being solved."""

    busy: bool = Field(description="whether a matte is being solved")


@router.post(SHOT + "/sample", response={200: StartOut, **REFUSED})
def sample(request: HttpRequest, project: str, shot: str, payload: SampleIn) -> StartOut:
    """Return a draft with a sample taken for a part; nothing is saved yet."""
    source = source_for(shot_called(project, shot))
    sheet = read_sheet(payload.sheet, CATALOGUE)
    made = take_sample(ENGINE, source, sheet, (payload.region, payload.part), payload.box, payload.does)
    return StartOut(sheet=read_sheet(made.model_dump(mode="json"), CATALOGUE), id=payload.part)


@router.post(SHOT + "/ranged", response={200: RangedOut, **REFUSED})
def range_of(request: HttpRequest, project: str, shot: str, payload: PartIn) -> RangedOut:
    """Return what a range is drawn over, and what is worth knowing of it."""
    source = source_for(shot_called(project, shot))
    where = where_of(_sheet(payload.sheet), payload.region)
    part = next((each for each in where.region.parts if each.id == payload.part), None) if where else None
    if where is None or part is None:
        raise RequestError("There is no such part of a region.", code="render.region")
    made = ranged(ENGINE, source, where, part)
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


@router.post(SHOT + "/further", response={200: list[PlaceOut], **REFUSED})
def further(request: HttpRequest, project: str, shot: str, payload: RegionIn) -> list[PlaceOut]:
    """Return further places like a region, the likest and largest first."""
    source = source_for(shot_called(project, shot))
    where = where_of(_sheet(payload.sheet), payload.region)
    if where is None:
        raise RequestError("There is no such region on the shelf.", code="render.region")
    return [
        PlaceOut(box=list(p.box), outline=[list(point) for point in p.outline], area=p.area, away=p.away)
        for p in further_places(ENGINE, source, where)
    ]


@router.get(SHOT + "/found", response={200: FindsOut, **REFUSED})
def found(request: HttpRequest, project: str, shot: str) -> FindsOut:
    """Return the subjects, faces and lines of text in a shot; nothing is begun by itself."""
    finds = find(ENGINE, source_for(shot_called(project, shot)))
    return FindsOut(offers=[OfferOut(**_offered(offer)) for offer in finds.offers], says=finds.says)


@router.post(SHOT + "/touch", response={200: TouchOut, **REFUSED})
def touch(request: HttpRequest, project: str, shot: str, payload: TouchIn) -> TouchOut:
    """Return which brush fits the picture's edge near a place."""
    return TouchOut(**asdict(touch_at(ENGINE, source_for(shot_called(project, shot)), payload.x, payload.y)))


@router.post("/solving", response=SolvingOut)
def solving(request: HttpRequest, payload: SolvingIn) -> SolvingOut:
    """Call off what is being solved, or let it go on."""
    if payload.go_on:
        ENGINE.solved.resume()
    else:
        ENGINE.solved.call_off()
    return SolvingOut(busy=ENGINE.solved.busy)


def _sheet(data: dict[str, Any]) -> Sheet:
    return read_sheet(data, CATALOGUE)


def _short(shares: Any) -> list[float]:
    return [round(float(share), 4) for share in shares]


def _offered(offer: Any) -> dict[str, Any]:
    return {**{name: getattr(offer, name) for name in OfferOut.model_fields}, "box": list(offer.box)}
