"""Ways of looking: what a view shows instead of, or over, the picture. Views are never part of the sheet.

All work on 8-bit sRGB codes, shape (H, W, 3), at the pixels of the screen.
"""

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes, Matte
from calado.compiled import compiled
from calado.strips import for_rows

ViewName = Literal["picture", "source", "lattice", "matte", "cutout", "outline", "difference", "surround", "beyond"]
VIEWS: tuple[ViewName, ...] = (
    "picture",
    "source",
    "lattice",
    "matte",
    "cutout",
    "outline",
    "difference",
    "surround",
    "beyond",
)
Ground = Literal["grey", "black", "white", "checker"]

Thread = Literal["auto", "light", "dark", "lichen"]
THREADS: dict[Thread, int] = {"auto": 0, "light": 1, "dark": 2, "lichen": 3}
Density = Literal["open", "even", "dense"]
# LOOK: the lattice view. Lengths in screen pixels.
PITCHES: dict[Density, float] = {"open": 16.0, "even": 10.0, "dense": 6.0}
#: oklch(.86 .135 121) as sRGB codes
LICHEN = (187, 221, 125)
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
LEVELS = (0.05, 0.5, 0.95)


@dataclass(frozen=True)
class Lattice:
    """How the lattice looks: its thread, how dense it is, and whether it lies over what is inside."""

    thread: Thread = "auto"
    density: Density = "even"
    inside: bool = False


PLAIN_LATTICE = Lattice()


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


@compiled()
def _contour_rows(codes, matte, first, last, out):  # type: ignore[no-untyped-def]
    """Draw the lines of 5, 50 and 95 %: the distance to each is, to first order, the value's over its slope."""
    height, width = matte.shape
    for y in range(first, last):
        up, down = max(y - 1, 0), min(y + 1, height - 1)
        for x in range(width):
            left, right = max(x - 1, 0), min(x + 1, width - 1)
            gx = (matte[y, right] - matte[y, left]) / max(right - left, 1)
            gy = (matte[down, x] - matte[up, x]) / max(down - up, 1)
            slope = np.sqrt(gx * gx + gy * gy)
            thread, casing = 0.0, 0.0
            if slope > 1e-4:
                for k in range(3):
                    # an edge as steep as a pixel has one line only
                    if k != 1 and slope > 0.2:
                        continue
                    half = 0.95 if k == 1 else 0.45
                    d = abs(matte[y, x] - LEVELS[k]) / slope
                    thread = max(thread, min(max(half + 0.5 - d, 0.0), 1.0) * (1.0 if k == 1 else 0.8))
                    casing = max(casing, min(max(half + 1.5 - d, 0.0), 1.0))
            for c in range(3):
                cased = codes[y, x, c] * (1 - 0.58 * casing) + 8 * 0.58 * casing
                out[y, x, c] = np.uint8(cased * (1 - thread) + 246 * thread + 0.5)


def outline_view(codes: Codes, matte: Matte) -> Codes:
    """Return the picture with the lines along which the matte is 50 %, and thinner 5 and 95 %, whatever made it."""
    out = np.empty_like(codes)

    def work(first: int, last: int) -> None:
        _contour_rows(codes, matte, first, last, out)

    for_rows(codes.shape[0], 32, work)
    return out


def difference_view(codes: Codes, before: Codes) -> Codes:
    """Return how far each code is from the source's, four times over: black where nothing changed."""
    change = np.abs(codes.astype(np.int16) - before.astype(np.int16)) * DIFFERENCE_GAIN
    return np.minimum(change, 255).astype(np.uint8)


@compiled(fastmath=True, inline="always")
def _half_width(outside, begins):  # type: ignore[no-untyped-def]
    return HALF_THREAD * min(max((outside - begins) / 0.35, 0.0), 1.0) ** 0.6


@compiled()
def _covered(x, y, even, odd, knot, pitch):  # type: ignore[no-untyped-def]
    """Whether a point lies on a thread or a knot of the lattice."""
    a, b = (x + y) / (np.sqrt(2.0) * pitch), (x - y) / (np.sqrt(2.0) * pitch)
    ka, kb = np.round(a), np.round(b)
    da, db = abs(a - ka) * pitch, abs(b - kb) * pitch
    whole = ka % 2 == 0 and kb % 2 == 0
    if da < (even if ka % 2 == 0 else odd) or db < (even if kb % 2 == 0 else odd):
        return True
    return whole and da + db < knot


@compiled()
def _lattice_rows(codes, matte, luma, left, top, pitch, thread, inside, first, last, out):  # type: ignore[no-untyped-def]
    for y in range(first, last):
        for x in range(codes.shape[1]):
            outside = matte[y, x] if inside else 1.0 - matte[y, x]
            alpha = 0.0
            if outside > 0.05:
                even, odd = _half_width(outside, 0.05), _half_width(outside, 0.50)
                knot = HALF_KNOT * min(max((outside - 0.25) / 0.4, 0.0), 1.0)
                hits = 0
                for k in range(SUPERSAMPLES * SUPERSAMPLES):
                    sx = (k % SUPERSAMPLES + 0.5) / SUPERSAMPLES
                    sy = (k // SUPERSAMPLES + 0.5) / SUPERSAMPLES
                    hits += _covered(left + x + sx, top + y + sy, even, odd, knot, pitch)
                alpha = hits / (SUPERSAMPLES * SUPERSAMPLES)
            # a light thread on a dark ground, a dark one on a light ground, turning at half luma
            t = min(max((luma[y // LUMA_CELL, x // LUMA_CELL] - 0.42) / 0.16, 0.0), 1.0)
            dark = 0.0 if thread == 1 else 1.0 if thread == 2 else t * t * (3 - 2 * t)
            grey = 255 * (0.93 * (1 - dark) + 0.06 * dark)
            share = alpha * (0.72 if thread == 3 else 0.46 + 0.14 * dark)
            for c in range(3):
                light = LICHEN[c] if thread == 3 else grey
                out[y, x, c] = np.uint8(codes[y, x, c] * (1 - share) + light * share + 0.5)


def lattice_view(codes: Codes, matte: Matte, place: Place, look: Lattice = PLAIN_LATTICE) -> Codes:
    """Return the picture with openwork over what is outside, or inside; the colours under it stay readable."""
    out = np.empty_like(codes)
    luma, pitch = _blurred_luma(codes), PITCHES[look.density]

    def work(first: int, last: int) -> None:
        _lattice_rows(
            codes, matte, luma, place.left, place.top, pitch, THREADS[look.thread], look.inside, first, last, out
        )

    for_rows(codes.shape[0], 32, work)
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
