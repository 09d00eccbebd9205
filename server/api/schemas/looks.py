"""What goes in and out of the API about looks and passes of the project."""

from typing import Any

from ninja import Field, Schema

from calado.sheet.models import Sheet, Treatment
from server.api.schemas.common import DescriptionOut, ShotAddress


class LookOut(Schema):
    """A kept look, with its passes in words."""

    id: str
    name: str
    says: str


class TakeIn(Schema):
    """Passes of a draft, and the name they are to have as a look."""

    passes: list[str] = Field(min_length=1, max_length=200)
    name: str = Field("passes", min_length=1, max_length=60)


class LookOnShots(Schema):
    """A look, kept (by its id) or taken just now, and the shots that are to get it."""

    id: str | None = None
    look: dict[str, Any] | None = None
    to: list[ShotAddress] = Field(min_length=1, max_length=500)


class StartOnShots(Schema):
    """A starter, and the shots on each of which it is to begin a pass."""

    starter: str
    level: float | None = Field(
        None, ge=-3, le=-0.1, allow_inf_nan=False, description="stops at the corners that a vignette is brought to"
    )
    shots: list[str] = Field(min_length=1, max_length=60)


class BegunOut(Schema):
    """What was done to a shot, in words, and whether there is a step to take back."""

    shot: str
    says: str
    changed: bool


class MoveIn(Schema):
    """A pass, and the revision that was seen."""

    seen: int
    pass_id: str


class ProjectPassIn(Schema):
    """What is to be changed of a project's pass."""

    on: bool | None = None
    mix: float | None = Field(None, ge=0, le=1, allow_inf_nan=False)
    inside: Treatment | None = None
    outside: Treatment | None = None


class ProjectSheetOut(Schema):
    """The passes that run on every shot, after its own."""

    sheet: Sheet
    told: list[DescriptionOut]
