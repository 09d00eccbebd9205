"""The engine: renders a window of a shot, keeping what can be used again.

Kept by value: the source's window, each part's and region's matte, and the picture before the first pass that changed
since the last rendering: pulling a fader of pass k costs pass k and what follows, not what stands before it.
"""

import secrets
import threading
from collections.abc import Callable, Hashable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from calado.adjust.kind import RingPlan, SpatialContext
from calado.adjust.stats import PictureStats
from calado.adjust.texture.own_grain import grain_of
from calado.arrays import Matte, Planes
from calado.region.matte import LastDrawn, Mattes
from calado.region.resolved import ResolvedRegion
from calado.region.ring import ring_matte
from calado.region.sampler import PictureSampler
from calado.region.solve.foreground import freed
from calado.region.solve.matting_store import SolvedStore
from calado.render.assets import NO_ASSETS, Assets
from calado.render.cache import ArrayCache
from calado.render.covers import Cover, Covered, covered, covers_of, lay_over
from calado.render.lately import Lately
from calado.render.left import blurred_share, left_of
from calado.render.passes import RenderContext, run_passes
from calado.render.plan import PassPlan, plan_sheets
from calado.render.source import Source
from calado.sheet.models import EMPTY_SHEET, Sheet
from calado.window import Window, window_of_rectangle

DEFAULT_CACHE_BYTES = 700 * 2**20
TRIAL_BYTES = 60 * 2**20
#: the longer side, in pixels, of the small copy from which stats about the picture are read
FACTS_SIDE = 320
#: the side of the places from which a picture's grain is read, in pixels, and how many, down and across
TILE, TILES = 98, (4, 5)


@dataclass(frozen=True)
class Order:
    """What is to be rendered: a shot's sheet, the project's, and the pass to be exaggerated, if any."""

    sheet: Sheet = EMPTY_SHEET
    project: Sheet = EMPTY_SHEET
    exaggerate: str | None = None

    @property
    def sheets(self) -> tuple[Sheet, Sheet]:
        """The sheets in the order in which they run."""
        return (self.sheet, self.project)


class Engine:
    """Renders windows of sources. Safe to share between threads; results do not depend on what is cached.

    ``assets`` are imported mattes and colour tables; ``solved`` is where solved mattes come from: by default they are
    waited for. ``secret`` seeds the noise of covers, which must not be
    guessed: what hands pictures on takes :func:`new_secret`.
    """

    def __init__(
        self,
        cache_bytes: int = DEFAULT_CACHE_BYTES,
        assets: Assets = NO_ASSETS,
        solved: SolvedStore | None = None,
        secret: int = 0,
    ) -> None:
        self.solved = solved or SolvedStore()
        # what was made with a coarse matte is not kept: the fine one may be there at any time
        self._cache = ArrayCache(cache_bytes, lambda: self.solved.handed_coarse)
        self._assets = assets
        self._drawn = LastDrawn()
        self._secret = secret
        self._last: dict[str, tuple[str, ...]] = {}
        self._planned: Lately[tuple[PassPlan, ...]] = Lately()
        self._covers: Lately[tuple[Cover, ...]] = Lately()
        self._lock = threading.Lock()

    def apart(self) -> "Engine":
        """Return an engine for trials: with the same files, and nothing kept that others could be pushed out by."""
        return Engine(TRIAL_BYTES, self._assets, SolvedStore(wait=False), self._secret)

    @property
    def secret(self) -> int:
        """What seeds the noise of covers."""
        return self._secret

    @property
    def bytes_held(self) -> int:
        """How many bytes the engine keeps."""
        return self._cache.bytes_held

    def picture(self, source: Source, order: Order, window: Window) -> Planes:
        """Return the finished picture in a window, shape (3, H, W), linear light. Not to be written to."""
        source = self.covered(source, order.sheets)
        plans = self._plans(source, order)
        wide = window.grown(reach_of(plans, window))
        kept = self._unchanged(source, plans)
        planes = self._before(source, plans[:kept], wide)
        planes = run_passes(planes, plans[kept:], wide, self._openings(source, wide, plans))
        if wide == window:
            return planes
        rows, columns = window.inside(wide)
        return np.ascontiguousarray(planes[:, rows, columns])

    def source(self, source: Source, window: Window) -> Planes:
        """Return the untouched picture in a window, shape (3, H, W), linear light. Not to be written to."""
        held = source.held(window)
        return self._cache.get(("source", source.key, window), lambda: source.planes(window)) if held is None else held

    def mattes(self, source: Source) -> Mattes:
        """Return what makes mattes of regions on a source."""
        return Mattes(
            self._assets.sums, self._cache.get, lambda where: self.seen(source, where), self.solved, self._drawn
        )

    def covered(self, source: Source, sheets: tuple[Sheet, ...]) -> Covered:
        """Return the source with all covers in place: what everything but the covers themselves is to read."""
        if isinstance(source, Covered):
            return source
        facts = self.covered(source.facts, sheets) if source.facts else None
        return covered(source, self._covers_of(source, sheets), self._lay, facts)

    def _covers_of(self, source: Source, sheets: tuple[Sheet, ...]) -> tuple[Cover, ...]:
        space = source.space
        return self._covers.get(sheets, (space,), lambda: covers_of(sheets, space, self._assets.luts))

    def seen(self, source: Source, where: ResolvedRegion) -> PictureSampler:
        """Return the picture that a region is read from: the covered source, and what comes into its pass."""
        read = self.covered(source, where.sheets).as_read_by(where)
        return PictureSampler(
            read.key,
            where.before_key if "incoming" in where.sees else "",
            read.space,
            lambda window: self.source(read, window),
            lambda window: self._incoming(read, where, window),
            self._cache.get,
        )

    def hidden(self, source: Source, order: Order, window: Window) -> list[tuple[Cover, Matte | None]]:
        """Return each cover with what it hides in a window, shape (H, W): 1 there, or None for the whole picture."""
        found: list[tuple[Cover, Matte | None]] = []
        for cover in self._covers_of(source, order.sheets):
            held = self.mattes(source).held(cover.where, cover.side, window) if cover.where else None
            found.append((cover, held if held is None or cover.side == "inside" else np.float32(1) - held))
        return found

    def matte(self, source: Source, where: ResolvedRegion, window: Window) -> Matte:
        """Return a region's matte in a window, shape (H, W). Not to be written to."""
        return self.mattes(source).of(where, window)

    def clear(self, source: Source, order: Order, window: Window) -> Matte | None:
        """Return how much of each pixel is left in the picture, shape (H, W), or None where all of all is."""
        plans = self._plans(source, order)
        there = None
        if source.share is not None:
            there = blurred_share(source.share, plans, window, lambda wide: self._openings(source, wide, plans))
            # what is concealed has no outline of its own either
            for _, held in self.hidden(source, order, window):
                there = np.maximum(there, np.float32(1) if held is None else held)
        return left_of(there, plans, window, lambda where: self.matte(source, where, window))

    def stats(self, source: Source) -> PictureStats:
        """Return what adjustments may know about the whole untouched picture; of a clip, about one frame for all."""
        source = source.facts or source

        def small() -> Planes:
            return self.source(source, source.full(min(1.0, FACTS_SIDE / max(source.width, source.height))))

        def grain() -> NDArray[np.float32]:
            return self._cache.get(("grain", source.key), lambda: grain_of(self._tiles(source), source.space))

        return PictureStats(small, grain)

    def _tiles(self, source: Source) -> Planes:
        """Return places spread over a picture at full size, beside each other, shape (3, side, n · side)."""
        side = min(TILE, source.width, source.height)
        size, (down, across) = (source.width, source.height), TILES
        tiles = [
            self.source(source, window_of_rectangle(size, 1.0, (left, top, side, side)))
            for top in np.linspace(0, source.height - side, down).astype(int).tolist()
            for left in np.linspace(0, source.width - side, across).astype(int).tolist()
        ]
        return np.concatenate(tiles, axis=2)

    def _plans(self, source: Source, order: Order) -> tuple[PassPlan, ...]:
        """Return the plans of an order, made once: several ask for those of the same sheets."""
        return self._planned.get(
            order.sheets,
            (source.space, order.exaggerate),
            lambda: plan_sheets(order.sheets, source.space, order.exaggerate, self._assets.luts),
        )

    def _incoming(self, source: Source, where: ResolvedRegion, window: Window) -> Planes:
        """Return what comes into a pass: kept whole, as every key on it asks for it."""
        plans = plan_sheets(where.sheets, source.space, luts=self._assets.luts, stop=where.stop)
        wide = window.grown(reach_of(plans, window))
        rows, columns = window.inside(wide)
        return np.ascontiguousarray(self._before(source, plans, wide)[:, rows, columns])

    def _openings(self, source: Source, window: Window, plans: tuple[PassPlan, ...]) -> RenderContext:
        return RenderContext(
            lambda where: self.matte(source, where, window),
            lambda where, ring: self._ring(source, where, ring, window),
            lambda plan, planes, at: self._own(source, plans, plan, planes, at),
            lambda: self.source(source, window),
            source.space,
            self.stats(source),
            self._secret,
        )

    def _lay(self, source: Covered, window: Window) -> Planes:
        """Return a source with its cover laid over it, and all that may be laid with it."""
        together = source.together
        wide = window.grown(sum(cover.plan.reach(window) for _, cover in together))
        planes = self.source(together[0][0], wide).copy()
        for base, cover in together:
            # with other noise than at the cover's own place, lest the one tell of the other
            lay_over(planes, base, cover, wide, self.mattes(base), self._secret + 1)
        rows, columns = window.inside(wide)
        return np.ascontiguousarray(planes[:, rows, columns])

    def _own(
        self, source: Source, plans: tuple[PassPlan, ...], plan: PassPlan, planes: Planes, at: SpatialContext
    ) -> Planes:
        """Return a side's own colours in what comes into a pass, kept as long as nothing before it changes."""
        if plan.where is None or at.weight is None:
            return planes
        before = tuple(each.key for each in plans[: plans.index(plan)])
        weight = at.weight
        key = ("own", source.key, at.window, before, plan.where.key, at.outside)
        return self._cache.get(key, lambda: freed(planes, weight))

    def _ring(self, source: Source, where: ResolvedRegion, ring: RingPlan, window: Window) -> Matte:
        line = (ring.offset, ring.width, ring.dash)

        def kept(key: Hashable, make: Callable[[], Matte]) -> Matte:
            return self._cache.get((source.key, key), make)

        return kept(
            ("ring", where.key, ring, window), lambda: ring_matte(self.mattes(source), where, window, line, kept)
        )

    def _unchanged(self, source: Source, plans: tuple[PassPlan, ...]) -> int:
        """Return how many passes at the start are as they were when this source was last rendered."""
        keys = tuple(plan.key for plan in plans)
        with self._lock:
            before = self._last.get(source.key, ())
            self._last[source.key] = keys
            while len(self._last) > 64:
                del self._last[next(iter(self._last))]
        if keys == before:
            return max(len(keys) - 1, 0)
        same = 0
        while same < min(len(keys), len(before)) and keys[same] == before[same]:
            same += 1
        return same

    def _before(self, source: Source, plans: tuple[PassPlan, ...], window: Window) -> Planes:
        if not plans:
            return self.source(source, window)
        key: Hashable = ("after", source.key, window, tuple(plan.key for plan in plans))

        def make() -> Planes:
            return run_passes(self.source(source, window), plans, window, self._openings(source, window, plans))

        return self._cache.get(key, make)


def new_secret() -> int:
    """Return a seed for the noise of covers that nobody can guess."""
    return secrets.randbits(96) | 2


def reach_of(plans: tuple[PassPlan, ...], window: Window) -> int:
    """Return how many pixels around a window all passes together read."""
    return sum(plan.reach(window) for plan in plans)
