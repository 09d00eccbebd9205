"""Where the shots of a clip begin."""

from collections.abc import Callable, Iterator

import numpy as np

from calado.arrays import Codes
from calado.errors import Cancelled
from calado.follow.cuts import cuts, small_grey
from calado.media.clips.clip import Clip
from calado.media.clips.part import ClipPart
from calado.media.clips.planes import Picture


def found_cuts(clip: Clip | ClipPart, told: Callable[[float], bool] = lambda share: True) -> list[int]:
    """Return the frames with which another shot begins; ``told(share)`` hears how far it is, False calls it off.

    Raises
    ------
    Cancelled
        when called off.
    MediaError
        when a frame cannot be decoded.
    """

    def frames() -> Iterator[Codes]:
        for frame in range(clip.facts.frames):
            if not told(frame / clip.facts.frames):
                raise Cancelled
            yield small_grey(luma_of(clip.picture(frame)))

    return list(cuts(frames()))


def luma_of(picture: Picture) -> Codes:
    """Return luma, of red, green and blue the green, in 8 bits, shape (H, W)."""
    plane = picture.planes[1 if picture.layout.kind == "rgb" else 0]
    return np.asarray(plane >> (picture.layout.bits - 8), np.uint8)


def colours_of(picture: Picture) -> tuple[Codes, Codes] | None:
    """Return two differences of colour of 8 bits, as stored, else blue and red, shape (h, w); grey has none."""
    if picture.layout.kind == "grey":
        return None
    first, second = (
        np.asarray(plane >> (picture.layout.bits - 8), np.uint8)
        for plane in ((picture.planes[2], picture.planes[0]) if picture.layout.kind == "rgb" else picture.planes[1:3])
    )
    return first, second
