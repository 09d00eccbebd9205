"""What a file says of itself besides its pixels: what of it may be copied to another file, told before it is.

What can hold a picture of the source is never copied: thumbnails, maker's notes, XMP packets, text chunks of any name,
anything long or binary. Only attributes of known names and plain values are, and of these the ones that tell where and
with which very camera a picture was taken only when that is wanted.
"""

from dataclasses import dataclass
from pathlib import Path
from typing import Any

import OpenImageIO as oiio

#: where known names begin; Exif's own groups, and IPTC's
_KNOWN = ("Exif:", "GPS:", "IPTC:")
#: known names that stand alone
_PLAIN = {
    "Artist",
    "Copyright",
    "DateTime",
    "DocumentName",
    "ExposureTime",
    "FNumber",
    "HostComputer",
    "ImageDescription",
    "Keywords",
    "Make",
    "Model",
    "ResolutionUnit",
    "Software",
    "XResolution",
    "YResolution",
}
#: within the known groups, what can hold or find a picture or whatever a program likes, or is set anew
_NEVER = (
    "MakerNote",
    "UserComment",
    "Thumbnail",
    "JPEGInterchange",
    "Orientation",
    "PixelXDim",
    "PixelYDim",
    "ColorSpace",
)
#: what tells where, and with which very thing
_TELLS = ("GPS:", "Serial", "OwnerName", "ImageUniqueID", "City", "Sublocation", "Location", "HostComputer")
_UNITS = {"inch": "in", "inches": "in", "in": "in", "centimeter": "cm", "cm": "cm"}
#: characters of a text, and numbers of a list, that are no picture
LONGEST, MOST = 400, 12


@dataclass(frozen=True)
class Fact:
    """Something a file says of itself; ``private``: it tells where, or with which very camera or by whom."""

    name: str
    value: str
    private: bool


def facts_of(path: Path) -> list[Fact]:
    """Return what may be copied from a file, in its order."""
    return [Fact(name, _told(value), _private(name)) for name, _, value in _kept(path)]


def copy_into(spec: oiio.ImageSpec, path: Path, *, private: bool) -> None:
    """Copy what a file says of itself into the description of another, ``private`` facts only if wanted."""
    for name, type_, value in _kept(path):
        if private or not _private(name):
            spec.attribute(name, type_, value)
    # readers of formats name the unit of resolution in their own ways, writers know the shortest
    unit = _UNITS.get(spec.get_string_attribute("ResolutionUnit").lower())
    if unit is not None:
        spec.attribute("ResolutionUnit", unit)


def _kept(path: Path) -> list[tuple[str, Any, Any]]:
    file = oiio.ImageInput.open(str(path))
    if file is None:
        return []
    found = [(each.name, each.type, each.value) for each in file.spec().extra_attribs]
    file.close()
    return [(name, type_, value) for name, type_, value in found if _may(name) and _plain(value)]


def _may(name: str) -> bool:
    return (name in _PLAIN or name.startswith(_KNOWN)) and not any(word in name for word in _NEVER)


def _plain(value: Any) -> bool:
    """Whether a value is a number, a few of them, or a short text that is no data in disguise."""
    if isinstance(value, str):
        return len(value) <= LONGEST and max(map(len, value.split()), default=0) <= LONGEST // 4
    if isinstance(value, int | float):
        return True
    return isinstance(value, tuple | list) and len(value) <= MOST and all(isinstance(n, int | float) for n in value)


def _private(name: str) -> bool:
    return any(word in name for word in _TELLS)


def _told(value: Any) -> str:
    if isinstance(value, tuple | list):
        return " ".join(_told(each) for each in value)
    return f"{value:.6g}" if isinstance(value, float) else str(value)
