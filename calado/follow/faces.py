"""A face followed by a finder of faces: it turns, is mirrored, goes behind something and comes back, and stays a face.

In each frame three squares round the place where it should be are looked at; lost, the whole frame is, every few
frames, and of several faces the one is taken whose colours are most like those it had; from there it is looked for
backwards too. Where a head turns, the mouth goes farther than the head's middle: what was marked keeps its place to
both by ``TURNED``. That share was fitted on the one made head of the demo (60 frames of it, residual 0.05 of the
finder's width).
"""

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes
from calado.detect.faces import AGAIN, Face, find_faces, look
from calado.follow.colours import alike, hues_in
from calado.follow.fits import Matrix
from calado.follow.motion import Step

#: by how much of the mouth's way, in widths of the face, the middle of the head goes when it turns
TURNED = 0.46
#: from how sure a look counts
LEAST = 0.4
#: a face is another one that is farther away, in widths, or larger or smaller by more than this
FAR, LARGER = 0.8, 1.6
#: for so many frames it is looked for where it was going; then in the whole frame, each ``EVERY``
NEAR_FRAMES, EVERY = 12, 3
#: likeness of colours from which on a face that comes back is the same
ALIKE = 0.4
#: sureness of the finder that counts as none, and as all
NONE, ALL = 0.3, 0.8
#: frames to each side that steady a place
STEADY = 3
#: a gap of so many frames is bridged evenly, and held
BRIDGED = 24


class Seen(NamedTuple):
    """A face in a frame: its middle and width in picture heights, the mouth's way from it in widths, how sure."""

    x: float
    y: float
    width: float
    mouth: float
    sure: float


@dataclass(frozen=True)
class Place:
    """Where it was last, in which frame, and how it goes."""

    seen: Seen
    frame: int
    going: tuple[float, float] = (0.0, 0.0)


#: how large a box may be that marks a face, in its sizes
LIKE = (0.4, 2.1)


def face_at(codes: Codes, box: tuple[float, float, float, float]) -> Seen | None:
    """Return the face that a box (left, top, right, bottom), in picture heights, marks in a picture, or None.

    ``codes`` are 8-bit, shape (H, W, 3). The face's middle lies in the box, and they are of like size: a cover over a
    face, with hair and ears, is twice as large.
    """
    left, top, right, bottom = box
    for face in find_faces(codes, small=False):
        inside = left <= face.x <= right and top <= face.y + 0.15 * face.height <= bottom
        similar = all(LIKE[0] < side < LIKE[1] for side in ((right - left) / face.width, (bottom - top) / face.height))
        if face.sure and inside and similar:
            near = _near(codes, Seen(face.x, face.y, face.width, 0.0, 1.0))
            return near or _seen([face])
    return None


class FaceFinder:
    """Finds one face in frames that come one after another; ``seen`` is how it was in the first, ``codes``."""

    def __init__(self, codes: Codes, seen: Seen, frame: int) -> None:
        self._place = Place(seen, frame)
        self._colours = _colours(codes, seen)

    def step(self, codes: Codes, frame: int) -> Seen | None:
        """Return the face in the next frame, or None where it is not found."""
        apart = abs(frame - self._place.frame)
        found = self.near(codes, frame)
        if found is None and apart >= EVERY and frame % EVERY == 0:
            found = self._anywhere(codes)
            return None if found is None else self._keep(found, frame, apart)
        return found

    def near(self, codes: Codes, frame: int) -> Seen | None:
        """Return the face in the next frame if it is where it was going, or None."""
        apart = abs(frame - self._place.frame)
        before, (dx, dy) = self._place.seen, self._place.going
        if apart > NEAR_FRAMES:
            return None
        found = _near(codes, before._replace(x=before.x + dx * apart, y=before.y + dy * apart))
        return None if found is None else self._keep(found, frame, apart)

    def _keep(self, found: Seen, frame: int, apart: int) -> Seen:
        before, (dx, dy) = self._place.seen, self._place.going
        steady = 0.5 if apart <= NEAR_FRAMES else 0.0
        going = (
            steady * dx + (1 - steady) * (found.x - before.x) / apart,
            steady * dy + (1 - steady) * (found.y - before.y) / apart,
        )
        self._place = Place(found, frame, going if apart <= NEAR_FRAMES else (0.0, 0.0))
        return found

    def _anywhere(self, codes: Codes) -> Seen | None:
        sure = [face for face in find_faces(codes, small=False) if face.sure]
        likely = [(alike(self._colours, _colours(codes, _seen([face]))), face) for face in sure]
        like, face = max(likely, key=lambda each: each[0], default=(0.0, None))
        if face is None or like < ALIKE:
            return None
        return _near(codes, _seen([face]))


def _near(codes: Codes, at: Seen) -> Seen | None:
    """Return the face at a place, as three looks at it agree."""
    high, wide = codes.shape[:2]
    found: list[Face] = []
    for widths in AGAIN:
        side = max(8, round(widths * at.width * high))
        left, top = round(at.x * high - side / 2), round(at.y * high - side / 2)
        if left > wide - 8 or top > high - 8 or left + side < 8 or top + side < 8:
            continue
        same = [face for face in look(codes, left, top, side, LEAST) if _same(face, at)]
        if same:
            found.append(max(same, key=lambda face: face.certainty))
    return _seen(found)._replace(sure=sum(face.certainty for face in found) / len(AGAIN)) if found else None


def _same(face: Face, at: Seen) -> bool:
    near = max(abs(face.x - at.x), abs(face.y - at.y)) < FAR * at.width
    return near and 1 / LARGER < face.width / at.width < LARGER


def _seen(faces: list[Face]) -> Seen:
    x, y, width, mouth, sure = np.mean(
        [(each.x, each.y, each.width, (each.mouth[0] - each.x) / each.width, each.certainty) for each in faces], axis=0
    )
    return Seen(float(x), float(y), float(width), float(mouth), float(sure))


def _colours(codes: Codes, at: Seen) -> NDArray[np.float32]:
    """Return the colours in a face's middle."""
    high = codes.shape[0]
    x, y, reach = at.x * high, at.y * high, max(2.0, 0.4 * at.width * high)
    return hues_in(codes, (x - reach, y - reach, x + reach, y + reach))


def face_steps(seen: dict[int, Seen], frames: range, at: int) -> dict[int, Step]:
    """Return the motion of what was marked at a frame, from the face in the frames where it was seen.

    Places are steadied over a few frames; a gap between two is bridged evenly and held, a longer one is held where it
    was last.
    """
    steady = {frame: _steadied(seen, frame) for frame in seen}
    first = steady[at]
    known = np.array(sorted(steady))
    steps = {}
    for frame in frames:
        if frame in steady:
            confidence = float(np.clip((seen[frame].sure - NONE) / (ALL - NONE), 0, 1))
            steps[frame] = Step(_between(first, steady[frame]), confidence)
            continue
        k = int(np.searchsorted(known, frame))
        before = steady[int(known[k - 1])] if k else None
        after = steady[int(known[k])] if k < len(known) else None
        steps[frame] = Step(_between(first, _bridged(before, after, known, k, frame)), 0.0, "held")
    return {**steps, at: Step(np.eye(3), 1.0)}


def _bridged(before: Seen | None, after: Seen | None, known: NDArray[np.int64], k: int, frame: int) -> Seen:
    if before is None or after is None or known[k] - known[k - 1] > BRIDGED:
        return before or after  # type: ignore[return-value]  # the reference is always there
    share = (frame - known[k - 1]) / (known[k] - known[k - 1])
    return Seen(*(a + share * (b - a) for a, b in zip(before, after, strict=True)))


def _steadied(seen: dict[int, Seen], frame: int) -> Seen:
    """Return a face on the line that its neighbours in time draw through it, the surer and nearer the heavier."""
    near = [each for each in range(frame - STEADY, frame + STEADY + 1) if each in seen]
    apart = np.array(near, np.float64) - frame
    weight = np.sqrt(np.array([seen[each].sure for each in near]) + 0.05) * np.exp(-((1.2 * apart / STEADY) ** 2))
    lines = np.vander(apart, 2 if len(near) > 2 else 1)
    values = np.array([seen[each][:4] for each in near])
    fit = np.linalg.lstsq(lines * weight[:, None], values * weight[:, None], rcond=None)[0]
    x, y, width, mouth = (float(n) for n in fit[-1])
    return Seen(x, y, max(width, 1e-4), mouth, seen[frame].sure)


def _between(first: Seen, now: Seen) -> Matrix:
    """Return the map of the plane from a face to how it is in another frame: its place and size."""
    scale = now.width / first.width
    x = now.x + now.width * TURNED * (now.mouth - first.mouth)
    return np.array([[scale, 0, x - scale * first.x], [0, scale, now.y - scale * first.y], [0, 0, 1]])
