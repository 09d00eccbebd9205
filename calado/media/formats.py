"""What is written: every format once, with what it can hold."""

from dataclasses import dataclass
from typing import Literal

Format = Literal["png", "jpeg", "tiff", "exr"]
#: a finished picture, it beside its source, a region's matte, a region cut out
What = Literal["picture", "pair", "matte", "cutout"]


@dataclass(frozen=True)
class FileFormat:
    """A format: its endings, the first of which is written; bits a channel, the first of which is usual; what it holds.

    ``offered`` are the bits that the bench offers; ``lossy`` ones have a quality.
    """

    id: Format
    name: str
    suffixes: tuple[str, ...]
    bits: tuple[int, ...]
    offered: tuple[int, ...]
    holds: tuple[What, ...]
    lossy: bool = False


_ALL: tuple[What, ...] = ("picture", "pair", "matte", "cutout")
FORMATS: dict[Format, FileFormat] = {
    each.id: each
    for each in (
        FileFormat("png", "PNG", ("png",), (16, 8), (16, 8), _ALL),
        # a matte would be blurred by it, and it has no alpha
        FileFormat("jpeg", "JPEG", ("jpg", "jpeg"), (8,), (8,), ("picture", "pair"), lossy=True),
        FileFormat("tiff", "TIFF", ("tif", "tiff"), (16, 8), (16,), _ALL),
        # linear light, as its standard has it: what is brighter than white is kept
        FileFormat("exr", "OpenEXR", ("exr",), (16, 32), (16,), ("picture", "matte", "cutout")),
    )
}


def format_of(suffix: str) -> FileFormat | None:
    """Return the format of a file name's ending, without its dot, or None."""
    return next((each for each in FORMATS.values() if suffix.lower() in each.suffixes), None)


def names(what: What) -> str:
    """Return the formats that can hold something, as a person lists them."""
    *early, last = (each.name for each in FORMATS.values() if what in each.holds)
    return f"{', '.join(early)} or {last}" if early else last
