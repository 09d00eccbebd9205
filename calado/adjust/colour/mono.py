"""Black and white with a weight for each of eight bands of hue.

The grey's lightness is the pixel's OKLab lightness plus, for its hue, the weight of its band: L′ = L + 0.4 · w(h) · S,
where S = min(C/0.12, 1)² says how coloured the pixel is (our choice), so that greys stay as they are; between the
centres of two bands, 45° apart, weights are mixed smoothly (raised cosine). ``amount`` takes the colour out in
proportion.

References
----------
Ottosson2020
"""

import numba as nb
import numpy as np

from calado.adjust.kind import PointAdjustment, numbers
from calado.arrays import Planes, Settings
from calado.colour.oklab import LMS_TO_LAB, lms_to_rgb, rgb_to_lms
from calado.colour.spaces import ColourSpace
from calado.compiled import compiled
from calado.numeric import cbrt
from calado.sheet.declare import Number, Unit, Values

DEPTH = 0.4
COLOURED = 0.12
#: the bands' names and centres; OKLCh hues of sRGB's red, orange … pink rounded to multiples of 45° from 25°
BANDS = (
    ("red", "Reds", 25.0),
    ("orange", "Oranges", 70.0),
    ("yellow", "Yellows", 115.0),
    ("green", "Greens", 160.0),
    ("cyan", "Cyans", 205.0),
    ("blue", "Blues", 250.0),
    ("violet", "Violets", 295.0),
    ("pink", "Pinks", 340.0),
)
HUES = 1024


@compiled("void(float32[:, :, ::1], float32[::1])", fastmath=True)
def _into(planes: Planes, s: Settings) -> None:
    """s: RGB→LMS (9), LMS′→OKLab (9), OKLab→LMS′ (9), LMS→RGB (9), amount, weights round the diamond, the first again.

    The way round the square |a| + |b| = 1 tells the hue as well as its angle does, and needs no arc tangent.
    """
    amount = s[36]
    size = planes.shape[2]
    lights, ones, twos = np.empty(size, np.float32), np.empty(size, np.float32), np.empty(size, np.float32)
    strengths, places = np.empty(size, np.float32), np.empty(size, np.float32)
    for y in range(planes.shape[1]):
        red, green, blue = planes[0, y], planes[1, y], planes[2, y]
        for x in range(size):
            r, g, b = red[x], green[x], blue[x]
            p = cbrt(s[0] * r + s[1] * g + s[2] * b)
            q = cbrt(s[3] * r + s[4] * g + s[5] * b)
            t = cbrt(s[6] * r + s[7] * g + s[8] * b)
            lights[x] = s[9] * p + s[10] * q + s[11] * t
            one = s[12] * p + s[13] * q + s[14] * t
            two = s[15] * p + s[16] * q + s[17] * t
            ones[x], twos[x] = one, two
            strengths[x] = min((one * one + two * two) * nb.float32(1 / COLOURED**2), nb.float32(1)) * amount
            way = one / max(abs(one) + abs(two), nb.float32(1e-9))
            places[x] = (nb.float32(1) - way if two >= 0 else nb.float32(3) + way) * nb.float32(HUES / 4)
        # only the reading of the table cannot be done eight at a time
        for x in range(size):
            at = min(max(nb.int32(places[x]), nb.int32(0)), nb.int32(HUES - 1))
            weight = s[37 + at] + (places[x] - nb.float32(at)) * (s[38 + at] - s[37 + at])
            lights[x] += strengths[x] * weight
        for x in range(size):
            light = max(lights[x], nb.float32(0))
            one, two = ones[x] * (nb.float32(1) - amount), twos[x] * (nb.float32(1) - amount)
            p = s[18] * light + s[19] * one + s[20] * two
            q = s[21] * light + s[22] * one + s[23] * two
            t = s[24] * light + s[25] * one + s[26] * two
            p, q, t = p * p * p, q * q * q, t * t * t
            red[x] = s[27] * p + s[28] * q + s[29] * t
            green[x] = s[30] * p + s[31] * q + s[32] * t
            blue[x] = s[33] * p + s[34] * q + s[35] * t


def band_weights(weights: dict[str, float]) -> np.ndarray:
    """Return the weight at even steps round the diamond |a| + |b| = 1, and at the first again."""
    way = np.arange(HUES + 1) * 4 / HUES
    a = np.where(way <= 2, 1 - way, way - 3)
    hues = np.degrees(np.arctan2(np.where(way <= 2, 1 - np.abs(a), np.abs(a) - 1), a)) % 360
    total = np.zeros(HUES + 1)
    for id, _, centre in BANDS:
        away = np.abs((hues - centre + 180) % 360 - 180)
        total += weights[id] * np.where(away < 45, 0.5 + 0.5 * np.cos(np.pi * away / 45), 0)
    return total


def _settings(values: Values, space: ColourSpace) -> Settings:
    number = MONO.all_numbers(values)
    matrices = (rgb_to_lms(space), LMS_TO_LAB, np.linalg.inv(LMS_TO_LAB), lms_to_rgb(space))
    return numbers(*matrices, number["amount"], DEPTH * band_weights(number))


MONO = PointAdjustment(
    roles=("stark",),
    id="mono",
    name="Monochrome",
    group="Colour",
    side="outside",
    space="oklch",
    parameters=(
        Number("amount", "Grey", Unit.SHARE, 0.0, 0.0, 1.0, 0.0, 1.0, 0.01, word="monochrome"),
        *(Number(id, name, Unit.SHARE, 0.0, -1.0, 1.0, -2.0, 2.0, 0.01, scales=False) for id, name, _ in BANDS),
    ),
    synonyms=("black and white", "greyscale", "grayscale", "desaturate", "colour mixer", "bw", "grey by hue"),
    says="Black and white, with the grey of each of eight hues set.",
    begins={"amount": 1.0},
    wide=True,
    control="ring",
    settings=_settings,
    into=_into,
)
