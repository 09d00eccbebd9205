"""Ways of looking: what a view shows instead of, or over, the picture. Views are never part of the sheet.

All work on 8-bit sRGB codes, shape (H, W, 3), at the pixels of the screen.
"""

from dataclasses import dataclass
from typing import Literal

import numba as nb
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes, Matte
from calado.strips import each_strip

ViewName = Literal["picture", "source", "lattice", "matte", "cutout", "difference"]
VIEWS: tuple[ViewName, ...] = ("picture", "source", "lattice", "matte", "cutout", "difference")
Ground = Literal["grey", "black", "white", "checker"]

# LOOK: the lattice view. Lengths in screen pixels.
PITCH = 10.0
HALF_THREAD = 0.62
HALF_KNOT = 2.3
LUMA_CELL = 8
SUPERSAMPLES = 3
GROUNDS: dict[Ground, tuple[int, int]] = {
    "grey": (128, 128),
    "black": (0, 0),
    "white": (255, 255),
    "checker": (96, 160),
}
CHECKER = 12
DIFFERENCE_GAIN = 4


@dataclass(frozen=True)
class Place:
    """Where the view's first pixel stands on the screen's grid, so that threads hold still while strips change."""

    left: int
    top: int


def matte_view(matte: Matte) -> Codes:
    """Return the matte as grey: 0 black, 1 white, a half as half the code."""
    grey = np.rint(matte * 255).astype(np.uint8)
    return np.repeat(grey[..., None], 3, axis=2)


def cutout_view(codes: Codes, matte: Matte, ground: Ground, place: Place) -> Codes:
    """Return the picture inside, a plain ground or a checkerboard outside."""
    share = matte[..., None]
    dark, light = GROUNDS[ground]
    rows = (np.arange(codes.shape[0]) + place.top) // CHECKER
    columns = (np.arange(codes.shape[1]) + place.left) // CHECKER
    board = np.where((rows[:, None] + columns) % 2 == 0, np.float32(dark), np.float32(light))
    return np.rint(codes * share + board[..., None] * (1 - share)).astype(np.uint8)


def difference_view(codes: Codes, before: Codes) -> Codes:
    """Return how far each code is from the source's, four times over: black where nothing changed."""
    change = np.abs(codes.astype(np.int16) - before.astype(np.int16)) * DIFFERENCE_GAIN
    return np.minimum(change, 255).astype(np.uint8)


@nb.njit(nogil=True, cache=True, fastmath=True, inline="always")
def _half_width(outside, begins):  # type: ignore[no-untyped-def]
    return HALF_THREAD * min(max((outside - begins) / 0.35, 0.0), 1.0) ** 0.6


@nb.njit(nogil=True, cache=True)
def _covered(x, y, even, odd, knot):  # type: ignore[no-untyped-def]
    """Whether a point lies on a thread or a knot of the lattice."""
    a, b = (x + y) / (np.sqrt(2.0) * PITCH), (x - y) / (np.sqrt(2.0) * PITCH)
    ka, kb = np.round(a), np.round(b)
    da, db = abs(a - ka) * PITCH, abs(b - kb) * PITCH
    whole = ka % 2 == 0 and kb % 2 == 0
    if da < (even if ka % 2 == 0 else odd) or db < (even if kb % 2 == 0 else odd):
        return True
    return whole and da + db < knot


@nb.njit(nogil=True, cache=True)
def _lattice_rows(codes, matte, luma, left, top, first, last, out):  # type: ignore[no-untyped-def]
    for y in range(first, last):
        for x in range(codes.shape[1]):
            outside = 1.0 - matte[y, x]
            alpha = 0.0
            if outside > 0.05:
                even, odd = _half_width(outside, 0.05), _half_width(outside, 0.50)
                knot = HALF_KNOT * min(max((outside - 0.25) / 0.4, 0.0), 1.0)
                hits = 0
                for k in range(SUPERSAMPLES * SUPERSAMPLES):
                    sx = (k % SUPERSAMPLES + 0.5) / SUPERSAMPLES
                    sy = (k // SUPERSAMPLES + 0.5) / SUPERSAMPLES
                    hits += _covered(left + x + sx, top + y + sy, even, odd, knot)
                alpha = hits / (SUPERSAMPLES * SUPERSAMPLES)
            # a light thread on a dark ground, a dark one on a light ground, turning at half luma
            t = min(max((luma[y // LUMA_CELL, x // LUMA_CELL] - 0.42) / 0.16, 0.0), 1.0)
            dark = t * t * (3 - 2 * t)
            thread = 255 * (0.93 * (1 - dark) + 0.06 * dark)
            share = alpha * (0.46 + 0.14 * dark)
            for c in range(3):
                out[y, x, c] = np.uint8(codes[y, x, c] * (1 - share) + thread * share + 0.5)


def lattice_view(codes: Codes, matte: Matte, place: Place) -> Codes:
    """Return the picture with openwork over what is outside; the colours under it stay readable."""
    out = np.empty_like(codes)
    luma = _blurred_luma(codes)

    def work(first: int, last: int) -> None:
        _lattice_rows(codes, matte, luma, place.left, place.top, first, last, out)

    each_strip(codes.shape[0], 32, work)
    return out


def _blurred_luma(codes: Codes) -> NDArray[np.float32]:
    """Return mean luma, 0…1, on cells of LUMA_CELL pixels, softened over their neighbours."""
    high, wide = -(-codes.shape[0] // LUMA_CELL), -(-codes.shape[1] // LUMA_CELL)
    padding = ((0, high * LUMA_CELL - codes.shape[0]), (0, wide * LUMA_CELL - codes.shape[1]), (0, 0))
    cells = np.pad(codes, padding, mode="edge").reshape(high, LUMA_CELL, wide, LUMA_CELL, 3)
    luma = cells.mean(axis=(1, 3), dtype=np.float32) @ np.array([0.2126, 0.7152, 0.0722], np.float32) / 255
    around = np.pad(luma, 1, mode="edge")
    across = (around[:, :-2] + 2 * around[:, 1:-1] + around[:, 2:]) / 4
    softened: NDArray[np.float32] = (across[:-2] + 2 * across[1:-1] + across[2:]) / 4
    return softened
