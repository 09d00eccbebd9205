"""The stills in other kinds of files: 16 bits beside JPEG, a wide gamut, an orientation with a thumbnail.

Made from the linear light that rendering them kept (render them first). ``python -m demo.scenes.variants``
"""

import io
import struct
from pathlib import Path
from typing import Any

import numpy as np
import tifffile
from PIL import Image

from calado.colour.spaces import DISPLAY_P3, SRGB
from calado.media.profiles import profile_of
from calado.media.write import Target, still_writer
from demo.scenes import d_shelf, e_booth, f_night, g_wood
from demo.scenes.kit.command import Still
from demo.scenes.kit.files import CACHE, STILLS
from demo.scenes.kit.lens import codes, developed, encoded

MORE = STILLS / "more"
#: Exif: orientation, and of a thumbnail its compression, place and length (CIPA DC-008, 4.6)
ORIENTATION, COMPRESSION, AT, LENGTH = 0x0112, 0x0103, 0x0201, 0x0202
SHORT, LONG, JPEG = 3, 4, 6
#: the camera was held upright, its top to the left: show it turned by 90° to the right
TURNED = 6
QUALITY: dict[str, Any] = {"quality": 92, "subsampling": 0}


def values_of(still: Still) -> np.ndarray:
    """Return a still's encoded values 0…1, shape (H, W, 3)."""
    return encoded(developed(np.load(CACHE / f"{still.name}.npy").astype("f4"), still.look))


def exif(orientation: int, thumbnail: bytes) -> bytes:
    """Return an Exif block that says how a picture is turned and holds a JPEG thumbnail."""
    first = struct.pack("<HHHIHH", 1, ORIENTATION, SHORT, 1, orientation, 0)
    # the header, the first directory and where the next one is; then that one
    second_at = 8 + len(first) + 4
    data_at = second_at + 2 + 3 * 12 + 4
    second = struct.pack("<H", 3) + struct.pack("<HHIHH", COMPRESSION, SHORT, 1, JPEG, 0)
    second += struct.pack("<HHII", AT, LONG, 1, data_at) + struct.pack("<HHII", LENGTH, LONG, 1, len(thumbnail))
    body = first + struct.pack("<I", second_at) + second + struct.pack("<I", 0) + thumbnail
    return b"Exif\0\0" + struct.pack("<2sHI", b"II", 42, 8) + body


def main() -> None:
    """Write them all."""
    MORE.mkdir(exist_ok=True)
    srgb = profile_of(SRGB)
    wood, night = values_of(g_wood.STILL), values_of(f_night.STILL)
    # Pillow has no 16-bit RGB, so the PNG is written by the product's own writer of files
    _png16(MORE / "g_wood_16.png", codes(wood, 65535))
    Image.fromarray(codes(wood)).save(MORE / "g_wood.jpg", icc_profile=srgb, **QUALITY)
    deep = codes(night, 65535)
    more = {"photometric": "rgb", "compression": "zlib", "predictor": True, "iccprofile": srgb}
    tifffile.imwrite(MORE / "f_night_16.tif", deep, **more)
    Image.fromarray(codes(night)).save(MORE / "f_night.jpg", icc_profile=srgb, **QUALITY)
    # the glazes as if traced with the wider primaries, so their colours lie outside of sRGB
    shelf = Image.fromarray(codes(values_of(d_shelf.STILL)))
    shelf.save(MORE / "d_shelf_p3.jpg", icc_profile=profile_of(DISPLAY_P3), **QUALITY)
    booth = Image.fromarray(codes(values_of(e_booth.STILL)))
    thumbnail = io.BytesIO()
    lying = booth.transpose(Image.Transpose.ROTATE_90)
    small = lying.copy()
    small.thumbnail((160, 160))
    small.save(thumbnail, "jpeg", quality=80)
    lying.save(MORE / "e_booth_turned.jpg", icc_profile=srgb, exif=exif(TURNED, thumbnail.getvalue()), **QUALITY)


def _png16(path: Path, deep: np.ndarray) -> None:
    high, wide = deep.shape[:2]
    with still_writer(path, wide, high, SRGB, Target("png", 16)) as rows:
        rows.write(deep)


if __name__ == "__main__":
    main()
