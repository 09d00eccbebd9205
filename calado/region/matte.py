"""A region's matte: its parts joined in order, then refined, then without the pieces that were dropped."""

import threading
from collections.abc import Callable, Hashable

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte
from calado.region.join import complement, join
from calado.region.kinds import PARTS
from calado.region.part import ALONE, Near
from calado.region.pieces import Found, apply_drops, drops, find_pieces, small_window
from calado.region.refine.registry import acts, reach_px, refined
from calado.region.where import Where, alone
from calado.sheet.models import Part, Region
from calado.window import Window

Table = NDArray[np.float64]
#: of how many outlines the last matte is remembered
LAST = 3
#: gives the sums of an imported picture by the hash of its content
Tables = Callable[[str], Table]
#: gives what was made for a key, or makes it
Keep = Callable[[Hashable, Callable[[], Matte]], Matte]


def part_matte(part: Part, window: Window, near: Near = ALONE) -> Matte:
    """Return the matte, shape (H, W), of one part, with complement and opacity applied."""
    matte = PARTS[part.kind].matte(part, window, near)
    if part.complement:
        matte = complement(matte)
    return matte if part.opacity == 1 else matte * np.float32(part.opacity)


class Mattes:
    """Makes mattes of regions. ``keep`` lets a caller keep what was made, by value."""

    def __init__(self, tables: Tables = ALONE.table, keep: Keep = lambda key, make: make()) -> None:
        self._tables = tables
        self._keep = keep
        self._last: dict[tuple[str, Window], tuple[Part, Matte]] = {}
        self._lock = threading.Lock()

    def of(self, where: Where, window: Window) -> Matte:
        """Return the finished matte of a region, shape (H, W). Not to be written to."""
        return self._keep(("region", where.key, window), lambda: self._finished(where, window))

    def refined(self, where: Where, window: Window) -> Matte:
        """Return the matte before pieces are dropped, shape (H, W). Not to be written to."""
        return self._keep(("refined", where.key, window), lambda: self._refined(where, window))

    def pieces(self, where: Where, window: Window) -> list[Found]:
        """Return the islands and holes of a region, the dropped ones among them, the largest first."""
        small = small_window(window)
        return find_pieces(self.refined(where, small), small, where.region.dropped)

    def _finished(self, where: Where, window: Window) -> Matte:
        matte = self.refined(where, window)
        if not where.region.dropped:
            return matte
        small = small_window(window)
        shares = drops(self.refined(where, small), where.region.dropped, small)
        return matte if shares is None else apply_drops(matte, shares, small, window)

    def _refined(self, where: Where, window: Window) -> Matte:
        values = where.region.refine
        if not acts(values):
            return self._joined(where, window)
        # outlines go on beyond the picture, so a region that grows comes in from there
        wide = window.beyond(reach_px(values, window.pixel))
        rows, columns = window.inside(wide)
        return np.ascontiguousarray(refined(self._joined(where, wide), values, window.pixel)[rows, columns])

    def _joined(self, where: Where, window: Window) -> Matte:
        """Return the parts that are on, folded in order from nothing.

        A region that starts by *subtract* or *intersect* starts from the whole picture, which is what it says.
        """
        near = Near(lambda lower, wide: self.of(where.lower(lower), wide), self._tables)
        folded: Matte | None = None
        for part in where.region.parts:
            if not part.on:
                continue
            matte = self._part(part, where, window, near)
            if folded is None and part.join == "add":
                folded = matte
                continue
            before = np.ones((window.height, window.width), np.float32) if folded is None else folded
            folded = join(before, matte, part.join)
        return np.zeros((window.height, window.width), np.float32) if folded is None else folded

    def _part(self, part: Part, where: Where, window: Window, near: Near) -> Matte:
        own = part.model_dump_json(exclude={"id", "join", "on"})
        below = where.key if PARTS[part.kind].reference("region") else ""
        return self._keep(("part", own, below, window), lambda: self._made(part, window, near))

    def _made(self, part: Part, window: Window, near: Near) -> Matte:
        """Return a part's matte; where an outline was moved a little, only what that can change is made anew."""
        if not part.points:
            return part_matte(part, window, near)
        with self._lock:
            before = self._last.get((part.id, window))
        made = part_matte(part, window, near) if before is None else _mended(*before, part, window, near)
        with self._lock:
            self._last[(part.id, window)] = (part, made)
            while len(self._last) > LAST:
                del self._last[next(iter(self._last))]
        return made


def _mended(old: Part, matte: Matte, part: Part, window: Window, near: Near) -> Matte:
    alike = old.kind == part.kind and old.complement == part.complement and old.opacity == part.opacity
    box = PARTS[part.kind].changed(old, part) if alike else None
    if box is None:
        return part_matte(part, window, near)
    inner = window.within(box)
    if inner is None:
        return matte
    rows, columns = inner.inside(window)
    made = matte.copy()
    made[rows, columns] = part_matte(part, inner, near)
    return made


def region_matte(region: Region, window: Window) -> Matte:
    """Return the matte, shape (H, W), of a region that stands on no other."""
    return Mattes().of(alone(region), window)
