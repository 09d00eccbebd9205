"""Chunks of an export: rendered and encoded here, or by processes elsewhere, which write the same files."""

from collections.abc import Callable
from concurrent.futures import CancelledError, Executor, Future, ThreadPoolExecutor, wait
from dataclasses import dataclass
from functools import cached_property, lru_cache
from pathlib import Path
from typing import Any

from calado.catalogue import CATALOGUE
from calado.clip_render import ClipOrder, Rendering, described
from calado.errors import Cancelled
from calado.export import EXPORT_CACHE_BYTES
from calado.follow.motion import no_motions
from calado.media.clips.clip import Clip
from calado.media.clips.facts import ClipFacts
from calado.media.clips.formats import ClipTarget
from calado.media.clips.frames import Frames
from calado.media.clips.motions import MotionFolder
from calado.media.clips.part import ClipPart
from calado.media.clips.planes import Layout, Picture
from calado.media.clips.write import picture_writer
from calado.media.cube import folder_luts
from calado.media.mattes import folder_sums
from calado.region.solve.matting_store import SolvedStore
from calado.render.assets import NO_ASSETS, Assets
from calado.render.engine import Engine
from calado.sheet.check import read_sheet
from calado.sheet.steps import sheet_data

#: seconds between two looks at how far others are
LOOK = 0.25


@dataclass(eq=False)
class Take:
    """A clip, opened when it is needed, its source's file, whose sound goes along, and what is ordered of it."""

    opened: Callable[[], Frames]
    path: Path
    order: ClipOrder

    @property
    def frames(self) -> Frames:
        """The clip, open."""
        return self.opened()

    @cached_property
    def facts(self) -> ClipFacts:
        """What the clip says of itself."""
        return self.frames.clip.facts

    @cached_property
    def layout(self) -> Layout:
        """How the source's planes are laid out."""
        return self.frames.clip.picture(self.range[0]).layout

    @property
    def range(self) -> tuple[int, int]:
        """The first and the last frame."""
        return self.order.range(self.facts)

    @property
    def count(self) -> int:
        """How many frames."""
        first, last = self.range
        return last - first + 1


@dataclass(frozen=True)
class Places:
    """Where processes elsewhere find mattes, imported or carried, and tables, and keep solved mattes; None: none."""

    mattes: tuple[Path, ...] = ()
    tables: Path | None = None
    solved: Path | None = None


@dataclass(frozen=True)
class Spread:
    """Who renders chunks in place of this process, and where they find what they need."""

    executor: Executor
    places: Places = Places()


@dataclass(frozen=True)
class How:
    """How all chunks of an export are written, as plain data."""

    layout: Layout
    pixel_format: str
    target: ClipTarget
    seed: int
    places: Places = Places()


@dataclass(frozen=True)
class ChunkTask:
    """One chunk as plain data, for whichever process renders it."""

    path: Path
    key: str
    poster: int
    part: tuple[int, int] | None
    sheets: tuple[dict[str, Any], dict[str, Any]]
    of_region: tuple[str, str]
    motions: Path | None
    out: Path
    frames: tuple[int, int]
    how: How


def task_of(take: Take, out: Path, frames: tuple[int, int], how: How) -> ChunkTask:
    """Return a chunk of a take as a task."""
    held = take.frames
    part = (take.facts.first, take.facts.frames) if isinstance(held.clip, ClipPart) else None
    sheets = sheet_data(take.order.sheet), sheet_data(take.order.project)
    of_region = take.order.matte_of, take.order.cutout_of
    motions = take.order.motions.path if isinstance(take.order.motions, MotionFolder) else None
    return ChunkTask(take.path, held.key, held.poster, part, sheets, of_region, motions, out, frames, how)


def write_apart(task: ChunkTask) -> None:
    """Write a chunk in a process of its own: what it opens stays open for the next one."""
    sheet, project = (read_sheet(each, CATALOGUE) for each in task.sheets)
    motions = MotionFolder(task.motions) if task.motions else no_motions
    order = ClipOrder(sheet, project, None, *task.of_region, motions)
    frames = _opened(task.path, task.key, task.poster, task.part)
    if not frames.clip.alive:  # a process that ended is begun anew
        _opened.cache_clear()
        frames = _opened(task.path, task.key, task.poster, task.part)
    rendering = Rendering(frames, order, _engine(task.how.seed, task.how.places), task.how.layout)
    write_chunk(rendering, task.out, task.frames, task.how, lambda frame: None)


@lru_cache(maxsize=1)
def _opened(path: Path, key: str, poster: int, part: tuple[int, int] | None) -> Frames:
    clip = Clip(path)
    return Frames(ClipPart(clip, *part) if part else clip, key, poster)


@lru_cache(maxsize=1)
def _engine(seed: int, places: Places) -> Engine:
    sums = folder_sums(*places.mattes) if places.mattes else NO_ASSETS.sums
    luts = folder_luts(places.tables) if places.tables else NO_ASSETS.luts
    solved = places.solved
    return Engine(EXPORT_CACHE_BYTES, Assets(sums, luts), SolvedStore(lambda: solved) if solved else None, seed)


def spread_out(tasks: list[ChunkTask], spread: Spread, told: Callable[[int], bool]) -> None:
    """Let others write chunks; ``told(frames)`` hears how many frames are done, and calls it off by returning False.

    Raises
    ------
    Cancelled
        when called off; chunks that are being written are given up.
    MediaError
        as writing one of them raises it.
    """
    waiting: dict[Future[None], int] = {
        spread.executor.submit(write_apart, task): task.frames[1] - task.frames[0] + 1 for task in tasks
    }
    done = 0
    try:
        while waiting:
            ended = wait(waiting, timeout=LOOK, return_when="FIRST_COMPLETED").done
            for each in ended:
                each.result()
                done += waiting.pop(each)
            if not told(done):
                raise Cancelled
    except CancelledError as error:
        raise Cancelled from error
    finally:
        for each in waiting:
            each.cancel()


def write_chunk(
    rendering: Rendering,
    out: Path,
    frames: tuple[int, int],
    how: How,
    told: Callable[[int], None],
) -> None:
    """Write one chunk: a frame is rendered while the next is decoded and the last is encoded."""
    clip = rendering.frames.clip
    facts = described(clip.facts, rendering.order)
    size = stored_size(facts, how.target)
    with (
        ThreadPoolExecutor(1, thread_name_prefix="decode") as decoder,
        ThreadPoolExecutor(1, thread_name_prefix="encode") as encoder,
        picture_writer(out, facts, size, how.target, how.pixel_format) as writer,
    ):
        last: Future[None] | None = None
        coming = decoder.submit(clip.picture, frames[0], onward=True)
        for frame in range(frames[0], frames[1] + 1):
            told(frame)
            came = coming.result()
            if frame < frames[1]:
                coming = decoder.submit(clip.picture, frame + 1, onward=True)
            picture = cut_to(rendering.picture(frame, came), size)
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
    small = {1, 2} if layout.kind == "yuv" else set()
    cut = tuple(
        plane[:high, :wide] if k in small else plane[: size[1], : size[0]] for k, plane in enumerate(picture.planes)
    )
    return Picture(layout, cut)
