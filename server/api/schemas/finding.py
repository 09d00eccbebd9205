"""What is asked and answered about faces and lettering along a clip."""

from ninja import Field, Schema

from calado.sheet.models import Sheet
from server.api.schemas.jobs import JobOut
from server.api.schemas.sampling import OfferOut
from server.api.schemas.views import Length


class ThingOut(Schema):
    """A face or a line of lettering along a clip; ``frame`` is where it shows best, ``offer`` what was found there."""

    kind: str
    sure: bool = Field(description="not where most looks at it found nothing")
    frame: int
    seen: int = Field(description="in how many of the frames that were looked at")
    spans: list[list[int]] = Field(description="first and last frame of each run in which it was seen")
    offer: OfferOut


class AlongOut(Schema):
    """What was found along a clip, and the job that looked, none as long as nobody asked for it."""

    job: JobOut | None
    every: int = Field(description="every how many frames were looked at for faces; for lettering every other of these")
    things: list[ThingOut]


class CoveredIn(Schema):
    """The job whose finds are asked for."""

    job: str


class CoveredOut(Schema):
    """Which finds lie whole under covers in the frame where they show best, by their place in the job's list."""

    covered: list[int]


class OnFindsIn(Schema):
    """Which finds of a job regions begin on, by their place in its list; ``conceal``: with a cover over each."""

    job: str
    things: list[int] = Field(min_length=1, max_length=200)
    conceal: bool = True


class ToFollowOut(Schema):
    """A region that goes along with what it lies on, from a frame."""

    region: str
    frame: int


class OnFindsOut(Schema):
    """The draft with what was begun, and what is to be followed."""

    sheet: Sheet
    follows: list[ToFollowOut]


class SquareIn(Schema):
    """The middle and the side of a square, in picture heights, in a frame."""

    frame: int = Field(0, ge=0)
    x: Length
    y: Length
    side: float = Field(..., gt=0.001, le=4)
