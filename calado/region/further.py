"""Growing without searching: an outline that is soft only outward is grown by moving its feather outward.

What a disc of radius r finds at a distance d outside of an outline is what stands at d − r, and inside of it all is
whole. So the matte of a single outline, hard inward, grown by r is the same one read at d − r, whatever its form
(Serra1982: to dilate by a disc is to compare the distance with its radius).
"""

from calado.region.kinds import PARTS
from calado.region.refine.registry import REFINE
from calado.sheet.models import Region


def grown_by_distance(region: Region) -> Region | None:
    """Return the region whose matte, not refined, is that of ``region`` refined; None where it has to be searched."""
    numbers = REFINE.all_numbers(region.refine)
    by = numbers.pop("grow")
    others = any(value != REFINE.number({}, id) for id, value in numbers.items())
    parts = [part for part in region.parts if part.on]
    if by <= 0 or others or region.band or len(parts) != 1:
        return None
    part = parts[0]
    kind = PARTS[part.kind]
    drawn = kind.by_distance and part.join == "add" and not part.complement and part.opacity == 1
    if not drawn or kind.number(part.values, "feather_in") > 0:
        return None
    outward = kind.number(part.values, "feather_out")
    values = {**part.values, "feather_in": -by, "feather_out": outward + by}
    moved = part.model_copy(update={"values": values})
    return region.model_copy(update={"parts": (moved,), "refine": {}})
