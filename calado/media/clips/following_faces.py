"""A face followed through a clip, as the finder of faces sees it in each frame."""

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes
from calado.errors import RequestError
from calado.follow.faces import FaceFinder, Seen, face_at, face_steps
from calado.follow.fits import Matrix
from calado.follow.motion import Motion, Step
from calado.media.clips.frames import Frames
from calado.media.clips.way import Told, Way
from calado.render.encode import screen_codes

#: width of a face, in pixels, at which it is looked for
FINE = 96


def marked_face(frames: Frames, mask: NDArray[np.bool_], way: Way, scale: float) -> Seen | None:
    """Return the face that a region marks in the frame from which it is followed, or None.

    ``mask``, shape (H, W), is the region at the reference frame.
    """
    high = mask.shape[0]
    y, x = np.nonzero(mask)
    if not len(x):
        return None
    corners = np.array([(each, other, 1.0) for each in (x.min(), x.max() + 1) for other in (y.min(), y.max() + 1)])
    at = (np.eye(3) if way.matrix is None else way.matrix) @ (corners / (high, high, 1)).T
    (left, right), (top, bottom) = ((float(row.min()), float(row.max())) for row in at[:2] / at[2])
    return face_at(_codes(frames, way.start, scale), (left, top, right, bottom))


def followed_face(
    frames: Frames, seen: Seen, way: Way, scale: float, middle: tuple[float, float], told: Told
) -> Motion:
    """Return the motion of what was marked on a face; else as :func:`calado.media.clips.following.followed`."""
    finer = scale * min(1.0, FINE / max(seen.width * frames.clip.facts.height * scale, 1.0))
    reference = _codes(frames, way.start, finer)
    found, done = {way.start: seen}, 0
    count = sum(len(each) for each in way.ways)
    looked: list[int] = []
    going = True
    for each in way.ways:
        finder = FaceFinder(reference, seen, way.start)
        for frame in each if going else ():
            now = finder.step(_codes(frames, frame, finer), frame)
            if now is not None:
                found[frame] = now
            looked.append(frame)
            done += 1
            step = face_steps({way.start: seen, **({frame: now} if now else {})}, range(frame, frame + 1), way.start)
            if not told(frame, step[frame], done / count):
                going = False
                break
            if now is not None and frame - each.step not in found:
                _fill(frames, found, frame, each.step, finer)
    return _motion(frames.key, way, middle, found, looked)


def _fill(frames: Frames, found: dict[int, Seen], frame: int, step: int, scale: float) -> None:
    """Look for a face that has come back in the frames before, until it is there no more."""
    finder = FaceFinder(_codes(frames, frame, scale), found[frame], frame)
    at = frame - step
    while at not in found:
        now = finder.near(_codes(frames, at, scale), at)
        if now is None:
            return
        found[at] = now
        at -= step


def _motion(name: str, way: Way, middle: tuple[float, float], found: dict[int, Seen], looked: list[int]) -> Motion:
    base: Matrix = np.eye(3) if way.matrix is None else way.matrix
    ends = range(min([*looked, way.start]), max([*looked, way.start]) + 1)
    made = face_steps(found, ends, way.start)
    steps = dict(way.known.steps) if way.known else {}
    for frame, step in made.items():
        if frame == way.start or frame in looked:
            matrix = step.matrix @ base
            steps[frame] = Step(matrix / matrix[2, 2], step.confidence, step.state)
    return Motion(name, way.at, middle, {**steps, way.at: Step(np.eye(3), 1.0)}, "face")


def no_face() -> RequestError:
    """Return the refusal of a region that marks no face."""
    return RequestError(
        "No face is found in this region here. Mark it where the face shows well, or choose another way to follow.",
        code="follow.face",
    )


def _codes(frames: Frames, frame: int, scale: float) -> Codes:
    source = frames.sized(frame, scale)
    return screen_codes(source.planes(source.full(min(scale, 1.0))), source.space)
