"""A wash: one colour laid over the picture by a blend mode, on the encoded signal.

References
----------
W3C-Blending: Compositing and Blending Level 1, sections 10.1 and 10.2. The formulas are made for 0…1; what lies outside
is held there for the blend, and its rest is added again, so that bright values survive.
"""

import numba as nb
import numpy as np

from calado.adjust.colour.paint import light_of, paint
from calado.adjust.kind import PointAdjustment, Settings, numbers
from calado.adjust.tables import SIZE, decode_table, encode_table, to_light, to_signal
from calado.arrays import Planes
from calado.colour.spaces import ColourSpace
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
# the kernel's numbers of the modes are their places in this tuple
SOFT_LIGHT, NORMAL, MULTIPLY, SCREEN, OVERLAY, DARKEN, LIGHTEN, DODGE, BURN, HARD_LIGHT, DIFFERENCE = range(11)
EXCLUSION, HUE, SATURATION, COLOR, LUMINOSITY = range(11, 16)


@nb.njit("float32(float32, float32)", nogil=True, cache=True)
def _hard(b, s):  # type: ignore[no-untyped-def]
    if s <= nb.float32(0.5):
        return b * nb.float32(2) * s
    t = nb.float32(2) * s - nb.float32(1)
    return b + t - b * t


@nb.njit("float32(float32, float32)", nogil=True, cache=True)
def _soft(b, s):  # type: ignore[no-untyped-def]
    if s <= nb.float32(0.5):
        return b - (nb.float32(1) - nb.float32(2) * s) * b * (nb.float32(1) - b)
    if b <= nb.float32(0.25):
        d = ((nb.float32(16) * b - nb.float32(12)) * b + nb.float32(4)) * b
    else:
        d = np.sqrt(b)
    return b + (nb.float32(2) * s - nb.float32(1)) * (d - b)


@nb.njit("float32(int32, float32, float32)", nogil=True, cache=True)
def blend_channel(mode, b, s):  # type: ignore[no-untyped-def]
    """Return a separable mode's B(backdrop, source), both 0…1."""
    if mode == NORMAL:
        return s
    if mode == MULTIPLY:
        return b * s
    if mode == SCREEN:
        return b + s - b * s
    if mode == OVERLAY:
        return _hard(s, b)
    if mode == DARKEN:
        return min(b, s)
    if mode == LIGHTEN:
        return max(b, s)
    if mode == DODGE:
        if b <= 0:
            return nb.float32(0)
        return nb.float32(1) if s >= 1 else min(nb.float32(1), b / (nb.float32(1) - s))
    if mode == BURN:
        if b >= 1:
            return nb.float32(1)
        return nb.float32(0) if s <= 0 else nb.float32(1) - min(nb.float32(1), (nb.float32(1) - b) / s)
    if mode == HARD_LIGHT:
        return _hard(b, s)
    if mode == SOFT_LIGHT:
        return _soft(b, s)
    if mode == DIFFERENCE:
        return abs(b - s)
    return b + s - nb.float32(2) * b * s


@nb.njit("float32(float32[::1])", nogil=True, cache=True)
def _lum(c):  # type: ignore[no-untyped-def]
    return nb.float32(0.3) * c[0] + nb.float32(0.59) * c[1] + nb.float32(0.11) * c[2]


@nb.njit("void(float32[::1], float32)", nogil=True, cache=True)
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


@nb.njit("void(float32[::1], float32)", nogil=True, cache=True)
def _set_sat(c, sat):  # type: ignore[no-untyped-def]
    low, high = min(c[0], c[1], c[2]), max(c[0], c[1], c[2])
    for k in range(3):
        c[k] = (c[k] - low) * sat / (high - low) if high > low else nb.float32(0)


@nb.njit("void(int32, float32[::1], float32[::1], float32[::1])", nogil=True, cache=True)
def blend_whole(mode, b, s, out):  # type: ignore[no-untyped-def]
    """Fill ``out`` with a non-separable mode's B(backdrop, source), each of 3 numbers 0…1."""
    of_hue = mode == HUE or mode == COLOR
    for k in range(3):
        out[k] = s[k] if of_hue else b[k]
    if mode == HUE:
        _set_sat(out, max(b[0], b[1], b[2]) - min(b[0], b[1], b[2]))
    if mode == SATURATION:
        _set_sat(out, max(s[0], s[1], s[2]) - min(s[0], s[1], s[2]))
    _set_lum(out, _lum(s) if mode == LUMINOSITY else _lum(b))


@nb.njit("void(float32[:, :, ::1], float32[::1])", nogil=True, cache=True)
def _into(planes: Planes, s: Settings) -> None:
    """s: amount, mode, the colour's signal (3), encoding table, decoding table."""
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
            if mode >= HUE:
                blend_whole(mode, base, colour, made)
            else:
                for c in range(3):
                    made[c] = blend_channel(mode, base[c], colour[c])
            for c in range(3):
                new = signal[c] + amount * (made[c] - base[c])
                planes[c, y, x] = to_light(decoding, new)


def _settings(values: Values, space: ColourSpace) -> Settings:
    number = WASH.all_numbers(values)
    mode = [id for id, _ in MODES].index(str(values.get("mode", MODES[0][0])))
    signal = space.transfer.encode(np.array(light_of(number, space)))
    return numbers(number["amount"], mode, signal, encode_table(space), decode_table(space))


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
    synonyms=("tint", "colour overlay", "photo filter", "blend", "colorize", "gel", "duotone", "warm"),
    says="One colour laid over by a blend mode.",
    wide=True,
    settings=_settings,
    into=_into,
)
