"""Transfer functions between encoded signal and linear light.

Convention
----------
Encoded and linear values are floats of any shape, nominally 0…1 and unbounded: each function is odd
(``f(-x) = -f(x)``), so values below 0 survive. NaN gives NaN. The twins are exact inverses of each other:
the branch point of one is computed from the other.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from calado.arrays import Floats

SRGB_LINEAR_BREAK = 0.0031308
SRGB_SLOPE = 12.92
SRGB_OFFSET = 0.055
SRGB_POWER = 2.4

# BT.2020 table 4 gives alpha and beta to 10 digits for 12-bit systems; BT.709 is the same curve rounded.
BT2020_ALPHA = 1.09929682680944
BT2020_BETA = 0.018053968510807
BT2020_SLOPE = 4.5
BT2020_POWER = 0.45


def _odd(encoded: Floats, positive: Callable[[Floats], Floats]) -> Floats:
    return np.copysign(positive(np.abs(encoded)), encoded)


def linear_to_srgb(linear: Floats) -> Floats:
    """Return the sRGB signal of linear light.

    References
    ----------
    IEC61966-2-1
    """

    def encode(x: Floats) -> Floats:
        curve = (1 + SRGB_OFFSET) * x ** (1 / SRGB_POWER) - SRGB_OFFSET
        return np.where(x <= SRGB_LINEAR_BREAK, SRGB_SLOPE * x, curve)

    return _odd(np.asarray(linear), encode)


def srgb_to_linear(encoded: Floats) -> Floats:
    """Return the linear light of an sRGB signal.

    References
    ----------
    IEC61966-2-1
    """

    def decode(x: Floats) -> Floats:
        curve = ((x + SRGB_OFFSET) / (1 + SRGB_OFFSET)) ** SRGB_POWER
        return np.where(x <= SRGB_SLOPE * SRGB_LINEAR_BREAK, x / SRGB_SLOPE, curve)

    return _odd(np.asarray(encoded), decode)


def linear_to_bt2020(linear: Floats) -> Floats:
    """Return the BT.2020 (and, rounded, BT.709) camera signal of linear light.

    References
    ----------
    BT2020
    """

    def encode(x: Floats) -> Floats:
        curve = BT2020_ALPHA * x**BT2020_POWER - (BT2020_ALPHA - 1)
        return np.where(x < BT2020_BETA, BT2020_SLOPE * x, curve)

    return _odd(np.asarray(linear), encode)


def bt2020_to_linear(encoded: Floats) -> Floats:
    """Return the linear light of a BT.2020 camera signal.

    References
    ----------
    BT2020
    """

    def decode(x: Floats) -> Floats:
        curve = ((x + (BT2020_ALPHA - 1)) / BT2020_ALPHA) ** (1 / BT2020_POWER)
        return np.where(x < BT2020_SLOPE * BT2020_BETA, x / BT2020_SLOPE, curve)

    return _odd(np.asarray(encoded), decode)


@dataclass(frozen=True)
class Transfer:
    """A pair of twins: ``encode`` takes linear light to signal, ``decode`` takes it back.

    ``pieces`` are their numbers for a kernel: signal = slope · x up to the break, then scale · x^power − (scale − 1).
    """

    name: str
    encode: Callable[[Floats], Floats]
    decode: Callable[[Floats], Floats]
    #: break, slope, scale, power
    pieces: tuple[float, float, float, float]


SRGB = Transfer(
    "srgb", linear_to_srgb, srgb_to_linear, (SRGB_LINEAR_BREAK, SRGB_SLOPE, 1 + SRGB_OFFSET, 1 / SRGB_POWER)
)
BT2020 = Transfer("bt2020", linear_to_bt2020, bt2020_to_linear, (BT2020_BETA, BT2020_SLOPE, BT2020_ALPHA, BT2020_POWER))
