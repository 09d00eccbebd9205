"""Faces and lettering looked for along a clip."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from math import ceil

from calado.detect.find import codes_to_read, find_kind, saying
from calado.detect.offer import Kind
from calado.errors import Cancelled
from calado.follow.sightings import Sightings, Thing
from calado.media.clips.following import follow_scale, grey_at
from calado.media.clips.frames import Frames
from calado.render.encode import screen_codes
from calado.render.engine import Engine

#: a second is looked at so often, a whole clip at most so often; for lettering, which takes longer, every other time
A_SECOND, AT_MOST = 4, 240
KINDS: tuple[Kind, ...] = ("face", "text")
EVERY_OTHER: tuple[Kind, ...] = ("text",)


@dataclass(frozen=True)
class Sighted:
    """What was found along a clip, and that every so many frames were looked at."""

    things: tuple[Thing, ...]
    every: int


def looked_every(frames: int, rate: float) -> int:
    """Return every how many frames a clip is looked at."""
    return max(1, round(rate / A_SECOND), ceil(frames / AT_MOST))


def sighted(
    frames: Frames, engine: Engine, told: Callable[[float], bool] = lambda share: True, kinds: Sequence[Kind] = KINDS
) -> Sighted:
    """Return the faces and lines of lettering along a clip, lines with what they say where that can be read.

    ``told(share)`` hears how far it is, False calls it off.

    Raises
    ------
    Cancelled
        when called off.
    MediaError
        when a frame cannot be decoded.
    ModelError
        when a model's file cannot be used.
    """
    facts = frames.clip.facts
    scale, every = follow_scale(facts), looked_every(facts.frames, float(facts.rate))
    size = round(facts.width * scale), round(facts.height * scale)
    found = Sightings(facts.width / facts.height)
    for frame in range(facts.frames):
        if not told(frame / facts.frames):
            raise Cancelled
        found.carry(grey_at(frames.clip, frame, size))
        if frame % every:
            continue
        source = frames.source(frame)
        codes = screen_codes(engine.source(source, source.full(scale)), source.space)
        for kind in kinds:
            if kind not in EVERY_OTHER or frame % (2 * every) == 0:
                found.look(frame, codes, find_kind(engine, source, kind), kind)
    return Sighted(tuple(_told(frames, engine, thing) for thing in found.things()), every)


def _told(frames: Frames, engine: Engine, thing: Thing) -> Thing:
    """Return a thing with what it says, read where it shows best."""
    if thing.kind != "text":
        return thing
    codes = codes_to_read(engine, frames.source(thing.best.frame))
    return replace(thing, best=thing.best._replace(offer=saying(codes, thing.best.offer)))
