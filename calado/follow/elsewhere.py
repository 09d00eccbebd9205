"""Where in a whole frame a thing may lie that is coloured otherwise than its ground.

Each place where likely pixels lie about as deep among their like as in the thing itself may be its middle; of all turns
there the one counts that has likely pixels within and none beside, and the same lights and shades.
"""

from collections.abc import Iterator

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes
from calado.follow.fits import Matrix, Points, carried, shift

Mask = NDArray[np.bool_]
#: degrees between the turns that are tried, how many places may be the middle of one, how well it must fit there, how
#: much it may have grown, and how many are kept
TURNS, PLACED, FITS, GROWTH, KEPT = 15, 12, 0.6, (0.5, 2.0), 8
#: by how much half a turn must fit better than none
TURNED = 0.2
#: pixels of a side of what is compared then
PATCH = 32


def grown_by(matrix: Matrix, middle: Points) -> float:
    """Return how much larger a thing is by a matrix, about its middle, shape (1, 2)."""
    ends = carried(matrix, middle + np.array([[0.0, 0.0], [1.0, 0.0], [0.0, 1.0]]))
    (a, b), (c, d) = ends[1] - ends[0], ends[2] - ends[0]
    return float(np.sqrt(max(abs(a * d - b * c), 1e-6)))


class Elsewhere:
    """Looks for what a mask, shape (H, W), shows in a reference frame, ``codes``, shape (H, W, 3)."""

    def __init__(self, codes: Codes, mask: NDArray[np.uint8]) -> None:
        deep = cv2.distanceTransform(mask, cv2.DIST_L2, 5)
        _, self._depth, _, at = cv2.minMaxLoc(deep)
        self._deepest = np.array([at], np.float64)
        self._grid, self._inner, self._shades = _patch(codes, mask)

    def places(
        self, small: Codes, likely: NDArray[np.uint8], like: Matrix, ratio: float, *, shaded: bool
    ) -> Iterator[Matrix]:
        """Yield by which matrices it may lie in a frame, the likeliest first.

        ``small`` is the frame, ``ratio`` its size against that of the reference, ``likely`` which of its pixels may be
        its own, ``like`` how it lay last; ``shaded``, its lights and shades must be there too.
        """
        down = np.diag([ratio, ratio, 1.0])
        tried: list[tuple[float, int, Matrix]] = []
        for number, (place, depth) in enumerate(_depths(likely)):
            grown = depth / max(self._depth * grown_by(like, self._deepest) * ratio, 1e-6)
            if not GROWTH[0] < grown < GROWTH[1]:
                continue
            for turn in range(0, 360, TURNS):
                to = self._turned(like, turn, grown, place / ratio)
                # of what looks the same turned, the least turned
                aside = TURNED * min(turn, 360 - turn) / 180
                tried.append((self._fits(small, likely, down @ to, shaded=shaded) - aside, number, to))
        tried.sort(key=lambda each: -each[0])
        kept: list[int] = []
        for fits, number, matrix in tried:
            if fits < FITS or len(kept) == KEPT:
                return
            if kept.count(number) < 2:
                kept.append(number)
                yield matrix

    def _fits(self, small: Codes, likely: NDArray[np.uint8], matrix: Matrix, *, shaded: bool) -> float:
        """Return how well it would lie by a matrix: likely within, not beside, and with the same lights and shades."""
        to = matrix @ self._grid
        flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
        laid = cv2.warpPerspective(likely, to, (PATCH, PATCH), flags=cv2.INTER_NEAREST | cv2.WARP_INVERSE_MAP)
        within, beside = (float(laid[each].mean()) if each.any() else 0.0 for each in (self._inner, ~self._inner))
        if not shaded:
            return within - 0.5 * beside
        shades = cv2.warpPerspective(small[..., 0], to, (PATCH, PATCH), flags=flags)[self._inner].astype(np.float64)
        shades -= shades.mean()
        length = float(np.linalg.norm(shades) * np.linalg.norm(self._shades))
        return within - 0.5 * beside + (float(shades @ self._shades) / length if length > 0 else 0.0)

    def _turned(self, like: Matrix, turn: float, grown: float, to: NDArray[np.float64]) -> Matrix:
        x, y = carried(like, self._deepest)[0]
        c, s = grown * np.cos(np.radians(turn)), grown * np.sin(np.radians(turn))
        return np.asarray(shift(*to) @ np.array([[c, -s, 0], [s, c, 0], [0, 0, 1]]) @ shift(-x, -y) @ like)


def _patch(codes: Codes, mask: NDArray[np.uint8]) -> tuple[Matrix, Mask, NDArray[np.float64]]:
    """Return a small picture of what a mask shows: from its pixels to those of the frame, the mask, and its shades."""
    x, y, wide, high = cv2.boundingRect(mask)
    room = max(wide, high) / 8
    a, b = (wide + 2 * room) / PATCH, (high + 2 * room) / PATCH
    grid = np.array([[a, 0, x - room + a / 2], [0, b, y - room + b / 2], [0, 0, 1.0]])
    soft = cv2.GaussianBlur(codes[..., 0], (0, 0), max(min(a, b) / 2, 0.5))
    flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    inner = cv2.warpPerspective(mask, grid, (PATCH, PATCH), flags=cv2.INTER_NEAREST | cv2.WARP_INVERSE_MAP) > 0
    shades = cv2.warpPerspective(soft, grid, (PATCH, PATCH), flags=flags)[inner].astype(np.float64)
    return grid, inner, shades - shades.mean()


def _depths(likely: NDArray[np.uint8]) -> Iterator[tuple[NDArray[np.float64], float]]:
    """Yield where likely pixels lie deepest among their like, and how deep; the deepest first."""
    deep = cv2.distanceTransform(cv2.morphologyEx(likely, cv2.MORPH_CLOSE, _disc(5)), cv2.DIST_L2, 5)
    deep = cv2.GaussianBlur(deep, (0, 0), 1)
    for _ in range(PLACED):
        _, depth, _, (x, y) = cv2.minMaxLoc(deep)
        if depth < 2:
            return
        yield np.array([x, y], np.float64), float(depth)
        cv2.circle(deep, (x, y), round(depth), 0, -1)


def _disc(side: int) -> NDArray[np.uint8]:
    return np.asarray(cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (side, side)), np.uint8)
