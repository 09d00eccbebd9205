"""From a sheet and a clip to a clip: rendered in chunks of fixed bounds, so that a killed export goes on where it was.

Each chunk is a file of its own, closed in itself, and gets its name when it is whole; at the end they are joined by
their packets and the sound is woven in. The same order gives the same file, whether it was interrupted or not.
"""

import hashlib
import json
import shutil
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from pathlib import Path

from calado.clip_chunks import How, Places, Spread, Take, spread_out, task_of, write_chunk
from calado.clip_render import ClipOrder, Rendering, clears, described
from calado.errors import Cancelled, MediaError
from calado.export import EXPORT_CACHE_BYTES
from calado.media.clips.facts import ClipFacts, facts_data
from calado.media.clips.formats import ClipTarget, clip_fits
from calado.media.clips.frames import Frames
from calado.media.clips.mastering import holds_mastering
from calado.media.clips.planes import Layout
from calado.media.clips.weave import Heard, weave
from calado.region.solve.matting_store import SolvedStore
from calado.render.assets import NO_ASSETS, Assets
from calado.render.engine import Engine, new_secret
from calado.sheet.steps import sheet_data

#: frames in a chunk
CHUNK = 48


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
    """Write one finished clip to ``out``: :func:`export_takes` of a single one."""
    return export_takes([Take(lambda: frames, path, order)], out, target, progress, assets, solved)


def export_takes(
    takes: Sequence[Take],
    out: Path,
    target: ClipTarget,
    progress: Callable[[float], bool] = lambda share: True,
    assets: Assets = NO_ASSETS,
    solved: SolvedStore | None = None,
    spread: Spread | None = None,
) -> str:
    """Write finished clips to ``out``, one after another, with their sound.

    ``progress(share)`` hears how much is done, 0…1, and calls the export off by returning False. Chunks that stand
    beside ``out`` from an interrupted export of the same order are taken as they are. Returns what is to be said about
    the file, or nothing. With ``spread`` others render, and the file is the same.

    Raises
    ------
    Cancelled
        when called off.
    MediaError
        when a clip cannot be read or written, or they are not alike in size, rate and shape of pixels.
    """
    layout, pixel_format, says = _laid_out(takes, target)
    folder = begun_folder(out, takes, (target.format, target.quality, CHUNK))
    seed = secret_of(folder)
    chunks = _chunks(takes, folder, target.kind.suffix)
    missing = [each for each in chunks if not each.path.exists()]
    total = sum(take.count for take in takes)
    ready = total - sum(each.count for each in missing)

    how = How(layout, pixel_format, target, seed, spread.places if spread else Places())

    def told(done: int) -> bool:
        return progress((ready + done) / total * 0.98)

    try:
        if spread is None:
            _write_here(missing, Engine(EXPORT_CACHE_BYTES, assets, solved, seed), how, told)
        else:
            spread_out([task_of(each.take, each.path, each.frames, how) for each in missing], spread, told)
    except Cancelled:
        shutil.rmtree(folder, ignore_errors=True)
        raise
    heard = [Heard(take.path, take.facts, take.range) for take in takes]
    said = [weave([(each.path, each.place) for each in chunks], _in_one(heard), out, target), says]
    shutil.rmtree(folder, ignore_errors=True)
    progress(1.0)
    return " ".join(filter(None, said))


@dataclass(frozen=True)
class _Chunk:
    """A chunk: its file, which frames of which take, and the number of its first frame in what is written."""

    path: Path
    take: Take
    frames: tuple[int, int]
    place: int

    @property
    def count(self) -> int:
        return self.frames[1] - self.frames[0] + 1


def _chunks(takes: Sequence[Take], folder: Path, suffix: str) -> list[_Chunk]:
    found, before = [], 0
    for number, take in enumerate(takes):
        first, last = take.range
        for at in range(first, last + 1, CHUNK):
            path = folder / f"{number:03}-{at:07}.{suffix}"
            found.append(_Chunk(path, take, (at, min(at + CHUNK - 1, last)), before + at - first))
        before += take.count
    return found


def _write_here(missing: Sequence[_Chunk], engine: Engine, how: How, told: Callable[[int], bool]) -> None:
    done = 0

    def began(frame: int) -> None:
        nonlocal done
        if not told(done):
            raise Cancelled
        done += 1

    for each in missing:
        rendering = Rendering(each.take.frames, each.take.order, engine, how.layout)
        write_chunk(rendering, each.path, each.frames, how, began)


def _laid_out(takes: Sequence[Take], target: ClipTarget) -> tuple[Layout, str, str]:
    """Return the layout and the pixel format of what is written, and what is to be said about it."""
    first = takes[0]
    for take in takes:
        take.order.range(take.facts)
        refuse_unknown_region(take.order)
        clip_fits("matte" if take.order.matte_of else "cutout" if take.order.cutout_of else "picture", target)
        if alike_of(take.facts) != alike_of(first.facts):
            raise MediaError(
                "Clips in one file have one size, one rate and one shape of pixels. Export these one by one.",
                code="media.unlike",
            )
    layouts = [take.layout for take in takes]
    # the one of most bits, so that none loses any
    richest = max(layouts, key=lambda each: (each.bits, -each.across * each.down))
    see_through = [
        not take.order.matte_of and (bool(take.order.cutout_of) or came.alpha or clears(take.order))
        for take, came in zip(takes, layouts, strict=True)
    ]
    layout, pixel_format = target.kind.layout_for(richest, alpha=any(see_through))
    lost = any(see_through) and not layout.alpha
    return layout, pixel_format, " ".join(_left_out(takes, target, see_through=lost))


def _left_out(takes: Sequence[Take], target: ClipTarget, *, see_through: bool) -> Iterator[str]:
    """Say what of the source does not stand in the file."""
    if see_through:
        yield f"{target.kind.name} holds no transparency: it was left out."
    mastered = [take for take in takes if take.facts.display or take.facts.light]
    if mastered and not holds_mastering(target.kind.encoder):
        yield f"{target.kind.name} is written without the display that it was mastered on and its light levels."
    elif any(take.facts.light and not described(take.facts, take.order).light for take in mastered):
        yield "Its light levels (MaxCLL, MaxFALL) were left out: corrections may have changed them."


def alike_of(facts: ClipFacts) -> tuple[object, ...]:
    """Return what clips have in common that can stand in one file."""
    tags = replace(facts.tags, assumed=())
    return (facts.width, facts.height, facts.rate, facts.pixel_shape, facts.turn, tags)


def _in_one(heard: Sequence[Heard]) -> list[Heard]:
    """Return what is heard, with pieces of one file that follow each other as one: its sound needs no joining."""
    made: list[Heard] = []
    for each in heard:
        last = made[-1] if made else None
        if last and _file(last) == _file(each) and last.seconds[1] == each.seconds[0]:
            shift = last.facts.first - each.facts.first
            made[-1] = replace(last, frames=(last.frames[0], each.frames[1] - shift))
        else:
            made.append(each)
    return made


def _file(heard: Heard) -> tuple[int, int]:
    """Return what a file is on disk, by whichever name."""
    found = heard.path.stat()
    return found.st_dev, found.st_ino


def begun_folder(out: Path, takes: Sequence[Take], written: tuple[object, ...]) -> Path:
    """Return where what is done of this very order stands beside ``out``, named by all it depends on."""
    wanted = [
        [
            [take.frames.key, facts_data(take.facts)],
            [sheet_data(take.order.sheet), sheet_data(take.order.project)],
            [take.order.frames, take.order.matte_of, take.order.cutout_of],
        ]
        for take in takes
    ]
    said = json.dumps([wanted, *written], sort_keys=True)
    folder = out.with_name(f".{out.stem}.{hashlib.sha256(said.encode()).hexdigest()[:16]}.begun")
    folder.mkdir(parents=True, exist_ok=True)
    return folder
