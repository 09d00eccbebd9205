"""A wash: one colour laid over the picture by a blend mode, on the encoded signal.

References
----------
W3C-Blending: Compositing and Blending Level 1, sections 10.1 and 10.2. The formulas are made for 0…1; what lies outside
is held there for the blend, and its rest is added again, so that bright values survive.
"""

from collections.abc import Callable

import numba as nb
import numpy as np
from numpy.typing import NDArray

from calado.adjust.colour.paint import light_of, paint
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
from calado.sheet.declare import Choice, Number, Option, Unit, Values

MODES = (
    ("soft-light", "soft light"),
    ("normal", "plain"),
    ("multiply", "multiply"),
    ("screen", "screen"),
    ("overlay", "overlay"),
    ("darken", "darken"),
    ("lighten", "lighten"),
    ("color-dodge", "dodge"),
    ("color-burn", "burn"),
    ("hard-light", "hard light"),
    ("difference", "difference"),
    ("exclusion", "exclusion"),
    ("hue", "hue"),
    ("saturation", "saturation"),
    ("color", "colour"),
    ("luminosity", "luminosity"),
)
# the kernel's numbers of the non-separable modes are their places in this tuple
HUE, SATURATION, COLOR, LUMINOSITY = range(12, 16)

Signal = NDArray[np.float64]


def _hard(b: Signal, s: float) -> Signal:
    return 2 * s * b if s <= 0.5 else b + (2 * s - 1) - b * (2 * s - 1)


def _overlay(b: Signal, s: float) -> Signal:
    return np.where(b <= 0.5, 2 * b * s, s + (2 * b - 1) - s * (2 * b - 1))


def _soft(b: Signal, s: float) -> Signal:
    if s <= 0.5:
        return b - (1 - 2 * s) * b * (1 - b)
    d = np.where(b <= 0.25, ((16 * b - 12) * b + 4) * b, np.sqrt(b))
    return b + (2 * s - 1) * (d - b)


def _dodge(b: Signal, s: float) -> Signal:
    return np.where(b <= 0, 0.0, 1.0 if s >= 1 else np.minimum(1, b / max(1 - s, 1e-9)))


def _burn(b: Signal, s: float) -> Signal:
    return np.where(b >= 1, 1.0, 0.0 if s <= 0 else 1 - np.minimum(1, (1 - b) / max(s, 1e-9)))


#: B(backdrop, source) of the separable modes; a wash has one source, so each is a function of the backdrop alone
SEPARABLE: dict[str, Callable[[Signal, float], Signal]] = {
    "soft-light": _soft,
    "normal": lambda b, s: np.full_like(b, s),
    "multiply": lambda b, s: b * s,
    "screen": lambda b, s: b + s - b * s,
    "overlay": _overlay,
    "darken": np.minimum,
    "lighten": np.maximum,
    "color-dodge": _dodge,
    "color-burn": _burn,
    "hard-light": _hard,
    "difference": lambda b, s: np.abs(b - s),
    "exclusion": lambda b, s: b + s - 2 * b * s,
}


@compiled("float32(float32[::1])")
def _lum(c):  # type: ignore[no-untyped-def]
    return nb.float32(0.3) * c[0] + nb.float32(0.59) * c[1] + nb.float32(0.11) * c[2]


@compiled("void(float32[::1], float32)")
def _set_lum(c, lum):  # type: ignore[no-untyped-def]
    """SetLum and ClipColor, in place."""
    d = lum - _lum(c)
    for k in range(3):
        c[k] += d
    level = _lum(c)
    low, high = min(c[0], c[1], c[2]), max(c[0], c[1], c[2])
    for k in range(3):
        if low < 0:
            c[k] = level + (c[k] - level) * level / (level - low)
    for k in range(3):
        if high > 1:
            c[k] = level + (c[k] - level) * (nb.float32(1) - level) / (high - level)


@compiled("void(float32[::1], float32)")
def _set_sat(c, sat):  # type: ignore[no-untyped-def]
    low, high = min(c[0], c[1], c[2]), max(c[0], c[1], c[2])
    for k in range(3):
        c[k] = (c[k] - low) * sat / (high - low) if high > low else nb.float32(0)


@compiled("void(int32, float32[::1], float32[::1], float32[::1])")
def blend_whole(mode, b, s, out):  # type: ignore[no-untyped-def]
    """Fill ``out`` with a non-separable mode's B(backdrop, source), each of 3 numbers 0…1."""
    of_hue = mode in (HUE, COLOR)
    for k in range(3):
        out[k] = s[k] if of_hue else b[k]
    if mode == HUE:
        _set_sat(out, max(b[0], b[1], b[2]) - min(b[0], b[1], b[2]))
    if mode == SATURATION:
        _set_sat(out, max(s[0], s[1], s[2]) - min(s[0], s[1], s[2]))
    _set_lum(out, _lum(s) if mode == LUMINOSITY else _lum(b))


@compiled("void(float32[:, :, ::1], float32[::1])")
def _whole_into(planes: Planes, s: Settings) -> None:
    """s: amount, a non-separable mode, the colour's signal (3), encoding table, decoding table."""
    amount, mode = s[0], nb.int32(s[1])
    encoding, decoding = s[5 : 5 + SIZE], s[5 + SIZE : 5 + 2 * SIZE]
    colour = s[2:5]
    signal, base, made = np.empty(3, np.float32), np.empty(3, np.float32), np.empty(3, np.float32)
    for y in range(planes.shape[1]):
        for x in range(planes.shape[2]):
            for c in range(3):
                value = planes[c, y, x]
                signal[c] = to_signal(encoding, value)
                base[c] = min(max(signal[c], nb.float32(0)), nb.float32(1))
            blend_whole(mode, base, colour, made)
            for c in range(3):
                new = signal[c] + amount * (made[c] - base[c])
                planes[c, y, x] = to_light(decoding, new)


def _settings(values: Values, space: ColourSpace) -> Settings:
    number, mode = WASH.all_numbers(values), str(values.get("mode", MODES[0][0]))
    colour = space.transfer.encode(np.array(light_of(number, space)))
    if mode not in SEPARABLE:
        place = [id for id, _ in MODES].index(mode)
        return numbers(number["amount"], place, colour, encode_table(space), decode_table(space))

    def channel(c: int) -> Callable[[Signal], Signal]:
        def blended(signal: Signal) -> Signal:
            held = np.clip(signal, 0, 1)
            return signal + number["amount"] * (SEPARABLE[mode](held, float(colour[c])) - held)

        return blended

    return channel_settings((channel(0), channel(1), channel(2)), space)


WASH = PointAdjustment(
    id="wash",
    name="Wash",
    group="Colour",
    space="encoded",
    parameters=(
        Number("amount", "Wash", Unit.SHARE, 0.0, 0.0, 1.0, 0.0, 1.0, 0.01),
        Choice("mode", "Laid", tuple(Option(id, name, name) for id, name in MODES)),
        *paint(0.7, 0.3, 60.0),
    ),
    synonyms=(
        "tint blue",
        "coloured",
        "tint",
        "colour overlay",
        "photo filter",
        "blend",
        "colorize",
        "gel",
        "duotone",
        "warm",
    ),
    says="One colour laid over by a blend mode.",
    begins={"amount": 0.4},
    wide=True,
    settings=_settings,
    into=_whole_into,
)
