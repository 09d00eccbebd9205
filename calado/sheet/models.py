"""The sheet's own shape: frozen, with one JSON form and a version.

What a name or a number may be is decided by the declarations (:mod:`calado.sheet.check`); here stands only
the structure and the limits that keep a hostile sheet from costing more than it should.
"""

from math import sqrt
from typing import Annotated, Any, Literal, TypeAlias

from pydantic import BaseModel, ConfigDict, Field, model_validator
from pydantic.json_schema import SkipJsonSchema

from calado.sheet.versions import VERSION, migrate

Id: TypeAlias = Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9_-]{0,39}$")]
Name: TypeAlias = Annotated[str, Field(min_length=1, max_length=60)]
Finite: TypeAlias = Annotated[float, Field(allow_inf_nan=False)]
#: points (x, y) of a curve
CurvePoint: TypeAlias = Annotated[tuple[Finite, ...], Field(min_length=2, max_length=2)]
CurvePoints: TypeAlias = Annotated[tuple[CurvePoint, ...], Field(max_length=16)]
ParameterValues: TypeAlias = dict[Id, Finite | Annotated[str, Field(max_length=40)] | CurvePoints]
Treatment: TypeAlias = dict[Id, ParameterValues]
#: a point of an outline: a corner (x, y), or one with two Bézier handles (x, y, x_in, y_in, x_out, y_out), which are
#: relative to it; in picture heights
Corner: TypeAlias = Annotated[tuple[Finite, ...], Field(min_length=2, max_length=6)]
MAX_POINTS = 5000
Join: TypeAlias = Literal["add", "subtract", "intersect"]
#: how the way from a key to the next goes: it holds, goes straight, or by a cubic that never leaves their interval
Ease: TypeAlias = Literal["hold", "linear", "smooth"]
#: the number of a frame, from 0
Frame: TypeAlias = Annotated[str, Field(pattern=r"^(0|[1-9][0-9]{0,6})$")]
#: stands for the last frame of a clip, however long it is
LAST_FRAME = 9_999_999
MAX_KEYS = 2000


class Frozen(BaseModel):
    """A value: cannot be changed, and refuses fields it does not know."""

    model_config = ConfigDict(frozen=True, extra="forbid")


class Key(Frozen):
    """What a parameter is at a frame, and how it goes on from there."""

    value: Finite
    ease: Ease = "smooth"


class PointKey(Frozen):
    """What an outline's points are at a frame, and how they go on from there."""

    points: Annotated[tuple[Corner, ...], Field(max_length=MAX_POINTS)]
    ease: Ease = "smooth"


Keys: TypeAlias = Annotated[dict[Frame, Key], Field(max_length=MAX_KEYS)]
MAX_STROKES = 5000
Share: TypeAlias = Annotated[Finite, Field(ge=0, le=1)]
Does: TypeAlias = Literal["add", "erase"]


class Stroke(Frozen):
    """One stroke of a brush: its points, and the brush as it then was.

    ``points`` is flat: x, y and the pen's pressure of each point, places in picture heights, pressure 0…1. ``size`` is
    the diameter in picture heights; ``colour_tolerance`` the ΔE within which colour must be like that under the first
    touch, 0: any; ``pen`` is what pressure scales.
    """

    points: Annotated[tuple[Finite, ...], Field(min_length=3, max_length=6000)]
    does: Does = "add"
    size: Annotated[Finite, Field(gt=0, le=4)] = 0.05
    hardness: Share = 0.8
    flow: Share = 1.0
    density: Share = 1.0
    colour_tolerance: Annotated[Finite, Field(ge=0, le=100)] = 0.0
    pen: Literal["none", "flow", "size"] = "none"


class Sample(Frozen):
    """A colour taken from a box of the picture, in picture heights, as OKLab; *erase* keeps its like out."""

    x: Finite
    y: Finite
    width: Annotated[Finite, Field(ge=0, le=40)] = 0.0
    height: Annotated[Finite, Field(ge=0, le=40)] = 0.0
    does: Does = "add"
    lightness: Finite
    a: Finite
    b: Finite


class Part(Frozen):
    """One part of a region and how it joins what stands before it.

    ``keys`` are the values that move, by parameter and frame, ``point_keys`` the points; before the first and after the
    last of them the value holds.
    """

    id: Id
    kind: Id
    join: Join = "add"
    on: bool = True
    complement: bool = False
    opacity: Annotated[Finite, Field(ge=0, le=1)] = 1.0
    values: ParameterValues = Field(default_factory=dict)
    points: Annotated[tuple[Corner, ...], Field(max_length=MAX_POINTS)] = ()
    #: the way of the pen that the points follow, kept until they are accepted
    path: Annotated[tuple[Corner, ...], Field(max_length=MAX_POINTS)] = ()
    strokes: Annotated[tuple[Stroke, ...], Field(max_length=MAX_STROKES)] = ()
    samples: Annotated[tuple[Sample, ...], Field(max_length=60)] = ()
    keys: Annotated[dict[Id, Keys], Field(max_length=40)] = Field(default_factory=dict)
    point_keys: Annotated[dict[Frame, PointKey], Field(max_length=MAX_KEYS)] = Field(default_factory=dict)


class Component(Frozen):
    """An island or a hole of a matte, known by a place (x, y) within it, in picture heights."""

    kind: Literal["island", "hole"]
    x: Finite
    y: Finite


class Fix(Frozen):
    """A correction of a motion at a frame: a shift in picture heights, then a size and a turn (degrees) about there."""

    dx: Annotated[Finite, Field(ge=-100, le=100)] = 0.0
    dy: Annotated[Finite, Field(ge=-100, le=100)] = 0.0
    scale: Annotated[Finite, Field(ge=0.01, le=100)] = 1.0
    turn: Annotated[Finite, Field(ge=-3600, le=3600)] = 0.0


class Track(Frozen):
    """A motion that a region goes along with, by the hash of its file, from a reference frame.

    ``fixes`` are corrections by frame; from one to the next they go smoothly, and there is none at the reference.
    ``marks`` are strokes on a subject and on its surround as they lie in a frame, which correct what was cut there.
    """

    motion: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    at: Annotated[int, Field(ge=0, le=LAST_FRAME)]
    fixes: Annotated[dict[Frame, Fix], Field(max_length=MAX_KEYS)] = Field(default_factory=dict)
    marks: Annotated[
        dict[Frame, Annotated[tuple[Stroke, ...], Field(max_length=MAX_STROKES)]], Field(max_length=200)
    ] = Field(default_factory=dict)


class Anchor(Frozen):
    """Where a region's own frame of reference lies at a frame of a clip, in picture heights.

    A place p of it lies at (x + xx · p_x + xy · p_y, y + yx · p_x + yy · p_y).
    """

    x: Finite = 0.0
    y: Finite = 0.0
    xx: Finite = 1.0
    xy: Finite = 0.0
    yx: Finite = 0.0
    yy: Finite = 1.0

    @property
    def scale(self) -> float:
        """How much larger it is."""
        return sqrt(abs(self.xx * self.yy - self.xy * self.yx))

    @property
    def upright(self) -> bool:
        """Whether it is neither turned nor skewed nor squashed."""
        return self.xy == 0 == self.yx and self.xx == self.yy

    def place(self, x: float, y: float) -> tuple[float, float]:
        """Return where a place of it lies."""
        return self.x + self.xx * x + self.xy * y, self.y + self.yx * x + self.yy * y


#: on a still, and where a region was marked
UNMOVED = Anchor()


class Declared(Frozen):
    """What somebody said of the frames up to ``last``: that what is covered does not show, or that it was looked at.

    ``when`` is a date and time of ISO 8601.
    """

    last: Annotated[int, Field(ge=0, le=LAST_FRAME)]
    says: Literal["absent", "seen"]
    who: Annotated[str, Field(max_length=60)] = ""
    when: Annotated[str, Field(max_length=40)] = ""


class Region(Frozen):
    """A *where* with a name of its own, kept on the shelf.

    ``band`` is where its edge is resolved anew from the picture; ``refine`` is what is done to the matte after that;
    ``removed`` are its islands that are taken away and its holes that are filled. With a ``track`` it goes along with
    what moves in the clip: what its parts say is how they stand at the track's reference frame. ``covers`` is what was
    declared of frames, by the first of them, where a pass must cover it.
    """

    id: Id
    name: Name
    parts: Annotated[tuple[Part, ...], Field(max_length=200)] = ()
    band: Annotated[tuple[Stroke, ...], Field(max_length=MAX_STROKES)] = ()
    refine: ParameterValues = Field(default_factory=dict)
    removed: Annotated[tuple[Component, ...], Field(max_length=500)] = ()
    track: Track | None = None
    covers: Annotated[dict[Frame, Declared], Field(max_length=MAX_KEYS)] = Field(default_factory=dict)
    #: only of a sheet as it stands at a frame; what is kept has none
    anchor: SkipJsonSchema[Anchor] = Field(default=UNMOVED, exclude=True)


class Span(Frozen):
    """The frames in which a pass acts; over ``fade_in`` of them it comes, over ``fade_out`` it goes."""

    first: Annotated[int, Field(ge=0, le=LAST_FRAME)] = 0
    last: Annotated[int, Field(ge=0, le=LAST_FRAME)] = LAST_FRAME
    fade_in: Annotated[int, Field(ge=0, le=100_000)] = 0
    fade_out: Annotated[int, Field(ge=0, le=100_000)] = 0


class Pass(Frozen):
    """A region, a treatment inside it, a treatment outside it, and how much.

    ``region`` None is the whole picture. What conceals in a pass that ``must_cover`` does so at full strength over the
    whole of its side, whatever softness, strength or mix say. ``span`` None is the whole length of a clip; ``keys`` are
    of its strength and mix.
    """

    id: Id
    name: Name
    region: Id | None = None
    on: bool = True
    strength: Annotated[Finite, Field(ge=0, le=2)] = 1.0
    mix: Annotated[Finite, Field(ge=0, le=1)] = 1.0
    inside: Treatment = Field(default_factory=dict)
    outside: Treatment = Field(default_factory=dict)
    must_cover: bool = True
    span: Span | None = None
    keys: dict[Literal["strength", "mix"], Keys] = Field(default_factory=dict)


class Sheet(Frozen):
    """What is done to a shot: the shelf of regions, and the passes in order."""

    version: Literal[2] = 2
    regions: Annotated[tuple[Region, ...], Field(max_length=200)] = ()
    passes: Annotated[tuple[Pass, ...], Field(max_length=200)] = ()

    @model_validator(mode="before")
    @classmethod
    def _in_the_present_version(cls, data: Any) -> Any:
        older = isinstance(data, dict) and data.get("version", VERSION) in range(1, VERSION)
        return migrate(data) if older else data

    def region(self, id: str | None) -> Region | None:
        """Return the region called ``id``, or None for the whole picture."""
        return next((region for region in self.regions if region.id == id), None)


#: nothing is done
EMPTY_SHEET = Sheet()
