"""What goes in and out of the API. The sheet's own models are the core's."""

from datetime import datetime
from typing import Any, Literal

from ninja import Field, Schema

from calado.render.views import Density, Ground, Thread, ViewName
from calado.sheet.models import MAX_POINTS, Corner, Join, ParameterValues, Sheet

Side = Literal["inside", "outside"]


class Problem(Schema):
    """A refusal (RFC 9457): ``title`` is one sentence, ``code`` is stable."""

    type: str = "about:blank"
    title: str
    status: int
    code: str
    newest: int | None = None
    shot: str | None = None


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
    parameters: list[ParameterOut]


class PartKindOut(Schema):
    """A kind of part as declared; ``scribbled`` kinds can be drawn by a line round a thing."""

    id: str
    name: str
    glyph: str
    handles: str
    says: str
    scribbled: bool
    parameters: list[ParameterOut]


class StarterOut(Schema):
    """A starter in words."""

    id: str
    name: str
    says: str


class CatalogueOut(Schema):
    """All that is declared."""

    groups: list[str]
    adjustments: list[AdjustmentOut]
    parts: list[PartKindOut]
    refine: list[ParameterOut]
    starters: list[StarterOut]


class FoundOut(Schema):
    """What fits a search."""

    starters: list[str]
    adjustments: list[str]
    read_as: str


class NameIn(Schema):
    """A name."""

    name: str = Field(min_length=1, max_length=80)


class ProjectOut(Schema):
    """A project in the list."""

    id: str
    name: str
    shots: int
    covers: list[str]
    created: datetime


class ShotOut(Schema):
    """A shot on the contact sheet."""

    id: str
    name: str
    width: int
    height: int
    format: str
    bits: int
    space: str
    note: str
    head: int
    passes: list[str]


class ProjectDetailOut(Schema):
    """A project and its shots."""

    id: str
    name: str
    shots: list[ShotOut]


class TokenOut(Schema):
    """A piece of a sentence."""

    kind: Literal["side", "where", "what", "text"]
    text: str
    value: str
    glyph: str
    side: Side | None
    adjustment: str


class ToldOut(Schema):
    """A pass in words."""

    id: str
    tokens: list[TokenOut]


class SnapshotOut(Schema):
    """A revision with a name."""

    id: int
    name: str
    number: int
    created: datetime


class BenchOut(Schema):
    """A shot's newest sheet and where undo and redo lead."""

    shot: str
    revision: int
    sheet: Sheet
    told: list[ToldOut]
    undo: str | None
    redo: str | None


class StepIn(Schema):
    """A change made on revision ``seen``: a JSON Patch (RFC 6902)."""

    seen: int
    label: str = Field("", max_length=120)
    patch: list[dict[str, Any]]


class SeenIn(Schema):
    """The revision that was seen."""

    seen: int


class SheetIn(Schema):
    """A draft of a sheet."""

    sheet: dict[str, Any]


class DescribeOut(Schema):
    """A draft in words."""

    told: list[ToldOut]


class StartIn(Schema):
    """What to begin on a draft: a starter, a look, a single adjustment, a region, or a part of a region.

    ``id`` names the starter, the look, the adjustment or the kind of part; ``values`` and ``points`` are those of a
    drawn part;
    ``freehand`` points are a path that a curve is to follow. A ``look`` that is not kept comes along itself.
    """

    sheet: dict[str, Any]
    what: Literal["starter", "adjustment", "region", "part", "look"]
    id: str
    values: ParameterValues = Field(default_factory=dict)
    points: tuple[Corner, ...] = Field(default_factory=tuple, max_length=MAX_POINTS)
    freehand: bool = False
    side: Side = "inside"
    region: str | None = None
    join: Join = "add"
    look: dict[str, Any] | None = None


class StartOut(Schema):
    """The draft with what was begun, and its id."""

    sheet: Sheet
    id: str


class PreviewIn(Schema):
    """A view of a draft: ``rectangle`` (left, top, width, height) in full-size pixels."""

    sheet: dict[str, Any]
    view: ViewName = "picture"
    rectangle: tuple[float, float, float, float]
    scale: float
    region: str | None = None
    ground: Ground = "grey"
    thread: Thread = "auto"
    density: Density = "even"
    lattice_inside: bool = False
    exaggerate: str | None = None
    draft: bool = False
    format: Literal["jpeg", "png"] = "jpeg"


class RegionIn(Schema):
    """A region of a draft."""

    sheet: dict[str, Any]
    region: str


class MirrorIn(RegionIn):
    """What is to be mirrored: the region, or one part of it."""

    part: str | None = None


class FollowIn(RegionIn):
    """A curve that follows the path of a pen, and within which distance, in picture heights."""

    part: str
    tolerance: float = Field(gt=0, le=0.05, allow_inf_nan=False)


class SvgIn(Schema):
    """Outlines for a new region, or to join one."""

    sheet: dict[str, Any]
    svg: str
    name: str = Field("outlines", min_length=1, max_length=60)
    region: str | None = None
    join: Join = "add"


class ImportedOut(Schema):
    """An imported matte: the name by which a part stands for it, its size, and what it was taken from."""

    file: str
    width: int
    height: int
    note: str


class PieceOut(Schema):
    """An island or a hole: a place in it, its share of the frame, its box, all in picture heights."""

    kind: Literal["island", "hole"]
    x: float
    y: float
    area: float
    box: tuple[float, float, float, float]
    dropped: bool


class PiecesOut(Schema):
    """The largest pieces of a region's matte, and how many smaller ones there are."""

    pieces: list[PieceOut]
    more: int


class SoftnessOut(Schema):
    """How soft the picture's edge is, in full-size pixels, and how far to grow, in picture heights; in words."""

    sigma_px: float | None
    grow: float
    says: str


class RibbonIn(RegionIn):
    """Which part of the edge ribbon is wanted; lengths in columns of the strip."""

    start: int = Field(0, ge=0)
    width: int
    half: int
    zoom: float = 2.0
    of: Literal["picture", "matte", "source"] = "picture"


class EdgeIn(RegionIn):
    """A place near an edge, in full-size pixels, and how far to look."""

    x: float
    y: float
    reach: float = Field(24.0, gt=0, le=400)


class EdgeOut(Schema):
    """A profile across the edge, from inside to outside."""

    x: float
    y: float
    reach: float
    matte: list[float]
    before: list[float]
    after: list[float]


class ShotAddress(Schema):
    """Where a shot is."""

    project: str
    shot: str


class CopyRegionIn(RegionIn):
    """The shots that are to get a copy of a region."""

    to: list[ShotAddress] = Field(min_length=1, max_length=200)


class CopiedOut(Schema):
    """A shot that got it, and the copy's name there."""

    project: str
    shot: str
    name: str


class MatteValueIn(Schema):
    """A place, in full-size pixels."""

    sheet: dict[str, Any]
    region: str
    x: float
    y: float


class MatteValueOut(Schema):
    """The matte there."""

    value: float


class ExportIn(Schema):
    """What to write."""

    shots: list[str] = Field(min_length=1, max_length=500)
    format: Literal["png", "jpeg", "tiff"]
    bits: int = 8
    quality: int = 92
    keep_metadata: bool = False


class ExportOut(Schema):
    """How far an export is."""

    id: str
    shot: str
    shot_name: str
    revision: int
    format: str
    bits: int
    state: str
    progress: float
    seconds_left: float | None
    problem: str
    file_name: str
    size_bytes: int
    created: datetime
