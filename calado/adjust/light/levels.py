"""Black point, white point and midtone: three adjustments of the encoded signal.

Black b: (e − b) / (1 − b); white w: e / w; midtone g: |e|^(1/g), g = 2^amount. Levels as every editor has them
(common practice, no source).
"""

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from calado.adjust.kind import PointAdjustment
from calado.adjust.tone_lut import channel_settings, channels_into
from calado.arrays import Settings
from calado.colour.spaces import ColourSpace
from calado.sheet.declare import Number, Unit, Values


def _levels(of: Callable[[float], tuple[float, float, float]], id: str) -> Callable[[Values, ColourSpace], Settings]:
    def settings(values: Values, space: ColourSpace) -> Settings:
        offset, gain, exponent = of({each.id: each for each in LEVELS}[id].number(values, "amount"))

        def channel(signal: NDArray[np.float64]) -> NDArray[np.float64]:
            moved = (signal + offset) * gain
            return np.copysign(np.abs(moved) ** exponent, moved)

        return channel_settings((channel, channel, channel), space)

    return settings


def _level(
    id: str,
    name: str,
    number: Number,
    says: str,
    synonyms: tuple[str, ...],
    of: Callable[[float], tuple[float, float, float]],
    begins: float | None = None,
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
        into=channels_into,
        begins={} if begins is None else {"amount": begins},
        side="outside" if id == "black" else "inside",
    )


BLACK = _level(
    "black",
    "Black point",
    # kept as the signal that becomes black; said as exposure is, where less is darker
    Number("amount", "Black point", Unit.SHARE, 0.0, -0.2, 0.2, -0.9, 0.9, 0.005, turned=True),
    "Down, more of the shadows becomes black; up, blacks are lifted to a veil.",
    ("deeper blacks", "lift shadows", "fade", "matte look", "crush"),
    lambda amount: (-amount, 1 / (1 - amount), 1.0),
    begins=0.05,
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
