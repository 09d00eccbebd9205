"""Guards: they come last on a side and hold back what its other adjustments did, by what stood there before.

*Protect highlights* (our choice): where the picture is brighter than the threshold, on the encoded signal, the change
of a darkening is held back: out = T + amount · S · (in − T), S smoothstep over 0.3 from the threshold on, and only
where T is darker than in. *Keep legible* (our choice): with F the floor in linear light and y the luminance that stood
there, what is left is at least F·y/(F + y), which is below both, rises with y, hence keeps the order of tones;
luminance after: √(y_T² + that²), at most y. *Keep hue*: the channels keep the ratios they had, only the luminance is
the new one.
"""

import numba as nb
import numpy as np

from calado.adjust.kind import GuardAdjustment, numbers
from calado.arrays import Planes, Settings
from calado.colour.spaces import ColourSpace
from calado.sheet.declare import Choice, Number, Option, Unit, Values

WAY = 0.3


@nb.njit("void(float32[:, :, ::1], float32[:, :, ::1], float32[::1])", nogil=True, cache=True, fastmath=True)
def _protect_into(treated: Planes, before: Planes, s: Settings) -> None:
    """s: amount, threshold and end of the way as √luminance, luminance weights (3)."""
    over = nb.float32(1) / (s[2] - s[1])
    for y in range(treated.shape[1]):
        for x in range(treated.shape[2]):
            old = s[3] * before[0, y, x] + s[4] * before[1, y, x] + s[5] * before[2, y, x]
            new = s[3] * treated[0, y, x] + s[4] * treated[1, y, x] + s[5] * treated[2, y, x]
            if new >= old or old <= 0:
                continue
            t = min(max((np.sqrt(old) - s[1]) * over, nb.float32(0)), nb.float32(1))
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


@nb.njit("void(float32[:, :, ::1], float32[:, :, ::1], float32[::1])", nogil=True, cache=True, fastmath=True)
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


@nb.njit("void(float32[:, :, ::1], float32[:, :, ::1], float32[::1])", nogil=True, cache=True, fastmath=True)
def _keep_hue_into(treated: Planes, before: Planes, s: Settings) -> None:
    """s: amount, luminance weights (3)."""
    for y in range(treated.shape[1]):
        for x in range(treated.shape[2]):
            old = s[1] * before[0, y, x] + s[2] * before[1, y, x] + s[3] * before[2, y, x]
            new = s[1] * treated[0, y, x] + s[2] * treated[1, y, x] + s[3] * treated[2, y, x]
            share = max(new, nb.float32(0)) / old if old > nb.float32(1e-9) else nb.float32(0)
            if old <= nb.float32(1e-9):
                continue
            for c in range(3):
                treated[c, y, x] += s[0] * (before[c, y, x] * share - treated[c, y, x])


def _keep_hue_settings(values: Values, space: ColourSpace) -> Settings:
    return numbers(KEEP_HUE.number(values, "amount"), space.luminance_weights)


KEEP_HUE = GuardAdjustment(
    id="keep-hue",
    name="Keep hue",
    group="Light",
    side="outside",
    parameters=(Number("amount", "Keep hue", Unit.SHARE, 0.0, 0.0, 1.0, 0.0, 1.0, 0.01, word="hue kept"),),
    synonyms=("hue preserving", "channel ratios", "no colour shift", "luminance only"),
    says="Only the luminance changes; the channels keep their ratios.",
    wide=True,
    settings=_keep_hue_settings,
    into=_keep_hue_into,
)
