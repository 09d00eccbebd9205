"""What a region looks like in its reference frame, and how a frame is laid upon that.

All pixels within the region are held against the frame at three sizes: the frame's change that would bring them closer
is found from the reference's own slopes (inverse compositional, BakerMatthews2004), with gain and offset for light and
with weights that let go of what does not agree (Tukey's biweight).
"""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes, Floats
from calado.follow.fits import Kind, Matrix, Points, carried, shift
from calado.follow.weights import off_by
from calado.lifelong import Lifelong

#: pixels around the region's box that belong to its patch
ROOM = 12
#: longer sides, in pixels, at which pixels are held against each other
SIDES = (64, 128, 256)
ROUNDS = 12
#: pixels next to the outline belong to the ground
EDGE = 5
#: shares of a frame for which a shutter may be open; one that cannot be told, and how alike a smear must be to tell
SHUTTERS, UNKNOWN, TOLD = (0.0, 0.15, 0.3, 0.5, 0.75, 1.0), 0.5, 0.3
#: takes what is flat or sloped away
_AWAY = np.array([[1, -2, 1], [-2, 4, -2], [1, -2, 1]], np.float32)
#: pixels from which noise is read
SOME = 20_000
#: the halved of a picture, made once: it is read through many matrices
_halved: Lifelong[Codes, Codes] = Lifelong(lambda grey: np.asarray(cv2.pyrDown(grey), np.uint8))
_COUNT: dict[Kind, int] = {"place": 2, "similar": 4, "skewed": 6, "perspective": 8}


@dataclass(frozen=True, eq=False)
class _Level:
    """The reference's pixels at one size: where they are, their codes, and what each parameter does to them."""

    codes: Floats
    steep: Floats
    at: tuple[NDArray[np.intp], NDArray[np.intp]]
    #: from the level's pixels to −1…1, and to the frame's pixels
    even: Matrix
    grid: Matrix
    size: tuple[int, int]


class Template:
    """A region of the reference frame; ``grey``, shape (H, W), 8 bits, and ``mask`` of the same shape."""

    def __init__(self, grey: Codes, mask: NDArray[np.bool_]) -> None:
        y, x = np.nonzero(mask)
        self.low = np.maximum(np.array([x.min(), y.min()]) - ROOM, 0)
        high = np.minimum(np.array([x.max(), y.max()]) + ROOM + 1, grey.shape[::-1])
        self.size = int(high[0] - self.low[0]), int(high[1] - self.low[1])
        self.middle = np.array([[x.mean(), y.mean()]])
        self.side = float(np.sqrt(mask.sum()))
        box = np.s_[self.low[1] : high[1], self.low[0] : high[0]]
        self.mask = np.ascontiguousarray(mask[box]).astype(np.float32)
        self.codes = np.ascontiguousarray(grey[box])
        self._levels = [self._level(grey, side) for side in SIDES]
        self._tile = max(int(self.side / 9), 11)
        self._weight = self._blurred(self.mask) + np.float32(1e-6)
        self._was = self._spread(self.codes.astype(np.float32))

    def _blurred(self, codes: Floats) -> Floats:
        return np.asarray(cv2.blur(codes, (self._tile, self._tile)), np.float32)

    def _mean(self, codes: Floats) -> Floats:
        """Return means around each pixel, of the region alone."""
        return self._blurred(codes * self.mask) / self._weight

    def _spread(self, codes: Floats) -> tuple[Floats, Floats]:
        """Return mean and variance around each pixel.

        Noise is alike nowhere: what it adds is left out; of what is nearly all noise most stays.
        """
        mean = self._mean(codes)
        varied = self._mean(codes * codes) - mean * mean
        return mean, np.maximum(varied - np.float32(noise_of(codes) ** 2), np.float32(0.3) * varied)

    def cropped(self, matrix: Matrix, grey: Codes) -> Codes:
        """Return what a frame shows where the region is, laid on the reference's pixels."""
        return np.asarray(laid(grey, matrix @ shift(*self.low), self.size), np.uint8)

    def alike(self, matrix: Matrix, grey: Codes) -> Floats:
        """Return the correlation, −1…1, around each pixel of the region with the reference, shape of the patch.

        Where nothing is to be correlated it is 0; outside of the region NaN.
        """
        now = self.cropped(matrix, grey).astype(np.float32)
        (m1, v1), (m2, v2) = self._spread(now), self._was
        made = (self._mean(now * self.codes) - m1 * m2) / np.sqrt(np.maximum(v1, 1.5) * np.maximum(v2, 1.5))
        return np.asarray(np.where(self.mask > 0, made, np.nan), np.float32)

    def refined(
        self, matrix: Matrix, grey: Codes, kind: Kind, trust: Floats | None = None, finest: int = len(SIDES)
    ) -> tuple[Matrix, float]:
        """Return the matrix that lays a frame's pixels best on the reference's, and the share of them that agree.

        ``trust``, shape of the patch, keeps pixels out where it is 0; near the answer the ``finest`` sizes will do.
        """
        begun, share = matrix, 0.0
        for level in self._levels[-finest:]:
            weigh = None
            if trust is not None:
                weigh = np.asarray(cv2.resize(trust, level.size, interpolation=cv2.INTER_AREA), np.float32)[level.at]
            matrix, share = _closer(level, matrix, grey, _COUNT[kind], weigh)
            far = np.abs(carried(matrix, self.middle) - carried(begun, self.middle)).max()
            if not np.isfinite(matrix).all() or far > self.side / 2:
                return begun, 0.0
        return matrix, share

    def smeared(self, matrix: Matrix, grey: Codes, way: Points) -> float:
        """Return for which share of a frame the shutter was open, as it looks: by which the region is smeared.

        ``way`` is how far its middle went from a frame to the next, (x, y) in the frame's pixels. Of the shares that
        are tried the one whose smear of the reference is most alike; where nothing can be told, half a frame.
        """
        back, at = np.asarray(np.linalg.inv(matrix), np.float64), carried(matrix, self.middle)
        path = (carried(back, at + way) - carried(back, at))[0]
        inner = self.mask > 0
        now = self.cropped(matrix, grey).astype(np.float32)[inner]
        now -= now.mean()
        likeness = {}
        for share in SHUTTERS:
            was = _smear(self.codes.astype(np.float32), share * path)[inner]
            was -= was.mean()
            likeness[share] = float(now @ was) / max(float(np.linalg.norm(now) * np.linalg.norm(was)), 1e-6)
        best = max(likeness, key=lambda each: likeness[each])
        return best if likeness[best] > TOLD else UNKNOWN

    def _level(self, grey: Codes, side: int) -> _Level:
        ratio = min(side / max(self.size), 1.0)
        wide, high = (max(round(each * ratio), 8) for each in self.size)
        across, down = self.size[0] / wide, self.size[1] / high
        grid = np.array(
            [[across, 0, across / 2 - 0.5 + self.low[0]], [0, down, down / 2 - 0.5 + self.low[1]], [0, 0, 1]]
        )
        small = _soft(laid(grey, grid, (wide, high)))
        held = cv2.resize(self.mask, (wide, high), interpolation=cv2.INTER_NEAREST)
        bordered = cv2.copyMakeBorder(held, 1, 1, 1, 1, cv2.BORDER_CONSTANT, value=0.0)
        inner = cv2.erode(bordered, np.ones((EDGE, EDGE), np.uint8))[1:-1, 1:-1] > 0
        rows, columns = np.nonzero(inner if inner.sum() > 40 else held > 0)
        at = rows, columns
        even = np.array([[2 / wide, 0, 1 / wide - 1], [0, 2 / high, 1 / high - 1], [0, 0, 1]])
        u, v = even[0, 0] * at[1] + even[0, 2], even[1, 1] * at[0] + even[1, 2]
        dx = cv2.Sobel(small, cv2.CV_32F, 1, 0, ksize=3, scale=1 / 8)[at] * wide / 2
        dy = cv2.Sobel(small, cv2.CV_32F, 0, 1, ksize=3, scale=1 / 8)[at] * high / 2
        # in the units of the level: a turn must not shear where it is not square
        a, b = wide / 2, high / 2
        slopes = [
            dx,
            dy,
            dx * u + dy * v,
            dy * u * (a / b) - dx * v * (b / a),
            dx * u - dy * v,
            dx * v,
            -u * (dx * u + dy * v),
            -v * (dx * u + dy * v),
        ]
        return _Level(small[at], np.stack(slopes, 1).astype(np.float32), at, even, grid, (wide, high))


def _closer(level: _Level, matrix: Matrix, grey: Codes, count: int, trust: Floats | None) -> tuple[Matrix, float]:
    """Return a matrix after some rounds at one size, and the share of pixels that agree."""
    steep, share = level.steep[:, :count], 0.0
    back, a, b = np.linalg.inv(level.even), level.size[0] / 2, level.size[1] / 2
    for _ in range(ROUNDS):
        now = _soft(laid(grey, matrix @ level.grid, level.size))[level.at]
        off, weight, share = off_by(now, level.codes, trust)
        heavy = steep * weight[:, None]
        square = heavy.T @ steep
        square += 1e-7 * np.trace(square) / count * np.eye(count, dtype=np.float32)
        change = np.zeros(8)
        try:
            change[:count] = np.linalg.solve(square, heavy.T @ off)
        except np.linalg.LinAlgError:
            return matrix, 0.0
        x, y, grow, turn, squash, skew, p, q = change
        step = np.array(
            [[1 + grow + squash, skew - turn * b / a, x], [turn * a / b, 1 + grow - squash, y], [p, q, 1]], np.float64
        )
        if abs(np.linalg.det(step)) < 0.05:
            return matrix, 0.0
        matrix = matrix @ level.grid @ back @ np.linalg.inv(step) @ level.even @ np.linalg.inv(level.grid)
        matrix = matrix / matrix[2, 2]
        if np.abs(change).max() * max(level.size) < 0.01:
            break
    return matrix, share


def _smear(codes: Floats, path: NDArray[np.float64]) -> Floats:
    """Return codes averaged along a path through each pixel."""
    reach = int(np.ceil(np.abs(path).max() / 2)) + 1
    kernel = np.zeros((2 * reach + 1, 2 * reach + 1), np.float32)
    for share in np.linspace(-0.5, 0.5, 4 * reach + 1):
        x, y = reach + share * path
        i, j = int(y), int(x)
        for row, column, weight in (
            (i, j, (1 - y + i) * (1 - x + j)),
            (i + 1, j, (y - i) * (1 - x + j)),
            (i, j + 1, (1 - y + i) * (x - j)),
            (i + 1, j + 1, (y - i) * (x - j)),
        ):
            if weight:
                kernel[row, column] += weight
    return np.asarray(cv2.filter2D(codes, -1, kernel / kernel.sum(), borderType=cv2.BORDER_REPLICATE), np.float32)


def noise_of(codes: Floats) -> float:
    """Return the standard deviation of noise, in codes, shape (H, W), as Immerkaer1996 does, by a median."""
    away = cv2.filter2D(codes, cv2.CV_32F, _AWAY)
    # of many pixels some tell as much
    step = max(int(np.sqrt(away.size / SOME)), 1)
    return float(np.median(np.abs(away[::step, ::step]))) / (6 * 0.6745)


def _soft(codes: Codes) -> Floats:
    return np.asarray(cv2.GaussianBlur(codes.astype(np.float32), (0, 0), 0.8), np.float32)


def laid(grey: Codes, matrix: Matrix, size: tuple[int, int]) -> Codes:
    """Return a picture, shape (H, W), read through a matrix into one of ``size`` width and height.

    Where it becomes much smaller it is read from halved ones, so that nothing aliases.
    """
    depth = float(matrix[2] @ np.array([size[0] / 2, size[1] / 2, 1.0]))
    growth = abs(np.linalg.det(matrix)) / max(abs(depth) ** 3, 1e-9)
    shrink = 1.0
    while growth > 2.5 and shrink > 0.1:
        # halving keeps pixel 0 on pixel 0
        grey, shrink, growth = _halved(grey), shrink / 2, growth / 4
    flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    to = np.diag([shrink, shrink, 1.0]) @ matrix
    return np.asarray(cv2.warpPerspective(grey, to, size, flags=flags, borderMode=cv2.BORDER_REPLICATE), np.uint8)
