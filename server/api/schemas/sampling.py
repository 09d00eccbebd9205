"""What goes in and out of the API where something is taken from the picture."""

from typing import Literal

from ninja import Field, Schema

from calado.sheet.models import Corner, ParameterValues, Stroke
from server.api.schemas.common import RegionIn, Side
from server.api.schemas.views import Length

#: what is looked for, lines of lettering with what they say
Told = Literal["subject", "face", "read"]


class PartIn(RegionIn):
    """A part of a region of a draft."""

    part: str


class SampleIn(PartIn):
    """A sample: its box (x, y, width, height) in picture heights; *set* begins anew, *put* adds, *take* keeps out."""

    box: tuple[Length, Length, Length, Length]
    does: Literal["set", "add", "erase"] = "set"


class BalanceIn(Schema):
    """A place that should be grey: its box (x, y, width, height) in picture heights, for one side of a pass."""

    pass_id: str
    side: Side
    box: tuple[Length, Length, Length, Length]


class DistributionOut(Schema):
    """How often values of an axis occur, the fullest bin 1: in the whole picture, and inside the region."""

    axis: str
    everywhere: list[float]
    inside: list[float]


class RangedOut(Schema):
    """What a range's control shows; places are (x, y, matte) in picture heights."""

    distributions: list[DistributionOut]
    notes: list[str]
    steep: list[str]
    brightest: list[float]
    darkest: list[float]


class PlaceOut(Schema):
    """A place like the region; ``box`` in picture heights, ``outline`` as a pen's way round it."""

    box: list[float]
    outline: list[list[float]]
    area: float
    away: float


class OfferOut(Schema):
    """A find and the part it would be; its ``box``, and the corners of its ``outline``, in picture heights.

    ``reads`` is what a line says, where that was read; ``private``: it may be a number, a plate or a name; ``closely``:
    it is a face whose eyes, brows and lips are seen.
    """

    name: str
    certainty: float
    box: list[float]
    outline: tuple[Corner, ...]
    kind: str
    values: ParameterValues
    points: tuple[Corner, ...]
    strokes: tuple[Stroke, ...]
    reads: str
    private: bool
    closely: bool


class FindsOut(Schema):
    """What was found, and a sentence."""

    offers: list[OfferOut]
    says: str


class BrushFitIn(Schema):
    """A place in picture heights."""

    x: Length
    y: Length


class BrushFitOut(Schema):
    """How soft the picture's edge is near a place: a brush of this size, in picture heights, and hardness fits it."""

    size: float | None
    hardness: float | None
    says: str


class SolvingIn(Schema):
    """Whether solving goes on."""

    go_on: bool


class SolvingOut(Schema):
    """Whether anything is being solved."""

    busy: bool = Field(description="whether a matte is being solved")
