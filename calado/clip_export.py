"""From a sheet and a clip to a clip: rendered in chunks of fixed bounds, so that a killed export goes on where it was.

Each chunk is a file of its own, closed in itself, and gets its name when it is whole; at the end they are joined by
their packets and the sound is woven in. The same order gives the same file, whether it was interrupted or not.
"""

import hashlib
import json
import shutil
from collections.abc import Callable, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np

from calado.arrays import Matte, Planes
from calado.catalogue import CATALOGUE
from calado.errors import MediaError
from calado.export import EXPORT_CACHE_BYTES, Cancelled
from calado.media.clips.convert import to_codes
from calado.media.clips.facts import ClipFacts, facts_data
from calado.media.clips.formats import ClipTarget
from calado.media.clips.frames import Frames, as_stored, matte_as_stored
from calado.media.clips.planes import CodePlane, Layout, Picture
from calado.media.clips.weave import weave
from calado.media.clips.write import picture_writer
from calado.region.solve.matting_store import SolvedStore
from calado.render.assets import NO_ASSETS, Assets
from calado.render.engine import Engine, Order, new_secret
from calado.render.resolve import resolve
from calado.sheet.models import EMPTY_SHEET, Sheet
from calado.sheet.steps import sheet_data
from calado.sheet.timed import sheet_at

#: frames in a chunk
CHUNK = 48


@dataclass(frozen=True)
class ClipOrder:
    """What is to be written: the sheets of the shot and of the project, of which frames, or of a region.

    ``frames`` are the first and the last, None: all. Of a region its matte, or the picture cut out by it.
    """

    sheet: Sheet
    project: Sheet = EMPTY_SHEET
    frames: tuple[int, int] | None = None
    matte_of: str = ""
    cutout_of: str = ""

    @property
    def region(self) -> str:
        """The region that is written, or none."""
        return self.matte_of or self.cutout_of

    def at(self, frame: int) -> Order:
        """Return what is to be rendered at a frame."""
        return Order(sheet_at(self.sheet, frame, CATALOGUE), sheet_at(self.project, frame, CATALOGUE))

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

    def picture(self, frame: int) -> Picture:
        """Return the codes of a finished frame, as stored."""
        facts = self.frames.clip.facts
        before = self.frames.clip.picture(frame)
        source = self.frames.made(frame, before)
        order, window = self.order.at(frame), source.full()
        if self.order.matte_of:
            where = resolve(order.sheet, self.order.matte_of)
            assert where is not None  # looked up before the first frame
            matte = matte_as_stored(self.engine.matte(source, where, window), facts.turn)
            return matte_codes(matte, self.layout, full_range=facts.tags.full_range)
        planes = as_stored(self.engine.picture(source, order, window), facts.turn)
        hidden = self._hidden(source.height, source.width, self.engine.hidden(source, order, window))
        stored = None if hidden is None else matte_as_stored(hidden, facts.turn)
        same = before.layout == self.layout
        return to_codes(planes, facts.tags, self.layout, before if same else None, stored)

    @staticmethod
    def _hidden(height: int, width: int, covers: Sequence[tuple[object, Matte | None]]) -> Matte | None:
        found: Matte | None = None
        for _, held in covers:
            matte = np.ones((height, width), np.float32) if held is None else held
            found = matte if found is None else np.maximum(found, matte)
        return found

    def planes(self, frame: int) -> Planes:
        """Return a finished frame in linear light, upright."""
        source = self.frames.source(frame)
        return self.engine.picture(source, self.order.at(frame), source.full())


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


def secret_of(folder: Path) -> int:
    """Return the seed of the covers' noise: of one export the same, whenever it goes on."""
    kept = folder / "seed"
    if not kept.exists():
        part = folder / "seed.part"
        part.write_text(str(new_secret()))
        part.replace(kept)
    return int(kept.read_text())


def refuse_unknown_region(order: ClipOrder) -> None:
    """Refuse an order of a region that is not on the sheet.

    Raises
    ------
    MediaError
        when it is not.
    """
    if order.region and order.sheet.region(order.region) is None:
        raise MediaError("The sheet has no such region.", code="render.region")


def export_clip(
    frames: Frames,
    path: Path,
    order: ClipOrder,
    out: Path,
    target: ClipTarget,
    progress: Callable[[float], bool] = lambda share: True,
    assets: Assets = NO_ASSETS,
    solved: SolvedStore | None = None,
) -> str:
    """Write a finished clip to ``out``; ``path`` is the source's file, whose sound is kept.

    ``progress(share)`` hears how much is done, 0…1, and calls the export off by returning False. Chunks that stand
    beside ``out`` from an interrupted export of the same order are taken as they are. Returns what is to be said about
    the file, or nothing.

    Raises
    ------
    Cancelled
        when called off.
    MediaError
        when the clip cannot be read or written.
    """
    facts = frames.clip.facts
    first, last = order.range(facts)
    refuse_unknown_region(order)
    source_layout = frames.clip.picture(first).layout
    layout, pixel_format = target.kind.layout_for(source_layout)
    folder = begun_folder(out, frames, order, (target.format, target.quality, CHUNK))
    engine = Engine(EXPORT_CACHE_BYTES, assets, solved, secret_of(folder))
    rendering = Rendering(frames, order, engine, layout)
    chunks = [(folder / f"{at:07}.{target.kind.suffix}", at) for at in range(first, last + 1, CHUNK)]
    for chunk, at in chunks:
        if chunk.exists():
            continue
        until = min(at + CHUNK - 1, last)

        def told(frame: int) -> None:
            if not progress((frame - first) / (last - first + 1) * 0.98):
                shutil.rmtree(folder, ignore_errors=True)
                raise Cancelled

        _write_chunk(rendering, chunk, (at, until), target, pixel_format, told)
    says = weave(chunks, path, facts, (first, last), out, target)
    shutil.rmtree(folder, ignore_errors=True)
    progress(1.0)
    return says


def begun_folder(out: Path, frames: Frames, order: ClipOrder, written: tuple[object, ...]) -> Path:
    """Return where what is done of this very order stands beside ``out``, named by all it depends on."""
    sheets = [sheet_data(order.sheet), sheet_data(order.project)]
    wanted = [order.frames, order.matte_of, order.cutout_of, *written]
    said = json.dumps([frames.key, facts_data(frames.clip.facts), sheets, wanted], sort_keys=True)
    folder = out.with_name(f".{out.stem}.{hashlib.sha256(said.encode()).hexdigest()[:16]}.begun")
    folder.mkdir(parents=True, exist_ok=True)
    return folder


def _write_chunk(
    rendering: Rendering,
    out: Path,
    frames: tuple[int, int],
    target: ClipTarget,
    pixel_format: str,
    told: Callable[[int], None],
) -> None:
    """Write one chunk: the next frame is rendered while the last is encoded."""
    facts = rendering.frames.clip.facts
    size = stored_size(facts, target)
    with (
        ThreadPoolExecutor(1, thread_name_prefix="encode") as encoder,
        picture_writer(out, facts, size, target, pixel_format) as writer,
    ):
        last: Future[None] | None = None
        for frame in range(frames[0], frames[1] + 1):
            told(frame)
            picture = cut_to(rendering.picture(frame), size)
            if last is not None:
                last.result()
            last = encoder.submit(writer.write, picture)
        if last is not None:
            last.result()


def stored_size(facts: ClipFacts, target: ClipTarget) -> tuple[int, int]:
    """Return width and height of what is written, as stored."""
    width, height = (facts.width, facts.height) if facts.turn % 180 == 0 else (facts.height, facts.width)
    return (width - width % 2, height - height % 2) if target.kind.even else (width, height)


def cut_to(picture: Picture, size: tuple[int, int]) -> Picture:
    """Return a picture without its last row or column where the encoder takes even sides only."""
    if (picture.width, picture.height) == size:
        return picture
    layout = picture.layout
    wide, high = layout.chroma_size(*size)
    chroma = picture.planes[1:]
    cut = tuple(plane[:high, :wide] if layout.kind == "yuv" else plane[: size[1], : size[0]] for plane in chroma)
    return Picture(layout, (picture.planes[0][: size[1], : size[0]], *cut))
