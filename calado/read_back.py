"""Reading an export back: the file itself is decoded and compared, frame by frame, with what should stand in it.

Around the covers the file is compared with what was ordered: another frame, or a damaged one, is far off.
"""

import hashlib
from collections.abc import Callable, Iterator
from dataclasses import asdict, dataclass, field, replace
from fractions import Fraction
from pathlib import Path
from typing import Any

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
from calado.media.clips.under import Hidden, left_under
from calado.region.solve.matting_store import SolvedStore
from calado.render.assets import NO_ASSETS, Assets
from calado.render.covers import Cover
from calado.render.engine import Engine
from calado.sheet.models import EMPTY_SHEET, Pass

#: of the contrast of what is covered, what comes through from which on it is said
MOST_LEFT = 0.02
#: mean difference in luma around the covers, of white, from which on a frame is not the one that was ordered
FAR = 0.05
#: what a container says of itself
OWN_WORDS = {"major_brand", "minor_version", "compatible_brands", "encoder", "duration", "creation_time"}


@dataclass(frozen=True)
class UnderCover:
    """What was found under a cover: in how many frames it lies, and the most of what was there that is left.

    ``left`` is a share of the contrast, what may be left at most, ``at`` the frame of the source where that was;
    ``surely`` is what is left at least, in the worst frame. ``take`` counts the clips in the file.
    """

    pass_id: str
    name: str
    region: str
    frames: int = 0
    left: float = 0.0
    at: int = 0
    surely: float = 0.0
    take: int = 0

    @property
    def says(self) -> str:
        """What is left, in a sentence."""
        if not self.frames:
            return f"“{self.name}” covers nothing in these frames."
        most = f"{self.left * 100:.1f}\u00a0%"
        return f"Under “{self.name}” at most {most} of what was there is left, in {self.frames} frames."


@dataclass(frozen=True)
class ReadBack:
    """What an export holds: its hash, frames, what lies under each cover, how far the rest is from what was ordered.

    ``away`` is a mean difference in luma, of white, the largest of all frames; ``findings`` are what is wrong, one
    sentence each.
    """

    sha256: str
    frames: int
    covers: tuple[UnderCover, ...]
    away: float
    away_at: int
    findings: tuple[str, ...] = field(default=())

    @property
    def says(self) -> str:
        """What was found, in sentences."""
        if self.findings:
            return " ".join(("Read back:", *self.findings))
        off = f"{self.away * 100:.1f}\u00a0%"
        around = f"The rest is off by {off} of white in frame {self.away_at}, and by less in all others."
        return " ".join((f"Read back, all {self.frames} frames.", *(each.says for each in self.covers), around))

    def data(self) -> dict[str, Any]:
        """Return it as plain data."""
        return {**asdict(self), "says": self.says}


def read_back(
    takes: list[Take],
    path: Path,
    progress: Callable[[float], bool] = lambda share: True,
    assets: Assets = NO_ASSETS,
    solved: SolvedStore | None = None,
) -> ReadBack:
    """Decode a file that was written of takes, and compare it with what was ordered.

    Raises
    ------
    Cancelled
        when ``progress(share)`` calls it off by returning False.
    MediaError
        when it cannot be read.
    """
    with Clip(path) as written:
        findings = [*_differs(takes, written), *_tells(path)]
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
    return reading.found(_digest(path), tuple(findings))


class _Reading:
    """Takes frames in order, and keeps what is worst."""

    def __init__(self, takes: list[Take], engine: Engine) -> None:
        self._takes, self._engine = takes, engine
        self._under: dict[tuple[int, str], UnderCover] = {}
        self._away: list[tuple[float, int]] = []
        self._count = 0

    def frames(self) -> Iterator[tuple[int, int]]:
        """Yield each frame that was ordered, with the number of the take that it is of."""
        for number, take in enumerate(self._takes):
            yield from ((number, frame) for frame in range(take.range[0], take.range[1] + 1))

    def take(self, number: int, frame: int, written: Picture) -> None:
        """Compare one frame of a take."""
        take = self._takes[number]
        self._count += 1
        size = written.width, written.height
        frames, layout = take.frames, written.layout
        ordered = cut_to(Rendering(frames, take.order, self._engine, layout).picture(frame), size)
        before = cut_to(self._plain(frames, frame, layout), size)
        source, order = frames.source(frame), take.order.at(frame)
        all_hidden = np.zeros((size[1], size[0]), bool)
        for cover, held in self._engine.hidden(source, order, source.full()):
            upright = np.ones((source.height, source.width), np.float32) if held is None else held
            hidden = matte_as_stored(upright, frames.clip.facts.turn)[: size[1], : size[0]] >= 0.999
            all_hidden |= hidden
            each = _pass_of(cover, (*order.sheet.passes, *order.project.passes))
            shares = left_under(written, ordered, before, hidden, noisy=_noisy(cover, each))
            self._keep(each, number, frame, shares, hidden)
        around = ~all_hidden
        if around.any():
            luma = (written.planes[0].astype(np.float32) - ordered.planes[0]) / layout.top
            self._away.append((float(np.abs(luma[around]).mean()), frame))

    def _plain(self, frames: Frames, frame: int, layout: Layout) -> Picture:
        """Return a frame of the source in the layout of what was written."""
        stored = frames.clip.picture(frame)
        if stored.layout == layout:
            return stored
        return Rendering(frames, ClipOrder(EMPTY_SHEET), self._engine, layout).picture(frame)

    def _keep(self, each: Pass, number: int, frame: int, shares: tuple[float, float], hidden: Hidden) -> None:
        order, key = self._takes[number].order, (number, each.id)
        region = order.sheet.region(each.region) or order.project.region(each.region)
        new = UnderCover(each.id, each.name, region.name if region else "whole picture", take=number)
        known = self._under.setdefault(key, new)
        if not hidden.any():
            return
        surely, left = shares
        left, at = (left, frame) if left > known.left else (known.left, known.at)
        self._under[key] = replace(known, frames=known.frames + 1, left=left, at=at, surely=max(surely, known.surely))

    def found(self, digest: str, findings: tuple[str, ...]) -> ReadBack:
        """Return what was found in all frames."""
        away, at = max(self._away, default=(0.0, 0))
        said = [
            f"Under “{each.name}” {each.left * 100:.0f}\u00a0% of what was there is left in frame {each.at}."
            for each in self._under.values()
            if each.surely > MOST_LEFT
        ]
        if away > FAR:
            said.append(f"Frame {at} is far from what was ordered.")
        covers = tuple(self._under.values())
        return ReadBack(digest, self._count, covers, away, at, (*findings, *said))


def _pass_of(cover: Cover, passes: tuple[Pass, ...]) -> Pass:
    return next(each for each in passes if each.id == cover.pass_id)


def _noisy(cover: Cover, each: Pass) -> bool:
    """Return whether a cover holds noise that cannot be made again."""
    return "scramble" in (each.inside if cover.side == "inside" else each.outside)


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


def _digest(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()
