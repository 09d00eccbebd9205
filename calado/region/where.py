"""A region with the other regions it stands on: all that its matte depends on, as one value."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

from calado.region.kinds import PARTS
from calado.sheet.check import regions_named
from calado.sheet.declare import Catalogue
from calado.sheet.models import Region, Sheet

_KINDS = Catalogue(parts=PARTS)


@dataclass(frozen=True, eq=False)
class Where:
    """A region, and by their ids the regions that stand in it as parts, near or far.

    ``before`` are the sheets, in order, of what comes into the pass that uses the region.
    """

    region: Region
    others: Mapping[str, Region]
    before: tuple[Sheet, ...] = ()

    def lower(self, id: str) -> "Where":
        """Return the region called ``id`` that stands in this one, with those that stand in it."""
        return _where(self.others, self.others[id], self.before)

    @cached_property
    def sees(self) -> frozenset[str]:
        """Which pictures the region is read from: *source*, *incoming*, both or none."""
        chain = [self.region, *self.others.values()]
        read = {PARTS[part.kind].sees(part) for region in chain for part in region.parts}
        return frozenset(read | ({"source"} if any(region.band for region in chain) else set())) - {""}

    @cached_property
    def before_key(self) -> str:
        """All that what comes into the pass depends on besides the source."""
        return "".join(sheet.model_dump_json() for sheet in self.before)

    @cached_property
    def key(self) -> str:
        """All that the matte depends on besides the window and the source; names of regions are not in it."""
        chain = [self.region, *(self.others[id] for id in sorted(self.others))]
        own = "".join(each.model_dump_json(exclude={"name"}) for each in chain)
        return own + self.before_key if "incoming" in self.sees else own


def where_of(sheet: Sheet, id: str | None, user: str | None = None, below: tuple[Sheet, ...] = ()) -> Where | None:
    """Return the region called ``id`` of a checked sheet, or None for the whole picture.

    ``user`` is the pass that uses it, by default the first that does; ``below`` are sheets that run before this one.
    """
    region = sheet.region(id)
    if region is None:
        return None
    first = user or next((each.id for each in sheet.passes if each.region == id), None)
    number = next((k for k, each in enumerate(sheet.passes) if each.id == first), len(sheet.passes))
    before = (*below, sheet.model_copy(update={"passes": sheet.passes[:number]}))
    return _where({each.id: each for each in sheet.regions}, region, before)


def alone(region: Region) -> Where:
    """Return a region that stands on no other."""
    return Where(region, {})


def _where(shelf: Mapping[str, Region], region: Region, before: tuple[Sheet, ...]) -> Where:
    found: dict[str, Region] = {}
    waiting = regions_named(region, _KINDS)
    while waiting:
        id = waiting.pop()
        if id not in found:
            found[id] = shelf[id]
            waiting += regions_named(shelf[id], _KINDS)
    return Where(region, found, before)
