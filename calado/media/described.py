"""The colours of a still as its file describes them, in one of our spaces.

An ICC profile counts, else what the format itself says: of a PNG file its chunks, of an OpenEXR file its primaries, of
others Exif's colour space; a file that says nothing is sRGB, a float one the light of it.

References
----------
ITU-H273 for the numbers of a cICP chunk. CIPA-DC009: an index of R03 stands for opRGB.
"""

import struct
import warnings
from pathlib import Path
from typing import TypeAlias

import numpy as np
import OpenImageIO as oiio
from PIL import Image

from calado.colour import transfer
from calado.colour.spaces import BT2020, BT2020_HIGH, DISPLAY_P3, OPRGB, SRGB, STILL_SPACES, ColourSpace
from calado.colour.transfer import Transfer
from calado.errors import MediaError
from calado.media.png import PngColour, png_colour
from calado.media.profiles import Samples, grey_signal, into_ours, is_grey, profile_by, space_of

#: samples, their space, and sentences on what had to be changed
Told: TypeAlias = tuple[Samples, ColourSpace, list[str]]

#: largest light kept from float files: what half precision can hold
BRIGHTEST = 65504.0
#: primaries in a file count as those of a space within this
NEAR = 1e-3
#: where Exif keeps that index
INTEROPERABILITY = 0xA005
_PRIMARIES = {1: SRGB, 9: BT2020, 12: DISPLAY_P3}
_LINEAR = Transfer("linear", np.asarray, np.asarray)
_TRANSFERS = {
    1: transfer.BT2020,
    6: transfer.BT2020,
    8: _LINEAR,
    13: transfer.SRGB,
    14: transfer.BT2020,
    15: transfer.BT2020,
    16: transfer.PQ,
    18: transfer.HLG,
}
_HIGH = (16, 18)
UNKNOWN = "What it says of its colours is nothing that Calado knows; they were taken as those of sRGB."


def in_space(samples: Samples, spec: oiio.ImageSpec, path: Path, format: str) -> Told:
    """Return the pixels of a file, shape (H, W, 3), as codes of one of our spaces or as light, uint16 or uint8 kept.

    Raises
    ------
    MediaError
        when a profile is damaged or describes no RGB.
    """
    floating = samples.dtype.kind == "f"
    notes: list[str] = []
    if floating:
        clean = np.nan_to_num(samples.astype(np.float32), nan=0.0, posinf=BRIGHTEST, neginf=-BRIGHTEST)
        if not np.array_equal(clean, samples):
            notes.append("Its values that were no numbers were made black.")
        samples = clean
    said = png_colour(path) if format == "PNG" else PngColour()
    profile = _profile(spec, said)
    if said.cicp is not None:
        made = _by_numbers(samples, said.cicp)
    elif profile:
        made = _by_profile(samples, profile)
    elif format == "OpenEXR":
        made = _by_primaries(samples, spec)
    else:
        made = samples, SRGB if floating else _by_exif(path), []
    return made[0], made[1], notes + made[2]


def _profile(spec: oiio.ImageSpec, said: PngColour) -> bytes:
    if said.power is not None:
        return profile_by(said.white, said.primaries, said.power)
    found = spec.getattribute("ICCProfile")
    return b"" if found is None else np.asarray(found).astype(np.uint8).tobytes()


def _by_profile(samples: Samples, profile: bytes) -> Told:
    if is_grey(profile):
        signal = grey_signal(samples, profile)
        if signal is None:
            return _decoded(samples, SRGB), SRGB, []
        return _decoded(signal, SRGB), SRGB, ["Its greys were converted to those of sRGB."]
    space = space_of(profile)
    if space is not None:
        return _decoded(samples, space), space, []
    made, space = into_ours(samples, profile)
    return made, space, [f"Its colours were converted to {space.name}."]


def _decoded(samples: Samples, space: ColourSpace) -> Samples:
    """Return codes as they are; floats of a profile are signal, and become light."""
    return space.transfer.decode(samples).astype(np.float32) if samples.dtype.kind == "f" else samples


def _by_numbers(samples: Samples, cicp: tuple[int, int, int, int]) -> Told:
    """Return samples whose primaries, transfer and range a cICP chunk names."""
    space, curve = _PRIMARIES.get(cicp[0]), _TRANSFERS.get(cicp[1])
    if space is None or curve is None or cicp[2] != 0 or samples.dtype.kind == "f":
        return samples, SRGB, [UNKNOWN]
    if cicp[3] and curve is space.transfer:
        return samples, space, []
    top = np.iinfo(samples.dtype).max
    signal = samples.astype(np.float32) / np.float32(top)
    if not cicp[3]:  # 16 to 235 of 8 bits, and as many steps more of 16
        signal = (signal * np.float32(top) / np.float32((top + 1) / 256) - 16) / 219
    light = curve.decode(signal).astype(np.float32)
    if cicp[1] in _HIGH:
        turned = light if space is BT2020 else light @ space.matrix_to(BT2020).T.astype(np.float32)
        return turned, BT2020_HIGH, []
    codes = np.rint(np.clip(space.transfer.encode(light), 0, 1) * 65535).astype(np.uint16)
    return codes, space, []


def _by_primaries(samples: Samples, spec: oiio.ImageSpec) -> Told:
    """Return light in the space whose primaries and white an OpenEXR file names, sRGB's where it names none."""
    found = spec.getattribute("chromaticities")
    if found is None:
        return samples, SRGB, []
    for space in STILL_SPACES.values():
        if np.allclose(found, [*space.red, *space.green, *space.blue, *space.white], atol=NEAR):
            return samples, space, []
    points = [(float(x), float(y)) for x, y in np.reshape(found, (4, 2))]
    try:
        made, space = into_ours(samples, profile_by(points[3], tuple(points[:3]), 1.0))
    except MediaError:
        return samples, SRGB, [UNKNOWN]
    return made, space, [f"Its colours were converted to {space.name}."]


def _by_exif(path: Path) -> ColourSpace:
    """Return what Exif's index of interoperability stands for; sRGB where there is none."""
    try:
        with warnings.catch_warnings(action="ignore"), Image.open(path) as picture:
            index = picture.getexif().get_ifd(INTEROPERABILITY).get(1)
    except (OSError, ValueError, SyntaxError, KeyError, struct.error, Image.DecompressionBombError):
        return SRGB
    return OPRGB if index == "R03" else SRGB
