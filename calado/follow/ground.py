"""The ground behind what moves: what is seen where nothing stands before it.

Where the camera turns, zooms or shakes before something still, its motion (:mod:`calado.follow.camera`) takes each
frame to the reference. Frames laid there over one another show, in the median of those in which nothing is marked, the
ground; how far they stray tells how well it is known. A median of aligned frames: common practice, no source.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes, Floats
from calado.follow.fits import Matrix, carried, shift

#: a canvas larger than this many times the frame is not made: the camera looked elsewhere
LARGEST = 3.0
#: frames in which a place of the ground must be seen
SEEN = 2
#: codes by which a pixel strays by itself, and a share of the ground's slope for what the fit leaves
NOISE, SLOPE = 1.5, 0.3
#: strips in which medians are made
ROWS = 32


@dataclass(frozen=True)
class Sample:
    """A frame that shows ground: its codes, shape (H, W, 3), its motion to the reference, and what in it is none."""

    codes: Codes
    motion: Matrix
    away: NDArray[np.bool_]


@dataclass(frozen=True, eq=False)
class Behind:
    """The ground behind a part of a frame: codes, shape (H, W, 3), how far they stray, and where known, (H, W)."""

    codes: Floats
    strays: Floats
    known: NDArray[np.bool_]


@dataclass(frozen=True, eq=False)
class Backdrop:
    """The ground behind a frame, laid where it is asked for."""

    ground: "Ground"
    motion: Matrix | None
    _laid: dict[tuple[int, int, int, int], Behind] = field(default_factory=dict)

    @property
    def whole(self) -> Behind:
        """The ground behind all of the frame."""
        wide, high = self.ground.size
        return self.within((slice(0, high), slice(0, wide)))

    def within(self, at: tuple[slice, slice]) -> Behind:
        """Return the ground behind some rows and columns of the frame."""
        rows, columns = at
        place = rows.start, rows.stop, columns.start, columns.stop
        if place not in self._laid:
            self._laid[place] = self.ground.laid(self.motion, at)
        return self._laid[place]


class Ground:
    """What is seen of the ground in some samples, laid over one another."""

    def __init__(self, samples: Sequence[Sample], size: tuple[int, int]) -> None:
        self.size = size
        corner, canvas = _canvas([each.motion for each in samples], size)
        self._to = shift(-corner[0], -corner[1])
        if canvas[0] * canvas[1] > LARGEST**2 * size[0] * size[1]:
            canvas = (8, 8)
        self._codes, spread, count = _median([_laid(each, self._to, canvas) for each in samples], canvas)
        across, down = (np.abs(cv2.Sobel(self._codes, cv2.CV_32F, *way)).max(axis=-1) / 8 for way in ((1, 0), (0, 1)))
        slope = np.maximum(across, down)
        self._strays = (NOISE + 1.4826 * spread + SLOPE * slope).astype(np.float32)
        self._known = np.asarray(cv2.erode((count >= SEEN).astype(np.uint8), np.ones((3, 3), np.uint8)), np.uint8)

    def behind(self, motion: Matrix | None) -> Backdrop:
        """Return the ground behind a frame, by its motion to the reference; None: nothing is known of it."""
        return Backdrop(self, motion)

    def laid(self, motion: Matrix | None, at: tuple[slice, slice]) -> Behind:
        """Return the ground as it lies behind some rows and columns of a frame."""
        rows, columns = at
        wide, high = size = columns.stop - columns.start, rows.stop - rows.start
        if motion is None:
            nothing = np.zeros((high, wide), np.float32)
            return Behind(np.zeros((high, wide, 3), np.float32), nothing + NOISE, nothing > 0)
        back = shift(-columns.start, -rows.start) @ np.linalg.inv(self._to @ motion)
        codes = cv2.warpPerspective(self._codes, back, size, flags=cv2.INTER_CUBIC)
        strays = cv2.warpPerspective(self._strays, back, size, borderValue=NOISE)
        known = cv2.warpPerspective(self._known, back, size, flags=cv2.INTER_NEAREST)
        return Behind(np.asarray(codes, np.float32), np.asarray(strays, np.float32), np.asarray(known) > 0)

    def forget(self, motion: Matrix, where: NDArray[np.bool_]) -> None:
        """Take as unknown what a frame shows ``where``, shape (H, W)."""
        canvas = self._codes.shape[1::-1]
        gone = cv2.warpPerspective(where.astype(np.uint8), self._to @ motion, canvas, flags=cv2.INTER_LINEAR)
        self._known[np.asarray(gone) > 0] = 0


def _canvas(motions: Iterable[Matrix], size: tuple[int, int]) -> tuple[NDArray[np.float64], tuple[int, int]]:
    """Return the upper left corner and the size of what holds all frames."""
    wide, high = size
    corners = np.array([[0.0, 0], [wide - 1, 0], [wide - 1, high - 1], [0, high - 1]])
    every = np.concatenate([carried(each, corners) for each in motions])
    low = np.floor(every.min(axis=0))
    across, down = np.ceil(every.max(axis=0) - low) + 1
    return low, (int(min(across, 1e6)), int(min(down, 1e6)))


def _laid(sample: Sample, to: Matrix, canvas: tuple[int, int]) -> tuple[Codes, NDArray[np.bool_]]:
    matrix = to @ sample.motion
    codes = cv2.warpPerspective(sample.codes, matrix, canvas, flags=cv2.INTER_CUBIC)
    ground = cv2.warpPerspective((~sample.away).astype(np.uint8) * 255, matrix, canvas, flags=cv2.INTER_LINEAR)
    return np.asarray(codes, np.uint8), np.asarray(ground) > 250


def _median(
    laid: Sequence[tuple[Codes, NDArray[np.bool_]]], canvas: tuple[int, int]
) -> tuple[Floats, Floats, NDArray[np.int64]]:
    """Return the median of the ground, by how much frames stray from it, and in how many of them it is seen."""
    wide, high = canvas
    codes, spread = np.zeros((high, wide, 3), np.float32), np.zeros((high, wide), np.float32)
    count = np.sum([ground for _, ground in laid], axis=0)
    for top in range(0, high, ROWS):
        rows = slice(top, top + ROWS)
        gone = ~np.stack([ground[rows] for _, ground in laid])[..., None]
        stack = np.stack([each[rows] for each, _ in laid]).astype(np.int16)
        middle = _middle(stack, gone, count[rows])
        codes[rows] = middle
        spread[rows] = _middle(np.abs(stack - middle), gone, count[rows]).max(axis=-1)
    return codes, spread, count


def _middle(stack: NDArray[np.int16], gone: NDArray[np.bool_], count: NDArray[np.int64]) -> NDArray[np.int16]:
    """Return the lower median over the first axis of what is not gone."""
    ranked = np.sort(np.where(gone, np.int16(2**14), stack), axis=0)
    at = np.maximum((count - 1) // 2, 0)[None, :, :, None]
    return np.take_along_axis(ranked, np.broadcast_to(at, (1, *stack.shape[1:])), axis=0)[0]
