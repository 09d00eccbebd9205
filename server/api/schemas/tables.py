"""What goes in and out of the API about tables of colour."""

from typing import Literal

from ninja import Field, Schema

from calado.sheet.models import Finite


class TableOut(Schema):
    """An imported table: the name by which an adjustment stands for it, what it is called, and what it is."""

    file: str
    name: str
    note: str


class CorrectionOut(Schema):
    """A correction of a colour decision list, as values of the adjustment."""

    name: str
    values: dict[str, float]


class CorrectionIn(Schema):
    """Values of the adjustment, and the form they are to be written in."""

    name: str = Field("correction", min_length=1, max_length=60)
    values: dict[str, Finite]
    form: Literal["cc", "ccc", "cdl"] = "cc"
