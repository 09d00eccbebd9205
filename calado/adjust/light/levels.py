"""Black point, white point and midtone: three adjustments of the encoded signal.

Black b: (e − b) / (1 − b); white w: e / w; midtone g: |e|^(1/g), g = 2^amount. Levels as every editor has them
(common practice, no source).
"""

from collections.abc import Callable

import numba as nb
import numpy as np

from calado.adjust.kind import PointAdjustment, Settings, numbers
from calado.arrays import Planes
from calado.colour.spaces import ColourSpace
from calado.numeric import power
from calado.sheet.declare import Number, Unit, Values


@nb.njit("void(float32[:, :, ::1], float32[::1])", nogil=True, cache=True, fastmath=True)
def _into(planes: Planes, s: Settings) -> None:
    """s: offset, gain, exponent on the signal; then the transfer function's break, slope, scale and power."""
    offset, gain, exponent = s[0], s[1], s[2]
    least, slope, scale, root = s[3], s[4], s[5], s[6]
    under, over = nb.float32(1) / root, nb.float32(1) / slope
    foot = least * slope
    for c in range(3):
        for y in range(planes.shape[1]):
            row = planes[c, y]
            for x in range(row.size):
                light = abs(row[x])
                curve = scale * power(light, root) - (scale - nb.float32(1))
                signal = curve if light > least else slope * light
                signal = signal if row[x] >= 0 else -signal
                signal = (signal + offset) * gain
                signal = power(signal, exponent) if exponent != nb.float32(1) else signal
                size = abs(signal)
                curve = power((size + (scale - nb.float32(1))) / scale, under)
                light = curve if size > foot else size * over
                row[x] = light if signal >= 0 else -light


def _levels(of: Callable[[float], tuple[float, float, float]], id: str) -> Callable[[Values, ColourSpace], Settings]:
    def settings(values: Values, space: ColourSpace) -> Settings:
        amount = {each.id: each for each in LEVELS}[id].number(values, "amount")
        return numbers(np.array([*of(amount), *space.transfer.pieces]))

    return settings


def _level(
    id: str,
    name: str,
    number: Number,
    says: str,
    synonyms: tuple[str, ...],
    of: Callable[[float], tuple[float, float, float]],
) -> PointAdjustment:
    return PointAdjustment(
        id=id,
        name=name,
        group="Light",
        space="encoded",
        parameters=(number,),
        synonyms=synonyms,
        says=says,
        settings=_levels(of, id),
        into=_into,
    )


BLACK = _level(
    "black",
    "Black point",
    Number("amount", "Black point", Unit.SHARE, 0.0, -0.2, 0.2, -0.9, 0.9, 0.005),
    "Where the signal becomes black; below 0 it lifts the blacks.",
    ("deeper blacks", "lift shadows", "fade", "matte look", "crush"),
    lambda amount: (-amount, 1 / (1 - amount), 1.0),
)
WHITE = _level(
    "white",
    "White point",
    Number("amount", "White point", Unit.SHARE, 1.0, 0.6, 1.4, 0.1, 4.0, 0.005),
    "Where the signal becomes white.",
    ("clip whites", "brighter whites", "highlights up"),
    lambda amount: (0.0, 1 / amount, 1.0),
)
MIDTONE = _level(
    "midtone",
    "Midtone",
    Number("amount", "Midtone", Unit.SHARE, 0.0, -1.0, 1.0, -2.0, 2.0, 0.01),
    "Lighter or darker between black and white, which stay.",
    ("gamma", "mid grey", "middle tones", "brighten midtones"),
    lambda amount: (0.0, 1.0, 2.0**-amount),
)
LEVELS = (BLACK, WHITE, MIDTONE)
