"""What is found in a source: subjects, faces and lettering, as parts that could be begun. Kept while Calado runs."""

import threading
from collections import OrderedDict
from dataclasses import dataclass, field

from calado.arrays import Codes
from calado.detect.faces import Face, find_faces
from calado.detect.subjects import Subject, find_subjects
from calado.detect.text import Text, find_text
from calado.render.encode import screen_codes
from calado.render.engine import Engine
from calado.render.source import Source
from calado.sheet.declare import Value
from calado.sheet.models import Corner, Stroke

#: the longer side, in pixels, of what is looked at
SIDE = 1600
KEPT = 64


@dataclass(frozen=True)
class Offer:
    """A find: what it is, how sure, its box (left, top, width, height) in picture heights, and the part it would be."""

    name: str
    certainty: float
    box: tuple[float, float, float, float]
    kind: str
    values: dict[str, Value] = field(default_factory=dict)
    points: tuple[Corner, ...] = ()
    strokes: tuple[Stroke, ...] = ()
    #: of a face its two eyes and its mouth, as places in picture heights
    features: tuple[tuple[float, float], ...] = ()


@dataclass(frozen=True)
class Finds:
    """All offers for a source, subjects first, and a sentence."""

    offers: tuple[Offer, ...]
    says: str


_kept: OrderedDict[str, Finds] = OrderedDict()
_lock = threading.Lock()


def find(engine: Engine, source: Source) -> Finds:
    """Return the subjects, faces and lines of text in a source.

    Raises
    ------
    ModelError
        when a model's file cannot be used.
    """
    with _lock:  # looked for once, however many ask at the same time
        if source.key not in _kept:
            _kept[source.key] = _looked(engine, source)
            while len(_kept) > KEPT:
                _kept.popitem(last=False)
        return _kept[source.key]


def find_people(engine: Engine, source: Source) -> tuple[Offer, ...]:
    """Return the subjects in a source alone, which takes a tenth of the time that all finds take.

    Raises
    ------
    ModelError
        when the model's file cannot be used.
    """
    known = known_finds(source)
    if known is not None:
        return tuple(each for each in known.offers if each.name == "subject")
    return tuple(map(_subject, find_subjects(_codes(engine, source))))


def known_finds(source: Source) -> Finds | None:
    """Return what was found in a source already, or None while nobody has looked."""
    return _kept.get(source.key)


def _looked(engine: Engine, source: Source) -> Finds:
    codes = _codes(engine, source)
    subjects, faces, texts = find_subjects(codes), find_faces(codes), find_text(codes)
    offers = (*map(_subject, subjects), *map(face_offer, faces), *map(_text, texts))
    sure = sum(face.sure for face in faces)
    return Finds(offers, _says(len(subjects), sure, len(texts), len(faces) - sure))


def _codes(engine: Engine, source: Source) -> Codes:
    """Return what is looked at, shape (H, W, 3)."""
    window = source.full(min(1.0, SIDE / max(source.width, source.height)))
    return screen_codes(engine.source(source, window), source.space)


def _says(subjects: int, faces: int, texts: int, perhaps: int) -> str:
    """Return what was found as a sentence; what is known at all is said where nothing is found."""
    if not subjects and not faces and not texts and not perhaps:
        return "No subject, no face and no text found. Only people, and level lettering, are known here."
    counted = ((subjects, "subject", "subjects"), (faces, "face", "faces"), (texts, "line of text", "lines of text"))
    told = [f"{count} {many if count > 1 else one}" if count else f"no {one}" for count, one, many in counted]
    doubtful = f" {perhaps} more may be {'faces' if perhaps > 1 else 'a face'}: see for yourself." if perhaps else ""
    return f"Found: {', '.join(told)}.{doubtful}"


def _text(text: Text) -> Offer:
    """Return a line of lettering as a rectangle, to be covered to its rim."""
    left, top, width, height = text.box
    values: dict[str, Value] = {
        "x": round(left + width / 2, 4),
        "y": round(top + height / 2, 4),
        "width": round(width, 4),
        "height": round(height, 4),
        "feather_out": 0.004,
    }
    return Offer("text", text.certainty, text.box, "rectangle", values)


def _subject(subject: Subject) -> Offer:
    return Offer("subject", subject.certainty, subject.box, "rough", {}, subject.outline, subject.marks)


def face_offer(face: Face) -> Offer:
    """Return a face as an ellipse with a narrow feather; a doubtful one under another name, which nothing covers."""
    values: dict[str, Value] = {
        "x": round(face.x, 4),
        "y": round(face.y, 4),
        "width": round(face.width, 4),
        "height": round(face.height, 4),
        "turn": face.turn,
        "feather_in": round(0.08 * face.width, 4),
        "feather_out": round(0.08 * face.width, 4),
    }
    box = (face.x - face.width / 2, face.y - face.height / 2, face.width, face.height)
    name = "face" if face.sure else "perhaps a face"
    return Offer(name, face.certainty, box, "ellipse", values, features=(*face.eyes, face.mouth))
