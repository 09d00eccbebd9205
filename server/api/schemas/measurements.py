"""What goes in and out of the API about what a draft does to the picture."""

from typing import Literal

from ninja import Field, Schema

from calado.sheet.models import Sheet
from server.api.schemas.common import Side


class MeterIn(Schema):
    """A pass of a draft, or one adjustment of it."""

    pass_id: str
    side: Side | None = None
    adjustment: str = ""


class MeterOut(Schema):
    """How much it changes: shares of the picture, mean ΔE₀₀, and a sentence; what a cover leaves, and the surround."""

    area: float
    mean: float
    visible: bool
    clipped: float
    crushed: float
    says: str
    concealed: str = ""
    weak: bool = False
    corner: str = ""
    spill: str = ""
    spill_at: list[float] | None = None
    spill_grow: float = 0.0


class ScopeIn(Schema):
    """Which scope of which picture; of a region's inside if one is named."""

    scope: Literal["waveform", "parade", "vectorscope"]
    of: Literal["picture", "source"] = "picture"
    region: str | None = None
    width: int = Field(256, ge=32, le=1024)
    height: int = Field(128, ge=32, le=512)


class HistogramIn(Schema):
    """Which picture; of a region's inside if one is named. ``until`` leaves out a pass and what follows."""

    of: Literal["picture", "source"] = "picture"
    region: str | None = None
    until: str | None = None


class HistogramOut(Schema):
    """Shares of pixels by 256 levels of the signal."""

    luma: list[float]
    red: list[float]
    green: list[float]
    blue: list[float]


class FindingOut(Schema):
    """Something to point out; ``mended`` is the sheet on which it is mended, and ``mend`` says how."""

    kind: str
    says: str
    pass_id: str | None
    region_id: str | None
    rectangle: list[float] | None
    mend: str
    mended: Sheet | None
