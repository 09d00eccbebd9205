"""The luminance range: what is as light as a slope says, on the luminance of the encoded signal."""

import numpy as np

from calado.arrays import Matte
from calado.region.context import ALONE, PartContext
from calado.region.parameters import PROFILE
from calado.region.part import PartKind
from calado.region.read.slope import opened, slope_into
from calado.region.read.taken import Taken, widened
from calado.region.sampler import DENOISE, READS, reads_of
from calado.region.signal import signal_of
from calado.sheet.declare import Number, Slope, Unit, Value
from calado.sheet.models import Part
from calado.sheet.numbers import say_number
from calado.window import Window

#: around what was sampled: whole so far beyond it, and soft over this
MARGIN, SOFT = 0.02, 0.12


def luminance_matte(part: Part, window: Window, near: PartContext = ALONE) -> Matte:
    """Return the matte, shape (H, W), of what lies within the slope.

    Convention: luminance of the picture's own primaries, encoded by its transfer function, 0…1; light above 1 counts as
    brighter than all. Open where low is 0 or high is 1.
    """
    seen = near.picture
    space = seen.space
    signal = seen.made(
        "signal", reads_of(part.values), LUMINANCE.number(part.values, "denoise"), window, lambda p: signal_of(p, space)
    )
    out = np.ones(signal.shape, np.float32)
    slope_into(out, signal, opened(_ends(part), 1.0), str(part.values.get("profile", PROFILE.neutral)))
    return out


def _ends(part: Part) -> tuple[float, float, float, float]:
    low, soft_low, high, soft_high = (LUMINANCE.number(part.values, id) for id in SLOPE_IDS)
    return low, soft_low, high, soft_high


def _taken(part: Part, taken: Taken) -> Part:
    """Return the part with its slope set by a sample; one at the picture's brightest or darkest place opens its end."""
    low, high = (float(each) for each in np.quantile(taken.signal, (0.02, 0.98)))
    low = 0.0 if low <= taken.darkest + MARGIN else max(low - MARGIN, 0.0)
    high = 1.0 if high >= taken.brightest - MARGIN else min(high + MARGIN, 1.0)
    values: dict[str, Value] = dict(part.values)
    if taken.does == "set":
        values |= {"soft_low": SOFT, "soft_high": SOFT}
    else:
        before = (LUMINANCE.number(values, "low"), LUMINANCE.number(values, "high"))
        low, high = widened(before, (low, high), taken.does)
    return part.model_copy(update={"values": {**values, "low": round(low, 3), "high": round(high, 3)}})


def _told(part: Part) -> str:
    low, _, high, _ = _ends(part)
    said = [say_number(value, LUMINANCE.numbers[k]) for k, value in ((0, low), (2, high))]
    if low <= 0 and high >= 1:
        return "all of it"
    if high >= 1:
        return f"from {said[0]} up"
    return f"up to {said[1]}" if low <= 0 else f"from {said[0]} to {said[1]}"


def _number(id: str, name: str, neutral: float, most: float = 1.0) -> Number:
    return Number(id, name, Unit.SHARE, neutral, 0.0, most, 0.0, 1.0, 0.005)


SLOPE_IDS = ("low", "soft_low", "high", "soft_high")
LUMINANCE = PartKind(
    id="luminance",
    name="Luminance range",
    parameters=(
        _number("low", "Low", 0.6),
        _number("soft_low", "Low softness", 0.15, 0.5),
        _number("high", "High", 1.0),
        _number("soft_high", "High softness", 0.1, 0.5),
        DENOISE,
        READS,
        PROFILE,
    ),
    glyph="M0 13 18 2v11z",
    drawn="sample",
    noun="lights",
    slopes=(Slope("signal", "Light", *SLOPE_IDS),),
    says="What is as light as a slope says, anywhere in the picture.",
    matte=luminance_matte,
    mapped=lambda part, affine: part,
    sees=lambda part: reads_of(part.values),
    taken=_taken,
    told=_told,
)
