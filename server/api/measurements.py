"""Readings: meters, scopes, what a cover leaves, second look."""

from dataclasses import asdict, replace

from django.http import HttpRequest, HttpResponse
from ninja import Query, Router

from calado.catalogue import CATALOGUE
from calado.edit.over_time import over_time
from calado.inspect.look.covers import read_pass
from calado.inspect.look.finding import Finding, Looked
from calado.inspect.look.second_look import second_look
from calado.inspect.meter import meter_of
from calado.inspect.scope_image import Scoped, encoded_scope, histogram_of
from calado.inspect.surround import surround_of
from calado.start.proof import Legible, found_under, read_under
from server.api.at import DRAFT, REFUSED, At, kept
from server.api.described import gives
from server.api.schemas.measurements import FindingOut, HistogramIn, HistogramOut, MeterIn, MeterOut, ScopeIn
from server.bench.sources import ENGINE

router = Router(tags=["readings"])


@router.get(DRAFT + "/meter", response={200: MeterOut, **REFUSED})
@kept
def meter(request: HttpRequest, project: str, shot: str, draft: str, query: Query[MeterIn]) -> MeterOut:
    """Return how much a pass, or one adjustment of it, changes the picture."""
    at = At(project, shot, draft)
    each = at.pass_called(query.pass_id)
    read = meter_of(ENGINE, at.source, at.sheet, each, query.side, query.adjustment)
    looked = Looked(ENGINE, at.source, at.sheet, at.common)
    adjustment = CATALOGUE.adjustments.get(query.adjustment)
    of_it = adjustment is None or adjustment.holds is not None
    concealed = read_pass(looked, each) if of_it else None
    about = surround_of(looked, each)
    gone = concealed is not None and not concealed.weak and concealed.detail_left == 0
    under = found_under(ENGINE, at.source, at.order(), each.id) if gone else ""
    still = read_under(ENGINE, at.source, at.order(), each.id) if concealed and not gone else Legible()
    said = [concealed.says, under] if concealed else []
    # what can be read comes before all else
    told = [still.says, *said] if still.left else [*said, still.says]
    return MeterOut(
        **asdict(read),
        concealed=" ".join(filter(None, told)),
        weak=bool(concealed and (concealed.weak or still.left)),
        **asdict(about),
    )


@router.get(DRAFT + "/scope", response=REFUSED, openapi_extra=gives("image/png"))
@kept
def scope(request: HttpRequest, project: str, shot: str, draft: str, query: Query[ScopeIn]) -> HttpResponse:
    """Return a scope as a picture."""
    at = At(project, shot, draft)
    scoped = Scoped(ENGINE, at.source, at.order(), query.of, query.region)
    data = encoded_scope(scoped, query.scope, (query.width, query.height))
    return HttpResponse(data, content_type="image/png")


@router.get(DRAFT + "/histogram", response={200: HistogramOut, **REFUSED})
@kept
def histogram(request: HttpRequest, project: str, shot: str, draft: str, query: Query[HistogramIn]) -> HistogramOut:
    """Return a histogram."""
    at = At(project, shot, draft)
    made = histogram_of(Scoped(ENGINE, at.source, at.order(), query.of, query.region), query.until)
    return HistogramOut(**{name: values.tolist() for name, values in asdict(made).items()})


@router.get(DRAFT + "/second-look", response={200: list[FindingOut], **REFUSED})
@kept
def look_again(request: HttpRequest, project: str, shot: str, draft: str) -> list[FindingOut]:
    """Return what a careful colleague would point out."""
    at = At(project, shot, draft)
    findings = second_look(ENGINE, at.source, at.sheet, at.common)
    return [FindingOut.model_validate(_of_draft(each, at), from_attributes=True) for each in findings]


def _of_draft(finding: Finding, at: At) -> Finding:
    """Return a finding whose mend reaches the draft with all that moves in it."""
    if finding.mended is None or at.sheet is at.draft:
        return finding
    return replace(finding, mended=over_time(at.draft, at.sheet, finding.mended))
