"""Clips made from a seed, with the exact truth of a card that moves over a ground: a yardstick for following.

Places are in pixels whose centres are whole numbers. Codes have 8 bits, of luma alone or with two
differences of colour.
"""

from collections.abc import Iterator
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes, Floats
from calado.follow.fits import Matrix, shift


@dataclass(frozen=True)
class Plan:
    """What happens over the frames: of the last one the way in pixels, size, turn and tilt; of all noise and light."""

    way: tuple[float, float] = (90.0, 40.0)
    scale: float = 1.0
    turn: float = 0.0
    tilt: float = 0.0
    noise: float = 1.0
    #: stops by which it gets darker and brighter again
    light: float = 0.0
    #: frames in which a bar stands before it, or another shot is shown
    hidden: range = range(0)
    elsewhere: range = range(0)
    #: share of a frame that the shutter is open, and how much the card's own texture varies, codes
    shutter: float = 0.0
    spread: float = 60.0
    #: its two differences of colour before a ground of none (128); without, all is grey
    colour: tuple[int, int] | None = None

    @property
    def moments(self) -> NDArray[np.float64]:
        """Between which parts of a frame the shutter is open, some moments of it."""
        return self.shutter * (np.arange(7) / 6 - 0.5) if self.shutter else np.zeros(1)


@dataclass(frozen=True, eq=False)
class Made:
    """A frame, and the matrix that takes places of the card in frame 0 to it."""

    codes: Codes
    matrix: Matrix


def mixed(seed: int, frames: int) -> Plan:
    """Return a plan in which most things happen at once, drawn by a seed."""
    rng = np.random.default_rng(seed + 70_000)
    gone = int(rng.integers(frames // 3, frames // 2))
    away = range(gone, gone + int(rng.integers(4, 10)))
    none = range(0)
    return Plan(
        way=(float(rng.uniform(100, 650)), float(rng.uniform(-40, 160))),
        scale=float(np.exp(rng.uniform(-0.7, 0.7))),
        turn=float(rng.uniform(-90, 90)),
        tilt=float(rng.uniform(0, 45)),
        noise=float(rng.uniform(1, 9)),
        light=float(rng.uniform(0, 1.2)),
        hidden=away if seed % 3 == 0 else none,
        elsewhere=away if seed % 3 == 1 else none,
        shutter=float(rng.uniform(0, 0.5)),
        spread=float(rng.uniform(12, 60)),
    )


def texture(rng: np.random.Generator, width: int, height: int, grain: int, spread: float = 60) -> Floats:
    """Return blots of two sizes, codes about 120."""
    made = np.full((height, width), 120, np.float32)
    for size, share in ((grain, 1.0), (max(grain // 4, 2), 0.6)):
        cells = rng.normal(0, spread * share, (height // size + 3, width // size + 3)).astype(np.float32)
        made += cv2.resize(cells, (width, height), interpolation=cv2.INTER_CUBIC)
    return np.clip(made, 5, 250)


class Clip:
    """Frames of a plan. The card is ``card``, a mask of frame 0, shape (H, W)."""

    def __init__(self, plan: Plan, seed: int, frames: int = 24, size: tuple[int, int] = (640, 360)) -> None:
        self._plan, self._count, self._size = plan, frames, size
        self._rng = np.random.default_rng(seed)
        self._ground, self._other = (texture(self._rng, *size, 40) for _ in range(2))
        self._side = 120
        self._face = texture(self._rng, self._side, self._side, 16, plan.spread)
        self._start = np.array([size[0] * 0.3, size[1] * 0.4])
        self.card: NDArray[np.bool_] = self._alpha(self._pose(0)) > 0.5

    @property
    def corners(self) -> NDArray[np.float64]:
        """The card's corners in frame 0."""
        side = self._side - 1.0
        edge = np.array([[0, 0, 1], [side, 0, 1], [side, side, 1], [0, side, 1]]) @ self._pose(0).T
        return np.asarray(edge[:, :2] / edge[:, 2:])

    def frames(self) -> Iterator[Made]:
        """Yield all frames."""
        first = np.linalg.inv(self._pose(0))
        for number in range(self._count):
            matrix = self._pose(number) @ first
            yield Made(self._drawn(number), matrix / matrix[2, 2])

    def seen(self, number: int) -> Floats:
        """Return how much of each pixel shows the card while the shutter is open, shape (H, W), 0…1."""
        made = np.mean([self._alpha(self._pose(number + at)) for at in self._plan.moments], axis=0)
        if number in self._plan.hidden:
            made[self._bar(number)] = 0
        return np.asarray(made, np.float32)

    def _bar(self, number: int) -> tuple[slice, slice]:
        """Return where the bar stands in a frame in which it hides the card."""
        middle = self._pose(number) @ np.array([self._side / 2, self._side / 2, 1])
        left = int(middle[0] / middle[2] - 1.2 * self._side)
        return np.s_[:, max(left, 0) : left + int(2.4 * self._side)]

    def _pose(self, number: float) -> Matrix:
        """Return the map from the card's pixels to a frame's."""
        share = number / max(self._count - 1, 1)
        ease = share * share * (3 - 2 * share)
        plan, half = self._plan, (self._side - 1) / 2
        at = self._start + np.array(plan.way) * ease
        c, s = np.cos(np.radians(plan.turn * ease)), np.sin(np.radians(plan.turn * ease))
        turned = plan.scale**ease * np.array([[c, -s, 0], [s, c, 0], [0, 0, 1.0]])
        turned[2, 2] = 1.0
        lean = np.radians(plan.tilt) * np.sin(np.pi * share)
        # a plane that is turned about its upright axis before a pinhole
        far = 900.0
        tilted = np.array([[np.cos(lean), 0, 0], [0, 1, 0], [np.sin(lean) / far, 0, 1.0]])
        return np.asarray(shift(*at) @ tilted @ turned @ shift(-half, -half))

    def _alpha(self, pose: Matrix) -> Floats:
        return np.asarray(cv2.warpPerspective(np.ones_like(self._face), pose, self._size), np.float32)

    def _laid(self, ground: Floats, moment: float) -> Floats:
        pose = self._pose(moment)
        alpha = self._alpha(pose)
        return np.asarray(ground * (1 - alpha) + alpha * cv2.warpPerspective(self._face, pose, self._size), np.float32)

    def _drawn(self, number: int) -> Codes:
        plan = self._plan
        ground = self._ground if number not in plan.elsewhere else self._other
        made = ground.copy()
        if number not in plan.elsewhere:
            made = np.mean([self._laid(ground, number + at) for at in plan.moments], axis=0)
        if number in plan.hidden:
            bar = self._bar(number)
            made[bar] = self._other[bar]
        lit = made * 2.0 ** (-plan.light * np.sin(np.pi * number / max(self._count - 1, 1)) / 2.2)
        noisy = lit + self._rng.normal(0, plan.noise, lit.shape)
        luma = np.clip(np.rint(noisy), 0, 255).astype(np.uint8)
        return luma if plan.colour is None else np.dstack([luma, *self._tinted(number, plan.colour)])

    def _tinted(self, number: int, colour: tuple[int, int]) -> list[Codes]:
        there = self.seen(number) if number not in self._plan.elsewhere else np.zeros(self._size[::-1], np.float32)
        tints = (128 + (each - 128) * there + self._rng.normal(0, self._plan.noise / 2, there.shape) for each in colour)
        return [np.clip(np.rint(each), 0, 255).astype(np.uint8) for each in tints]
