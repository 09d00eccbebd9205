"""The tone pad: shadows, midtones and highlights, each with a colour and a level. Our construction.

Each of the three has a place (x, y) on a plane of hues, −1…1, and a level, −1…1. A place stands for a colour of no
luminance: the OKLab colour (0.7; 0.2·x, 0.2·y) minus its grey of the same luminance, in linear sRGB; so warming the
shadows neither lifts nor lowers them. With v the colours times 0.35 and l the levels times 0.35, on the encoded signal
s, each channel:

    lift  L = v_shadows + l_shadows          s₁ = s + L · (1 − s)       black moves, white stays
    gain  G = 1 + v_highlights + l_highlights    s₂ = s₁ · G            white moves, black stays
    gamma M = 2^(v_midtones + l_midtones) … s₃ = s₂^(1/M)               both stay

which is slope G(1 − L), offset G·L and power 1/M of the ASC's definition, and runs as that.

References
----------
ASC-CDL, Ottosson2020
"""

import numpy as np
from numpy.typing import NDArray

from calado.adjust.kind import PointAdjustment
from calado.adjust.light.cdl import sop_into, sop_settings
from calado.arrays import Settings
from calado.colour.oklab import oklab_to_linear
from calado.colour.spaces import SRGB, ColourSpace
from calado.sheet.declare import Number, Unit, Values

REACH = 0.35
PAD_CHROMA = 0.2
ZONES = (("shadows", "Shadows"), ("midtones", "Midtones"), ("highlights", "Highlights"))


def colour_of(x: float, y: float) -> NDArray[np.float64]:
    """Return the colour, shape (3,), of no luminance, that a place on the pad stands for; its centre is none."""
    lab = np.array([0.7, PAD_CHROMA * x, PAD_CHROMA * y])
    light = np.asarray(oklab_to_linear(lab, SRGB), np.float64)
    return light - float(light @ SRGB.luminance_weights)


def _settings(values: Values, space: ColourSpace) -> Settings:
    number = TONE.all_numbers(values)
    moves = {
        zone: REACH * (colour_of(number[f"{zone}_x"], number[f"{zone}_y"]) + number[f"{zone}_level"])
        for zone, _ in ZONES
    }
    lift, gain = moves["shadows"], 1 + moves["highlights"]
    return sop_settings(gain * (1 - lift), gain * lift, np.exp2(-moves["midtones"]), 1.0, space)


def _zone(id: str, name: str) -> tuple[Number, ...]:
    ends = (-1.0, 1.0, -2.0, 2.0)
    return (
        Number(f"{id}_x", f"{name} to red", Unit.SHARE, 0.0, *ends, 0.01),
        Number(f"{id}_y", f"{name} to yellow", Unit.SHARE, 0.0, *ends, 0.01),
        Number(f"{id}_level", name, Unit.SHARE, 0.0, *ends, 0.01),
    )


TONE = PointAdjustment(
    id="tone",
    name="Tone",
    group="Light",
    space="encoded",
    parameters=tuple(number for id, name in ZONES for number in _zone(id, name)),
    synonyms=(
        "lift",
        "gamma",
        "gain",
        "split toning",
        "colour balance",
        "color balance",
        "shadows",
        "midtones",
        "tint",
    ),
    says="Shadows, midtones and highlights, each with a colour and a level.",
    begins={"shadows_level": -0.1, "highlights_level": 0.1},
    switch="any",
    control="pad",
    wide=True,
    settings=_settings,
    into=sop_into,
)
