"""A thing of one look before a ground of another: held by the edge between them where its texture tells nothing.

How much likelier each pixel's colour is in it than beside it makes a picture of its own. Across the outline that was
marked, each place is moved to where the likely ends, and the whole outline to where most of these places are; in a
whole frame it is looked for where as much is likely as there is of it.

References
----------
IsardBlake1998 for places sought along the normals of an outline; Tukey's biweight against those that stray.
"""

from collections.abc import Iterator
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes, Floats
from calado.follow.colours import Colours
from calado.follow.elsewhere import Elsewhere, Mask, grown_by
from calado.follow.fits import Kind, Matrix, Points, carried, shift

#: places of an outline, and fewest; those within, in which it is asked what shows
PLACES, FEWEST, WITHIN = 160, 24, 600
#: a likelihood counts at most so much, as a logarithm; from inner to outer side of an edge it falls by so much
MOST, FALLS = 3.0, 1.5
#: pixels within which a place of the outline lies on an edge, and the share of its size
ON_EDGE, OF_SIZE = 1.5, 0.012
#: shares of the places that have an edge near them in the reference, from which on an outline tells where it is, and
#: from which on colours tell where it may be; how far off such an edge may be, of its size
TELLS, HINTS, LOOSELY = 0.75, 0.5, 0.05
#: shares of places on an edge and of likely pixels within, at which it is lost and at which it is sure
EDGES, INNER = (0.5, 0.85), (0.6, 0.92)
#: how sure an outline alone can be; what it finds in a whole frame might be another one of its kind
SUREST, FOUND_AGAIN = 0.78, 0.45
#: pixels next to the outline that are of neither side, and how far beside it the ground is known, of its size
NEITHER, BESIDE = 2, 0.25
#: how far it is sought, of its size; rounds, and those of them in which it only shifts, turns and grows
REACHES = (0.14, 0.1, 0.07, 0.05, 0.04, 0.03, 0.03, 0.03)
STIFF = 3
#: pixels of the longer side of a frame that is searched
SEARCHED = 320
_COUNT: dict[Kind, int] = {"place": 2, "similar": 4, "skewed": 6, "perspective": 6}


@dataclass(frozen=True, eq=False)
class _Edges:
    """Of each place of an outline: where it is, its normal, how far along that the edge is, and whether it has one."""

    at: Points
    normal: Points
    off: NDArray[np.float64]
    found: Mask


class Outline:
    """An outline marked in a reference frame, ``codes``, shape (H, W, 3), by ``mask``, shape (H, W)."""

    def __init__(self, codes: Codes, mask: Mask, most: Kind) -> None:
        self._most = most
        self._mask = mask.astype(np.uint8)
        self._size = float(np.sqrt(mask.sum()))
        self._points, self._normals = _places(self._mask)
        y, x = np.nonzero(mask)
        step = max(len(x) // WITHIN, 1)
        self._within = np.stack([x, y], 1)[::step].astype(np.float64)
        self._middle = self._within.mean(axis=0)[None]
        self._elsewhere = Elsewhere(codes, self._mask)
        self._first = self._sides(codes, np.eye(3))
        self._learned: tuple[Codes, Matrix] | None = None
        self._own, self._beside = self._colours()
        self._rest, found = np.zeros(len(self._points)), np.zeros(len(self._points), bool)
        if len(self._points) >= FEWEST:
            self._rest, found = self._at_rest(codes)
        share = float(found.mean()) if len(found) else 0.0
        #: whether it lies along an edge in the reference, so that it tells where it is elsewhere; or where it may be
        self.tells, self.hints = share > TELLS, share > HINTS

    def learn(self, codes: Codes, matrix: Matrix) -> None:
        """Learn how it and what is beside it look in a frame in which it surely lies by a matrix."""
        self._learned = codes, matrix

    def closer(self, codes: Codes, matrix: Matrix) -> tuple[Matrix, float]:
        """Return a matrix made better by the edges near the outline, and how sure it is to lie there, 0…1."""
        self._recall()
        growth = self._grown(matrix)
        low, likely = self._likely(codes, matrix, REACHES[0] * self._size * growth)
        for number, reach in enumerate(REACHES):
            edges = self._edges(likely, low, matrix, max(reach * self._size * growth, 4.0))
            kind: Kind = self._most if number >= STIFF or self._most == "place" else "similar"
            made = _moved(edges, matrix, _COUNT[kind], max(reach * self._size * growth / 2, ON_EDGE))
            if made is None:
                return matrix, 0.0
            matrix = made
        return matrix, self._sure(likely, low, matrix)

    def searched(self, codes: Codes, like: Matrix, *, shaded: bool) -> Iterator[Matrix]:
        """Yield by which matrices it may lie in a whole frame, ``like`` is how it lay last; the likeliest first.

        ``shaded``, its lights and shades must be there too.
        """
        self._recall()
        ratio = min(SEARCHED / max(codes.shape[:2]), 1.0)
        small = np.asarray(cv2.resize(codes, None, fx=ratio, fy=ratio, interpolation=cv2.INTER_AREA), np.uint8)
        likely = np.asarray(
            cv2.morphologyEx((self._log(small) > 0).astype(np.uint8), cv2.MORPH_OPEN, _disc(3)), np.uint8
        )
        yield from self._elsewhere.places(small, likely, like, ratio, shaded=shaded)

    def _grown(self, matrix: Matrix) -> float:
        """Return how much larger it is by a matrix than in the reference, about its middle."""
        return grown_by(matrix, self._middle)

    def _sides(self, codes: Codes, matrix: Matrix) -> tuple[Codes, Codes]:
        """Return the colours within it and beside it where it lies by a matrix, each of shape (n, 3)."""
        laid = cv2.warpPerspective(self._mask, matrix, codes.shape[1::-1])
        inner = cv2.erode(laid, _disc(2 * NEITHER + 1)) > 0
        outer = max(round(BESIDE * self._size * self._grown(matrix)), 2 * NEITHER + 2)
        away = cv2.distanceTransform((laid == 0).astype(np.uint8), cv2.DIST_L2, 3)
        return codes[inner], codes[(away > NEITHER) & (away < outer)]

    def _recall(self) -> None:
        """Take up what was learned last, beside what the reference shows."""
        if self._learned is not None:
            self._own, self._beside = self._colours(self._sides(*self._learned))
            self._learned = None

    def _colours(self, further: tuple[Codes, Codes] | None = None) -> tuple[Colours, Colours]:
        every = [self._first] if further is None else [self._first, further]
        own, beside = (np.concatenate([each[k] for each in every]) for k in (0, 1))
        return Colours(own, np.ones(len(own), np.float32)), Colours(beside, np.ones(len(beside), np.float32))

    def _log(self, codes: Codes) -> Floats:
        return np.asarray(np.clip(self._own.log(codes) - self._beside.log(codes), -MOST, MOST), np.float32)

    def _likely(self, codes: Codes, matrix: Matrix, room: float) -> tuple[NDArray[np.float64], Floats]:
        """Return how likely each pixel around it is its own, as a logarithm, and where that window begins (x, y)."""
        at = carried(matrix, self._points)
        low = np.clip(np.floor(at.min(axis=0) - 2 * room - 4), 0, np.array(codes.shape[1::-1]) - 2).astype(int)
        high = np.clip(np.ceil(at.max(axis=0) + 2 * room + 5), low + 2, codes.shape[1::-1]).astype(int)
        window = codes[low[1] : high[1], low[0] : high[0]]
        return low.astype(np.float64), np.asarray(cv2.blur(self._log(window), (3, 3)), np.float32)

    def _edges(self, likely: Floats, low: NDArray[np.float64], matrix: Matrix, reach: float) -> _Edges:
        at = carried(matrix, self._points)
        to = carried(matrix, self._points + self._normals) - at
        normal = to / np.maximum(np.linalg.norm(to, axis=1, keepdims=True), 1e-9)
        steps = np.arange(-np.ceil(reach), np.ceil(reach) + 1)
        where = (at - low)[:, None] + steps[None, :, None] * normal[:, None]
        along = cv2.remap(
            likely, where[..., 0].astype(np.float32), where[..., 1].astype(np.float32), cv2.INTER_LINEAR,
            borderMode=cv2.BORDER_REPLICATE,
        )  # fmt: skip
        # the sum up to a place is greatest where the likely ends; nearer edges are preferred a little
        sums = np.cumsum(along, axis=1) - 0.1 * np.abs(steps)
        best = np.clip(sums.argmax(axis=1), 1, len(steps) - 2)
        rows = np.arange(len(at))
        a, b = along[rows, best], along[rows, best + 1]
        share = np.clip(a / np.where(np.abs(a - b) < 1e-3, 1e-3, a - b), 0, 1)
        inner = np.stack([along[rows, np.maximum(best - k, 0)] for k in (1, 2, 3)]).mean(axis=0)
        outer = np.stack([along[rows, np.minimum(best + k, len(steps) - 1)] for k in (2, 3, 4)]).mean(axis=0)
        size = np.array(likely.shape[::-1])
        inside = ((at - low > 1) & (at - low < size - 2)).all(axis=1)
        found = (inner - outer > FALLS) & (inner > 0) & (outer < 0) & inside
        rest = self._rest * self._grown(matrix)
        return _Edges(at, normal, steps[best] + share - rest, found)

    def _sure(self, likely: Floats, low: NDArray[np.float64], matrix: Matrix) -> float:
        near = max(ON_EDGE, OF_SIZE * self._size * self._grown(matrix))
        edges = self._edges(likely, low, matrix, 4 * near)
        share = float((edges.found & (np.abs(edges.off) < near)).mean())
        places = carried(matrix, self._within) - low
        shown = cv2.remap(
            likely, places[None, :, 0].astype(np.float32), places[None, :, 1].astype(np.float32), cv2.INTER_NEAREST,
            borderMode=cv2.BORDER_CONSTANT, borderValue=-1,
        )  # fmt: skip
        inner = float((shown > 0).mean())
        told = [np.clip((each - lost) / (sure - lost), 0, 1) for each, (lost, sure) in ((share, EDGES), (inner, INNER))]
        return SUREST * float(min(told))

    def _at_rest(self, codes: Codes) -> tuple[NDArray[np.float64], Mask]:
        """Return how far each place lies from its edge in the reference, and whether it has one near.

        None is drawn so truly that its outline is the edge itself.
        """
        low, likely = self._likely(codes, np.eye(3), 0.1 * self._size)
        edges = self._edges(likely, low, np.eye(3), max(LOOSELY * self._size, 4.0))
        return np.where(edges.found, edges.off, 0.0), edges.found


def _places(mask: NDArray[np.uint8]) -> tuple[Points, Points]:
    """Return places on a mask's outline, but for the frame's own edge, and their normals, outwards."""
    lines, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    every = np.concatenate([line[:, 0] for line in lines if len(line) >= FEWEST] or [np.zeros((0, 2), np.int32)])
    away = cv2.GaussianBlur(
        np.asarray(cv2.distanceTransform(1 - mask, cv2.DIST_L2, 5) - cv2.distanceTransform(mask, cv2.DIST_L2, 5)),
        (0, 0), 1.5,
    )  # fmt: skip
    size = np.array(mask.shape[::-1])
    every = every[((every > 2) & (every < size - 3)).all(axis=1)]
    points = every[:: max(len(every) // PLACES, 1)]
    across, down = (cv2.Sobel(away, cv2.CV_32F, *each)[points[:, 1], points[:, 0]] for each in ((1, 0), (0, 1)))
    normals = np.stack([across, down], 1).astype(np.float64)
    normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-6)
    # a contour runs through the outermost pixels of a mask, half a pixel within its edge
    return points + 0.5 * normals, normals


def _moved(edges: _Edges, matrix: Matrix, count: int, near: float) -> Matrix | None:
    """Return a matrix moved so that the outline lies on its edges, in the sense of least squares; None: too few."""
    if edges.found.sum() < FEWEST / 2:
        return None
    at, normal, off = edges.at[edges.found], edges.normal[edges.found], edges.off[edges.found]
    middle = at.mean(axis=0)
    size = max(float(np.abs(at - middle).max()), 1.0)
    x, y = ((at - middle) / size).T
    a, b = normal.T
    # shift, growth and turn, then what squashes and skews
    every = np.stack([a, b, a * x + b * y, b * x - a * y, a * x - b * y, a * y + b * x], 1)[:, :count]
    spread = max(1.4826 * float(np.median(np.abs(off - np.median(off)))), 0.3)
    weight = np.clip(1 - ((off - np.median(off)) / max(4 * spread, near)) ** 2, 0, 1) ** 2
    heavy = every * weight[:, None]
    square = heavy.T @ every + 1e-3 * np.eye(count)
    change = np.zeros(6)
    change[:count] = np.linalg.solve(square, heavy.T @ off)
    dx, dy, grow, turn, squash, skew = change
    step = np.array(
        [
            [1 + (grow + squash) / size, (skew - turn) / size, 0],
            [(skew + turn) / size, 1 + (grow - squash) / size, 0],
            [0, 0, 1],
        ]
    )
    made = shift(*(middle + np.array([dx, dy]))) @ step @ shift(*-middle) @ matrix
    return np.asarray(made / made[2, 2])


def _disc(side: int) -> NDArray[np.uint8]:
    return np.asarray(cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (side, side)), np.uint8)
