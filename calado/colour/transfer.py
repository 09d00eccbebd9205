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

    ``steep``: the signal rises without bound at black, so that a table of it goes by the root of the light.
    """

    name: str
    encode: Callable[[Floats], Floats]
    decode: Callable[[Floats], Floats]
    steep: bool = False


# IEC 61966-2-5: the power is 2 + 51/256
OPRGB_POWER = 563 / 256
# ISO 22028-2, 4.4: the straight part ends where both meet
ROMM_POWER, ROMM_SLOPE = 1.8, 16.0
ROMM_BREAK = ROMM_SLOPE ** (ROMM_POWER / (1 - ROMM_POWER))


def linear_to_oprgb(linear: Floats) -> Floats:
    """Return the opRGB signal of linear light.

    References
    ----------
    IEC61966-2-5
    """
    return _odd(np.asarray(linear), lambda x: x ** (1 / OPRGB_POWER))


def oprgb_to_linear(encoded: Floats) -> Floats:
    """Return the linear light of an opRGB signal.

    References
    ----------
    IEC61966-2-5
    """
    return _odd(np.asarray(encoded), lambda x: x**OPRGB_POWER)


def linear_to_romm(linear: Floats) -> Floats:
    """Return the ROMM RGB signal of linear light.

    References
    ----------
    ISO22028-2
    """
    return _odd(
        np.asarray(linear), lambda x: np.where(x < ROMM_BREAK, ROMM_SLOPE * x, np.maximum(x, 0) ** (1 / ROMM_POWER))
    )


def romm_to_linear(encoded: Floats) -> Floats:
    """Return the linear light of a ROMM RGB signal.

    References
    ----------
    ISO22028-2
    """
    return _odd(np.asarray(encoded), lambda x: np.where(x < ROMM_SLOPE * ROMM_BREAK, x / ROMM_SLOPE, x**ROMM_POWER))


SRGB = Transfer("srgb", linear_to_srgb, srgb_to_linear)
OPRGB = Transfer("oprgb", linear_to_oprgb, oprgb_to_linear, steep=True)
ROMM = Transfer("romm", linear_to_romm, romm_to_linear)
BT2020 = Transfer("bt2020", linear_to_bt2020, bt2020_to_linear)

# BT.2100 table 4: perceptual quantisation
PQ_M1, PQ_M2 = 2610 / 16384, 2523 / 4096 * 128
PQ_C1, PQ_C2, PQ_C3 = 3424 / 4096, 2413 / 4096 * 32, 2392 / 4096 * 32
#: candela a square metre of PQ's whole, and of the white that lies at 1 in linear light here (BT.2408)
PQ_PEAK, REFERENCE_WHITE = 10_000.0, 203.0
# BT.2100 table 5: hybrid log-gamma; reference white lies at 75 % of its signal (BT.2408)
HLG_A, HLG_B, HLG_C = 0.17883277, 0.28466892, 0.55991073
HLG_WHITE = 0.75


def _pq_share(encoded: Floats) -> Floats:
    """Return the share of PQ's whole that a signal 0…1 stands for."""
    y = encoded ** (1 / PQ_M2)
    return (np.maximum(y - PQ_C1, 0) / (PQ_C2 - PQ_C3 * y)) ** (1 / PQ_M1)


_PQ_MOST = PQ_PEAK / REFERENCE_WHITE
#: light for each signal beyond 1, where the curve goes straight on: codes there stand for nothing, and are kept
_PQ_SLOPE = float((1 - _pq_share(np.array(1 - 1e-6))) / 1e-6) * _PQ_MOST


def linear_to_pq(linear: Floats) -> Floats:
    """Return the PQ signal of linear light, reference white at 1; above 10,000 cd/m² it goes straight on.

    References
    ----------
    BT2100
    """

    def encode(x: Floats) -> Floats:
        y = np.minimum(x / _PQ_MOST, 1.0) ** PQ_M1
        return ((PQ_C1 + PQ_C2 * y) / (1 + PQ_C3 * y)) ** PQ_M2 + np.maximum(x - _PQ_MOST, 0) / _PQ_SLOPE

    return _odd(np.asarray(linear), encode)


def pq_to_linear(encoded: Floats) -> Floats:
    """Return the linear light of a PQ signal, reference white at 1; beyond 1 it goes straight on.

    References
    ----------
    BT2100
    """

    def decode(x: Floats) -> Floats:
        return _pq_share(np.minimum(x, 1.0)) * _PQ_MOST + np.maximum(x - 1, 0) * _PQ_SLOPE

    return _odd(np.asarray(encoded), decode)


def _hlg_to_scene(encoded: Floats) -> Floats:
    high = (np.exp((encoded - HLG_C) / HLG_A) + HLG_B) / 12
    return np.where(encoded <= 0.5, encoded * encoded / 3, high)


#: the scene light of reference white
_HLG_LIGHT = float(_hlg_to_scene(np.array(HLG_WHITE)))


def linear_to_hlg(linear: Floats) -> Floats:
    """Return the HLG signal of the light of the scene, reference white at 1.

    References
    ----------
    BT2100
    """

    def encode(x: Floats) -> Floats:
        scene = x * _HLG_LIGHT
        high = HLG_A * np.log(np.maximum(12 * scene - HLG_B, 1e-9)) + HLG_C
        return np.where(scene <= 1 / 12, np.sqrt(3 * scene), high)

    return _odd(np.asarray(linear), encode)


def hlg_to_linear(encoded: Floats) -> Floats:
    """Return the light of the scene of an HLG signal, reference white at 1.

    References
    ----------
    BT2100
    """
    return _odd(np.asarray(encoded), lambda x: _hlg_to_scene(x) / _HLG_LIGHT)


PQ = Transfer("pq", linear_to_pq, pq_to_linear)
HLG = Transfer("hlg", linear_to_hlg, hlg_to_linear)
