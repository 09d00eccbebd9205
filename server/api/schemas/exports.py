"""What is asked and answered about exports."""

from datetime import datetime

from ninja import Field, Schema

from calado.media.clips.formats import ClipFormatId
from calado.media.formats import Format, What
from server.api.schemas.common import RunOut


class ClipExportIn(Schema):
    """How clips are written; frames None: the whole length."""

    format: ClipFormatId | Format = Field("h264", description="of the clip, or of the pictures that are numbered")
    quality: int | None = Field(None, description="the encoder's number; none: the usual one")
    sound: bool = True
    first: int | None = Field(None, ge=0)
    last: int | None = Field(None, ge=0)
    joined: bool = Field(False, description="all in one file, in the order in which they are named")


class ExportIn(Schema):
    """What to write."""

    shots: list[str] = Field(min_length=1, max_length=500)
    format: Format
    bits: int = 8
    what: What = "picture"
    region: str = Field("", max_length=40)
    longer_side: int | None = Field(None, ge=16, le=100_000, description="of a picture, in pixels; none: full size")
    quality: int = 92
    clip: ClipExportIn | None = Field(None, description="of clips, in place of format, bits and quality")
    keep_metadata: bool = False
    keep_private: bool = False
    cuts_off: bool = Field(False, description="of a still: light ends at white channel by channel, its hue not kept")
    even_so: bool = Field(False, description="although a cover lets something through; that is noted")


class FactOut(Schema):
    """Something that a file says of itself, and that would be copied."""

    name: str
    value: str
    private: bool = Field(description="tells where, with which very camera, or by whom")


class ShownOut(Schema):
    """A frame of the file that is shown, by its number in the source, and how sure a cover is to lie right there."""

    frame: int
    confidence: float | None


class CoverReportOut(Schema):
    """A cover: how it is made, where it stands, in which frames it holds, what is left under it."""

    name: str
    region: str
    method: str
    stands: str
    says: str
    left: str
    runs: list[RunOut]
    shown: list[ShownOut]


class WrittenOut(Schema):
    """The file that was written."""

    file: str
    size_bytes: int
    sha256: str
    when: str
    version: str
    revision: int


class OfOut(Schema):
    """What it was written of."""

    clip: str
    sha256: str
    frames: int
    first: int
    last: int


class ReportOut(Schema):
    """What is told of an export that conceals to whoever must answer for it."""

    written: WrittenOut
    of: OfOut
    covers: list[CoverReportOut]
    sentences: list[str]
    findings: list[str]
    accepted: list[str]


class DoneOut(Schema):
    """A pass: what it does in words, how much of a picture it changes, and what else than light it does."""

    name: str
    says: str
    share: float
    kinds: list[str]


class StatementOut(Schema):
    """What an export changed."""

    written: WrittenOut
    of: OfOut
    done: list[DoneOut]
    share: float
    says: str
    read: str = Field(description="how the shares were read")
    frames: list[int] = Field(description="those that were looked at, of a clip")


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
    says: str = Field(description="about the finished file")
    accepted: str
    stated: bool = Field(description="whether there is a statement of what it changed")
    read_back: str = Field(description="of what conceals, what was found when the file was read back")
    good: bool = Field(description="whether nothing was found to be wrong then")
    file_name: str
    size_bytes: int
    created: datetime
