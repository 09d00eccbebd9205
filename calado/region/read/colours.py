"""The colour range: a product of up to three slopes on hue, chroma and lightness, in OKLCh.

A hue means little where there is next to no chroma: what has less than GREY[0] is outside of every hue, and hue counts
in full from GREY[1] (our choice). With hue and chroma off, the lightness of a grey alone decides.

References
----------
Ottosson2020, CSSColor4
"""

import numpy as np

from calado.arrays import Matte
from calado.region.context import ALONE, PartContext
from calado.region.parameters import PROFILE
from calado.region.part import PartKind
from calado.region.read.planes import lch_of
from calado.region.read.slope import opened, slope_into
from calado.region.read.taken import Taken, widened
from calado.region.sampler import DENOISE, READS, reads_of
from calado.sheet.declare import Choice, Number, Option, Slope, Unit, Value
from calado.sheet.models import Part
from calado.sheet.numbers import say_number
from calado.window import Window

GREY = (0.008, 0.025)
#: the strongest chroma of the slope; more counts as open
MOST_CHROMA = 0.4
#: of a sample: its own spread and so much more (hue in degrees, chroma, lightness), and the softness beyond
MARGIN, SOFT = (5.0, 0.02, 0.05), (14.0, 0.03, 0.12)
IDS = {
    "hue": ("hue", "hue_soft", "hue_width", "hue_soft"),
    "chroma": ("chroma_low", "chroma_soft_low", "chroma_high", "chroma_soft_high"),
    "lightness": ("light_low", "light_soft_low", "light_high", "light_soft_high"),
}


def colours_matte(part: Part, window: Window, near: PartContext = ALONE) -> Matte:
    """Return the matte, shape (H, W), of what lies within all slopes that are on; with none on, all of it."""
    seen = near.picture
    space = seen.space
    denoise = COLOURS.number(part.values, "denoise")
    lightness, chroma, hue = seen.made("lch", reads_of(part.values), denoise, window, lambda p: lch_of(p, space))
    profile = str(part.values.get("profile", PROFILE.neutral))
    out = np.ones(lightness.shape, np.float32)
    if is_on(part, "hue"):
        slope_into(out, hue, _ends(part, "hue"), profile, hue=True)
        slope_into(out, chroma, (GREY[1], GREY[1] - GREY[0], 1e30, 0.0), profile)
    if is_on(part, "chroma"):
        slope_into(out, chroma, opened(_ends(part, "chroma"), MOST_CHROMA), profile)
    if is_on(part, "lightness"):
        slope_into(out, lightness, opened(_ends(part, "lightness"), 1.0), profile)
    return out


def is_on(part: Part, axis: str) -> bool:
    """Whether a slope counts."""
    choice = COLOURS.parameter(f"by_{axis}")
    assert isinstance(choice, Choice)
    return part.values.get(choice.id, choice.neutral) == "on"


def _ends(part: Part, axis: str) -> tuple[float, float, float, float]:
    first, second, third, fourth = (COLOURS.number(part.values, id) for id in IDS[axis])
    return first, second, third, fourth


def _taken(part: Part, taken: Taken) -> Part:
    """Return the part with its slopes set by a sample; a grey one is known by its lack of chroma instead of a hue."""
    lightness = taken.lab[:, 0]
    chroma = np.hypot(taken.lab[:, 1], taken.lab[:, 2])
    away, middle = _hues(taken.lab)
    low, high = (float(each) for each in np.quantile(chroma, (0.05, 0.95)))
    grey = float(np.median(chroma)) < GREY[1]
    found = {
        "chroma": (0.0 if grey else max(low - MARGIN[1], 0.0), high + MARGIN[1] if grey else MOST_CHROMA),
        "lightness": _spread(lightness, MARGIN[2], 1.0),
    }
    values: dict[str, Value] = dict(part.values)
    if taken.does == "set":
        values |= {"by_hue": "off" if grey else "on", "by_chroma": "on", "by_lightness": "on"}
        values |= {"hue": round(middle, 1), "hue_width": round(away + MARGIN[0], 1), "hue_soft": SOFT[0]}
    elif not grey:
        values |= _turned(part, middle, away, taken.does)
    for axis, soft in (("chroma", SOFT[1]), ("lightness", SOFT[2])):
        low_id, soft_low, high_id, soft_high = IDS[axis]
        if taken.does == "set":
            values |= {soft_low: soft, soft_high: soft}
            ends = found[axis]
        elif taken.does == "add":
            ends = widened((_ends(part, axis)[0], _ends(part, axis)[2]), found[axis], "add")
        else:  # what is taken out is told by its hue, or where that is alike by its lightness
            continue
        values |= {low_id: round(ends[0], 3), high_id: round(min(ends[1], 1.0), 3)}
    return part.model_copy(update={"values": values})


def _spread(axis: np.ndarray, margin: float, top: float) -> tuple[float, float]:
    low, high = (float(each) for each in np.quantile(axis, (0.05, 0.95)))
    return max(low - margin, 0.0), min(high + margin, top)


def _hues(lab: np.ndarray) -> tuple[float, float]:
    """Return (how far most hues lie from the middle, the middle), in degrees; weighed by chroma."""
    middle = float(np.degrees(np.arctan2(lab[:, 2].mean(), lab[:, 1].mean())) % 360)
    hue = np.degrees(np.arctan2(lab[:, 2], lab[:, 1]))
    away = np.abs((hue - middle + 180) % 360 - 180)
    return float(np.quantile(away, 0.9)), middle


def _turned(part: Part, middle: float, away: float, does: str) -> dict[str, Value]:
    """Return the hues with others put to them, or with others kept out."""
    hue, _, width, _ = _ends(part, "hue")
    offset = (middle - hue + 180) % 360 - 180
    low, high = -width, width
    if does == "add":
        low, high = min(low, offset - away - MARGIN[0]), max(high, offset + away + MARGIN[0])
    elif offset < 0:
        low = min(max(low, offset + away), high)
    else:
        high = max(min(high, offset - away), low)
    return {"hue": round((hue + (low + high) / 2) % 360, 1), "hue_width": round(min((high - low) / 2, 180.0), 1)}


def _told(part: Part) -> str:
    said = []
    if is_on(part, "hue"):
        hue, _, width, _ = _ends(part, "hue")
        said.append(f"hue {round(hue)}° ± {round(width)}°")
    for axis in ("chroma", "lightness"):
        if is_on(part, axis):
            low, _, high, _ = _ends(part, axis)
            number = COLOURS.parameter(IDS[axis][0])
            assert isinstance(number, Number)
            top = MOST_CHROMA if axis == "chroma" else 1.0
            ends = f"from {say_number(low, number)}" if low > 0 else ""
            ends += f" to {say_number(high, number)}" if high < top else ""
            said.append(f"{axis} {ends.strip() or 'any'}")
    return ", ".join(said) or "every colour"


def _switch(axis: str, name: str, *, on: bool) -> Choice:
    options = (Option("on", "on"), Option("off", "off"))
    return Choice(f"by_{axis}", name, options if on else options[::-1])


def _slope_numbers(axis: str, unit: Unit, low: float, high: float, soft: float, top: float) -> tuple[Number, ...]:
    word = axis.capitalize()
    names = (f"{word} low", f"{word} low softness", f"{word} high", f"{word} high softness")
    neutral = (low, soft, high, soft)
    step = 0.005
    return tuple(
        Number(id, name, unit, value, 0.0, top if k in (0, 2) else top / 2, 0.0, 1.0, step)
        for k, (id, name, value) in enumerate(zip(IDS[axis], names, neutral, strict=True))
    )


COLOURS = PartKind(
    id="colours",
    name="Colour range",
    parameters=(
        Number("hue", "Hue", Unit.ANGLE, 40.0, 0.0, 360.0, 0.0, 360.0, 1.0),
        Number("hue_width", "Hue width", Unit.ANGLE, 25.0, 0.0, 180.0, 0.0, 180.0, 1.0),
        Number("hue_soft", "Hue softness", Unit.ANGLE, 15.0, 0.0, 90.0, 0.0, 180.0, 1.0),
        *_slope_numbers("chroma", Unit.CHROMA, 0.03, MOST_CHROMA, 0.03, MOST_CHROMA),
        *_slope_numbers("lightness", Unit.SHARE, 0.0, 1.0, 0.1, 1.0),
        DENOISE,
        READS,
        _switch("hue", "By hue", on=True),
        _switch("chroma", "By chroma", on=True),
        _switch("lightness", "By lightness", on=False),
        PROFILE,
    ),
    glyph="M9 6.5 15.5 2a8 8 0 0 1 0 9z",
    drawn="sample",
    noun="colour",
    slopes=(
        Slope("hue", "Hue", *IDS["hue"], on="by_hue"),
        Slope("chroma", "Chroma", *IDS["chroma"], on="by_chroma"),
        Slope("lightness", "Lightness", *IDS["lightness"], on="by_lightness"),
    ),
    says="What has a hue, a strength of colour and a lightness within slopes of each.",
    matte=colours_matte,
    mapped=lambda part, affine: part,
    sees=lambda part: reads_of(part.values),
    taken=_taken,
    told=_told,
)
