"""A statement of changes: what was done to a picture, in the sheet's own sentences, to how much of it, of what kind.

What an editor owes a reader. Kinds come from the adjustments' own declarations; how much is changed is read from the
picture itself, of a clip from some frames of it, before and after each pass.
"""

from collections.abc import Iterator, Sequence
from dataclasses import asdict, dataclass
from typing import Any

from calado.adjust.registry import ADJUSTMENTS
from calado.catalogue import CATALOGUE
from calado.inspect.compare import SIDE, Change, look_window, until
from calado.inspect.meter import VISIBLE, read_meter
from calado.render.engine import Engine, Order
from calado.render.source import Source
from calado.report.concealment import Of, Written
from calado.sheet.declare import AdjustmentDeclaration
from calado.sheet.models import Pass, Sheet
from calado.sheet.sentence import describe_sheet

#: of a clip so many frames are looked at
LOOKS = 5
TAKES, HIDES, MOVES, LAYS, DRAWS = (
    "takes away what is there",
    "hides what is under it",
    "moves what is there",
    "lays texture over it",
    "draws on it",
)


@dataclass(frozen=True, eq=False)
class Look:
    """A frame that is looked at, by its number, and the sheets as they stand there: the shot's and the project's."""

    frame: int
    source: Source
    sheets: tuple[Sheet, Sheet]


@dataclass(frozen=True)
class Done:
    """A pass: what it does in words, how much of a picture it changes, 0…1, and what else than light it does."""

    name: str
    says: str
    share: float
    kinds: tuple[str, ...]


@dataclass(frozen=True)
class Statement:
    """All of it: ``share`` of the picture is changed, of a clip in the frame of ``frames`` in which most is.

    ``says`` sums it up, ``read`` tells how it was read.
    """

    written: Written
    of: Of
    done: tuple[Done, ...]
    share: float
    says: str
    read: str
    frames: tuple[int, ...]

    def data(self) -> dict[str, Any]:
        """Return it as plain data."""
        return asdict(self)


@dataclass(frozen=True, eq=False)
class Stated:
    """A picture or a clip that was written, with its own sheet and the project's, and what is looked at of it."""

    of: Of
    sheets: tuple[Sheet, Sheet]
    looks: Sequence[Look]


def statement(written: Written, takes: Sequence[Stated], engine: Engine, cut: str = "") -> Statement:
    """Return the statement of what was written of a picture, a clip or several in one file.

    ``cut`` names the region that was cut out, if one was.
    """
    done = [each for take in takes for each in _done(take, engine, f"{take.of.clip}: " if len(takes) > 1 else "")]
    looks = [look for take in takes for look in take.looks]
    share = max((_area(look, engine, Order(), Order(*look.sheets)) for look in looks), default=0.0)
    frames = tuple(look.frame for look in takes[0].looks)
    read = _read(frames, several=len(takes) > 1)
    return Statement(written, takes[0].of, tuple(done), share, _sum(done, share, cut), read, frames)


def _done(take: Stated, engine: Engine, clip: str) -> Iterator[Done]:
    words = {each.id: each.plain for sheet in take.sheets for each in describe_sheet(sheet, CATALOGUE)}
    for number, sheet in enumerate(take.sheets):
        for each in sheet.passes:
            if each.on:
                most = _most(take.looks, engine, each.id, number)
                yield Done(clip + each.name, words[each.id], most, tuple(_kinds(each)))


def spread(first: int, last: int) -> list[int]:
    """Return frames to look at, evenly spread, both ends among them."""
    count = min(LOOKS, last - first + 1)
    return [first + round(k * (last - first) / max(count - 1, 1)) for k in range(count)]


def _most(looks: Sequence[Look], engine: Engine, id: str, number: int) -> float:
    return max((_area(look, engine, *_around(look.sheets, id, number)) for look in looks), default=0.0)


def _around(sheets: tuple[Sheet, Sheet], id: str, number: int) -> tuple[Order, Order]:
    """Return what is rendered before a pass and with it."""
    before, after = (until(sheets[number], id, included=included) for included in (False, True))
    if number == 0:
        return Order(before), Order(after)
    return Order(sheets[0], before), Order(sheets[0], after)


def _area(look: Look, engine: Engine, before: Order, after: Order) -> float:
    """Return the share of a picture in which two renderings differ visibly."""
    window = look_window(look.source)
    was, now = (engine.picture(look.source, order, window) for order in (before, after))
    return read_meter(Change(was, now, look.source.space)).area


def _kinds(each: Pass) -> Iterator[str]:
    """Yield what a pass does besides light, colour and sharpness, each once."""
    told = set()
    for treatment in (each.inside, each.outside):
        for id, values in treatment.items():
            adjustment = ADJUSTMENTS.get(id)
            kind = None if adjustment is None or adjustment.is_neutral(values) else _kind(adjustment)
            if kind and kind not in told:
                told.add(kind)
                yield kind


def _kind(adjustment: AdjustmentDeclaration) -> str | None:
    if adjustment.holds is not None:
        return HIDES
    if {"gone", "clear"} & set(adjustment.roles):
        return TAKES
    if adjustment.moves is not None:
        return MOVES
    return {"Texture": LAYS, "Cover": DRAWS}.get(adjustment.group)


def _read(frames: Sequence[int], *, several: bool) -> str:
    where = f", the most of frames {', '.join(map(str, frames))}" if len(frames) > 1 else ""
    where = f", the most of {LOOKS} frames of each clip" if several else where
    return (
        f"Shares are read at {SIDE} pixels on the longer side{where}: what is finer, as single"
        " grains are, does not count."
    )


def _sum(done: Sequence[Done], share: float, cut: str) -> str:
    if not done and not cut:
        return "Nothing was changed."
    most = f"{share * 100:.0f}\u00a0%" if share >= 0.01 else "less than 1\u00a0%"
    more = [f"“{each.name}” {kind}" for each in done for kind in each.kinds]
    more += [f"what lies outside of “{cut}” was made transparent"] if cut else []
    if not more:
        return (
            f"Only light, colour and sharpness were changed, visibly (ΔE {VISIBLE:.0f} and more) in about {most} of"
            " the picture. Nothing was added, taken away or moved."
        )
    return (
        f"Changed visibly (ΔE {VISIBLE:.0f} and more) in about {most} of the picture. Besides light, colour and"
        f" sharpness: {'; '.join(more)}. Nothing else was added, taken away or moved."
    )
