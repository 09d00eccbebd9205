"""Colour tables and colour decision lists, in and out."""

from typing import Literal

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from ninja import Field, File, Router, Schema, UploadedFile

from calado.media.cdl import MOST_BYTES, read_cdl, write_cdl
from calado.media.cube import MOST_BYTES as MOST_CUBE_BYTES
from calado.media.cube import read_cube, store_cube
from calado.sheet.models import Finite
from server.api.described import gives
from server.api.schemas import Problem

router = Router(tags=["tables"])


class TableOut(Schema):
    """An imported table: the name by which an adjustment stands for it, what it is called, and what it is."""

    file: str
    name: str
    note: str


class CorrectionOut(Schema):
    """A correction of a colour decision list, as values of the adjustment."""

    name: str
    values: dict[str, float]


class CorrectionIn(Schema):
    """Values of the adjustment, and the form they are to be written in."""

    name: str = Field("correction", min_length=1, max_length=60)
    values: dict[str, Finite]
    form: Literal["cc", "ccc", "cdl"] = "cc"


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
