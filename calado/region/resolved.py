"""A region with those it stands on, and what runs on its shot: all that its matte depends on, as one value."""

import hashlib
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from types import MappingProxyType

from calado.lifelong import Lifelong
from calado.region.kinds import PARTS
from calado.sheet.check import regions_named
from calado.sheet.declare import Catalogue
from calado.sheet.models import Region, Sheet
from calado.sheet.sentence import Side

_KINDS = Catalogue(parts=PARTS)
_NONE: Mapping[str, Side] = MappingProxyType({})


@dataclass(frozen=True, eq=False)
class ResolvedRegion:
    """A region, and by their ids the regions that stand in it as parts, near or far.

    ``sheets`` are those that run on the shot, in order; what comes into the pass that uses the region is what they do
    before ``stop``, the numbers of a sheet and of a pass in it. ``covers`` tells which regions of that sheet lie under
    a cover that must hold, and on which side; ``root`` is the one of them for which this region is made.
    """

    region: Region
    others: Mapping[str, Region]
    sheets: tuple[Sheet, ...] = ()
    stop: tuple[int, int] = (0, 0)
    covers: Mapping[str, Side] = field(default_factory=lambda: _NONE)
    root: str = ""

    def lower(self, id: str) -> "ResolvedRegion":
        """Return the region called ``id`` that stands in this one, with those that stand in it."""
        found = _standing(self.others, self.others[id])
        return replace(self, region=self.others[id], others=found, root=self.root or self._own_root)

    @property
    def cover(self) -> Side | None:
        """The side of the region that a cover must hold on, if any."""
        return self.covers.get(self.region.id)

    @property
    def reader(self) -> tuple[int, str] | None:
        """What names the cover for which the picture is read: it reads what lies under itself."""
        id = self.root or self._own_root
        return (self.stop[0], id) if id else None

    @property
    def _own_root(self) -> str:
        return self.region.id if self.cover else ""

    @cached_property
    def before(self) -> tuple[Sheet, ...]:
        """The sheets of what comes into the pass that uses the region."""
        number, count = self.stop
        upto = self.sheets[: number + 1]
        return tuple(
            sheet.model_copy(update={"passes": sheet.passes[:count]}) if k == number else sheet
            for k, sheet in enumerate(upto)
        )

    @cached_property
    def sees(self) -> frozenset[str]:
        """Which pictures the region is read from: *source*, *incoming*, both or none."""
        read = {PARTS[part.kind].sees(part) for region in self.chain for part in region.parts}
        return frozenset(read | ({"source"} if any(region.band for region in self.chain) else set())) - {""}

    @cached_property
    def solved(self) -> bool:
        """Whether the edge is the subject's share of each pixel, so that both sides' colours can be parted by it."""
        parts = (part for region in self.chain for part in region.parts)
        return any(region.band for region in self.chain) or any(PARTS[part.kind].solved for part in parts)

    @property
    def chain(self) -> tuple[Region, ...]:
        """The region, and all that it stands on."""
        return (self.region, *(self.others[id] for id in sorted(self.others)))

    @cached_property
    def before_key(self) -> str:
        """All that what comes into the pass depends on besides the source."""
        return "".join(sheet.model_dump_json() for sheet in self.before)

    @cached_property
    def key(self) -> str:
        """All that the matte depends on besides the window and the picture read; names of regions are not in it."""
        own = "".join(map(_digests, self.chain))
        held = "".join(f"{each.id} {self.covers[each.id]} " for each in self.chain if each.id in self.covers)
        return f"{own}{held}{self.before_key if 'incoming' in self.sees else ''}"


def _digest(region: Region) -> str:
    """Return what names all of a region but its name."""
    return hashlib.blake2b(region.model_dump_json(exclude={"name"}).encode(), digest_size=16).hexdigest()


#: made once of each: its strokes may be many
_digests = Lifelong(_digest)


def alone(region: Region) -> ResolvedRegion:
    """Return a region that stands on no other."""
    return ResolvedRegion(region, {})


def resolve_on_shelf(shelf: Mapping[str, Region], region: Region) -> ResolvedRegion:
    """Return a region with those of a shelf that it stands on."""
    return ResolvedRegion(region, _standing(shelf, region))


def _standing(shelf: Mapping[str, Region], region: Region) -> dict[str, Region]:
    found: dict[str, Region] = {}
    waiting = regions_named(region, _KINDS)
    while waiting:
        id = waiting.pop()
        if id not in found:
            found[id] = shelf[id]
            waiting += regions_named(shelf[id], _KINDS)
    return found
