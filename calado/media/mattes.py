"""Imported mattes: any still as a grey picture, kept in a folder under the hash of its content.

A picture that is partly transparent gives its transparency: opaque is inside. Any other gives its encoded luminance
(weights of BT.709, a middle grey code is a half).
"""

import hashlib
import os
import re
from functools import lru_cache
from pathlib import Path

import numpy as np
import OpenImageIO as oiio
from numpy.typing import NDArray

from calado.errors import MediaError, SheetError
from calado.media.profiles import Samples
from calado.media.stills import probe, read_pixels, upright
from calado.region.imported import table_of
from calado.region.matte import MatteSums, Sums

Grey = NDArray[np.uint16]
_LUMA = np.array([0.2126, 0.7152, 0.0722])
#: more would cost more memory than a matte is worth: its sums take 8 bytes a pixel
MAX_PIXELS = 40_000_000
_DIGEST = re.compile(r"[0-9a-f]{32}")


def read_matte(path: Path) -> tuple[Grey, str]:
    """Return a still as a matte, shape (H, W), 65535 inside, and a sentence on what it was taken from.

    Raises
    ------
    MediaError
        with a sentence on what is wrong.
    """
    about = probe(path)
    if about.width * about.height > MAX_PIXELS:
        raise MediaError(
            f"This matte has {about.width} × {about.height} pixels; up to {MAX_PIXELS // 10**6} million are taken."
            " Save it smaller.",
            code="media.large",
        )
    _, pixels = read_pixels(path, about)
    shares = _shares(pixels)
    channels = shares.shape[2]
    if channels in (2, 4) and shares[..., -1].min() < 1:
        grey, note = shares[..., -1], "Taken from its transparency: opaque is inside."
    elif channels < 3:
        grey, note = shares[..., 0], "White is inside, black outside."
    else:
        grey, note = shares[..., :3] @ _LUMA, "Taken from its brightness: white is inside, black outside."
    codes = np.rint(np.clip(grey, 0, 1) * 65535).astype(np.uint16)
    return np.ascontiguousarray(upright(codes, about.orientation)), note


def _shares(pixels: Samples) -> NDArray[np.float64]:
    if pixels.dtype.kind == "f":
        return np.nan_to_num(pixels.astype(np.float64), nan=0.0, posinf=1.0, neginf=0.0)
    return pixels / np.float64(np.iinfo(pixels.dtype).max)


def store_matte(codes: Grey, folder: Path) -> str:
    """Write a matte into a folder, whole or not at all, and return the hash by which a sheet names it.

    Raises
    ------
    MediaError
        when it cannot be written.
    """
    digest = hashlib.sha256(repr(codes.shape).encode() + codes.tobytes()).hexdigest()[:32]
    path = folder / f"{digest}.png"
    if path.exists():
        return digest
    folder.mkdir(parents=True, exist_ok=True)
    part = folder / f"{digest}.{os.getpid()}.part.png"
    file = oiio.ImageOutput.create(str(part))
    spec = oiio.ImageSpec(codes.shape[1], codes.shape[0], 1, "uint16")
    # of mattes, mostly empty, more effort and trying filters save little and take half of the time; 8: none
    spec.attribute("png:compressionLevel", 1)
    spec.attribute("png:filter", 8)
    written = file and file.open(str(part), spec) and file.write_image(codes[..., None]) and file.close()
    if not written:
        part.unlink(missing_ok=True)
        oiio.geterror()
        raise MediaError("The matte could not be written. Is the disk full?", code="media.write")
    part.rename(path)
    return digest


def _found(folders: tuple[Path, ...], name: str) -> Path | None:
    flat = (each for folder in folders if (each := folder / name).exists())
    return next(flat, None) or next((each for folder in folders for each in folder.glob(f"*/*/{name}")), None)


def folder_sums(*folders: Path) -> MatteSums:
    """Return what gives the sums of mattes in some folders, and two folders deep in them; the two used last are kept.

    Raises, when asked
    ------------------
    SheetError
        when a matte is not there.
    """

    @lru_cache(maxsize=2)
    def table(digest: str) -> Sums:
        # attack: a sheet that names a file elsewhere
        path = _found(folders, f"{digest}.png") if _DIGEST.fullmatch(digest) else None
        if path is None:
            raise SheetError(
                "A picture that a region uses as its matte is missing. Import it again, or take the part out.",
                code="sheet.file",
            )
        return table_of(read_matte(path)[0])

    return table
