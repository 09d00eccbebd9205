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
