"""A region with the other regions it stands on: all that its matte depends on, as one value."""

import json
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
    """A region, and by their ids the regions that stand in it as parts, near or far."""

    region: Region
    others: Mapping[str, Region]

    def lower(self, id: str) -> "Where":
        """Return the region called ``id`` that stands in this one, with those that stand in it."""
        return _where(self.others, self.others[id])

    @cached_property
    def key(self) -> str:
        """All that the matte depends on besides the window; names and ids of the regions' passes are not in it."""
        chain = [self.region, *(self.others[id] for id in sorted(self.others))]
        return json.dumps([each.model_dump(mode="json", exclude={"name"}) for each in chain], sort_keys=True)


def where_of(sheet: Sheet, id: str | None) -> Where | None:
    """Return the region called ``id`` of a checked sheet, or None for the whole picture."""
    region = sheet.region(id)
    return None if region is None else _where({each.id: each for each in sheet.regions}, region)


def alone(region: Region) -> Where:
    """Return a region that stands on no other."""
    return Where(region, {})


def _where(shelf: Mapping[str, Region], region: Region) -> Where:
    found: dict[str, Region] = {}
    waiting = regions_named(region, _KINDS)
    while waiting:
        id = waiting.pop()
        if id not in found:
            found[id] = shelf[id]
            waiting += regions_named(shelf[id], _KINDS)
    return Where(region, found)
