"""Guards: they come last on a side and hold back what its other adjustments did, by what stood there before.

*Protect highlights* (our choice): where the picture is brighter than the threshold, on the encoded signal, the change
of a darkening is held back: out = T + amount · S · (in − T), S smoothstep over 0.3 from the threshold on, and only
where T is darker than in. How bright it is says its luminance, or three quarters of its largest channel if that is
more: a red or blue lamp is a light too, however little luminance it has. *Keep legible* (our choice): with F the floor
in linear light and y the luminance that stood there, what is left is at least F·y/(F + y), which is below both, rises
with y, hence keeps the order of tones; luminance after: √(y_T² + that²), at most y. *Keep hue* (our choice): in OKLab
the hue of what stood there, with the lightness and the chroma of what was made, scaled to the luminance of what was
made; of what was grey, whose hue is none, what was made stays as it is.

References
----------
Ottosson2020 for OKLab.
"""

import numba as nb
import numpy as np

from calado.adjust.kind import GuardAdjustment, numbers
from calado.arrays import Planes, Settings
from calado.colour.oklab import LMS_TO_LAB, lms_to_rgb, rgb_to_lms
from calado.colour.spaces import ColourSpace
from calado.compiled import compiled
from calado.numeric import cbrt
from calado.sheet.declare import Choice, Number, Option, Unit, Values

WAY = 0.3
#: the share of its largest channel that makes a colour as bright as a grey
LAMP = 0.75
#: a chroma in OKLab below which a colour is more and more a grey, which has no hue
GREY = 0.02


@compiled("void(float32[:, :, ::1], float32[:, :, ::1], float32[::1])", fastmath=True)
def _protect_into(treated: Planes, before: Planes, s: Settings) -> None:
    """s: amount, threshold and end of the way as √luminance, luminance weights (3)."""
    over = nb.float32(1) / (s[2] - s[1])
    for y in range(treated.shape[1]):
        for x in range(treated.shape[2]):
            old = s[3] * before[0, y, x] + s[4] * before[1, y, x] + s[5] * before[2, y, x]
            new = s[3] * treated[0, y, x] + s[4] * treated[1, y, x] + s[5] * treated[2, y, x]
            if new >= old or old <= 0:
                continue
            most = max(before[0, y, x], before[1, y, x], before[2, y, x])
            bright = max(old, nb.float32(LAMP) * most)
            t = min(max((np.sqrt(bright) - s[1]) * over, nb.float32(0)), nb.float32(1))
            held = s[0] * t * t * (nb.float32(3) - nb.float32(2) * t)
            for c in range(3):
                treated[c, y, x] += held * (before[c, y, x] - treated[c, y, x])


def _protect_settings(values: Values, space: ColourSpace) -> Settings:
    amount, threshold = PROTECT.number(values, "amount"), PROTECT.number(values, "threshold")
    ends = np.sqrt(space.transfer.decode(np.array([threshold, threshold + WAY])))
    return numbers(amount, ends, space.luminance_weights)


PROTECT = GuardAdjustment(
    id="protect",
    name="Protect highlights",
    group="Light",
    side="outside",
    parameters=(
        Number("amount", "Protect", Unit.SHARE, 0.0, 0.0, 1.0, 0.0, 1.0, 0.01, word="highlights protected"),
        Number("threshold", "From", Unit.SHARE, 0.5, 0.1, 0.9, 0.01, 1.5, 0.01, scales=False),
        Choice("reads", "Reads", (Option("incoming", "incoming"), Option("source", "source", "read from the source"))),
    ),
    synonyms=("keep lamps", "highlight protection", "spare lights", "burn", "keep bright"),
    says="Holds a darkening back where the picture is bright.",
    wide=True,
    settings=_protect_settings,
    into=_protect_into,
)


@compiled("void(float32[:, :, ::1], float32[:, :, ::1], float32[::1])", fastmath=True)
def _legible_into(treated: Planes, before: Planes, s: Settings) -> None:
    """s: floor in linear light, luminance weights (3)."""
    for y in range(treated.shape[1]):
        for x in range(treated.shape[2]):
            old = s[1] * before[0, y, x] + s[2] * before[1, y, x] + s[3] * before[2, y, x]
            new = s[1] * treated[0, y, x] + s[2] * treated[1, y, x] + s[3] * treated[2, y, x]
            if new >= old or old <= 0:
                continue
            least = s[0] * old / (s[0] + old)
            new = max(new, nb.float32(0))
            kept = min(np.sqrt(new * new + least * least), old)
            if new > nb.float32(0.05) * old:
                share = kept / new
                for c in range(3):
                    treated[c, y, x] *= share
            else:
                share = kept / old
                for c in range(3):
                    treated[c, y, x] = before[c, y, x] * share


def _legible_settings(values: Values, space: ColourSpace) -> Settings:
    floor = max(LEGIBLE.number(values, "floor"), 1e-4)
    return numbers(space.transfer.decode(np.array(floor)), space.luminance_weights)


LEGIBLE = GuardAdjustment(
    roles=("shadows",),
    id="legible",
    name="Keep legible",
    group="Light",
    side="outside",
    parameters=(Number("floor", "Legible", Unit.SHARE, 0.0, 0.0, 0.4, 0.0, 0.8, 0.01, word="legible down to"),),
    synonyms=("floor", "no crushed blacks", "keep shadows", "readable", "not black"),
    says="A floor: what is darkened stays legible, with its order of tones.",
    wide=True,
    settings=_legible_settings,
    into=_legible_into,
)


@compiled("UniTuple(float32, 3)(float32, float32, float32, float32[::1])", inline="always", fastmath=True)
def _lab(r: float, g: float, b: float, s: Settings) -> tuple[float, float, float]:
    """Return OKLab of a colour; s: luminance weights (3), RGB→LMS (9), LMS′→OKLab (9)."""
    long = cbrt(s[4] * r + s[5] * g + s[6] * b)
    middle = cbrt(s[7] * r + s[8] * g + s[9] * b)
    short = cbrt(s[10] * r + s[11] * g + s[12] * b)
    return (
        s[13] * long + s[14] * middle + s[15] * short,
        s[16] * long + s[17] * middle + s[18] * short,
        s[19] * long + s[20] * middle + s[21] * short,
    )


@compiled("void(float32[:, :, ::1], float32[:, :, ::1], float32[::1])", fastmath=True)
def _keep_hue_into(treated: Planes, before: Planes, s: Settings) -> None:
    """s: amount, luminance weights (3), RGB→LMS (9), LMS′→OKLab (9), OKLab→LMS′ (9), LMS→RGB (9)."""
    one, tiny = nb.float32(1), nb.float32(1e-9)
    for y in range(treated.shape[1]):
        for x in range(treated.shape[2]):
            r, g, b = treated[0, y, x], treated[1, y, x], treated[2, y, x]
            _, old_a, old_b = _lab(before[0, y, x], before[1, y, x], before[2, y, x], s)
            light, new_a, new_b = _lab(r, g, b, s)
            old = np.sqrt(old_a * old_a + old_b * old_b)
            chroma = np.sqrt(new_a * new_a + new_b * new_b)
            t = min(old * nb.float32(1 / GREY), one)
            kept = t * t * (nb.float32(3) - nb.float32(2) * t)
            share = kept * chroma / max(old, tiny)
            new_a = share * old_a + (one - kept) * new_a
            new_b = share * old_b + (one - kept) * new_b
            long = s[22] * light + s[23] * new_a + s[24] * new_b
            middle = s[25] * light + s[26] * new_a + s[27] * new_b
            short = s[28] * light + s[29] * new_a + s[30] * new_b
            long, middle, short = long * long * long, middle * middle * middle, short * short * short
            red = s[31] * long + s[32] * middle + s[33] * short
            green = s[34] * long + s[35] * middle + s[36] * short
            blue = s[37] * long + s[38] * middle + s[39] * short
            wanted = s[1] * r + s[2] * g + s[3] * b
            made = s[1] * red + s[2] * green + s[3] * blue
            scale = wanted / made if made > tiny and wanted > tiny else one
            treated[0, y, x] = r + s[0] * (scale * red - r)
            treated[1, y, x] = g + s[0] * (scale * green - g)
            treated[2, y, x] = b + s[0] * (scale * blue - b)


def _keep_hue_settings(values: Values, space: ColourSpace) -> Settings:
    matrices = rgb_to_lms(space), LMS_TO_LAB, np.linalg.inv(LMS_TO_LAB), lms_to_rgb(space)
    every = np.concatenate([matrix.ravel() for matrix in matrices])
    return numbers(KEEP_HUE.number(values, "amount"), space.luminance_weights, every)


KEEP_HUE = GuardAdjustment(
    id="keep-hue",
    name="Keep hue",
    group="Light",
    side="outside",
    parameters=(Number("amount", "Keep hue", Unit.SHARE, 0.0, 0.0, 1.0, 0.0, 1.0, 0.01, word="hue kept"),),
    synonyms=("hue preserving", "no colour shift", "same colour", "no hue shift"),
    says="Lightness and strength of colour change; its hue stays what it was.",
    wide=True,
    settings=_keep_hue_settings,
    into=_keep_hue_into,
)
