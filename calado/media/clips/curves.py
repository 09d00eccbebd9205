"""A clip's curve between signal and light, a row at a time. All of it is odd: what lies below 0 is kept.

The camera's curve (BT.709, BT.2020) is a straight line and, above it, a polynomial, which makes vectors: three to five
times as quick as a table. It holds up to a signal of ``NEAR``; what lies beyond, and the curves of a high range, are
looked up, light in even steps and signal by octaves, since a power for each value costs three times that.
"""

from dataclasses import dataclass
from functools import lru_cache

import numba as nb
import numpy as np
from numpy.typing import NDArray

from calado.colour.transfer import BT2020_BETA, BT2020_SLOPE, Transfer, linear_to_bt2020
from calado.compiled import KEEPS_NAN, compiled
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
#: the largest signal that the polynomials hold for, and their degree
NEAR, DEGREE = 1.3, 8

Numbers = NDArray[np.float32]
NONE: Numbers = np.empty(0, np.float32)


@dataclass(frozen=True)
class Curve:
    """One way of a curve: a table, and the polynomial, or nothing where it does not fit.

    The polynomial is its limit, where the straight line ends, that line's slope, and the powers from the lowest on.
    """

    table: Numbers
    polynomial: Numbers


@lru_cache(maxsize=8)
def to_light(transfer: Transfer) -> Curve:
    """Return the curve from signal to light; its table has 0…SIGNALS in even steps and misses it by 2e-8.

    The polynomial misses it by less than 1e-6.
    """
    border = BT2020_SLOPE * BT2020_BETA
    fitted = _fitted(transfer, transfer.decode, border, NEAR)
    polynomial = np.array([NEAR, border, 1 / BT2020_SLOPE, *fitted] if len(fitted) else [], np.float32)
    return Curve(transfer.decode(np.arange(SIGNALS * STEPS + 2) / STEPS).astype(np.float32), polynomial)


@lru_cache(maxsize=8)
def to_signal(transfer: Transfer) -> Curve:
    """Return the curve from light to signal; its table has 2^LEAST…2^MOST, 256 to an octave, and misses it by 1e-6.

    The polynomial, in the root of light, misses it by less than 1e-5: a thirtieth of a code of 12 bits.
    """
    count = (MOST - LEAST) * PER_OCTAVE
    octave, step = np.divmod(np.arange(count + 1), PER_OCTAVE)
    table = transfer.encode(np.exp2(octave + LEAST) * (1 + step / PER_OCTAVE)).astype(np.float32)
    limit = float(transfer.decode(np.array(NEAR)))
    fitted = _fitted(transfer, lambda root: transfer.encode(root * root), BT2020_BETA**0.5, limit**0.5)
    return Curve(table, np.array([limit, BT2020_BETA, BT2020_SLOPE, *fitted] if len(fitted) else [], np.float32))


def _fitted(transfer: Transfer, curve, low: float, high: float) -> Numbers:  # type: ignore[no-untyped-def]
    """Return the powers of a polynomial through the camera's curve at Chebyshev's places; none for other curves."""
    if transfer.encode is not linear_to_bt2020:
        return NONE
    places = low + (high - low) * (1 - np.cos(np.linspace(0, np.pi, 2001))) / 2
    fitted = np.polynomial.Chebyshev.fit(places, curve(places), DEGREE)
    return np.asarray(fitted.convert(kind=np.polynomial.Polynomial).coef, np.float32)


@compiled(fastmath=KEEPS_NAN, inline="always")
def _bent(x, p):  # type: ignore[no-untyped-def]
    high = p[7] + x * (p[8] + x * (p[9] + x * (p[10] + x * p[11])))
    return p[3] + x * (p[4] + x * (p[5] + x * (p[6] + x * high)))


@compiled(inline="always")
def _light_of(signal, table):  # type: ignore[no-untyped-def]
    """Return the light of a signal, looked up; beyond what codes can be it is held."""
    at = min(abs(signal), nb.float32(SIGNALS)) * nb.float32(STEPS)
    below = nb.int32(at)
    low = table[below]
    made = low + (table[below + 1] - low) * (at - nb.float32(below))
    return made if signal >= 0 else -made


@compiled(inline="always")
def _signal_of(light, table):  # type: ignore[no-untyped-def]
    """Return the signal of a light, looked up by the bits of the number: octave, and place in it. NaN is black."""
    magnitude = min(abs(light), nb.float32(MOST_LIGHT))
    if not magnitude > nb.float32(2.0**LEAST):  # straight there, NaN too
        return light * (table[0] / nb.float32(2.0**LEAST)) if magnitude >= 0 else nb.float32(0)
    bits = bits_of(magnitude)
    at = (bits >> nb.int32(15)) - nb.int32((127 + LEAST) * PER_OCTAVE)
    low = table[at]
    made = low + (table[at + 1] - low) * (nb.float32(bits & nb.int32(0x7FFF)) * nb.float32(1 / 32768))
    return made if light >= 0 else -made


@compiled(fastmath=KEEPS_NAN)
def light_row(signal, table, polynomial, out):  # type: ignore[no-untyped-def]
    """Fill a row with the light of signals."""
    if polynomial.size == 0:
        for x in range(signal.size):
            out[x] = _light_of(signal[x], table)
        return
    q = polynomial
    # read once, so that the row is vectors
    p = (q[0], q[1], q[2], q[3], q[4], q[5], q[6], q[7], q[8], q[9], q[10], q[11])
    beyond = 0
    for x in range(signal.size):
        size = abs(signal[x])
        beyond += size > p[0]
        bent = _bent(size, p)
        made = bent if size > p[1] else size * p[2]
        out[x] = made if signal[x] >= 0 else -made
    if beyond:
        for x in range(signal.size):
            if abs(signal[x]) > p[0]:
                out[x] = _light_of(signal[x], table)


@compiled(fastmath=KEEPS_NAN)
def signal_row(light, table, polynomial, out):  # type: ignore[no-untyped-def]
    """Fill a row with the signals of light; NaN is black."""
    if polynomial.size == 0:
        for x in range(light.size):
            out[x] = _signal_of(light[x], table)
        return
    q = polynomial
    p = (q[0], q[1], q[2], q[3], q[4], q[5], q[6], q[7], q[8], q[9], q[10], q[11])
    beyond = 0
    for x in range(light.size):
        size = abs(light[x])
        beyond += size > p[0]
        # a comparison with NaN is false
        held = size if size >= 0 else nb.float32(0)
        bent = _bent(np.sqrt(held), p)
        made = bent if held > p[1] else held * p[2]
        out[x] = -made if light[x] < 0 else made
    if beyond:
        for x in range(light.size):
            if abs(light[x]) > p[0]:
                out[x] = _signal_of(light[x], table)


@compiled()
def light_rows_of(plane, scales, table, polynomial, first, last, out):  # type: ignore[no-untyped-def]
    """Fill rows with the light of a plane of codes."""
    over = nb.float32(1) / scales[1]
    signal = np.empty(plane.shape[1], np.float32)
    for i in range(first, last):
        row = plane[i]
        for j in range(row.size):
            signal[j] = (nb.float32(row[j]) - scales[0]) * over
        light_row(signal, table, polynomial, out[i])


@compiled()
def signal_rows_of(planes, scales, table, polynomial, top, first, last, out):  # type: ignore[no-untyped-def]
    """Fill rows with the codes of three planes of light."""
    signal = np.empty(planes.shape[2], np.float32)
    for c in range(3):
        for i in range(first, last):
            signal_row(planes[c, i], table, polynomial, signal)
            row = out[c, i]
            for j in range(row.size):
                code = scales[0] + scales[1] * signal[j] + nb.float32(0.5)
                row[j] = nb.int32(min(max(code, nb.float32(0)), nb.float32(top)))
