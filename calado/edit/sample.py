"""Taking a sample from the picture for a part that is read from it."""

from calado.errors import SheetError
from calado.region.kinds import PARTS
from calado.region.read.taken import Takes, take
from calado.region.sampler import reads_of
from calado.render.engine import Engine
from calado.render.resolve import resolve
from calado.render.source import Source
from calado.sheet.models import Sheet
from calado.sheet.within import part_called, region_called, with_part, with_region


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
    region = region_called(sheet, region_id)
    part, where = part_called(region, part_id), resolve(sheet, region_id)
    assert where is not None  # it was just found
    kind = PARTS[part.kind]
    if kind.taken is None:
        raise SheetError(f"A {kind.name.lower()} takes no samples.", code="start.part")
    denoise = kind.number(part.values, "denoise")
    taken = take(engine.seen(source, where), reads_of(part.values), denoise, box, does, source.full())
    made = kind.taken(part, taken)
    return with_region(sheet, with_part(region, made))
