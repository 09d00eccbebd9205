"""Taking a sample from the picture for a part that is read from it."""

from calado.errors import SheetError
from calado.region.kinds import PARTS
from calado.region.read.taken import Takes, take
from calado.region.sampler import reads_of
from calado.render.engine import Engine
from calado.render.resolve import resolve
from calado.render.source import Source
from calado.sheet.models import Sheet


def take_sample(
    engine: Engine,
    source: Source,
    sheet: Sheet,
    place: tuple[str, str],
    box: tuple[float, float, float, float],
    does: Takes,
) -> Sheet:
    """Return the sheet with a sample taken for a part; ``place`` names its region and the part.

    ``box`` = (x, y, width, height) in picture heights.

    Raises
    ------
    SheetError
        when there is no such part, or it takes no samples.
    RequestError
        for a box beside the picture.
    """
    region_id, part_id = place
    region, where = sheet.region(region_id), resolve(sheet, region_id)
    part = next((each for each in region.parts if each.id == part_id), None) if region else None
    if region is None or where is None or part is None:
        raise SheetError("There is no such part to take a sample for.", code="start.part")
    kind = PARTS[part.kind]
    if kind.taken is None:
        raise SheetError(f"A {kind.name.lower()} takes no samples.", code="start.part")
    denoise = kind.number(part.values, "denoise")
    taken = take(engine.seen(source, where), reads_of(part.values), denoise, box, does, source.full())
    made = kind.taken(part, taken)
    parts = tuple(made if each.id == part_id else each for each in region.parts)
    regions = tuple(
        each.model_copy(update={"parts": parts}) if each.id == region_id else each for each in sheet.regions
    )
    return sheet.model_copy(update={"regions": regions})
