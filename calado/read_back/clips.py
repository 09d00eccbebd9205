"""Reading a clip back: the file itself is decoded and compared, frame by frame, with what should stand in it.

Around the covers the file is compared with what was ordered: another frame, or a damaged one, is far off.
"""

from collections.abc import Callable, Iterator
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
from av.error import FFmpegError

from calado.clip_chunks import Take, cut_to
from calado.clip_render import ClipOrder, Rendering
from calado.errors import Cancelled, MediaError
from calado.export import EXPORT_CACHE_BYTES
from calado.media.clips.clip import Clip
from calado.media.clips.frames import Frames, matte_as_stored
from calado.media.clips.planes import Layout, Picture
from calado.read_back.beside import carried_beside, differs_beside
from calado.read_back.found import Gathered, ReadBack, noisy, pass_of
from calado.read_back.heard import differs_in_sound
from calado.read_back.legible import clip_readable
from calado.read_back.under import left_under
from calado.region.solve.matting_store import SolvedStore
from calado.render.assets import NO_ASSETS, Assets
from calado.render.engine import Engine
from calado.sheet.models import EMPTY_SHEET

#: what a container says of itself
OWN_WORDS = {"major_brand", "minor_version", "compatible_brands", "encoder", "duration", "creation_time"}


def read_back(
    takes: list[Take],
    path: Path,
    progress: Callable[[float], bool] = lambda share: True,
    assets: Assets = NO_ASSETS,
    solved: SolvedStore | None = None,
    *,
    sound: bool = False,
) -> ReadBack:
    """Decode a file that was written of takes, and compare it with what was ordered; ``sound``: with their sound.

    Raises
    ------
    Cancelled
        when ``progress(share)`` calls it off by returning False.
    MediaError
        when it cannot be read.
    """
    with Clip(path) as written:
        findings = [*_differs(takes, written), *_tells(path), *differs_in_sound(takes, path)]
        findings += differs_beside(takes, path, written.facts)
        if sound and not written.facts.sound and any(take.facts.sound for take in takes):
            findings.append("It has no sound, its source has.")
        reading = _Reading(takes, Engine(EXPORT_CACHE_BYTES, assets, solved))
        count = sum(take.count for take in takes)
        if written.facts.frames != count:
            findings.insert(0, f"It has {written.facts.frames} frames, {count} were ordered.")
        for place, (number, frame) in enumerate(reading.frames()):
            if place >= written.facts.frames:
                break
            if not progress(place / count):
                raise Cancelled
            reading.take(number, frame, written.picture(place))
        findings += clip_readable(reading.engine, takes, Frames(written, f"written {path}"))
    return replace(reading.gathered.found(path, tuple(findings)), beside=carried_beside(path))


class _Reading:
    """Takes frames in order, and keeps what is worst."""

    def __init__(self, takes: list[Take], engine: Engine) -> None:
        self._takes, self.engine = takes, engine
        self.gathered = Gathered()

    def frames(self) -> Iterator[tuple[int, int]]:
        """Yield each frame that was ordered, with the number of the take that it is of."""
        for number, take in enumerate(self._takes):
            yield from ((number, frame) for frame in range(take.range[0], take.range[1] + 1))

    def take(self, number: int, frame: int, written: Picture) -> None:
        """Compare one frame of a take."""
        take = self._takes[number]
        size = written.width, written.height
        frames, layout = take.frames, written.layout
        ordered = cut_to(Rendering(frames, take.order, self.engine, layout).picture(frame), size)
        before = cut_to(self._plain(frames, frame, layout), size)
        source, order = frames.source(frame), take.order.at(frame)
        all_hidden = np.zeros((size[1], size[0]), bool)
        for cover, held in self.engine.hidden(source, order, source.full()):
            upright = np.ones((source.height, source.width), np.float32) if held is None else held
            hidden = matte_as_stored(upright, frames.clip.facts.turn)[: size[1], : size[0]] >= 0.999
            all_hidden |= hidden
            each = pass_of(cover, order.sheets)
            shares = left_under(written, ordered, before, hidden, noisy=noisy(cover, each)) if hidden.any() else None
            self.gathered.cover(order, each, shares, frame, number)
        luma = (written.planes[0].astype(np.float32) - ordered.planes[0]) / layout.top
        around = np.abs(luma[~all_hidden])
        self.gathered.frame(float(around.mean()) if around.size else None, frame)

    def _plain(self, frames: Frames, frame: int, layout: Layout) -> Picture:
        """Return a frame of the source in the layout of what was written."""
        stored = frames.clip.picture(frame)
        if stored.layout == layout:
            return stored
        return Rendering(frames, ClipOrder(EMPTY_SHEET), self.engine, layout).picture(frame)


def _differs(takes: list[Take], written: Clip) -> Iterator[str]:
    """Yield in what a file is not as its source: rate, tags, sound."""
    facts, came = written.facts, takes[0].facts
    if facts.rate != came.rate:
        yield f"It has {_rate(facts.rate)} frames a second, the source {_rate(came.rate)}."
    if (facts.tags.matrix, facts.tags.primaries, facts.tags.transfer) != (
        came.tags.matrix,
        came.tags.primaries,
        came.tags.transfer,
    ):
        yield "It says another colour space of itself than its source."


def _rate(rate: Fraction) -> str:
    return f"{float(rate):.3f}".rstrip("0").rstrip(".")


def _tells(path: Path) -> Iterator[str]:
    """Yield what a file carries besides its picture and sound that could tell of the source."""
    try:
        with av.open(str(path)) as container:
            words = sorted({key.lower() for key in container.metadata} - OWN_WORDS)
            pictures = len(container.streams.video)
            attached = len(container.streams.attachments)
    except (FFmpegError, OSError) as error:
        raise MediaError(f"The export cannot be read back: {error}.", code="media.read") from error
    if words:
        yield f"It carries words of its source: {', '.join(words)}."
    if pictures > 1 or attached:
        yield "It carries pictures besides its own, which may show what is covered."
