"""Reading a still: what it is by its content, its size before its pixels, its profile and its orientation.

Convention: what is returned stands upright, shape (3, H, W): uint8 or uint16 codes in the space's transfer function, or
float32 linear light. Grey becomes three equal planes. Where a picture is partly transparent its colours are straight,
not multiplied by their alpha, and what is quite transparent has the colour of the nearest that is not: what hides there
is not read, and no blur brings it in.
"""

from dataclasses import dataclass
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import OpenImageIO as oiio

from calado.colour.spaces import ColourSpace
from calado.errors import MediaError
from calado.media.described import in_space
from calado.media.profiles import Samples

#: 150 million pixels of three channels in 16 bits, not packed, and room for what stands beside them
MAX_BYTES = 2**30
MAX_PIXELS = 150_000_000
MIN_SIDE = 8
#: bytes of the decoded picture, as stored; a sound one of 150 million pixels in 16 bits has 900 million
MAX_DECODED = 2**30
#: a progressive JPEG has about ten scans; each goes over the whole picture again (attack: thousands of them)
MAX_SCANS = 100
OPENEXR = "OpenEXR"
_MAGIC = (
    (b"\xff\xd8\xff", "JPEG", "jpg"),
    (b"\x89PNG\r\n\x1a\n", "PNG", "png"),
    (b"II*\x00", "TIFF", "tif"),
    (b"MM\x00*", "TIFF", "tif"),
    # BigTIFF
    (b"II+\x00", "TIFF", "tif"),
    (b"MM\x00+", "TIFF", "tif"),
    (b"v/1\x01", OPENEXR, "exr"),
)
READ_FORMATS = "JPEG, PNG, TIFF, WebP or OpenEXR"


@dataclass(frozen=True)
class Probe:
    """What a file says of itself before its pixels are read."""

    format: str
    extension: str
    width: int
    height: int
    bits: int
    floating: bool
    orientation: int
    channels: int


@dataclass(frozen=True, eq=False)
class Still:
    """An upright picture with its space, and a sentence on anything that had to be changed on the way.

    ``share``, shape (1, H, W), is how much of each pixel is there, in codes as the samples' or 0…1; None: all of all.
    """

    samples: Samples
    space: ColourSpace
    note: str
    share: Samples | None = None


def kind_of(path: Path) -> tuple[str, str]:
    """Return (format, extension) by the first bytes of a file.

    Raises
    ------
    MediaError
        for anything but the formats we read.
    """
    with path.open("rb") as file:
        head = file.read(16)
    if not head:
        raise MediaError("This file is empty. Add it again from where it came.", code="media.empty")
    for magic, name, extension in _MAGIC:
        if head.startswith(magic):
            return name, extension
    if head[:4] == b"RIFF" and head[8:12] == b"WEBP":
        return "WebP", "webp"
    raise MediaError(
        "This file is neither a still nor a clip that Calado reads."
        f" Add a {READ_FORMATS} file, or an MP4, MOV, MKV or WebM.",
        code="media.format",
    )


def probe(path: Path) -> Probe:
    """Return what a file says of itself, refusing what is too big, too small or not a picture.

    Raises
    ------
    MediaError
        with a sentence on what is wrong.
    """
    size = path.stat().st_size
    if size > MAX_BYTES:
        raise MediaError(
            f"This file has {size // 2**20} MB; Calado takes up to {MAX_BYTES // 2**20} MB. Save it smaller.",
            code="media.large",
        )
    name, extension = kind_of(path)
    if name == "JPEG" and path.read_bytes().count(b"\xff\xda") > MAX_SCANS:
        raise MediaError(
            f"This JPEG file goes over its picture more than {MAX_SCANS} times. Save it again and add it again.",
            code="media.costly",
        )
    file = _open(path, name)
    try:
        return _checked(file.spec(), name, extension)
    finally:
        file.close()


def _checked(spec: oiio.ImageSpec, name: str, extension: str) -> Probe:
    width, height = spec.width, spec.height
    if width * height > MAX_PIXELS:
        raise MediaError(
            f"This picture has {width} × {height} pixels; Calado takes up to {MAX_PIXELS // 10**6} million."
            " Save it smaller.",
            code="media.large",
        )
    if min(width, height) < MIN_SIDE:
        raise MediaError(
            f"This picture has {width} × {height} pixels; each side needs at least {MIN_SIDE}.", code="media.small"
        )
    if spec.nchannels not in (1, 2, 3, 4) or spec.depth > 1:
        raise MediaError(
            f"This picture has {spec.nchannels} channels. Save it as grey or RGB and add it again.",
            code="media.channels",
        )
    _refuse_cmyk(spec)
    floating = str(spec.format) in ("half", "float", "double")
    bits = 32 if floating else 8 if str(spec.format) in ("uint8", "int8") else 16
    orientation = spec.get_int_attribute("Orientation", 1)
    if orientation in (5, 6, 7, 8):
        width, height = height, width
    about = Probe(name, extension, width, height, bits, floating, orientation, spec.nchannels)
    if cost_of(about) > MAX_DECODED:
        raise MediaError(
            f"This picture would take {cost_of(about) / 2**30:.1f} GB of memory; Calado takes up to"
            f" {MAX_DECODED / 2**30:.0f} GB. Save it smaller, or in 16 bits.",
            code="media.large",
        )
    return about


def cost_of(about: Probe) -> int:
    """Return the bytes of a picture's pixels as stored."""
    return about.width * about.height * about.channels * about.bits // 8


def _refuse_cmyk(spec: oiio.ImageSpec) -> None:
    described = (
        spec.get_string_attribute("jpeg:ColorSpace")
        + spec.get_string_attribute("tiff:ColorSpace")
        + spec.get_string_attribute("oiio:ColorSpace")
    )
    if "CMYK" in described.upper():
        raise MediaError(
            "This picture is separated into printing inks (CMYK). Save it as RGB and add it again.", code="media.cmyk"
        )


def _open(path: Path, name: str) -> oiio.ImageInput:
    config = oiio.ImageSpec()
    config.attribute("oiio:UnassociatedAlpha", 1)
    file = oiio.ImageInput.open(str(path), config)
    if file is None:
        complains(oiio)  # clears the library's own message, which names paths
        raise _damaged(name)
    return file


def complains(of: Any) -> bool:
    """Return whether the library, or a file of it, has a message, and clear it."""
    try:
        return bool(of.geterror())
    except UnicodeDecodeError:  # it quotes a damaged file's bytes
        return True


def _damaged(name: str) -> MediaError:
    return MediaError(
        f"This {name} file is damaged or incomplete. Open it where it came from, save it again and add it again.",
        code="media.damaged",
    )


def read_still(path: Path) -> Still:
    """Return the picture of a file, upright.

    Raises
    ------
    MediaError
        with a sentence on what is wrong.
    """
    about = probe(path)
    spec, pixels = read_pixels(path, about)
    colour, alpha = _parted(pixels)
    samples, space, notes = in_space(colour, spec, path, about.format)
    share = None
    if alpha is not None:
        samples = _bare(_straight(samples, alpha) if about.format == OPENEXR else samples, alpha)
        share = np.ascontiguousarray(upright(alpha, about.orientation))[None]
        notes = ["Its transparent parts stay so; JPEG lays them on black.", *notes]
    turned = upright(samples, about.orientation)
    return Still(np.ascontiguousarray(np.moveaxis(turned, -1, 0)), space, " ".join(notes), share)


def read_pixels(path: Path, about: Probe) -> tuple[oiio.ImageSpec, Samples]:
    """Return what a probed file says of itself and its pixels as stored, shape (H, W, channels).

    Raises
    ------
    MediaError
        when it is damaged.
    """
    file = _open(path, about.format)
    try:
        spec = file.spec()
        kind = "float" if about.floating else "uint8" if about.bits == 8 else "uint16"
        pixels = file.read_image(0, 0, 0, spec.nchannels, kind)
        failed = complains(file) or pixels is None
    finally:
        file.close()
    if failed:
        raise _damaged(about.format)
    return spec, np.asarray(pixels).reshape(spec.height, spec.width, spec.nchannels)


def _parted(pixels: Samples) -> tuple[Samples, Samples | None]:
    """Return colours, shape (H, W, 3), grey repeated, and alpha, shape (H, W), or None where all is opaque."""
    channels = pixels.shape[2]
    colour = pixels[..., :3] if channels >= 3 else np.repeat(pixels[..., :1], 3, axis=2)
    if channels in (1, 3):
        return colour, None
    top = 1.0 if pixels.dtype.kind == "f" else float(np.iinfo(pixels.dtype).max)
    alpha = pixels[..., -1]
    if alpha.dtype.kind == "f":
        alpha = np.clip(np.nan_to_num(alpha.astype(np.float32)), 0, 1)
    return colour, None if np.all(alpha == top) else alpha


def _straight(samples: Samples, alpha: Samples) -> Samples:
    """Return light that was multiplied by its alpha, as OpenEXR has it, without it."""
    return np.divide(samples, alpha[..., None], out=np.zeros_like(samples), where=alpha[..., None] > 0)


def _bare(samples: Samples, alpha: Samples) -> Samples:
    """Return colours, shape (H, W, 3), in which what is quite transparent has that of the nearest that is not."""
    gone = alpha <= 0
    if not gone.any() or gone.all():
        return np.zeros_like(samples) if gone.all() else samples
    _, nearest = cv2.distanceTransformWithLabels(gone.astype(np.uint8), cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL)
    # a pixel that is there is labelled with a number of its own
    places = np.zeros(int(nearest.max()) + 1, np.intp)
    there = np.flatnonzero(~gone)
    places[nearest.ravel()[there]] = there
    made = samples.copy()
    made[gone] = samples.reshape(-1, samples.shape[2])[places[nearest[gone]]]
    return made


def upright(pixels: Samples, orientation: int) -> Samples:
    """Return pixels turned as the Exif orientation (1…8) asks. References: CIPA-DC008, tag 274."""
    if orientation in (5, 6, 7, 8):
        pixels = np.swapaxes(pixels, 0, 1)
    if orientation in (2, 3, 6, 7):
        pixels = pixels[:, ::-1]
    if orientation in (3, 4, 7, 8):
        pixels = pixels[::-1]
    return pixels
