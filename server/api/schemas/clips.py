"""What is asked and answered about clips."""

from ninja import Field, Schema

from calado.follow.motion import Followed
from calado.media.clips.formats import ClipFormatId
from calado.media.clips.way import Asked
from calado.sheet.models import Corner, Fix, ParameterValues
from server.api.schemas.views import Length, Viewed


class ClipOut(Schema):
    """What makes a shot a clip."""

    frames: int
    rate: str = Field(description="frames a second, as a fraction")
    seconds: float
    base: int = Field(description="whole frames in a second, in which time is counted")
    sound: bool
    timecode: str
    poster: int
    piece: bool = Field(description="it shares its file with others, of which it is a part")
    file: str = Field(description="what names its file")


class OwnOut(Schema):
    """A part as it stands at the reference frame of the motion that its region goes along with."""

    values: ParameterValues
    points: list[Corner]


class MovedOut(Schema):
    """A part as it stands at a frame."""

    region: str
    part: str
    values: ParameterValues
    points: list[Corner]
    keyed: list[int] = Field(description="the frames at which it has a key, in order")
    own: OwnOut | None = Field(
        None, description="of a region that follows, away from where it was marked, how that was"
    )
    fix: Fix | None = Field(None, description="of a region that follows, by how much it is corrected at this frame")


class MotionIn(Schema):
    """What may happen to what is followed, and over which frames; none: the whole length."""

    motion: Asked = "any"
    first: int = Field(0, ge=0)
    last: int | None = Field(None, ge=0)


class MotionOut(Schema):
    """How sure a motion is, frame by frame from ``first`` on; held frames are those in which it was not found."""

    at: int
    kind: Followed
    marked: dict[int, int] = Field(description="by how many marks a frame was corrected before it was cut out")
    first: int
    confidence: list[float]
    held: list[int]
    doubtful: list[int] = Field(description="frames of the clip in which the place is likely to be off")
    weakest: list[int] = Field(description="the ten frames in which it is least sure, in order")


class StopOut(Schema):
    """A frame on the way of a region: the side of what is shown round it, in picture heights, and how sure it is."""

    frame: int
    side: float
    sure: float
    fix: Fix


class LoopOut(Schema):
    """Frames that are played round a region that follows, how sure it is in each, and how many stand in a row."""

    frames: list[int]
    sure: list[float]
    row: int


class StripIn(Schema):
    """A row of thumbnails."""

    count: int = Field(..., ge=1, le=60)
    height: int = Field(41, ge=16, le=200)
    width: int = Field(72, ge=16, le=400, description="of each")


class PlayedIn(Viewed):
    """Which frames are to be played, and how they are looked at; never larger than they are."""

    first: int = Field(0, ge=0)
    last: int = Field(..., ge=0)
    step: int = Field(1, ge=1, le=8)


class RenderedIn(Viewed):
    """How frames that were rendered for playing are looked at."""


class CodecIn(Schema):
    """A format and its quality, and the middle and the sides of what is to be seen, in full-size pixels."""

    format: ClipFormatId
    quality: int | None = None
    x: Length
    y: Length
    width: int = Field(276, ge=16, le=2000)
    height: int = Field(220, ge=16, le=2000)
