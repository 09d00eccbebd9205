"""What is found in a source: subjects, faces and lettering, as parts that could be begun. Each is looked for once."""

import threading
from collections import OrderedDict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import get_args

from calado.arrays import Codes
from calado.detect.faces import Face, find_faces
from calado.detect.kept import FolderOf, keep, nowhere, read_kept
from calado.detect.lettering import Line, find_lettering, joined, lines_of, shares, traces
from calado.detect.net import ModelError
from calado.detect.offer import PERHAPS, Kind, Offer
from calado.detect.reading import Reading, can_read, read_line
from calado.detect.subjects import Subject, find_subjects
from calado.render.encode import screen_codes
from calado.render.engine import Engine
from calado.render.source import Source
from calado.sheet.declare import Value

#: the longer side, in pixels, of what is looked at
SIDE = 1600
KEPT = 192
#: where a larger picture may have small print it is looked at from nearer: the longer side of all of it, in pixels,
#: then; where it would be hardly nearer it isn't
NEARER, NEARLY = 3200, 1.3
#: a line that is turned by less, in degrees, is level
LEVEL = 0.5
#: how sure a reading must be that a doubtful line stays one
MAY_SAY = 0.6
_PLACE = ("x", "y", "width", "height", "turn")


@dataclass(frozen=True)
class Finds:
    """All offers for a source, subjects first, and a sentence."""

    offers: tuple[Offer, ...]
    says: str


_kept: OrderedDict[tuple[str, Kind], tuple[Offer, ...]] = OrderedDict()
_folder_of: FolderOf = nowhere
_locks: dict[Kind, threading.Lock] = {kind: threading.Lock() for kind in get_args(Kind)}
#: what is told of a source; lines are told with what they say
TOLD: tuple[Kind, ...] = ("subject", "face", "read")


def find(engine: Engine, source: Source, kinds: Sequence[Kind] = TOLD) -> Finds:
    """Return the subjects, faces and lines of text in a source, or only those of some kinds.

    Raises
    ------
    ModelError
        when a model's file cannot be used.
    """
    return _all([find_kind(engine, source, kind) for kind in kinds])


def find_kind(engine: Engine, source: Source, kind: Kind) -> tuple[Offer, ...]:
    """Return what there is of a kind in a source, doubtful ones among it under another name.

    Raises
    ------
    ModelError
        when a model's file cannot be used.
    """
    with _locks[kind]:  # looked for once, however many ask at the same time
        found = _known(source, kind)
        if found is None:
            found = _remember(source, kind, _LOOKS[kind](engine, source))
            keep(_folder_of(source.key), kind, found)
        return found


def _known(source: Source, kind: Kind) -> tuple[Offer, ...] | None:
    known = _kept.get((source.key, kind))
    if known is None and (read := read_kept(_folder_of(source.key), kind)) is not None:
        known = _remember(source, kind, read)
    return known


def _remember(source: Source, kind: Kind, found: tuple[Offer, ...]) -> tuple[Offer, ...]:
    _kept[source.key, kind] = found
    while len(_kept) > KEPT:
        _kept.popitem(last=False)
    return found


def keep_in(folder_of: FolderOf) -> None:
    """Keep finds in folders, too, from now on."""
    global _folder_of
    _folder_of = folder_of


def known_offers(source: Source) -> tuple[Offer, ...]:
    """Return what was found in a source already; nothing is looked for."""
    known = [_known(source, kind) for kind in TOLD]
    if known[-1] is None:
        known[-1] = _known(source, "text")
    return tuple(offer for each in known for offer in each or ())


def _all(found: Sequence[tuple[Offer, ...]]) -> Finds:
    """Return all finds; ``found`` has those of each kind, in the order of the kinds."""
    offers = tuple(offer for each in found for offer in each)
    return Finds(offers, _says([offer.name for offer in offers]))


def _lines(engine: Engine, source: Source) -> tuple[Offer, ...]:
    """Return the lines of lettering; of a large picture what may be small print is looked at from nearer."""
    seen = _codes(engine, source)
    share = shares(seen)
    lines = lines_of(seen, share)
    nearer = source.full(min(1.0, NEARER / max(source.width, source.height)))
    for box in traces(share, source.aspect) if nearer.height > NEARLY * seen.shape[0] else ():
        left, top, width, height = (round(each * nearer.height) for each in box)
        there = replace(
            nearer, left=left, top=top, width=min(width, nearer.width - left), height=min(height, nearer.height - top)
        )
        found = find_lettering(screen_codes(engine.source(source, there), source.space), smallest=0)
        lines += [each.placed(left, top, there.height, nearer.height) for each in found]
    return tuple(map(_text, joined(lines)))


def _read_lines(engine: Engine, source: Source) -> tuple[Offer, ...]:
    """Return the lines of lettering with what they say.

    A doubtful one that can be read is one; one of which nothing can be read is none. One that is sure stays so: it may
    be too small to be read, or written in letters that are not known here.
    """
    found = find_kind(engine, source, "text")
    if not found or not can_read():
        return found
    codes = codes_to_read(engine, source)
    try:
        readings = [read_in(codes, offer) for offer in found]
    except ModelError:  # what was found is to be covered all the same
        return found
    made = []
    for offer, reading in zip(found, readings, strict=True):
        if reading.sure:
            made.append(replace(offer, name="text", reads=reading.text, over=reading.over))
        elif offer.sure or reading.certainty >= MAY_SAY:
            made.append(offer)
    return tuple(made)


def codes_to_read(engine: Engine, source: Source) -> Codes:
    """Return a picture, shape (H, W, 3), as fine as its lines are read."""
    window = source.full(min(1.0, NEARER / max(source.width, source.height)))
    return screen_codes(engine.source(source, window), source.space)


def saying(codes: Codes, offer: Offer) -> Offer:
    """Return a line of lettering with what it says, where that can be read in a picture, shape (H, W, 3)."""
    try:
        reading = read_in(codes, offer) if can_read() else None
    except ModelError:
        return offer
    return replace(offer, reads=reading.text, over=reading.over) if reading and reading.sure else offer


def read_in(codes: Codes, offer: Offer) -> Reading:
    """Return what stands in a picture, 8-bit codes, shape (H, W, 3), where a line was found.

    One that was read already is read the same way up.

    Raises
    ------
    ModelError
        when the model's file cannot be used.
    """
    high = codes.shape[0]
    x, y, width, height, turn = (float(offer.values.get(id, 0.0)) for id in _PLACE)  # type: ignore[arg-type]
    ways = (offer.over,) if offer.reads else (False, True)
    return read_line(codes, (x * high, y * high), (width * high, height * high), turn, ways)


def _codes(engine: Engine, source: Source) -> Codes:
    """Return what is looked at, shape (H, W, 3)."""
    window = source.full(min(1.0, SIDE / max(source.width, source.height)))
    return screen_codes(engine.source(source, window), source.space)


def _says(names: list[str]) -> str:
    """Return what was found as a sentence; what is known at all is said where nothing is found."""
    if not names:
        return "No subject, no face and no text found. Only people, faces and lettering are known here."
    words = (("subject", "subject", "subjects"), ("face", "face", "faces"), ("text", "line of text", "lines of text"))
    told = [
        f"{count} {many if count > 1 else one}" if (count := names.count(name)) else f"no {one}"
        for name, one, many in words
    ]
    doubtful = _doubtful(names.count(PERHAPS + "a face"), "a face", "faces")
    doubtful += _doubtful(names.count(PERHAPS + "text"), "text", "text")
    return f"Found: {', '.join(told)}.{doubtful}"


def _doubtful(count: int, one: str, many: str) -> str:
    return f" {count} more may be {many if count > 1 else one}: see for yourself." if count else ""


def _text(line: Line) -> Offer:
    """Return a line of lettering as a turned rectangle, to be covered to its rim; a doubtful one under another name."""
    values: dict[str, Value] = {
        "x": round(line.x, 4),
        "y": round(line.y, 4),
        "width": round(line.width, 4),
        "height": round(line.height, 4),
        "feather_out": 0.004,
    }
    if abs(line.turn) >= LEVEL:
        values["turn"] = round(line.turn, 1)
    (left, top), (right, bottom) = line.corners.min(axis=0).tolist(), line.corners.max(axis=0).tolist()
    name = "text" if line.sure else PERHAPS + "text"
    return Offer(name, line.certainty, (left, top, right - left, bottom - top), "rectangle", values)


def _subject(subject: Subject) -> Offer:
    return Offer("subject", subject.certainty, subject.box, "rough", {}, subject.outline, subject.marks)


def face_offer(face: Face) -> Offer:
    """Return a face as an ellipse with a narrow feather; a doubtful one under another name, which nothing covers."""
    at = face.oval or face
    values: dict[str, Value] = {
        "x": round(at.x, 4),
        "y": round(at.y, 4),
        "width": round(at.width, 4),
        "height": round(at.height, 4),
        "turn": at.turn,
        "feather_in": round(0.08 * at.width, 4),
        "feather_out": round(0.08 * at.width, 4),
    }
    box = (at.x - at.width / 2, at.y - at.height / 2, at.width, at.height)
    name = "face" if face.sure else PERHAPS + "a face"
    return Offer(name, face.certainty, box, "ellipse", values, features=(*face.eyes, face.mouth), curves=face.curves)


_LOOKS: Mapping[Kind, Callable[[Engine, Source], tuple[Offer, ...]]] = {
    "subject": lambda engine, source: tuple(map(_subject, find_subjects(_codes(engine, source)))),
    "face": lambda engine, source: tuple(map(face_offer, find_faces(_codes(engine, source)))),
    "text": _lines,
    "read": _read_lines,
}
