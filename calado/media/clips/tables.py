"""A curve as tables, since a power for each value costs three times: light in even steps, signal by octaves.

Both are odd: what lies below 0 is kept.
"""

from functools import lru_cache

import numba as nb
import numpy as np
from numpy.typing import NDArray

from calado.colour.transfer import Transfer
from calado.compiled import compiled
from calado.numeric import bits_of

#: signals in the table of light, to a whole one
STEPS = 4096
#: the largest signal that codes in limited range can stand for is 2.3
SIGNALS = 3
#: octaves of light in the table of signals: the least code of 12 bits in PQ is 2^-31 of white, what goes
#: beyond a signal of 1 keeps its place up to 2^13
LEAST, MOST, PER_OCTAVE = -32, 13, 256
#: light that is still in the table
MOST_LIGHT = 2.0**MOST * (1 - 2.0**-12)


@lru_cache(maxsize=8)
def light_table(transfer: Transfer) -> NDArray[np.float32]:
    """Return the light of signals 0…SIGNALS in even steps; between two a straight line misses the curve by 2e-8."""
    return transfer.decode(np.arange(SIGNALS * STEPS + 2) / STEPS).astype(np.float32)


@lru_cache(maxsize=8)
def signal_table(transfer: Transfer) -> NDArray[np.float32]:
    """Return the signals of lights 2^LEAST…2^MOST, 256 to an octave; a straight line between misses by 1e-6."""
    count = (MOST - LEAST) * PER_OCTAVE
    octave, step = np.divmod(np.arange(count + 1), PER_OCTAVE)
    return transfer.encode(np.exp2(octave + LEAST) * (1 + step / PER_OCTAVE)).astype(np.float32)


@compiled(inline="always")
def light_of(signal, table):  # type: ignore[no-untyped-def]
    """Return the light of a signal, looked up; beyond what codes can be it is held."""
    at = min(abs(signal), nb.float32(SIGNALS)) * nb.float32(STEPS)
    below = nb.int32(at)
    low = table[below]
    made = low + (table[below + 1] - low) * (at - nb.float32(below))
    return made if signal >= 0 else -made


@compiled(inline="always")
def signal_of(light, table):  # type: ignore[no-untyped-def]
    """Return the signal of a light, looked up by the bits of the number: octave, and place in it. NaN is black."""
    magnitude = min(abs(light), nb.float32(MOST_LIGHT))
    if not magnitude > nb.float32(2.0**LEAST):  # straight there, NaN too
        return light * (table[0] / nb.float32(2.0**LEAST)) if magnitude >= 0 else nb.float32(0)
    bits = bits_of(magnitude)
    at = (bits >> nb.int32(15)) - nb.int32((127 + LEAST) * PER_OCTAVE)
    low = table[at]
    made = low + (table[at + 1] - low) * (nb.float32(bits & nb.int32(0x7FFF)) * nb.float32(1 / 32768))
    return made if light >= 0 else -made
