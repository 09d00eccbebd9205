"""What is answered about what takes long and is no export."""

from datetime import datetime

from ninja import Field, Schema

from calado.sheet.models import Track


class SplitIn(Schema):
    """Before which frames a clip is split."""

    at: list[int] = Field(min_length=1, max_length=200)


class JobOut(Schema):
    """How far a job is; ``shot`` is the one that came of it, or that was there already."""

    id: str
    kind: str
    name: str
    state: str
    progress: float
    problem: str
    shot: str | None
    cuts: list[int] | None = Field(description="frames with which another shot begins, of a job that looked for them")
    region: str | None = Field(description="of a job that followed, the region")
    of: str | None = Field(description="of a job that follows, the shot")
    track: Track | None = Field(description="of a job that followed, what the region then goes along with")
    created: datetime
