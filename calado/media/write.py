"""Writing a still row by row, under a temporary name until it is whole.

Metadata is left out unless asked for; then what the source says of itself is copied, without anything that could hold
a picture of it (:mod:`calado.media.metadata`), and with the orientation the pixels now have.
"""

import os
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Literal

import numpy as np
import OpenImageIO as oiio
from numpy.typing import NDArray

from calado.colour.spaces import ColourSpace
from calado.errors import MediaError
from calado.media.formats import FORMATS, Format
from calado.media.metadata import copy_into
from calado.media.profiles import profile_of

#: grey alone, colour, or colour with a straight fourth channel
Channels = Literal["grey", "colour", "alpha"]
_COUNT: dict[Channels, int] = {"grey": 1, "colour": 3, "alpha": 4}
#: libpng's PNG_FILTER_SUB
_PNG_SUB = 0x10


@dataclass(frozen=True)
class Target:
    """What file to write. ``quality`` (1…100) is JPEG's; ``keep_metadata_of`` names the source to copy from.

    ``keep_private`` copies where and with which very camera it was taken, too. ``cuts_off`` ends light at white channel
    by channel, instead of leading it there with its hue kept.
    """

    format: Format
    bits: int = 8
    quality: int = 92
    keep_metadata_of: Path | None = None
    keep_private: bool = False
    cuts_off: bool = False

    def __post_init__(self) -> None:
        """Refuse what the format cannot hold."""
        if self.bits not in FORMATS[self.format].bits:
            allowed = " or ".join(str(bits) for bits in sorted(FORMATS[self.format].bits))
            raise MediaError(f"{FORMATS[self.format].name} holds {allowed} bits, got {self.bits}.", code="media.bits")
        if not 1 <= self.quality <= 100:
            raise MediaError(f"Quality lies between 1 and 100, got {self.quality}.", code="media.quality")

    @property
    def extension(self) -> str:
        """The file name's ending, without the dot."""
        return FORMATS[self.format].suffixes[0]


class RowWriter:
    """Takes rows of codes, top to bottom."""

    def __init__(self, file: oiio.ImageOutput) -> None:
        self._file = file
        self._row = 0

    def write(self, codes: NDArray[np.generic]) -> None:
        """Write rows, shape (rows, W, 3), or 4 with alpha, or 1 of grey: codes, for OpenEXR light and shares 0…1."""
        last = self._row + codes.shape[0]
        if not self._file.write_scanlines(self._row, last, 0, np.ascontiguousarray(codes)):
            raise MediaError(f"The file could not be written: {self._file.geterror()}.", code="media.write")
        self._row = last


@contextmanager
def still_writer(
    path: Path, width: int, height: int, space: ColourSpace, target: Target, *, channels: Channels = "colour"
) -> Iterator[RowWriter]:
    """Yield a writer of rows; the file gets its name when all rows are written, and none if anything fails.

    ``channels`` tells what a row has for each pixel.
    """
    part = path.with_name(f".{path.stem}.part.{target.extension}")
    spec = _spec(width, height, space, target, channels=_COUNT[channels])
    file = oiio.ImageOutput.create(str(part))
    if file is None or not file.open(str(part), spec):
        raise MediaError(f"The file could not be begun: {oiio.geterror()}.", code="media.write")
    try:
        yield RowWriter(file)
        if not file.close():
            raise MediaError(f"The file could not be finished: {file.geterror()}.", code="media.write")
        with part.open("rb") as written:
            os.fsync(written.fileno())
        part.replace(path)
    except BaseException:
        file.close()
        part.unlink(missing_ok=True)
        raise


def _spec(width: int, height: int, space: ColourSpace, target: Target, *, channels: int) -> oiio.ImageSpec:
    types = {8: "uint8", 16: "uint16"} if target.format != "exr" else {16: "half", 32: "float"}
    spec = oiio.ImageSpec(width, height, channels, types[target.bits])
    if channels == 4 and target.format != "exr":
        # the colours are as they are, not multiplied by their alpha
        spec.attribute("oiio:UnassociatedAlpha", 1)
    if target.keep_metadata_of is not None:
        copy_into(spec, target.keep_metadata_of, private=target.keep_private)
    if not spec.getattribute("DateTime"):
        # TIFF and OpenEXR would get the time of writing: the same picture has the same bytes on every day
        spec.attribute("DateTime", "")
    if channels == 1:  # a share is no colour
        spec.attribute("Orientation", 1)
        return spec
    if target.format == "exr":
        corners = [each for xy in (space.red, space.green, space.blue, space.white) for each in xy]
        spec.attribute("chromaticities", oiio.TypeDesc("float[8]"), corners)
        spec.attribute("Compression", "zip")
        return spec
    profile = np.frombuffer(profile_of(space), np.uint8)
    spec.attribute("ICCProfile", oiio.TypeDesc(f"uint8[{profile.size}]"), profile)
    if target.format == "jpeg":
        spec.attribute("Compression", f"jpeg:{target.quality}")
        spec.attribute("jpeg:subsampling", "4:4:4")
    elif target.format == "png":
        # measured: with the filter “sub” a third of the time of libpng's own choice, and as small
        spec.attribute("png:filter", _PNG_SUB)
        spec.attribute("png:compressionLevel", 1 if target.bits == 16 else 3)
    else:
        spec.attribute("Compression", "zip")
        _resolved(spec)
    spec.attribute("Orientation", 1)
    return spec


def _resolved(spec: oiio.ImageSpec) -> None:
    """Say how many pixels an inch has where the source doesn't: left out, a TIFF file would have one."""
    if spec.getattribute("XResolution") is None:
        for name, value in (("XResolution", 72.0), ("YResolution", 72.0), ("ResolutionUnit", "in")):
            spec.attribute(name, value)
