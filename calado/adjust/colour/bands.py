"""Hue, saturation and lightness of each of eight bands of hue, in colour.

In OKLab, with w the weight of a pixel's hue, mixed smoothly between the centres of two bands as in black and white:
chroma × (1 + w), hue + 25° · w, lightness + 0.2 · w · S, where S = min(C/0.12, 1)² says how coloured the pixel is
(our choices: a whole turn leads half the way to the next band, so that neighbours stay apart). Greys stay as they are.

References
----------
Ottosson2020
"""

from dataclasses import dataclass

import numba as nb
import numpy as np
from numpy.typing import NDArray

from calado.adjust.colour.mono import BANDS, COLOURED, HUES, band_weights
from calado.adjust.kind import PointAdjustment, numbers
from calado.arrays import Planes, Settings
from calado.colour.oklab import LMS_TO_LAB, lms_to_rgb, rgb_to_lms
from calado.colour.spaces import ColourSpace
from calado.compiled import compiled
from calado.numeric import cbrt
from calado.sheet.declare import Number, Unit, Values

TURN_DEG, DEPTH = 25.0, 0.2


@compiled("void(float32[:, :, ::1], float32[::1])", fastmath=True)
def _into(planes: Planes, s: Settings) -> None:
    """s: RGB→LMS (9), LMS′→OKLab (9), OKLab→LMS′ (9), LMS→RGB (9), then three tables round the diamond |a| + |b| = 1.

    Each has its first value again at the end: what is added to the lightness, and the two parts of the complex number
    by which (a, b) is multiplied.
    """
    size, step = planes.shape[2], HUES + 1
    raised, across, down = s[36 : 36 + step], s[36 + step : 36 + 2 * step], s[36 + 2 * step :]
    for y in range(planes.shape[1]):
        red, green, blue = planes[0, y], planes[1, y], planes[2, y]
        for x in range(size):
            r, g, b = red[x], green[x], blue[x]
            p = cbrt(s[0] * r + s[1] * g + s[2] * b)
            q = cbrt(s[3] * r + s[4] * g + s[5] * b)
            t = cbrt(s[6] * r + s[7] * g + s[8] * b)
            light = s[9] * p + s[10] * q + s[11] * t
            one = s[12] * p + s[13] * q + s[14] * t
            two = s[15] * p + s[16] * q + s[17] * t
            way = one / max(abs(one) + abs(two), nb.float32(1e-9))
            place = (nb.float32(1) - way if two >= 0 else nb.float32(3) + way) * nb.float32(HUES / 4)
            at = min(max(nb.int32(place), nb.int32(0)), nb.int32(HUES - 1))
            on = place - nb.float32(at)
            coloured = min((one * one + two * two) * nb.float32(1 / COLOURED**2), nb.float32(1))
            light = max(light + coloured * (raised[at] + on * (raised[at + 1] - raised[at])), nb.float32(0))
            m = across[at] + on * (across[at + 1] - across[at])
            n = down[at] + on * (down[at + 1] - down[at])
            one, two = m * one - n * two, n * one + m * two
            p = s[18] * light + s[19] * one + s[20] * two
            q = s[21] * light + s[22] * one + s[23] * two
            t = s[24] * light + s[25] * one + s[26] * two
            p, q, t = p * p * p, q * q * q, t * t * t
            red[x] = s[27] * p + s[28] * q + s[29] * t
            green[x] = s[30] * p + s[31] * q + s[32] * t
            blue[x] = s[33] * p + s[34] * q + s[35] * t


@dataclass(frozen=True)
class Bent:
    """What is done to a colour of each hue: lightness added, chroma multiplied, hue turned in degrees."""

    light: NDArray[np.float64] | float = 0.0
    chroma: NDArray[np.float64] | float = 1.0
    turn_deg: NDArray[np.float64] | float = 0.0

    def settings(self, space: ColourSpace) -> Settings:
        """Return the kernel's numbers."""
        matrices = (rgb_to_lms(space), LMS_TO_LAB, np.linalg.inv(LMS_TO_LAB), lms_to_rgb(space))
        every, turn = np.ones(HUES + 1), np.radians(self.turn_deg)
        chroma = np.maximum(self.chroma, 0)
        return numbers(*matrices, every * self.light, every * chroma * np.cos(turn), every * chroma * np.sin(turn))


def _weights(adjustment: PointAdjustment, values: Values) -> NDArray[np.float64]:
    number = adjustment.all_numbers(values)
    return number["amount"] * band_weights(number)


def _parameters(name: str, word: str) -> tuple[Number, ...]:
    return (
        Number("amount", name, Unit.SHARE, 0.0, 0.0, 1.0, 0.0, 1.0, 0.01, word=word),
        *(Number(id, of, Unit.SHARE, 0.0, -1.0, 1.0, -2.0, 2.0, 0.01, scales=False) for id, of, _ in BANDS),
    )


HUE_BY: PointAdjustment = PointAdjustment(
    id="hue-by",
    name="Hue by hue",
    group="Colour",
    space="oklch",
    parameters=_parameters("Turn", "hue by hue"),
    synonyms=("hue bands", "selective colour", "skin redness", "greener", "shift one colour", "eight hues"),
    says="Each of eight hues turned towards the next: redder, yellower, greener.",
    begins={"amount": 1.0},
    wide=True,
    control="ring",
    settings=lambda values, space: Bent(turn_deg=TURN_DEG * _weights(HUE_BY, values)).settings(space),
    into=_into,
)
SATURATION_BY: PointAdjustment = PointAdjustment(
    id="saturation-by",
    name="Saturation by hue",
    group="Colour",
    space="oklch",
    parameters=_parameters("Saturation", "saturation by hue"),
    synonyms=("hue bands", "selective colour", "calm reds", "bluer sky", "one colour stronger", "eight hues"),
    says="The saturation of each of eight hues; greys stay.",
    begins={"amount": 1.0},
    wide=True,
    control="ring",
    settings=lambda values, space: Bent(chroma=1 + _weights(SATURATION_BY, values)).settings(space),
    into=_into,
)
LIGHTNESS_BY: PointAdjustment = PointAdjustment(
    id="lightness-by",
    name="Lightness by hue",
    group="Colour",
    space="oklch",
    parameters=_parameters("Lightness", "lightness by hue"),
    synonyms=("hue bands", "luminance by hue", "darker sky", "lighter skin", "one colour lighter", "eight hues"),
    says="How light each of eight hues is; greys stay.",
    begins={"amount": 1.0},
    wide=True,
    control="ring",
    settings=lambda values, space: Bent(light=DEPTH * _weights(LIGHTNESS_BY, values)).settings(space),
    into=_into,
)
