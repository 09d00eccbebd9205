"""Readings: meters, scopes, what a cover leaves, second look."""

from dataclasses import asdict
from typing import Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import Field, Router, Schema

from calado.catalogue import CATALOGUE
from calado.errors import RequestError
from calado.inspect.drawn import Scoped, encoded_scope, histogram_of
from calado.inspect.look.covers import read_pass
from calado.inspect.look.finding import Looked
from calado.inspect.look.second_look import second_look
from calado.inspect.meter import meter_of
from calado.inspect.surround import surround_of
from calado.render.engine import Order
from calado.sheet.check import read_sheet
from calado.sheet.models import Pass, Sheet
from calado.start.proof import found_under
from server.api.schemas import Problem, Side
from server.bench.sources import ENGINE, source_for
from server.projects.access import shot_called
from server.projects.models import Shot

router = Router(tags=["readings"])
SHOT = "/projects/{project}/shots/{shot}"
REFUSED = {404: Problem, 422: Problem}


class MeterIn(Schema):
    """A pass of a draft, or one adjustment of it."""

    sheet: dict[str, Any]
    pass_id: str
    side: Side | None = None
    adjustment: str = ""


class MeterOut(Schema):
    """How much it changes: shares of the picture, mean ΔE₀₀, and a sentence; what a cover leaves, and the surround."""

    area: float
    mean: float
    visible: bool
    clipped: float
    crushed: float
    says: str
    concealed: str = ""
    weak: bool = False
    corner: str = ""
    spill: str = ""
    spill_at: list[float] | None = None
    spill_grow: float = 0.0


class ScopeIn(Schema):
    """Which scope of which picture; of a region's inside if one is named."""

    sheet: dict[str, Any]
    scope: Literal["waveform", "parade", "vectorscope"]
    of: Literal["picture", "source"] = "picture"
    region: str | None = None
    width: int = Field(256, ge=32, le=1024)
    height: int = Field(128, ge=32, le=512)


class HistogramIn(Schema):
    """Which picture; of a region's inside if one is named. ``until`` leaves out a pass and what follows."""

    sheet: dict[str, Any]
    of: Literal["picture", "source"] = "picture"
    region: str | None = None
    until: str | None = None


class HistogramOut(Schema):
    """Shares of pixels by 256 levels of the signal."""

    luma: list[float]
    red: list[float]
    green: list[float]
    blue: list[float]


class DraftIn(Schema):
    """A draft."""

    sheet: dict[str, Any]


class FindingOut(Schema):
    """Something to point out; ``mended`` is the sheet on which it is mended, and ``mend`` says how."""

    kind: str
    says: str
    pass_id: str | None
    region_id: str | None
    rectangle: list[float] | None
    mend: str
    mended: Sheet | None


def _draft(shot: Shot, sheet: dict[str, Any]) -> tuple[Sheet, Sheet]:
    return read_sheet(sheet, CATALOGUE), read_sheet(shot.project.sheet, CATALOGUE)


def _pass(sheet: Sheet, id: str) -> Pass:
    found = next((each for each in sheet.passes if each.id == id), None)
    if found is None:
        raise RequestError(f"There is no pass “{id}” on the sheet.", code="readings.pass")
    return found


@router.post(SHOT + "/meter", response={200: MeterOut, **REFUSED})
def meter(request: HttpRequest, project: str, shot: str, payload: MeterIn) -> MeterOut:
    """Return how much a pass, or one adjustment of it, changes the picture."""
    found = shot_called(project, shot)
    sheet, common = _draft(found, payload.sheet)
    each, source = _pass(sheet, payload.pass_id), source_for(found)
    read = meter_of(ENGINE, source, sheet, each, payload.side, payload.adjustment)
    looked = Looked(ENGINE, source, sheet, common)
    adjustment = CATALOGUE.adjustments.get(payload.adjustment)
    of_it = adjustment is None or adjustment.holds is not None
    concealed = read_pass(looked, each) if of_it else None
    about = surround_of(looked, each)
    gone = concealed is not None and not concealed.weak and concealed.detail_left == 0
    under = found_under(ENGINE, source, Order(sheet, common), each.id) if gone else ""
    return MeterOut(
        **asdict(read),
        concealed=f"{concealed.says} {under}".strip() if concealed else "",
        weak=bool(concealed and concealed.weak),
        **asdict(about),
    )


@router.post(SHOT + "/scope", response=REFUSED)
def scope(request: HttpRequest, project: str, shot: str, payload: ScopeIn) -> HttpResponse:
    """Return a scope as a picture."""
    found = shot_called(project, shot)
    order = Order(*_draft(found, payload.sheet))
    scoped = Scoped(ENGINE, source_for(found), order, payload.of, payload.region)
    data = encoded_scope(scoped, payload.scope, (payload.width, payload.height))
    return HttpResponse(data, content_type="image/png", headers={"Cache-Control": "no-store"})


@router.post(SHOT + "/histogram", response={200: HistogramOut, **REFUSED})
def histogram(request: HttpRequest, project: str, shot: str, payload: HistogramIn) -> HistogramOut:
    """Return a histogram."""
    found = shot_called(project, shot)
    order = Order(*_draft(found, payload.sheet))
    made = histogram_of(Scoped(ENGINE, source_for(found), order, payload.of, payload.region), payload.until)
    return HistogramOut(**{name: values.tolist() for name, values in asdict(made).items()})


@router.post(SHOT + "/second-look", response={200: list[FindingOut], **REFUSED})
def look_again(request: HttpRequest, project: str, shot: str, payload: DraftIn) -> list[FindingOut]:
    """Return what a careful colleague would point out."""
    found = shot_called(project, shot)
    sheet, common = _draft(found, payload.sheet)
    findings = second_look(ENGINE, source_for(found), sheet, common)
    return [FindingOut.model_validate(each, from_attributes=True) for each in findings]
