"""A shape followed through a clip: its mattes in all frames, from those in which somebody marked or corrected it.

Read three times: for the camera's motion, for a first cut that tells where ground is, and for the
cut that counts. Between two frames that were marked the cuts from both sides fade into one another.
"""

from collections import OrderedDict
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from itertools import pairwise
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes, Matte
from calado.follow.camera import Camera
from calado.follow.fits import Matrix
from calado.follow.ground import Behind, Ground, Sample
from calado.follow.motion import Motion, State, Step
from calado.follow.pose import Key, placed
from calado.follow.shape import Cut, Shape, Shown
from calado.media.clips.frames import Frames
from calado.media.clips.way import Told, Way
from calado.render.encode import screen_codes

#: between a frame's pixels and those of one half as large
HALF = np.array([[0.5, 0, -0.25], [0, 0.5, -0.25], [0, 0, 1]])
DOUBLE = np.linalg.inv(HALF)
#: keeps a matte's 16-bit codes, shape (H, W), and returns the hash by which it is asked for
Keep = Callable[[NDArray[np.uint16]], str]
#: bytes of frames that are held between two readings
HELD_BYTES = 320 * 2**20
#: frames in which the ground is looked for
SAMPLES = 18
#: what may be left beside a matte that is no ground: pixels, and from what alpha on
BESIDE, FAINT = 9, 0.05
#: of the frames that were marked, so many of the nearest tell how it looks
POSES = 6
#: of what a shape covers in a key, the share that looks like the ground from which on it may stand still
STANDS = 0.3


@dataclass(eq=False)
class _Read:
    """Frames as codes of a screen, shape (H, W, 3), and as grey; the last ones are held."""

    frames: Frames
    scale: float
    _held: OrderedDict[int, tuple[Codes, Codes]] = field(default_factory=OrderedDict)

    def __call__(self, frame: int) -> tuple[Codes, Codes]:
        if frame in self._held:
            return self._held[frame]
        source = self.frames.sized(frame, self.scale)
        codes = screen_codes(source.planes(source.full(min(self.scale, 1.0))), source.space)
        codes = np.ascontiguousarray(codes[..., :3])
        self._held[frame] = codes, np.asarray(cv2.cvtColor(codes, cv2.COLOR_RGB2GRAY), np.uint8)
        while len(self._held) > max(HELD_BYTES // (4 * codes[..., 0].size), 2):
            self._held.popitem(last=False)
        return self._held[frame]


class _StoppedError(Exception):
    """Nobody wants to go on."""


@dataclass(eq=False)
class _Count:
    """Counts frames that are done with, and goes on only while somebody wants to."""

    told: Callable[[float], bool]
    whole: int
    done: int = 0

    def tick(self) -> None:
        """Count one."""
        self.done += 1
        if not self.told(min(self.done / self.whole, 1.0)):
            raise _StoppedError


@dataclass(eq=False)
class _Work:
    """What is known while a shape is followed: how the camera moved, by frame."""

    read: Callable[[int], tuple[Codes, Codes]]
    keys: Mapping[int, Matte]
    ways: list[range]
    at: int
    count: _Count
    camera: dict[int, Matrix | None] = field(default_factory=dict)

    @property
    def halved(self) -> "_Work":
        """The same at half the size."""

        def read(frame: int) -> tuple[Codes, Codes]:
            codes = _smaller(self.read(frame)[0])
            return codes, np.asarray(cv2.cvtColor(codes, cv2.COLOR_RGB2GRAY), np.uint8)

        keys = {frame: _smaller(matte) for frame, matte in self.keys.items()}
        camera = {frame: None if each is None else HALF @ each @ DOUBLE for frame, each in self.camera.items()}
        return _Work(read, keys, self.ways, self.at, self.count, camera)

    def key(self, frame: int) -> Key:
        return Key(*self.read(frame), self.keys[frame])

    def read_motions(self) -> None:
        """Find the camera's motion in all frames."""
        away = cv2.dilate(self.keys[self.at], np.ones((15, 15))) > FAINT
        self.camera[self.at] = np.eye(3)
        for way in self.ways:
            camera = Camera(self.read(self.at)[1], away)
            for frame in way:
                self.camera[frame] = camera.step(self.read(frame)[1])
                self.count.tick()

    def first_ground(self, samples: list[int]) -> Ground:
        """Return the ground as the median shows it; unknown where the shape itself may have stood still."""
        nothing = np.zeros_like(self.keys[self.at])
        ground = self.ground_beside({frame: self.keys.get(frame, nothing) for frame in samples})
        for frame, matte in self.keys.items():
            motion = self.camera.get(frame)
            if motion is not None:
                ground.forget(motion, stands(self.read(frame)[0], matte, ground.behind(motion).whole))
        return ground

    def ground_beside(self, samples: Mapping[int, Matte]) -> Ground:
        """Return the ground beside what was cut."""
        made = [
            Sample(self.read(frame)[0], motion, _grown(matte))
            for frame, matte in samples.items()
            if (motion := self.camera.get(frame)) is not None
        ]
        return Ground(made, self.read(self.at)[1].shape[::-1])

    def cut_roughly(self, ground: Ground) -> Iterator[tuple[int, Cut]]:
        """Yield each frame with its cut from the key before it."""
        for here, _, between in self._stretches:
            yield from self._onwards(self._shape(here, ground, roughly=True), between, ground)

    def cut(self, ground: Ground) -> Iterator[tuple[int, Cut]]:
        """Yield each frame with its cut, between two keys from both sides."""
        for here, there, between in self._stretches:
            onwards = self._onwards(self._shape(here, ground), between, ground)
            if there is None:
                yield from onwards
                continue
            packed = {frame: (_packed(cut.matte), cut) for frame, cut in onwards}
            for frame, cut in self._onwards(self._shape(there, ground), between[::-1], ground):
                codes, other = packed.pop(frame)
                yield frame, _faded(replace(other, matte=_unpacked(codes)), cut, (frame - here) / (there - here))

    def _shape(self, frame: int, ground: Ground, *, roughly: bool = False) -> Shape:
        nearest = sorted(self.keys, key=lambda each: (abs(each - frame), each))[:POSES]
        return Shape(
            self.key(frame),
            [self.key(each) for each in nearest],
            ground.behind(self.camera.get(frame)),
            roughly=roughly,
        )

    def _onwards(self, shape: Shape, frames: range, ground: Ground) -> Iterator[tuple[int, Cut]]:
        for frame in frames:
            codes, grey = self.read(frame)
            behind = ground.behind(self.camera.get(frame))
            yield frame, shape.step(Shown(codes, grey, behind))
            self.count.tick()

    @cached_property
    def _stretches(self) -> list[tuple[int, int | None, range]]:
        """Return all stretches: from a key, to the next one or none, the frames between."""
        made: list[tuple[int, int | None, range]] = []
        for way in self.ways:
            keys = [self.at, *(frame for frame in way if frame in self.keys)]
            for here, there in pairwise([*keys, None]):
                assert here is not None  # for types
                made.append((here, there, range(here + way.step, way.stop if there is None else there, way.step)))
        return made

    def reads(self) -> int:
        """Return how many frames are read in all."""
        twice = sum(len(between) for _, there, between in self._stretches if there is not None)
        return 3 * sum(len(way) for way in self.ways) + twice


def followed_shape(
    frames: Frames,
    scale: float,
    keys: Mapping[int, Matte],
    marks: Mapping[int, str],
    way: Way,
    middle: tuple[float, float],
    keep: Keep,
    told: Told,
) -> Motion:
    """Return the motion of a shape and its mattes, from its mattes in some frames, the reference among them.

    They are those of frames at ``scale``; ``marks`` names what was corrected in those in which something was;
    ``middle`` is the region's in the reference, in picture heights. Else as
    :func:`calado.media.clips.following.followed`. Stopped before the last reading it knows of its keys only.
    """
    high = keys[way.at].shape[0]
    heights = np.array([[1 / high, 0, 0.5 / high], [0, 1 / high, 0.5 / high], [0, 0, 1]])
    first, last = way.frames
    ways = [each for each in (range(way.at + 1, last + 1), range(way.at - 1, first - 1, -1)) if each]
    motion = Motion(frames.key, way.at, middle, {way.at: Step(np.eye(3), 1.0)}, "shape")
    count = _Count(lambda share: told(way.at, motion.steps[way.at], share), 1)
    work = _Work(_Read(frames, scale), keys, ways, way.at, count)
    count.whole = work.reads()
    began = keys[way.at]

    def step(matte: Matte, confidence: float, state: State, near: Matrix) -> Step:
        to = placed(began, matte) if state == "on" and matte.any() else None
        matrix = near if to is None else heights @ to @ np.linalg.inv(heights)
        return Step(matrix, confidence, state, keep(np.rint(matte * 65535).astype(np.uint16)))

    for frame, matte in keys.items():
        made = replace(step(matte, 1.0, "on", np.eye(3)), marks=marks.get(frame, ""))
        motion = motion.with_step(frame, made)
    try:
        for frame, cut in _worked(work):
            near = motion.near(frame).matrix
            motion = motion.with_step(frame, step(cut.matte, cut.confidence, cut.state, near))
    except _StoppedError:
        pass
    return motion


def _worked(work: _Work) -> Iterator[tuple[int, Cut]]:
    """Yield the cuts that count."""
    every = sorted({work.at, *(frame for way in work.ways for frame in way)})
    samples = sorted({*every[:: max(len(every) // SAMPLES, 1)], *work.keys})
    work.read_motions()
    # where the ground is need be known no more closely than what is cut from it is grown
    small, size = work.halved, work.keys[work.at].shape[::-1]
    rough = {
        frame: np.asarray(cv2.resize(cut.matte, size), np.float32)
        for frame, cut in small.cut_roughly(small.first_ground(samples))
        if frame in samples
    }
    yield from work.cut(work.ground_beside({**rough, **work.keys}))


def stands(codes: Codes, matte: Matte, behind: Behind) -> NDArray[np.bool_]:
    """Return where a shape looks like what is taken for the ground behind it: there it may have stood still."""
    off = cv2.blur(np.abs(codes - behind.codes).max(axis=-1), (7, 7))
    same, deep = (off < 3 * behind.strays) & behind.known, matte > 0.5
    nothing = np.zeros(matte.shape, bool)
    if not deep.any() or float(same[deep].mean()) < STANDS:
        return nothing
    side = (41, 41)
    share = cv2.blur((same & deep).astype(np.float32), side) / (cv2.blur(deep.astype(np.float32), side) + 1e-3)
    return np.asarray(_grown(matte) & (share > 0.4))


def _smaller(picture: Any) -> Any:
    """Return a picture or a matte half as large."""
    size = max(picture.shape[1] // 2, 1), max(picture.shape[0] // 2, 1)
    return cv2.resize(picture, size, interpolation=cv2.INTER_AREA)


def _grown(matte: Matte, by: int = BESIDE) -> NDArray[np.bool_]:
    return np.asarray(cv2.dilate(matte, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (by, by))) > FAINT)


def _faded(one: Cut, other: Cut, share: float) -> Cut:
    """Return a cut between two: ``share`` 0 is the one, 1 the other; the surer one counts more."""
    ease = share * share * (3 - 2 * share)
    a, b = (1 - ease) * (one.confidence + 0.01), ease * (other.confidence + 0.01)
    weight = b / (a + b)
    matte = (1 - weight) * one.matte + weight * other.matte
    surest, least = max((one, other), key=lambda each: each.confidence), min(one.confidence, other.confidence)
    return Cut(np.asarray(matte, np.float32), 0.5 * (surest.confidence + least), surest.state)


def _packed(matte: Matte) -> NDArray[np.uint8]:
    return np.asarray(cv2.imencode(".png", np.rint(matte * 255).astype(np.uint8))[1], np.uint8)


def _unpacked(data: NDArray[np.uint8]) -> Matte:
    codes = cv2.imdecode(data, cv2.IMREAD_GRAYSCALE)
    assert codes is not None  # it was just packed
    return (codes / np.float32(255)).astype(np.float32)
