"""What goes in and out of the API about regions: mirrors, copies, outlines, mattes, pieces, edges."""

from typing import Literal

from ninja import Field, Schema

from calado.sheet.models import Join
from server.api.schemas.common import RegionIn, ShotAddress
from server.api.schemas.views import Length


class MirrorIn(RegionIn):
    """What is to be mirrored: the region, or one part of it."""

    part: str | None = None


class FollowIn(RegionIn):
    """A curve that follows the path of a pen, and within which distance, in picture heights."""

    part: str
    tolerance: float = Field(gt=0, le=0.05, allow_inf_nan=False)


class SvgIn(Schema):
    """Outlines for a new region, or to join one."""

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


class ComponentOut(Schema):
    """An island or a hole: a place in it, its share of the frame, its box, all in picture heights."""

    kind: Literal["island", "hole"]
    x: float
    y: float
    area: float
    box: tuple[float, float, float, float]
    removed: bool


class ComponentsOut(Schema):
    """The largest pieces of a region's matte, and how many smaller ones there are."""

    pieces: list[ComponentOut]
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
    zoom: Length = 2.0
    of: Literal["picture", "matte", "source", "cutout"] = "picture"


class EdgeIn(RegionIn):
    """A place near an edge, in full-size pixels, and how far to look."""

    x: Length
    y: Length
    reach: float = Field(24.0, gt=0, le=400)


class EdgeOut(Schema):
    """A profile across the edge, from inside to outside."""

    x: float
    y: float
    reach: float
    matte: list[float]
    before: list[float]
    after: list[float]


class CopyRegionIn(RegionIn):
    """The shots that are to get a copy of a region."""

    to: list[ShotAddress] = Field(min_length=1, max_length=200)


class CopiedOut(Schema):
    """A shot that got it, and the copy's name there."""

    project: str
    shot: str
    name: str
