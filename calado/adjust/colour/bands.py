"""Hue, saturation and lightness of each of eight bands of hue, in colour.

In OKLab, with w the weight of a pixel's hue, mixed smoothly between the centres of two bands as in black and white:
chroma × (1 + w), hue + 25° · w, lightness + 0.2 · w · S, where S = min(C/0.12, 1)² says how coloured the pixel is
(our choices: a whole turn leads half the way to the next band, so that neighbours stay apart). Greys stay as they are.

References
----------
Ottosson2020
"""

from collections.abc import Callable
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


def _by_hue(
    id: str, name: str, fader: str, says: str, synonyms: tuple[str, ...], bent: Callable[[NDArray[np.float64]], Bent]
) -> PointAdjustment:
    """Return an adjustment of eight hues; ``bent`` gives what it does from each hue's own weight, −2…2."""

    def settings(values: Values, space: ColourSpace) -> Settings:
        number = made.all_numbers(values)
        return bent(number["amount"] * band_weights(number)).settings(space)

    made = PointAdjustment(
        id=id,
        name=name,
        group="Colour",
        space="oklch",
        parameters=(
            Number("amount", fader, Unit.SHARE, 0.0, 0.0, 1.0, 0.0, 1.0, 0.01, word=name.lower()),
            *(Number(band, of, Unit.SHARE, 0.0, -1.0, 1.0, -2.0, 2.0, 0.01, scales=False) for band, of, _ in BANDS),
        ),
        synonyms=("hue bands", *synonyms, "eight hues"),
        says=says,
        begins={"amount": 1.0},
        wide=True,
        control="ring",
        settings=settings,
        into=_into,
    )
    return made


HUE_BY = _by_hue(
    "hue-by",
    "Hue by hue",
    "Turn",
    "Each of eight hues turned towards the next: redder, yellower, greener.",
    ("selective colour", "skin redness", "greener", "shift one colour"),
    lambda weights: Bent(turn_deg=TURN_DEG * weights),
)
SATURATION_BY = _by_hue(
    "saturation-by",
    "Saturation by hue",
    "Saturation",
    "The saturation of each of eight hues; greys stay.",
    ("selective colour", "calm reds", "bluer sky", "one colour stronger"),
    lambda weights: Bent(chroma=1 + weights),
)
LIGHTNESS_BY = _by_hue(
    "lightness-by",
    "Lightness by hue",
    "Lightness",
    "How light each of eight hues is; greys stay.",
    ("luminance by hue", "darker sky", "lighter skin", "one colour lighter"),
    lambda weights: Bent(light=DEPTH * weights),
)
