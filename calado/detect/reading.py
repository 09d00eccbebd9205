"""What a line of lettering says, where ``calado[reading]`` is installed; without it nothing is read, all else works.

A line is laid level and read both ways up, since its box does not tell which is up; the surer reading counts. Letters
are told apart from left to right, each against those beside it, a place between two being none (connectionist temporal
classification, Graves2006; the surest letter of each place).
"""

import re
import threading
from dataclasses import dataclass, replace
from difflib import SequenceMatcher
from functools import lru_cache
from importlib.util import find_spec
from math import ceil, cos, radians, sin
from typing import TYPE_CHECKING, Any

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes
from calado.detect.net import ModelError, model_file
from calado.detect.softened import softened

if TYPE_CHECKING:
    import onnxruntime

#: the model takes lines so tall, in pixels; longer ones than so many times as much are read in their middle
TALL, LONGEST = 48, 40
#: from how many letters on, and how sure of them, what stands in a line was read
LEAST_LETTERS, LEAST = 2, 0.8
_guard = threading.Lock()


@dataclass(frozen=True)
class Reading:
    """What a line says, how sure its letters are on the whole, 0…1, and whether it is upside down."""

    text: str
    certainty: float
    over: bool = False

    @property
    def sure(self) -> bool:
        """Whether it was read."""
        return len(self.text.replace(" ", "")) >= LEAST_LETTERS and self.certainty >= LEAST


NOTHING = Reading("", 0.0)


def can_read() -> bool:
    """Return whether what reads is installed."""
    return find_spec("onnxruntime") is not None


def read_line(
    codes: Codes,
    place: tuple[float, float],
    size: tuple[float, float],
    turn: float,
    ways: tuple[bool, ...] = (False, True),
) -> Reading:
    """Return what a line says in a picture of 8-bit codes, shape (H, W, 3).

    ``place`` is the line's middle, ``size`` its length and height, in pixels; ``turn`` in degrees, clockwise;
    ``ways`` is whether it may stand upright, and upside down.

    Raises
    ------
    ModelError
        when the model's file cannot be used.
    """
    read = [replace(_read(_level(codes, place, size, turn + 180 * over)), over=over) for over in ways]
    return max(read, key=lambda each: each.certainty)


def still_says(text: str, read: str) -> bool:
    """Return whether what was read tells what a line says: half of its letters in their order, three in a row."""
    said, seen = (re.sub(r"\W", "", each).casefold() for each in (text, read))
    same = SequenceMatcher(None, said, seen, autojunk=False).get_matching_blocks()
    in_order, in_a_row = sum(each.size for each in same), max(each.size for each in same)
    return in_order >= 0.5 * len(said) and in_a_row >= min(3, len(said))


def _level(codes: Codes, place: tuple[float, float], size: tuple[float, float], turn: float) -> Codes:
    """Return a line as it lies level, TALL pixels high."""
    scale = TALL / size[1]
    length = min(size[0], LONGEST * size[1])
    wide = max(ceil(length * scale), TALL)
    way = radians(turn)
    back = np.array([[cos(way), -sin(way)], [sin(way), cos(way)]]) / scale
    middle = np.array([wide / 2, TALL / 2])
    at = np.array(place)
    return np.asarray(
        cv2.warpAffine(
            softened(codes, place[0], place[1], size[0] / 2 + size[1], 1 / scale),
            np.column_stack([back, at - 0.5 - back @ (middle - 0.5)]),
            (wide, TALL),
            flags=cv2.INTER_CUBIC | cv2.WARP_INVERSE_MAP,
            borderMode=cv2.BORDER_REPLICATE,
        ),
        np.uint8,
    )


def _read(line: Codes) -> Reading:
    with _guard:
        session, letters = _opened()
    # the model was made with blue first, of a range from -1 to 1
    seen = line[..., ::-1].astype(np.float32) / np.float32(127.5) - np.float32(1)
    given = {session.get_inputs()[0].name: np.ascontiguousarray(seen.transpose(2, 0, 1)[None])}
    shares: NDArray[np.float32] = np.asarray(session.run(None, given)[0])[0]
    best = shares.argmax(axis=1)
    new = (best > 0) & (best != np.concatenate([[0], best[:-1]]))
    if not new.any():
        return NOTHING
    text = "".join(letters[each - 1] for each in best[new]).strip()
    return Reading(text, float(shares.max(axis=1)[new].mean()))


@lru_cache(maxsize=1)
def _opened() -> "tuple[onnxruntime.InferenceSession, list[str]]":
    """Return the model, and its letters; the last of them is the space between words."""
    try:
        import onnxruntime
    except ImportError as error:  # it is there, and does not run on this machine
        raise ModelError(f"What reads lines cannot be used: {error}. All else works without it.") from error

    options: Any = onnxruntime.SessionOptions()
    options.log_severity_level = 3
    options.intra_op_num_threads = 2
    session = onnxruntime.InferenceSession(model_file("reading"), options, providers=["CPUExecutionProvider"])
    letters = session.get_modelmeta().custom_metadata_map["character"].split("\n")
    return session, [*letters, " "]
