"""A frame of a clip from its planes to what is written: what was ordered of which frames, and the codes of each."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from calado.adjust.registry import used
from calado.arrays import Matte, Planes
from calado.errors import MediaError
from calado.follow.carried import sheet_in_time
from calado.follow.motion import Motions, no_motions
from calado.media.clips.convert import to_codes
from calado.media.clips.facts import ClipFacts
from calado.media.clips.frames import Frames, as_stored, matte_as_stored, upright_matte
from calado.media.clips.planes import CodePlane, Layout, Picture
from calado.region.solve.foreground import freed
from calado.render.covers import Cover
from calado.render.engine import Engine, Order
from calado.render.resolve import resolve
from calado.render.source import Source
from calado.sheet.models import EMPTY_SHEET, Sheet
from calado.window import Window


@dataclass(frozen=True)
class ClipOrder:
    """What is to be written: the sheets of the shot and of the project, of which frames, or of a region.

    ``frames`` are the first and the last, None: all. Of a region its matte, or the picture cut out by it.
    ``motions`` give those that regions go along with.
    """

    sheet: Sheet
    project: Sheet = EMPTY_SHEET
    frames: tuple[int, int] | None = None
    matte_of: str = ""
    cutout_of: str = ""
    motions: Motions = no_motions

    @property
    def region(self) -> str:
        """The region that is written, or none."""
        return self.matte_of or self.cutout_of

    def at(self, frame: int) -> Order:
        """Return what is to be rendered at a frame."""
        return Order(sheet_in_time(self.sheet, frame, self.motions), sheet_in_time(self.project, frame, no_motions))

    def range(self, facts: ClipFacts) -> tuple[int, int]:
        """Return the first and the last frame.

        Raises
        ------
        MediaError
            when the clip has no such frames.
        """
        first, last = self.frames or (0, facts.frames - 1)
        if not 0 <= first <= last < facts.frames:
            raise MediaError(
                f"This clip has frames 0 to {facts.frames - 1}, got {first} to {last}.", code="media.frame"
            )
        return first, last


@dataclass(frozen=True)
class Rendering:
    """Renders frames of a clip to codes in the layout of what is written."""

    frames: Frames
    order: ClipOrder
    engine: Engine
    layout: Layout

    def picture(self, frame: int, came: Picture | None = None) -> Picture:
        """Return the codes of a finished frame, as stored; ``came`` are those of the source, if they are at hand."""
        facts = self.frames.clip.facts
        before = came or self.frames.clip.picture(frame)
        source = self.frames.made(frame, before)
        order, window = self.order.at(frame), source.full()
        if self.order.matte_of:
            where = resolve(order.sheet, self.order.matte_of)
            assert where is not None  # looked up before the first frame
            matte = matte_as_stored(self.engine.matte(source, where, window), facts.turn)
            return matte_codes(matte, self.layout, full_range=facts.tags.full_range)
        planes = self.engine.picture(source, order, window)
        hidden = _hidden(self.engine.hidden(source, order, window), window)
        share = None
        if self.layout.alpha:
            planes, share = self._alpha(source, order, planes, before)
            # what is quite gone has no colour either, nor any of the chroma that was there
            gone = (share <= 0).astype(np.float32)
            planes, hidden = planes * (1 - gone), gone if hidden is None else np.maximum(gone, hidden)
        stored = None if hidden is None else matte_as_stored(hidden, facts.turn)
        same = before.layout.opaque == self.layout.opaque
        made = to_codes(as_stored(planes, facts.turn), facts.tags, self.layout.opaque, before if same else None, stored)
        return made if share is None else _with_alpha(made, matte_as_stored(share, facts.turn), self.layout)

    def _alpha(self, source: Source, order: Order, planes: Planes, before: Picture) -> tuple[Planes, Matte]:
        """Return planes and how much of each pixel is there: of the region, of what passes leave, of the source."""
        window = source.full()
        share = np.ones((source.height, source.width), np.float32)
        if before.alpha is not None:
            share = upright_matte(
                before.alpha.astype(np.float32) / np.float32(before.layout.top), self.frames.clip.facts.turn
            )
        if self.order.cutout_of:
            where = resolve(order.sheet, self.order.cutout_of)
            assert where is not None  # looked up before the first frame
            matte = self.engine.matte(source, where, window)
            planes = freed(planes, matte) if where.sees else planes
            share = share * matte
        left = self.engine.clear(source, order, window)
        return planes, share if left is None else share * left

    def planes(self, frame: int) -> Planes:
        """Return a finished frame in linear light, upright."""
        source = self.frames.source(frame)
        return self.engine.picture(source, self.order.at(frame), source.full())


def _hidden(covers: Sequence[tuple[Cover, Matte | None]], window: Window) -> Matte | None:
    """Return what any of the covers hides, shape (H, W), or None where there is none."""
    if not covers:
        return None
    found = np.zeros((window.height, window.width), np.float32)
    for cover, held in covers:
        inner = cover.within(window)
        if inner:
            at = inner.inside(window)
            found[at] = np.float32(1) if held is None else np.maximum(found[at], held[at])
    return found


def matte_codes(matte: Matte, layout: Layout, *, full_range: bool) -> Picture:
    """Return a matte as a grey picture: black outside, white inside, in the range that the clip is coded in."""
    step = 1 << (layout.bits - 8)
    low, reach = (0, layout.top) if full_range or layout.kind == "rgb" else (16 * step, 219 * step)
    kind: Any = np.uint8 if layout.bits == 8 else np.uint16
    luma: CodePlane = np.rint(low + reach * np.clip(matte, 0, 1)).astype(kind)
    if layout.kind == "grey":
        return Picture(layout, (luma,))
    if layout.kind == "rgb":
        return Picture(layout, (luma, luma, luma))
    wide, high = layout.chroma_size(matte.shape[1], matte.shape[0])
    none = np.full((high, wide), 128 * step, kind)
    return Picture(layout, (luma, none, none))


def _with_alpha(picture: Picture, share: Matte, layout: Layout) -> Picture:
    """Return a picture with how much of each pixel is there, shape (H, W), 0…1, as its alpha."""
    codes = np.rint(np.clip(share, 0, 1) * np.float32(layout.top)).astype(picture.planes[0].dtype)
    return Picture(layout, (*picture.planes, codes))


def described(facts: ClipFacts, order: ClipOrder) -> ClipFacts:
    """Return what a written clip says of itself: how much light it has most of is true of untouched frames alone."""
    touched = order.matte_of or any(each.on for each in (*order.sheet.passes, *order.project.passes))
    return replace(facts, light=None) if touched else facts


def clears(order: ClipOrder) -> bool:
    """Return whether any pass makes a part of the picture transparent."""
    passes = (*order.sheet.passes, *order.project.passes)
    return any(each.on and used({**each.inside, **each.outside}, "clear") for each in passes)
