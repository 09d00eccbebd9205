"""What a PNG file says of its colours, read from its chunks.

References
----------
W3C-PNG3: chunks, and which counts before which: cICP, iCCP, sRGB, then gAMA with cHRM. ITU-H273 for cICP's numbers.
"""

import struct
from dataclasses import dataclass
from pathlib import Path

from calado.colour.spaces import SRGB, Chromaticity

#: chunks that stand before the pixels are few and short
MOST_CHUNKS = 200
#: gAMA of sRGB's signal, and how near to it a file means sRGB
GAMMA, NEAR_GAMMA = 0.45455, 0.0005


@dataclass(frozen=True)
class PngColour:
    """``cicp``: primaries, transfer, matrix, full range. ``power``: light is the signal to it, by these primaries."""

    cicp: tuple[int, int, int, int] | None = None
    power: float | None = None
    white: Chromaticity = SRGB.white
    primaries: tuple[Chromaticity, ...] = (SRGB.red, SRGB.green, SRGB.blue)


def png_colour(path: Path) -> PngColour:
    """Return what a PNG file says of its colours besides an ICC profile; nothing of what it leaves unsaid."""
    found = _chunks(path)
    if len(found.get(b"cICP", b"")) == 4:
        return PngColour(cicp=tuple(found[b"cICP"]))  # type: ignore[arg-type]
    if b"iCCP" in found or b"sRGB" in found or len(found.get(b"gAMA", b"")) != 4:
        return PngColour()
    gamma = struct.unpack(">I", found[b"gAMA"])[0] / 100_000
    points = _points(found.get(b"cHRM", b""))
    if not 0.1 < gamma <= 2 or (abs(gamma - GAMMA) < NEAR_GAMMA and points is None):
        return PngColour()
    if points is None:
        return PngColour(power=1 / gamma)
    return PngColour(power=1 / gamma, white=points[0], primaries=points[1:])


def _points(data: bytes) -> tuple[Chromaticity, ...] | None:
    if len(data) != 32:
        return None
    numbers = [each / 100_000 for each in struct.unpack(">8I", data)]
    points = tuple(zip(numbers[::2], numbers[1::2], strict=True))
    return points if all(y > 0 for _, y in points) else None


def _chunks(path: Path) -> dict[bytes, bytes]:
    """Return the chunks before the pixels that tell of colour, by name; of a damaged file those that are whole."""
    found: dict[bytes, bytes] = {}
    with path.open("rb") as file:
        file.seek(8)
        for _ in range(MOST_CHUNKS):
            head = file.read(8)
            if len(head) < 8 or head[4:] == b"IDAT":
                break
            size, name = struct.unpack(">I", head[:4])[0], head[4:]
            if name in (b"cICP", b"gAMA", b"cHRM", b"sRGB") and size <= 64:
                found[name] = file.read(size)
                file.seek(4, 1)
            else:
                found.setdefault(name, b"")
                file.seek(size + 4, 1)
    return found
