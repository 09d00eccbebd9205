"""Slope, offset, power and saturation as the American Society of Cinematographers defines them.

References
----------
ASC-CDL: out = (in · slope + offset)^power on the encoded signal, then luma + saturation · (out − luma) with the weights
0.2126, 0.7152, 0.0722 of BT.709, which the definition fixes. Nothing is clamped, so that values above 1 survive; a base
below 0 keeps its value, as the unclamped form of the definition has it.
"""

from collections.abc import Callable

import numba as nb
import numpy as np
from numpy.typing import NDArray

from calado.adjust.kind import PointAdjustment, numbers
from calado.adjust.tone_lut import (
    SIZE,
    channel_settings,
    decode_table,
    encode_table,
    to_light,
    to_signal,
)
from calado.arrays import Planes, Settings
from calado.colour.spaces import ColourSpace
from calado.compiled import compiled
from calado.numeric import power
from calado.sheet.declare import Number, Unit, Values

LUMA = (0.2126, 0.7152, 0.0722)


@compiled("void(float32[:, :, ::1], float32[::1])", fastmath=True)
def sop_into(planes: Planes, s: Settings) -> None:
    """s: slope (3), offset (3), power (3), saturation, luma weights (3), encoding table, decoding table."""
    encoding, decoding = s[13 : 13 + SIZE], s[13 + SIZE : 13 + 2 * SIZE]
    for y in range(planes.shape[1]):
        for x in range(planes.shape[2]):
            luma = nb.float32(0)
            for c in range(3):
                value = planes[c, y, x]
                signal = to_signal(encoding, value)
                signal = signal * s[c] + s[3 + c]
                if s[6 + c] != 1 and signal > 0:
                    signal = power(signal, s[6 + c])
                planes[c, y, x] = signal
                luma += s[10 + c] * signal
            for c in range(3):
                signal = luma + s[9] * (planes[c, y, x] - luma)
                planes[c, y, x] = to_light(decoding, signal)


def sop_settings(
    slope: NDArray[np.float64],
    offset: NDArray[np.float64],
    exponent: NDArray[np.float64],
    sat: float,
    space: ColourSpace,
) -> Settings:
    """Return the kernel's numbers; each of the first three has shape (3,).

    Without a saturation each channel is by itself, and a table does it.
    """
    if sat != 1:
        return numbers(slope, offset, exponent, sat, LUMA, encode_table(space), decode_table(space))

    def channel(c: int) -> Callable[[NDArray[np.float64]], NDArray[np.float64]]:
        def moved(signal: NDArray[np.float64]) -> NDArray[np.float64]:
            base = signal * slope[c] + offset[c]
            return np.where(base > 0, np.maximum(base, 0) ** exponent[c], base)

        return moved

    return channel_settings((channel(0), channel(1), channel(2)), space)


def _settings(values: Values, space: ColourSpace) -> Settings:
    number = CDL.all_numbers(values)
    three = [np.array([number[f"{name}_{c}"] for c in "rgb"]) for name in ("slope", "offset", "power")]
    return sop_settings(three[0], three[1], three[2], number["saturation"], space)


def _each(id: str, name: str, neutral: float, ends: tuple[float, float, float, float]) -> tuple[Number, ...]:
    low, high, floor, ceiling = ends
    return tuple(
        Number(f"{id}_{c}", f"{name} {c.upper()}", Unit.FACTOR, neutral, low, high, floor, ceiling, 0.01) for c in "rgb"
    )


CDL = PointAdjustment(
    id="cdl",
    name="CDL",
    group="Light",
    space="encoded",
    parameters=(
        *_each("slope", "Slope", 1.0, (0.0, 2.0, 0.0, 10.0)),
        *_each("offset", "Offset", 0.0, (-0.5, 0.5, -2.0, 2.0)),
        *_each("power", "Power", 1.0, (0.2, 2.5, 0.05, 10.0)),
        Number("saturation", "Saturation", Unit.FACTOR, 1.0, 0.0, 2.0, 0.0, 10.0, 0.01),
    ),
    synonyms=("slope", "offset", "power", "sop", "asc", "color decision list", "cc", "ccc"),
    says="Slope, offset, power and saturation of the ASC; read and written as .cc, .ccc and .cdl.",
    begins={"saturation": 1.15},
    switch="any",
    control="cdl",
    wide=True,
    settings=_settings,
    into=sop_into,
)
