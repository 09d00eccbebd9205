"""A motion: how what was marked in one frame of a clip lies in the others, and how sure that is."""

import hashlib
import json
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, replace
from math import isfinite
from typing import Any, Literal, TypeAlias, get_args

import numpy as np

from calado.errors import CaladoError
from calado.follow.fits import KINDS, Kind, Matrix
from calado.sheet.models import Stroke

#: what may happen to what is followed: a map of its plane, what a face does, any change of its shape, or nothing but
#: what the camera does
Followed: TypeAlias = Kind | Literal["face", "shape", "set"]
OTHERS = ("face", "shape", "set")
State: TypeAlias = Literal["on", "held"]
VERSION = 1
#: digits behind the point that are kept: a thousandth of a pixel of 8K
DIGITS = 7


class MotionDamaged(CaladoError):
    """A motion file cannot be read."""

    def __init__(self) -> None:
        super().__init__("This motion cannot be read: follow the region again.", code="motion.damaged")


@dataclass(frozen=True)
class Step:
    """A frame of a motion.

    ``matrix``, shape (3, 3), takes places of the reference frame to this one, in picture heights, as homogeneous
    columns; ``confidence`` is 0…1. *held*: it was not found here, and lies where it was last. ``matte`` names the matte
    of a shape as it is here, "" that of what only moves; ``marks`` the corrections that it knows of. ``smear`` is how
    far it reaches beyond its place while the shutter is open, in picture heights.
    """

    matrix: Matrix
    confidence: float
    state: State = "on"
    matte: str = ""
    marks: str = ""
    smear: float = 0.0

    @property
    def sureness(self) -> float:
        """How sure it is to lie there, 0…1: not at all where it is held."""
        return self.confidence if self.state == "on" else 0.0


@dataclass(frozen=True)
class Motion:
    """Steps by frame, the reference ``at`` among them.

    ``clip`` names the frames in which it was followed; ``middle`` is the region's in the reference, in picture heights;
    ``kind`` is what may happen to it.
    """

    clip: str
    at: int
    middle: tuple[float, float]
    steps: Mapping[int, Step]
    kind: Followed = "perspective"

    def with_step(self, frame: int, step: Step) -> "Motion":
        """Return a motion with another step at a frame."""
        return replace(self, steps={**self.steps, frame: step})

    def without(self, frames: range) -> "Motion":
        """Return a motion without the steps of some frames."""
        return replace(self, steps={frame: step for frame, step in self.steps.items() if frame not in frames})

    def near(self, frame: int) -> Step:
        """Return the step at a frame; one that was not followed is held where the nearest is."""
        if frame in self.steps:
            return self.steps[frame]
        nearest = min(self.steps, key=lambda each: (abs(each - frame), each))
        return replace(self.steps[nearest], confidence=0.0, state="held", marks="")


#: gives a motion by the hash of its file; None: there is none
Motions: TypeAlias = Callable[[str], Motion | None]


def motion_bytes(motion: Motion) -> bytes:
    """Return a motion as the JSON of its file: the same motion gives the same bytes."""
    steps = {
        str(frame): {
            "matrix": [[round(float(n), DIGITS) for n in row] for row in step.matrix],
            "confidence": round(step.confidence, 4),
            "state": step.state,
            **({"matte": step.matte} if step.matte else {}),
            **({"marks": step.marks} if step.marks else {}),
            **({"smear": round(step.smear, DIGITS)} if step.smear else {}),
        }
        for frame, step in sorted(motion.steps.items())
    }
    whole = {
        "version": VERSION,
        "clip": motion.clip,
        "at": motion.at,
        "middle": motion.middle,
        "kind": motion.kind,
        "steps": steps,
    }
    return json.dumps(whole, separators=(",", ":")).encode()


def digest_of(data: bytes) -> str:
    """Return the name of a motion: the SHA-256 of its file."""
    return hashlib.sha256(data).hexdigest()


def motion_from(data: bytes) -> Motion:
    """Return a motion from the bytes of its file.

    Raises
    ------
    MotionDamaged
        when they are none.
    """
    try:
        told = json.loads(data)
        if told["version"] != VERSION:
            raise MotionDamaged
        steps = {int(frame): _step(each) for frame, each in told["steps"].items()}
        x, y = (float(each) for each in told["middle"])
        motion = Motion(str(told["clip"]), int(told["at"]), (x, y), steps, told["kind"])
    except (ValueError, KeyError, TypeError, AttributeError, RecursionError) as error:
        raise MotionDamaged from error
    if motion.at not in motion.steps or not isfinite(x + y) or motion.kind not in (*KINDS, *OTHERS):
        raise MotionDamaged
    return motion


def _step(told: Mapping[str, Any]) -> Step:
    matrix = np.array(told["matrix"], np.float64)
    confidence, state = float(told["confidence"]), told["state"]
    matte, marks, smear = str(told.get("matte", "")), str(told.get("marks", "")), float(told.get("smear", 0.0))
    if marks and not marks.partition("-")[0].isdigit():
        raise MotionDamaged
    sound = matrix.shape == (3, 3) and np.isfinite(matrix).all() and isfinite(confidence) and state in get_args(State)
    sound = sound and 0 <= smear <= 1
    if not sound or abs(np.linalg.det(matrix)) < 1e-12:
        raise MotionDamaged
    return Step(matrix, confidence, state, matte, marks, smear)


def digest_of_marks(strokes: Iterable[Stroke]) -> str:
    """Return what names corrections, their number and a hash, "" none: a shape cut with them needs them no more."""
    told = [stroke.model_dump(mode="json") for stroke in strokes]
    return f"{len(told)}-{hashlib.sha256(json.dumps(told, sort_keys=True).encode()).hexdigest()[:32]}" if told else ""


def marked_in(motion: Motion) -> dict[int, int]:
    """Return in which frames a shape was corrected before it was cut, and by how many marks."""
    return {frame: int(step.marks.partition("-")[0]) for frame, step in sorted(motion.steps.items()) if step.marks}


def no_motions(digest: str) -> Motion | None:
    """Return none, whatever is asked for."""
    return None
