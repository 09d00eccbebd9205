"""Covers come before everything that reads the picture: what is worked on and looked at has its covers on.

A cover that must hold is laid over the source itself, hard and at full strength over the whole shape that it hides, in
the order of the passes; those that need not read the picture come first, so that no other spreads what lies under
them. Whatever follows, ranges, samples, guards, blurs, mattes, readings, then has the covered picture alone. At its
own place among the passes a cover runs once more, there with its feather, over what passes before it have laid upon it.
A region that is itself read from the picture is read from what lies under its own cover.
"""

import hashlib
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from calado.adjust.kind import Luts
from calado.adjust.stats import NO_STATS
from calado.arrays import Planes
from calado.colour.spaces import ColourSpace
from calado.region.matte import Mattes
from calado.region.resolved import ResolvedRegion
from calado.render.passes import RenderContext, run_passes
from calado.render.plan import PassPlan, plan_cover
from calado.render.resolve import resolve, sides_covered
from calado.render.source import Source
from calado.sheet.models import Sheet
from calado.sheet.sentence import Side
from calado.window import Window


@dataclass(frozen=True, eq=False)
class Cover:
    """One side of a pass that must cover, as a pass of its own."""

    side: Side
    plan: PassPlan
    pass_id: str

    @property
    def where(self) -> ResolvedRegion | None:
        """Its region, or None for the whole picture."""
        return self.plan.where

    def within(self, window: Window) -> Window | None:
        """Return the part of a window in which it can hide anything, or None."""
        return self.plan.within(window)

    @cached_property
    def blind(self) -> bool:
        """Whether it reads nothing of what it covers, not even for its shape."""
        side = self.plan.inside if self.side == "inside" else self.plan.outside
        return not side.spatials and (self.where is None or not self.where.sees)


def covers_of(sheets: tuple[Sheet, ...], space: ColourSpace, luts: Luts) -> tuple[Cover, ...]:
    """Return the covers of a shot's sheets in the order in which they are laid."""
    covers = []
    for number, sheet in enumerate(sheets):
        for each in sheet.passes:
            for side in sides_covered(each):
                where = resolve(sheet, each.region, each.id, sheets[:number], sheets[number + 1 :])
                covers.append(Cover(side, plan_cover(each, side, where, space, luts), each.id))
    return tuple(sorted(covers, key=lambda cover: not cover.blind))


@dataclass(frozen=True, eq=False)
class Covered(Source):
    """A source with a cover on another one, ``base``; none: the source itself, to stay as it is.

    ``lay(covered, window)`` returns the picture with the cover on it, shape (3, H, W).
    """

    base: Source = field(kw_only=True)
    cover: Cover | None = None
    lay: "Lay | None" = None

    @property
    def width(self) -> int:
        """Width at full size, in pixels."""
        return self.base.width

    @property
    def height(self) -> int:
        """Height at full size, in pixels."""
        return self.base.height

    def planes(self, window: Window) -> Planes:
        """Return the picture in a window, shape (3, H, W), linear light."""
        return self.base.planes(window) if self.lay is None else self.lay(self, window)

    @property
    def together(self) -> "tuple[tuple[Source, Cover], ...]":
        """The covers that are laid in one go, this one the last, each with the source below it.

        Of what reads the picture the one below is wanted as it stands, so it is laid alone.
        """
        found: list[tuple[Source, Cover]] = []
        at: Source = self
        while isinstance(at, Covered) and at.cover is not None and (at.cover.blind or not found):
            found.append((at.base, at.cover))
            at = at.base
            if not found[-1][1].blind:
                break
        return tuple(reversed(found))

    def held(self, window: Window) -> Planes | None:
        """Return the picture in a window where it is held as it stands: where nothing is laid."""
        return self.base.held(window) if self.cover is None else None

    def as_read_by(self, where: ResolvedRegion) -> "Covered":
        """Return the picture that a region is read from: for a cover's own region, what lies under that cover."""
        if where.reader is None:
            return self
        found, at = self, self
        while isinstance(at.base, Covered) and at.cover is not None:
            if at.cover.where is not None and at.cover.where.reader == where.reader:
                found = at.base  # of several covers on one region, what lies under all of them
            at = at.base
        return found


Lay = Callable[[Covered, Window], Planes]


def lay_over(planes: Planes, base: Source, cover: Cover, window: Window, mattes: Mattes, secret: int) -> None:
    """Lay a cover over planes of its base in a window, in place: hard, and whole wherever it must hide.

    Planes are right but for as many pixels round what is theirs as the cover reads around one.
    """
    inner = cover.within(window)
    if inner is None:
        return
    wide = inner.grown(cover.plan.reach(window)).cut(window)
    held = mattes.held(cover.where, cover.side, wide) if cover.where else np.zeros((0, 0), np.float32)
    read = np.ascontiguousarray(planes[(slice(None), *wide.inside(window))])
    openings = RenderContext(
        lambda where: held,
        lambda where, ring: np.zeros_like(held),
        lambda plan, planes, at: planes,
        lambda: read,
        base.space,
        NO_STATS,
        secret,
    )
    laid = run_passes(read, (cover.plan,), wide, openings)
    planes[(slice(None), *inner.inside(window))] = laid[(slice(None), *inner.inside(wide))]


def covered(
    source: Source,
    covers: tuple[Cover, ...],
    lay: Lay,
    facts: Source | None = None,
) -> Covered:
    """Return a source with covers laid over it, one on another; ``facts`` is whence those about the picture come."""
    if isinstance(source, Covered):
        return source
    top = Covered(source.key, source.space, source.levels, source.table, facts, source.share, base=source)
    for cover in covers:
        digest = hashlib.sha256(f"{top.key} {cover.side} {cover.plan.key}".encode()).hexdigest()[:24]
        key = f"covered {digest}"
        told = key, source.space, source.levels, source.table, facts, source.share
        top = Covered(*told, base=top, cover=cover, lay=lay)
    return top
