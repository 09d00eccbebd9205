"""How far pixels of a frame are off those of a reference, in the same light, and which of them to go by.

What does not agree is let go of by Tukey's biweight; gain and offset of the light are fitted between.

References
----------
BeatonTukey1974
"""

import numpy as np

from calado.arrays import Floats
from calado.compiled import compiled

#: how far the light may go up or down
GAIN = (0.35, 2.9)
#: pixels from which it is told how far they stray
SOME_OFF = 5_000


def off_by(now: Floats, was: Floats, trust: Floats | None) -> tuple[Floats, Floats, float]:
    """Return by how much pixels are off once the light is the same, their weights, and the share that agrees."""
    off, weight = np.empty_like(now), np.empty_like(now)
    base = np.ones_like(now) if trust is None else trust
    spread, agreed = _weigh(now, was, base, off, weight)
    return off, weight, agreed if spread < 25 else 0.3 * agreed


@compiled("void(float32[::1], float32[::1], float32[::1], float32[::1])", fastmath=True)
def _lit_alike(now, was, weight, off):  # type: ignore[no-untyped-def]
    """Fill ``off`` with by how much pixels differ once gain and offset of the light are the same, by their weights."""
    total, a, b = 1e-6, 0.0, 0.0
    for i in range(now.size):
        total += weight[i]
        a += weight[i] * now[i]
        b += weight[i] * was[i]
    m1, m2 = np.float32(a / total), np.float32(b / total)
    varied, together = 0.0, 0.0
    for i in range(now.size):
        apart = now[i] - m1
        varied += weight[i] * apart * apart
        together += weight[i] * apart * (was[i] - m2)
    gain = np.float32(min(max(together / max(varied, 1.0), GAIN[0]), GAIN[1]) if varied > total else 1.0)
    for i in range(now.size):
        off[i] = gain * (now[i] - m1) + m2 - was[i]


@compiled("float64(float32[::1], float32[::1], float32)")
def _spread_of(off, base, least):  # type: ignore[no-untyped-def]
    """Return how far some of the pixels that count are off, as a standard deviation; -1: none of them counts."""
    step = max(off.size // SOME_OFF, 1)
    some = np.empty(off.size // step + 1, np.float32)
    held = 0
    for i in range(0, off.size, step):
        if base[i] > least:
            some[held] = abs(off[i])
            held += 1
    return max(1.4826 * np.median(some[:held]), 1.5) if held else -1.0


@compiled("UniTuple(float64, 2)(float32[::1], float32[::1], float32[::1], float32[::1], float32[::1])", fastmath=True)
def _weigh(now, was, base, off, weight):  # type: ignore[no-untyped-def]
    """Fill ``off`` and ``weight``, and return how far pixels are off, and the share that is off by little."""
    weight[:] = base
    spread = 1.0
    for _ in range(2):
        _lit_alike(now, was, weight, off)
        spread = _spread_of(off, base, np.float32(0.5))
        if spread < 0:
            spread = _spread_of(off, base, np.float32(-1))
        scale = np.float32(1 / (4 * spread))
        for i in range(now.size):
            left = off[i] * scale
            kept = max(np.float32(1) - left * left, np.float32(0))
            weight[i] = base[i] * kept * kept
    little = np.float32(2.5 * max(spread, 3.0))
    agreed = 0
    for i in range(now.size):
        agreed += abs(off[i]) < little
    return spread, agreed / now.size
