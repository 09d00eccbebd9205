"""How a clip of high range was mastered: the display it was graded on (SMPTE ST 2086), and its most light (CTA-861.3).

Both stand beside the frames, and the encoders that can hold them take them as words of their settings.
"""

import struct
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from av.sidedata.sidedata import Type
from av.video.frame import VideoFrame

#: units of what is kept, as ITU-T H.265 D.3.28 has them: of chromaticity, and of cd/m²
CHROMATICITY, LUMINANCE = 50_000, 10_000
#: primaries of red, green and blue, the white, least and most luminance, all fractions; then what of it is said
_DISPLAY = struct.Struct("22i")
_LIGHT = struct.Struct("2I")


@dataclass(frozen=True)
class _Words:
    """An encoder's setting, its words in it for display and light, and how and in which units it writes numbers."""

    setting: str
    display: str
    light: str
    number: str = "{:.0f}"
    units: tuple[int, int] = (1, 1)


_WORDS = {
    "libx264": _Words("x264-params", "mastering-display", "cll"),
    "libx265": _Words("x265-params", "master-display", "max-cll"),
    "libsvtav1": _Words("svtav1-params", "mastering-display", "content-light", "{:.5f}", (CHROMATICITY, LUMINANCE)),
}


@dataclass(frozen=True)
class Mastering:
    """The display: chromaticities x, y of red, green, blue and white, most and least luminance; in H.265's units."""

    places: tuple[int, int, int, int, int, int, int, int]
    most: int
    least: int


def mastering_of(frame: VideoFrame) -> tuple[Mastering | None, tuple[int, int] | None]:
    """Return the display that a frame says it was mastered on, and its clip's most light and most of a frame's mean.

    The latter in cd/m²; None: not said, as 0 is by the standard.
    """
    display, light = (_beside(frame, what) for what in (Type.MASTERING_DISPLAY_METADATA, Type.CONTENT_LIGHT_LEVEL))
    numbers = _LIGHT.unpack(light) if len(light) == _LIGHT.size else (0, 0)
    return _display(display), numbers if any(numbers) else None


def _beside(frame: VideoFrame, what: Type) -> bytes:
    found: Any = frame.side_data.get(what)  # type: ignore[call-overload]  # the library's own types are wrong here
    return b"" if found is None else bytes(found)


def _display(data: bytes) -> Mastering | None:
    if len(data) != _DISPLAY.size:
        return None
    numbers = _DISPLAY.unpack(data)
    if not all(numbers[20:]) or not all(numbers[1:20:2]):
        return None
    said = [Fraction(*pair) for pair in zip(numbers[0:20:2], numbers[1:20:2], strict=True)]
    red, green, blue, white = (tuple(round(each * CHROMATICITY) for each in said[k : k + 2]) for k in (0, 2, 4, 6))
    least, most = (round(each * LUMINANCE) for each in said[8:])
    return Mastering((*red, *green, *blue, *white), most, least)  # type: ignore[arg-type]


def holds_mastering(encoder: str) -> bool:
    """Return whether an encoder can say how a clip was mastered."""
    return encoder in _WORDS


def mastering_options(
    encoder: str, display: Mastering | None, light: tuple[int, int] | None
) -> dict[str, tuple[str, ...]]:
    """Return words for an encoder's settings, by the name of the setting; none where there is nothing to be said."""
    words = _WORDS.get(encoder)
    if words is None or not (display or light):
        return {}
    said = [f"{words.display}={_written(display, words)}"] if display else []
    said += [f"{words.light}={light[0]},{light[1]}"] if light else []
    return {words.setting: tuple(said)}


def _written(display: Mastering, words: _Words) -> str:
    """Return a display as encoders read it: green, blue, red, white, luminance."""
    pairs = [display.places[k : k + 2] for k in (2, 4, 0, 6)]
    said = [[words.number.format(each / words.units[0]) for each in pair] for pair in pairs]
    said.append([words.number.format(each / words.units[1]) for each in (display.most, display.least)])
    return "".join(f"{name}({','.join(pair)})" for name, pair in zip(("G", "B", "R", "WP", "L"), said, strict=True))
