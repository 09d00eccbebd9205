"""What goes in and out of the API. The sheet's own models are the core's."""

from datetime import datetime
from typing import Any, Literal

from ninja import Field, Schema

from calado.follow.coverage import State
from calado.sheet.models import MAX_POINTS, MAX_STROKES, Corner, Join, ParameterValues, Sheet, Stroke
from calado.sheet.steps import Step
from server.api.schemas.clips import ClipOut
from server.api.schemas.views import Length

Side = Literal["inside", "outside"]


class Problem(Schema):
    """A refusal (RFC 9457): ``title`` is one sentence, ``code`` is stable."""

    type: str = "about:blank"
    title: str
    status: int
    code: str
    newest: int | None = None
    shot: str | None = None
    said: list[str] | None = None
    theirs: Sheet | None = Field(None, description="after a clash: the newest sheet")
    yours: Sheet | None = Field(None, description="after a clash: what the change would have made of the one seen")


class FoundOut(Schema):
    """What fits a search."""

    starters: list[str]
    adjustments: list[str]
    read_as: str
    first: Literal["starter", "adjustment"] = Field(description="which of the two holds what fits best")


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
    added: datetime
    clip: ClipOut | None = None


class SequenceIn(Schema):
    """Shots of a project in the order in which they are to stand; those not named keep theirs, after them."""

    shots: list[str] = Field(max_length=10_000)


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


class DescriptionOut(Schema):
    """A pass in words."""

    id: str
    tokens: list[TokenOut]


class PartDescriptionOut(Schema):
    """A part of a region in a few words."""

    region: str
    part: str
    says: str


class SnapshotOut(Schema):
    """A revision with a name."""

    id: int
    name: str
    number: int
    created: datetime


class RunOut(Schema):
    """Frames from ``first`` to ``last`` in which a cover stands alike; who declared what of them, and when."""

    first: int
    last: int
    state: State
    declared: Literal["absent", "seen", ""]
    who: str
    when: str


class CoverOut(Schema):
    """In which frames of a clip a region that must be covered is."""

    region: str
    says: str
    open: int = Field(description="in how many frames nobody knows")
    runs: list[RunOut]


class BenchOut(Schema):
    """A shot's newest sheet and where undo and redo lead."""

    shot: str
    revision: int
    sheet: Sheet
    told: list[DescriptionOut]
    parts: list[PartDescriptionOut]
    covers: list[CoverOut]
    undo: str | None
    redo: str | None


class StepIn(Schema):
    """A change made on revision ``seen``."""

    seen: int
    label: str = Field("", max_length=120)
    step: Step


class SavedOut(Schema):
    """The revision that a step became, and where undo and redo lead from there."""

    revision: int
    undo: str | None
    redo: str | None


class SeenIn(Schema):
    """The revision that was seen."""

    seen: int


class DraftOut(Schema):
    """The digest by which a draft is known from now on."""

    draft: str


class ToldOf(Schema):
    """The shot that a draft is of."""

    project: str = ""
    shot: str = ""


class DescribeOut(Schema):
    """A draft in words; on a clip also in which frames its covers hold."""

    told: list[DescriptionOut]
    parts: list[PartDescriptionOut]
    covers: list[CoverOut]


class StartIn(Schema):
    """What to begin on a draft: a starter, a look, a single adjustment, a region, a part of one, a feature of faces.

    ``id`` names the starter, the look, the adjustment, the kind of part or the feature; ``values`` and ``points`` are
    those of a drawn part; ``freehand`` points are a path that a curve is to follow. A ``look`` that is not kept comes
    along itself.
    """

    what: Literal["starter", "adjustment", "region", "part", "look", "feature"]
    id: str
    values: ParameterValues = Field(default_factory=dict)
    points: tuple[Corner, ...] = Field(default_factory=tuple, max_length=MAX_POINTS)
    freehand: bool = False
    strokes: tuple[Stroke, ...] = Field(default_factory=tuple, max_length=MAX_STROKES)
    side: Side | None = Field(None, description="of a single adjustment; by default the one where it is usual")
    region: str | None = None
    join: Join = "add"
    look: dict[str, Any] | None = None
    faces: list[int] = Field(
        default_factory=list,
        max_length=200,
        description="of a feature: which of the faces found, counted from 0; by default all seen closely",
    )


class StartOut(Schema):
    """The draft with what was begun, and its id."""

    sheet: Sheet
    id: str
    #: of a clip, the regions that lie on what moves and are to be followed
    follows: list[str] = []


class RegionIn(Schema):
    """A region of a draft."""

    region: str


class ShotAddress(Schema):
    """Where a shot is."""

    project: str
    shot: str


class PixelIn(Schema):
    """A place on a draft, in full-size pixels."""

    x: float = Field(ge=0, allow_inf_nan=False)
    y: float = Field(ge=0, allow_inf_nan=False)


class LyingOut(Schema):
    """What lies there: a pass with its side and first adjustment, or a region on which no pass works."""

    pass_id: str | None
    side: Side | None
    adjustment: str | None
    region: str | None


class MatteValueIn(Schema):
    """A place, in full-size pixels."""

    region: str
    x: Length
    y: Length


class MatteValueOut(Schema):
    """The matte there."""

    value: float
