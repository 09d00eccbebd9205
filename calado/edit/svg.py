"""A region from the outlines of an SVG document, and back."""

from calado.edit.create import free_id, free_name
from calado.errors import SheetError
from calado.region.contours import contours
from calado.region.matte import Mattes
from calado.region.resolved import ResolvedRegion
from calado.region.svg import is_exact, read_svg, write_svg
from calado.region.tracing import tracing_window
from calado.sheet.models import Join, Part, Region, Sheet
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
    region = sheet.region(region_id)
    if region_id is not None and region is None:
        raise SheetError(f"There is no region “{region_id}” on the shelf.", code="start.region")
    if region is None:
        id = free_id("region", (each.id for each in sheet.regions))
        region = Region(id=id, name=free_name(name, (each.name for each in sheet.regions)))
        sheet = sheet.model_copy(update={"regions": (*sheet.regions, region)})
    elif join != "add":
        # one part of several outlines cannot be taken out as one: each is
        found = [(points, join) for points, _ in found]
    parts = list(region.parts)
    for points, how in found:
        kind = "curve" if any(len(point) > 2 for point in points) else "polygon"
        id = free_id("part", (part.id for part in parts))
        parts.append(Part(id=id, kind=kind, join=how, points=points))
    filled = region.model_copy(update={"parts": tuple(parts)})
    regions = tuple(filled if each.id == region.id else each for each in sheet.regions)
    return sheet.model_copy(update={"regions": regions}), region.id


def region_svg(mattes: Mattes, where: ResolvedRegion, size: tuple[int, int]) -> str:
    """Return a region as an SVG document, ``size`` (width, height) pixels large."""
    lines = []
    if not is_exact(where.region):
        window = tracing_window(full_window(*size))
        lines = contours(mattes.of(where, window), window, round_frame=True)
    return write_svg(where.region, lines, size)
