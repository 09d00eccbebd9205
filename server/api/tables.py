"""Colour tables and colour decision lists, in and out."""

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from ninja import File, Router, UploadedFile

from calado.media.cdl import MOST_BYTES, read_cdl, write_cdl
from calado.media.cube import MOST_BYTES as MOST_CUBE_BYTES
from calado.media.cube import read_cube, store_cube
from server.api.described import gives
from server.api.schemas.common import Problem
from server.api.schemas.tables import CorrectionIn, CorrectionOut, TableOut

router = Router(tags=["tables"])


@router.post("/tables", response={200: TableOut, 422: Problem})
def import_table(request: HttpRequest, file: UploadedFile = File(...)) -> TableOut:
    """Keep a .cube file, for adjustments to stand for."""
    data = file.read(MOST_CUBE_BYTES + 1)
    table = read_cube(data)
    digest = store_cube(data, settings.TABLE_ROOT)
    size = table.values.shape[0]
    note = f"{size} × {size} × {size}, three-dimensional." if table.solid else f"{size} entries a channel."
    return TableOut(file=digest, name=(file.name or "table").rsplit(".", 1)[0][:40] or "table", note=note)


@router.post("/cdl", response={200: list[CorrectionOut], 422: Problem})
def import_cdl(request: HttpRequest, file: UploadedFile = File(...)) -> list[CorrectionOut]:
    """Return the corrections of a .cc, .ccc or .cdl file."""
    found = read_cdl(file.read(MOST_BYTES + 1))
    return [CorrectionOut(name=name, values=values) for name, values in found]


@router.post("/cdl/write", response={422: Problem}, openapi_extra=gives("application/xml"))
def export_cdl(request: HttpRequest, payload: CorrectionIn) -> HttpResponse:
    """Return values of the adjustment as a colour decision list."""
    data = write_cdl([(payload.name, payload.values)], payload.form)
    headers = {"Content-Disposition": f"attachment; filename=correction.{payload.form}"}
    return HttpResponse(data, content_type="application/xml", headers=headers)
