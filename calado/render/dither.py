"""Noise for where bits are taken away: so that a soft falloff does not come out in steps.

Half a code either way of blue noise (Ulichney1988): neighbours differ, so that the eye takes their mean. It is made of
white noise whose coarse part is taken out again and again, each time ranked evenly (ours: by Fourier transform, since
ranking by voids and clusters takes seconds). What is a code already stays that code, and what is exactly as its
neighbours beside and above or below it, a solid cover or a mosaic's cell, stays even.
"""

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes, Planes
from calado.colour.transfer import Transfer
from calado.compiled import compiled
from calado.strips import for_rows

#: pixels of the pattern, which is repeated; of a code, how far it goes either way: so that what is written
#: stays within one of what is meant
SIDE, HALF = 128, 0.46
#: cycles a pixel up to which nothing is left, and how often it is taken out
COARSE, ROUNDS = 0.35, 12
SEED = 20


@lru_cache(maxsize=1)
def pattern() -> NDArray[np.float32]:
    """Return the pattern for red, green and blue, shape (3, SIDE, SIDE), within ±HALF, evenly spread."""
    random = np.random.default_rng(SEED)
    y, x = np.meshgrid(np.fft.fftfreq(SIDE), np.fft.rfftfreq(SIDE), indexing="ij")
    kept = np.clip(np.hypot(y, x) / COARSE, 0, 1) ** 2
    made = []
    for _ in range(3):
        noise = random.random((SIDE, SIDE))
        for _ in range(ROUNDS):
            fine = np.fft.irfft2(np.fft.rfft2(noise) * kept, s=(SIDE, SIDE))
            ranks = np.empty(SIDE * SIDE)
            ranks[np.argsort(fine, axis=None, kind="stable")] = np.arange(SIDE * SIDE)
            noise = ((ranks + 0.5) / ranks.size - 0.5).reshape(SIDE, SIDE)
        made.append(noise * 2 * HALF)
    return np.ascontiguousarray(np.stack(made), np.float32)


@lru_cache(maxsize=4)
def codes_of(transfer: Transfer, entries: int) -> NDArray[np.float32]:
    """Return 8-bit codes, not rounded, of linear light in even steps, at its root where the signal is steep."""
    places = np.arange(entries + 1) / (entries - 1)
    return np.asarray(transfer.encode(places * places if transfer.steep else places) * 255, np.float32)


@compiled("void(float32[:, :, ::1], float32[::1], float32[:, :, ::1], int64, int64, int64, uint8[:, :, ::1])")
def dithered_rows(planes, table, noise, from_top, first, last, out):  # type: ignore[no-untyped-def]
    """Write the codes of rows; ``from_top`` is where the first row of the planes lies in the picture."""
    top, side = np.float32(table.size - 2), noise.shape[1]
    tall, wide = planes.shape[1:]
    for y in range(first, last):
        for c in range(3):
            line, spread = planes[c, y], noise[c, (y + from_top) % side]
            for x in range(wide):
                value = line[x]
                at = min(value, np.float32(1)) * top if value > 0 else np.float32(0)
                below = np.uint32(at)
                low, high = table[below], table[below + 1]
                code = low + (at - np.float32(below)) * (high - low)
                beside = (x > 0 and line[x - 1] == value) or (x + 1 < wide and line[x + 1] == value)
                over = y > 0 and planes[c, y - 1, x] == value
                even = beside and (over or (y + 1 < tall and planes[c, y + 1, x] == value))
                out[y, x, c] = np.uint8(code + np.float32(0.5) + (np.float32(0) if even else spread[x % side]))


def dithered(planes: Planes, transfer: Transfer, entries: int, from_top: int) -> Codes:
    """Return 8-bit codes, shape (H, W, 3), of linear planes that end at white."""
    out = np.empty((*planes.shape[1:], 3), np.uint8)
    planes, table, noise = np.ascontiguousarray(planes), codes_of(transfer, entries), pattern()
    for_rows(planes.shape[1], 32, lambda first, last: dithered_rows(planes, table, noise, from_top, first, last, out))
    return out
