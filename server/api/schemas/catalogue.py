"""What is declared, as the web reads it: parameters, adjustments, kinds of part, starters."""

from typing import Literal

from ninja import Field, Schema

from calado.media.clips.formats import ClipFormatId
from calado.media.formats import Format, What
from calado.sheet.declare import Drawn


class OptionOut(Schema):
    """One value of a choice."""

    id: str
    name: str


class ParameterOut(Schema):
    """A parameter as declared: a number with its fader, or a choice."""

    id: str
    name: str
    kind: Literal["number", "choice", "region", "file", "lut", "word", "curve"]
    unit: str = ""
    neutral: float | str = ""
    low: float = 0
    high: float = 1
    floor: float = 0
    ceiling: float = 1
    step: float = 0.01
    curve: str = "linear"
    signed: bool = False
    turned: bool = False
    apart: bool = False
    needs: list[str] = []
    options: list[OptionOut] = []
    usual: list[list[float]] = []


class AdjustmentOut(Schema):
    """An adjustment as declared; one of a region means nothing on the whole picture.

    ``switch`` tells whether its first parameter decides whether it acts, or any; ``control`` names its special control;
    a ``wide`` one takes the whole tray.
    """

    id: str
    name: str
    group: str
    says: str
    of_a_region: bool
    switch: Literal["first", "any"]
    control: str
    wide: bool
    side: Literal["inside", "outside"] = Field(description="where it is most often wanted")
    conceals: bool
    parameters: list[ParameterOut]


class SlopeOut(Schema):
    """A stretch of an axis that a part lets through: the ids of its numbers, and of the choice that switches it."""

    axis: Literal["signal", "hue", "chroma", "lightness"]
    name: str
    low: str
    soft_low: str
    high: str
    soft_high: str
    on: str


class PartKindOut(Schema):
    """A kind of part as declared; ``scribbled`` kinds can be drawn by a line round a thing.

    ``brushed`` kinds have strokes, for ``sampled`` ones colours are taken from the picture; ``slopes`` are ranges drawn
    over the picture's distribution.
    """

    id: str
    name: str
    glyph: str = Field(description="a path in a frame of 18 × 13")
    drawn: Drawn
    beads: Literal["", "box", "axis", "points"]
    says: str
    scribbled: bool
    brushed: bool
    handled: bool = Field(description="whether its points may have Bézier handles")
    sampled: bool
    slopes: list[SlopeOut]
    parameters: list[ParameterOut]


class StarterOut(Schema):
    """A starter in words."""

    id: str
    name: str
    says: str
    asked: bool = Field(description="it shows only where it is searched for")


class FormatOut(Schema):
    """A format that is written, with bits a channel and what it can hold."""

    id: Format
    name: str
    bits: list[int]
    holds: list[What]
    lossy: bool


class QualityOut(Schema):
    """A constant quality of an encoder, and what may be expected of it."""

    number: int
    says: str


class ClipFormatOut(Schema):
    """A format in which clips are written; the first quality is the usual one, none: it has one only."""

    id: ClipFormatId
    name: str
    qualities: list[QualityOut]
    holds: list[What]
    lossless: bool


class CatalogueOut(Schema):
    """All that is declared, and by which version."""

    version: str
    groups: list[str]
    adjustments: list[AdjustmentOut]
    parts: list[PartKindOut]
    refine: list[ParameterOut]
    starters: list[StarterOut]
    formats: list[FormatOut]
    clip_formats: list[ClipFormatOut]
