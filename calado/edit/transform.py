"""Regions mirrored, and taken over to another shot: kept relative to the frame."""

from calado.edit.create import free_id, free_name
from calado.edit.over_time import mapped_over_time
from calado.errors import SheetError
from calado.region.affine import Affine
from calado.region.brush.brush import mapped_stroke
from calado.region.kinds import PARTS
from calado.render.resolve import resolve
from calado.sheet.models import Part, Sheet
from calado.sheet.within import part_called, region_called, with_region


def mirror(sheet: Sheet, region_id: str, part_id: str | None, aspect: float) -> Sheet:
    """Return the sheet with a region, or one part of it, mirrored about the middle of a frame ``aspect`` heights wide.

    Raises
    ------
    SheetError
        when it does not exist, or stands for something that is mirrored elsewhere.
    """
    region = region_called(sheet, region_id)
    chosen = {part_called(region, part_id).id} if part_id else {part.id for part in region.parts}
    parts = tuple(
        _mapped(part, Affine.across(-1.0, aspect), region.name) if part.id in chosen else part for part in region.parts
    )
    update: dict[str, object] = {"parts": parts}
    if part_id is None:
        update["band"] = tuple(mapped_stroke(each, Affine.across(-1.0, aspect)) for each in region.band)
        update["removed"] = tuple(each.model_copy(update={"x": round(aspect - each.x, 5)}) for each in region.removed)
    return with_region(sheet, region.model_copy(update=update))


def copy_region(sheet: Sheet, region_id: str, aspect: float, to: Sheet, to_aspect: float) -> tuple[Sheet, str]:
    """Return another shot's sheet with a copy of a region, and of those it stands on; and the copy's id.

    What is placed across a frame ``aspect`` heights wide keeps its share of one ``to_aspect`` heights wide.

    Raises
    ------
    SheetError
        when the region does not exist.
    """
    where = resolve(sheet, region_called(sheet, region_id).id)
    assert where is not None  # it was just found
    new: dict[str, str] = {}
    for region in (*where.others.values(), where.region):
        new[region.id] = free_id("region", (*(each.id for each in to.regions), *new.values()))
    regions = list(to.regions)
    for region in (*where.others.values(), where.region):
        scale = to_aspect / aspect
        parts = tuple(_pointed(_mapped(part, Affine.across(scale, 0.0), region.name), new) for part in region.parts)
        removed = tuple(each.model_copy(update={"x": round(scale * each.x, 5)}) for each in region.removed)
        band = tuple(mapped_stroke(each, Affine.across(scale, 0.0)) for each in region.band)
        name = free_name(region.name, (each.name for each in regions))
        update = {"id": new[region.id], "name": name, "parts": parts, "band": band, "removed": removed}
        regions.append(region.model_copy(update=update))
    return to.model_copy(update={"regions": tuple(regions)}), new[region_id]


def _mapped(part: Part, affine: Affine, region: str) -> Part:
    made = mapped_over_time(part, lambda still: PARTS[part.kind].mapped(still, affine))
    if made is not None:
        return made
    if not affine.flips:
        return part
    raise SheetError(
        f"“{region}” holds another region, which this mirror does not reach. Mirror that region on the shelf.",
        code="start.mirror",
    )


def _pointed(part: Part, new: dict[str, str]) -> Part:
    """Return a part that names the copies of the regions that it named."""
    reference = PARTS[part.kind].reference("region")
    if reference is None or not part.values.get(reference.id):
        return part
    return part.model_copy(update={"values": {**part.values, reference.id: new[str(part.values[reference.id])]}})
