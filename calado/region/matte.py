"""A region's matte: its parts joined in order, then refined, then without the pieces that were dropped."""

import threading
from collections.abc import Callable
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte
from calado.region.components import Found, apply_drops, drops, find_pieces, small_window
from calado.region.context import ALONE, PartContext
from calado.region.extent import extent, part_within
from calado.region.further import grown_by_distance
from calado.region.hard import hardened, hidden, hidden_in
from calado.region.join import complement, join
from calado.region.kinds import PARTS
from calado.region.refine.registry import acts, reach_px, refined
from calado.region.resolved import ResolvedRegion, alone
from calado.region.sampler import Keep, PictureSampler, keep_nothing
from calado.region.solve.edge import band_of, edge_solving, with_edge
from calado.region.solve.rough import ALPHA_SIDE, solving_window
from calado.region.solve.solved import Solved, solved_now
from calado.sheet.models import Part, Region
from calado.sheet.sentence import Side
from calado.window import Window

Sums = NDArray[np.float64]
#: of how many outlines the last matte is remembered
LAST = 3
#: pixels of a picture up to which what is hidden at full size is kept for all of it
KEPT_WHOLE = 8_000_000
#: of a window, the share up to which a region's box is made for itself
WORTH = 0.6
#: gives the sums of an imported picture by the hash of its content
MatteSums = Callable[[str], Sums]


class LastDrawn:
    """The mattes of the outlines and strokes drawn last: where one is changed a little, little is made anew."""

    def __init__(self) -> None:
        self._held: dict[tuple[str, str, Window], tuple[Part, Matte]] = {}
        self._lock = threading.Lock()

    def made(self, part: Part, window: Window, near: PartContext) -> Matte:
        """Return a part's matte, shape (H, W)."""
        name = (part.id, near.seen.key if near.seen else "", window)
        with self._lock:
            before = self._held.get(name)
        made = part_matte(part, window, near) if before is None else _mended(*before, part, window, near)
        with self._lock:
            self._held[name] = (part, made)
            while len(self._held) > LAST:
                del self._held[next(iter(self._held))]
        return made


def part_matte(part: Part, window: Window, near: PartContext = ALONE) -> Matte:
    """Return the matte, shape (H, W), of one part, with complement and opacity applied."""
    matte = PARTS[part.kind].matte(part, window, near)
    if part.complement:
        matte = complement(matte)
    return matte if part.opacity == 1 else matte * np.float32(part.opacity)


@dataclass(frozen=True, eq=False)
class Mattes:
    """Makes mattes of regions on one picture.

    ``seen(where)`` gives the picture that a region is read from, ``keep`` keeps what was made, by value; ``solved`` is
    where solved mattes come from.
    """

    sums: MatteSums = ALONE.sums
    keep: Keep = keep_nothing
    seen: Callable[[ResolvedRegion], PictureSampler | None] = lambda where: None
    solved: Solved = solved_now
    last: LastDrawn = field(default_factory=LastDrawn)

    def of(self, where: ResolvedRegion, window: Window) -> Matte:
        """Return the finished matte of a region, shape (H, W). Not to be written to."""
        key = ("region", where.key, self._picture(where), window)
        return self.keep(key, lambda: _in_its_box(where, window, lambda inner: self._finished(where, inner)))

    def refined(self, where: ResolvedRegion, window: Window) -> Matte:
        """Return the matte before pieces are dropped, shape (H, W). Not to be written to."""
        key = ("refined", where.key, self._picture(where), window)
        return self.keep(key, lambda: _in_its_box(where, window, lambda inner: self._refined(where, inner)))

    def pieces(self, where: ResolvedRegion, window: Window) -> list[Found]:
        """Return the islands and holes of a region, the dropped ones among them, the largest first."""
        small = small_window(window)
        return find_pieces(self.refined(where, small), small, where.region.removed)

    def _picture(self, where: ResolvedRegion) -> str:
        """Return what names the picture, for a region that is read from it."""
        seen = self.seen(where) if where.sees else None
        return seen.key if seen else ""

    def held(self, where: ResolvedRegion, side: Side, window: Window) -> Matte:
        """Return what a cover on a ``side`` must hide, as a matte of 0 and 1, shape (H, W). Not to be written to."""

        def make(window: Window) -> Matte:
            hard = hardened(where, side)
            boxed = extent(hard.region, window.pixel) is not None

            def at_full_size(full: Window) -> NDArray[np.uint8]:
                # kept whole where that is not much: every reduced window is read from it
                whole = full.whole
                beyond = full.grown(0) != full
                if boxed or beyond or whole.pixels > KEPT_WHOLE:
                    return hidden(self._kept(hard, full), side)
                key = ("hidden", side, where.key, self._picture(where), whole)
                rows, columns = full.inside(whole)
                return self.keep(key, lambda: hidden(self._kept(hard, whole), side))[rows, columns]

            made = hidden_in(window, at_full_size).astype(np.float32)
            return made if side == "inside" else np.float32(1) - made

        key = ("held", side, where.key, self._picture(where), window)
        return self.keep(key, lambda: _in_its_box(where, window, make))

    def _finished(self, where: ResolvedRegion, window: Window) -> Matte:
        matte = self._kept(where, window)
        if where.cover is None:
            return matte
        fold = np.maximum if where.cover == "inside" else np.minimum
        return fold(matte, self.held(where, where.cover, window))

    def _kept(self, where: ResolvedRegion, window: Window) -> Matte:
        """Return the matte without the pieces that were dropped."""
        matte = self.refined(where, window)
        if not where.region.removed:
            return matte
        small = small_window(window)
        shares = drops(self.refined(where, small), where.region.removed, small)
        return matte if shares is None else apply_drops(matte, shares, small, window)

    def _refined(self, where: ResolvedRegion, window: Window) -> Matte:
        values = where.region.refine
        if not acts(values):
            return self._edged(where, window)
        further = grown_by_distance(where.region)
        if further is not None:
            return self._edged(replace(where, region=further), window)
        # outlines go on beyond the picture, so a region that grows comes in from there
        wide = window.beyond(reach_px(values, window.pixel))
        rows, columns = window.inside(wide)
        return np.ascontiguousarray(refined(self._edged(where, wide), values, window.pixel)[rows, columns])

    def _edged(self, where: ResolvedRegion, window: Window) -> Matte:
        """Return the joined parts with the edge resolved anew where the band says so."""
        matte = self._joined(where, window)
        if not where.region.band:
            return matte
        band = band_of(where.region.band, window)
        if not band.any():
            return matte
        near = self._near(where)
        whole = self._joined(where, solving_window(window, ALPHA_SIDE))
        solving = edge_solving(where.region.id, where.region.band, whole, window, near)
        return with_edge(matte, solving.laid(window, near), band)

    def _near(self, where: ResolvedRegion) -> PartContext:
        def below(lower: str, window: Window) -> Matte:
            return self.of(where.lower(lower), window)

        return PartContext(below, self.sums, self.seen(where), where.region.id, self.solved)

    def _joined(self, where: ResolvedRegion, window: Window) -> Matte:
        """Return the parts that are on, folded in order from nothing.

        A region that starts by *subtract* or *intersect* starts from the whole picture, which is what it says.
        """
        near = self._near(where)
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

    def _part(self, part: Part, where: ResolvedRegion, window: Window, near: PartContext) -> Matte:
        own = part.model_dump_json(exclude={"id", "join", "on"})
        kind = PARTS[part.kind]
        below = where.key if kind.reference("region") else ""
        of = kind.sees(part)
        picture = near.seen.name("incoming" if of == "incoming" else "source") if near.seen and of else ""
        below = f"{self._picture(where)} {below}" if below else picture
        drawn = part.points or part.strokes
        return self.keep(
            ("part", own, below, window),
            lambda: self.last.made(part, window, near) if drawn else part_matte(part, window, near),
        )


def _in_its_box(where: ResolvedRegion, window: Window, make: Callable[[Window], Matte]) -> Matte:
    """Return a matte, shape (H, W), of which only the part is made that can be anything."""
    inner = part_within(where.region, window)
    if inner and inner.pixels > WORTH * window.pixels:
        return make(window)
    matte = np.zeros((window.height, window.width), np.float32)
    if inner:
        matte[inner.inside(window)] = make(inner)
    return matte


def _mended(old: Part, matte: Matte, part: Part, window: Window, near: PartContext) -> Matte:
    alike = old.kind == part.kind and old.complement == part.complement and old.opacity == part.opacity
    if alike and not part.complement and part.opacity == 1:
        made = matte.copy()
        if PARTS[part.kind].went_on_into(made, old, part, window, near):
            return made
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
