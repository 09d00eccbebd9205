"""Whether lettering under a mosaic or a blur can still be read in a finished file, where reading is installed.

A solid leaves nothing to be read, which its own comparison tells. Of the lines found in the source those are tried that
were read there and lie whole under a cover; that none can be read is not said, since somebody may know the font.
"""

from collections.abc import Callable, Iterator, Sequence
from functools import partial
from pathlib import Path

import cv2
import numpy as np

from calado.arrays import Codes
from calado.clip_chunks import Take
from calado.detect.find import find_kind, read_in
from calado.detect.net import ModelError
from calado.detect.reading import can_read, still_says
from calado.media.clips.frames import Frames
from calado.media.reading import rows_of
from calado.render.encode import screen_codes
from calado.render.engine import Engine, Order
from calado.render.resolve import concealing, sides_covered
from calado.render.source import Source
from calado.sheet.models import Pass
from calado.start.proof import lines_under

#: the longer side, in pixels, in which lines are read
SIDE = 3200
#: frames of a take in which lines are looked for
TRIED = 3


def still_readable(engine: Engine, source: Source, order: Order, path: Path) -> Iterator[str]:
    """Yield what can still be read under which pass in a picture as large as its source, coded in whole numbers."""
    for reads, name in _readable(engine, source, order, lambda: _codes(path)):
        yield f"“{reads}” can still be read under “{name}”."


def clip_readable(engine: Engine, takes: Sequence[Take], written: Frames) -> Iterator[str]:
    """Yield what can still be read under which pass in some frames of a clip, spread over each of its takes."""
    before, said = 0, set[tuple[str, str]]()
    for take in takes:
        first, last = take.range
        for frame in sorted({round(each) for each in np.linspace(first, last, TRIED)}):
            made = written.source(min(before + frame - first, written.clip.facts.frames - 1))
            seen = partial(_screen, engine, made)
            for reads, name in _readable(engine, take.frames.source(frame), take.order.at(frame), seen):
                if (reads, name) not in said:
                    said.add((reads, name))
                    yield f"“{reads}” can still be read under “{name}” in frame {frame}."
        before += take.count


def _readable(engine: Engine, source: Source, order: Order, finished: Callable[[], Codes]) -> Iterator[tuple[str, str]]:
    """Yield the lines of a source that can still be read in the finished picture, each with its pass's name."""
    passes = [each for sheet in order.sheets for each in sheet.passes if _leaves(each)]
    if not passes or not can_read():
        return
    codes: Codes | None = None
    try:
        lines = [offer for offer in find_kind(engine, source, "read") if offer.reads]
        for each in passes:
            for offer in lines_under(engine, source, order, each.id, lines):
                codes = finished() if codes is None else codes
                if codes.size and still_says(offer.reads, read_in(codes, offer).text):
                    yield offer.reads, each.name
    except ModelError:  # said where somebody looks for lettering
        return


def _screen(engine: Engine, source: Source) -> Codes:
    window = source.full(min(1.0, SIDE / max(source.width, source.height)))
    return screen_codes(engine.source(source, window), source.space)


def _leaves(each: Pass) -> bool:
    """Return whether what a pass covers is only spread: a mosaic or a blur."""
    hides = [list(concealing(getattr(each, side))) for side in sides_covered(each)]
    return any(all("plain" not in adjustment.roles for adjustment in used) for used in hides)


def _codes(path: Path) -> Codes:
    """Return a picture's codes, 8 bits, shape (H, W, 3), reduced; none of one that is no codes."""
    with rows_of(path) as file:
        stored = file.rows(0, file.height)
    if stored.dtype.kind == "f":
        return np.zeros((0, 0, 3), np.uint8)
    rgb = (stored[..., :3] if stored.shape[2] >= 3 else np.repeat(stored[..., :1], 3, axis=2)).astype(np.float32)
    rgb *= 255 / np.iinfo(stored.dtype).max
    smaller = min(1.0, SIDE / max(rgb.shape[:2]))
    if smaller < 1:
        rgb = np.asarray(cv2.resize(rgb, None, fx=smaller, fy=smaller, interpolation=cv2.INTER_AREA), np.float32)
    return np.ascontiguousarray(np.rint(rgb).astype(np.uint8))
