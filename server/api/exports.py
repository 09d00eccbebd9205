"""Exports: ordered, watched, called off, fetched."""

from dataclasses import asdict, replace

from django.http import FileResponse, HttpRequest, HttpResponse
from django.utils.http import content_disposition_header
from ninja import Router

from calado.errors import RequestError
from calado.export_rows import fits
from calado.media.clips.formats import ClipTarget
from calado.media.formats import FORMATS
from calado.media.metadata import facts_of
from calado.media.write import Target
from calado.report.pdf import report_pdf, statement_pdf
from calado.report.table import report_csv, statement_csv
from server.api.described import gives
from server.api.schemas.common import Problem
from server.api.schemas.exports import ClipExportIn, ExportIn, ExportOut, FactOut, ReportOut, StatementOut
from server.api.serializers import export_out
from server.jobs.actions import Keeping, Wanted, call_off, order_export, refuse_weak_covers, remove_export
from server.jobs.models import Export
from server.jobs.reporting import frames_of_file, report_of, statement_of
from server.projects.access import project_called, shot_called
from server.projects.errors import Missing
from server.projects.models import Shot

router = Router(tags=["exports"])
PROJECT = "/projects/{project}/exports"


def _called(project: str, id: str) -> Export:
    found = Export.objects.filter(project=project_called(project), id=id).select_related("shot").first()
    if found is None:
        raise Missing("export")
    return found


@router.get(PROJECT, response={200: list[ExportOut], 404: Problem})
def list_exports(request: HttpRequest, project: str) -> list[ExportOut]:
    """Return the exports of a project, newest first."""
    found = Export.objects.filter(project=project_called(project)).select_related("shot")[:100]
    return [export_out(export) for export in found]


@router.post(PROJECT, response={200: list[ExportOut], 404: Problem, 409: Problem, 422: Problem})
def create_exports(request: HttpRequest, project: str, payload: ExportIn) -> list[ExportOut]:
    """Put an export of each shot into the queue; refused once where a cover lets something through."""
    shots = [shot_called(project, shot) for shot in payload.shots]
    target, wanted = _wanted(payload, shots)
    if not payload.even_so and wanted.what != "matte":
        refuse_weak_covers(shots)
    keeping = Keeping(payload.keep_metadata, payload.keep_private)
    if payload.clip and payload.clip.joined:
        shots, wanted = shots[:1], replace(wanted, following=tuple(shots[1:]))
    made = [order_export(shot, target, keeping=keeping, wanted=wanted) for shot in shots]
    return [export_out(export) for export in made]


def _wanted(payload: ExportIn, shots: list[Shot]) -> tuple[Target, Wanted]:
    clip = payload.clip
    if clip is None:
        target = Target(payload.format, payload.bits, payload.quality, cuts_off=payload.cuts_off)
        fits(payload.what, target)
        return target, Wanted(payload.what, payload.region, payload.longer_side)
    frames = _frames(clip, shots)
    if clip.format in FORMATS:
        target = Target(clip.format, FORMATS[clip.format].bits[0])  # type: ignore[index, arg-type]
        fits(payload.what, target)
        return target, Wanted(payload.what, payload.region, numbered=True, frames=frames)
    if clip.joined and payload.what != "picture":
        raise RequestError("Only pictures are joined in one file.", code="render.kind")
    kind = ClipTarget(clip.format, clip.quality, clip.sound)  # type: ignore[arg-type]
    return Target("png"), Wanted(payload.what, payload.region, clip=kind, frames=frames)


def _frames(clip: ClipExportIn, shots: list[Shot]) -> tuple[int, int] | None:
    """Return the first and the last frame, None for the whole length."""
    if (clip.first is None and clip.last is None) or clip.joined:
        return None
    last = min(shot.frames for shot in shots) - 1
    return clip.first or 0, last if clip.last is None else clip.last


@router.get("/projects/{project}/shots/{shot}/metadata", response={200: list[FactOut], 404: Problem})
def metadata(request: HttpRequest, project: str, shot: str) -> list[FactOut]:
    """Return what a shot's file says of itself and may be copied to an export."""
    found = shot_called(project, shot)
    return [] if found.is_clip else [FactOut(**asdict(fact)) for fact in facts_of(found.path)]


@router.post(PROJECT + "/{export}/cancel", response={200: ExportOut, 404: Problem})
def cancel_export(request: HttpRequest, project: str, export: str) -> ExportOut:
    """Call an export off."""
    call_off(_called(project, export))
    return export_out(_called(project, export))


@router.delete(PROJECT + "/{export}", response={204: None, 404: Problem})
def delete_export(request: HttpRequest, project: str, export: str) -> tuple[int, None]:
    """Remove an export and its file."""
    remove_export(_called(project, export))
    return 204, None


@router.get(PROJECT + "/{export}/report", response={200: ReportOut, 404: Problem})
def report(request: HttpRequest, project: str, export: str) -> ReportOut:
    """Return the concealment report of an export."""
    return ReportOut.model_validate(report_of(_called(project, export)).data())


@router.get(PROJECT + "/{export}/report.csv", response={404: Problem}, openapi_extra=gives("text/csv"))
def report_table(request: HttpRequest, project: str, export: str) -> HttpResponse:
    """Return the report as a table, a row for frames in which a cover stands alike."""
    found = _called(project, export)
    return _file(report_csv(report_of(found)).encode(), "text/csv; charset=utf-8", found, "csv")


@router.get(PROJECT + "/{export}/report.pdf", response={404: Problem}, openapi_extra=gives("application/pdf"))
def report_paper(request: HttpRequest, project: str, export: str) -> HttpResponse:
    """Return the report as PDF, with frames of the file."""
    found = _called(project, export)
    made = report_of(found)
    with frames_of_file(found) as pictures:
        return _file(report_pdf(made, pictures), "application/pdf", found, "pdf")


@router.get(PROJECT + "/{export}/statement", response={200: StatementOut, 404: Problem})
def stated(request: HttpRequest, project: str, export: str) -> StatementOut:
    """Return the statement of what an export changed."""
    return StatementOut.model_validate(statement_of(_called(project, export)).data())


@router.get(PROJECT + "/{export}/statement.csv", response={404: Problem}, openapi_extra=gives("text/csv"))
def stated_table(request: HttpRequest, project: str, export: str) -> HttpResponse:
    """Return the statement as a table, a row for each pass."""
    found = _called(project, export)
    return _file(statement_csv(statement_of(found)).encode(), "text/csv; charset=utf-8", found, "csv", "statement")


@router.get(PROJECT + "/{export}/statement.pdf", response={404: Problem}, openapi_extra=gives("application/pdf"))
def stated_paper(request: HttpRequest, project: str, export: str) -> HttpResponse:
    """Return the statement as PDF."""
    found = _called(project, export)
    return _file(statement_pdf(statement_of(found)), "application/pdf", found, "pdf", "statement")


@router.get(PROJECT + "/{export}/frames/{frame}", response={404: Problem}, openapi_extra=gives("image/jpeg"))
def frame_of_export(request: HttpRequest, project: str, export: str, frame: int) -> HttpResponse:
    """Return a frame of the finished file, small, by its number in the source."""
    with frames_of_file(_called(project, export)) as pictures:
        shown = pictures(frame)
    if shown is None:
        raise Missing("frame")
    return HttpResponse(shown, content_type="image/jpeg", headers={"Cache-Control": "private, max-age=3600"})


def _file(data: bytes, kind: str, of: Export, suffix: str, what: str = "report") -> HttpResponse:
    answer = HttpResponse(data, content_type=kind)
    answer.headers["Content-Disposition"] = content_disposition_header(True, f"{of.path.stem}, {what}.{suffix}")
    return answer


@router.get(PROJECT + "/{export}/file", response={404: Problem}, openapi_extra=gives("*/*"))
def fetch_export(request: HttpRequest, project: str, export: str) -> FileResponse:
    """Return the finished file."""
    found = _called(project, export)
    if found.state != Export.State.DONE or not found.path.exists():
        raise Missing("finished file")
    return FileResponse(found.path.open("rb"), as_attachment=True, filename=found.file_name)
