"""A region from the outlines of an SVG document, and back."""

from calado.edit.create import free_id, free_name
from calado.region.contours import contours
from calado.region.matte import Mattes
from calado.region.resolved import ResolvedRegion
from calado.region.svg import is_exact, read_svg, write_svg
from calado.region.tracing import tracing_window
from calado.sheet.models import Join, Part, Region, Sheet
from calado.sheet.within import region_called, with_region
from calado.window import full_window


def start_outlines(
    sheet: Sheet, svg: str, name: str, aspect: float, region_id: str | None = None, join: Join = "add"
) -> tuple[Sheet, str]:
    """Return the sheet with a document's outlines as a new region, or as parts of one; and the region's id.

    The first outline joins the region by ``join``, the others as they lie among themselves.

    Raises
    ------
    SheetError
        with a sentence on what is wrong.
    """
    found = read_svg(svg, aspect)
    region = None if region_id is None else region_called(sheet, region_id)
    if region is None:
        id = free_id("region", (each.id for each in sheet.regions))
        region = Region(id=id, name=free_name(name, (each.name for each in sheet.regions)))
    elif join != "add":
        # one part of several outlines cannot be taken out as one: each is
        found = [(points, join) for points, _ in found]
    parts = list(region.parts)
    for points, how in found:
        kind = "curve" if any(len(point) > 2 for point in points) else "polygon"
        id = free_id("part", (part.id for part in parts))
        parts.append(Part(id=id, kind=kind, join=how, points=points))
    return with_region(sheet, region.model_copy(update={"parts": tuple(parts)})), region.id


def region_svg(mattes: Mattes, where: ResolvedRegion, size: tuple[int, int]) -> str:
    """Return a region as an SVG document, ``size`` (width, height) pixels large."""
    lines = []
    if not is_exact(where.region):
        window = tracing_window(full_window(*size))
        lines = contours(mattes.of(where, window), window, round_frame=True)
    return write_svg(where.region, lines, size)
