"""What a sample takes from the picture: the light and the colours in a small box."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from calado.region.read.planes import lab_of
from calado.region.sampler import Of, PictureSampler
from calado.region.signal import signal_of
from calado.window import Window, window_of_rectangle

#: *set* begins anew, *put* adds to what was taken, *take* keeps it out
Takes = Literal["set", "add", "erase"]
#: the longer side of the copy from which the picture's brightest and darkest are read
SIDE = 640
#: the shares of pixels beyond which a place counts as the brightest or darkest
ENDS = (0.002, 0.998)


@dataclass(frozen=True, eq=False)
class Taken:
    """A sample: its box (x, y, width, height) in picture heights, ``signal`` of its pixels, shape (N,), their OKLab.

    ``lab`` has shape (N, 3); ``darkest`` and ``brightest`` are the ends of the whole picture's signal.
    """

    does: Takes
    box: tuple[float, float, float, float]
    signal: NDArray[np.float32]
    lab: NDArray[np.float32]
    darkest: float
    brightest: float


def take(
    seen: PictureSampler, of: Of, denoise: float, box: tuple[float, float, float, float], does: Takes, whole: Window
) -> Taken:
    """Return what lies in a box, in picture heights; the smallest is a pixel.

    ``whole`` is the window of the whole picture at full size.

    Raises
    ------
    RequestError
        for a box beside the picture.
    """
    high = whole.picture_height
    x, y, width, height = box
    sides = (x * high, y * high, max(width * high, 1.0), max(height * high, 1.0))
    planes = seen.planes(of, denoise, window_of_rectangle((whole.picture_width, high), 1.0, sides))
    small = window_of_rectangle(
        (whole.picture_width, high),
        min(1.0, SIDE / max(whole.picture_width, high)),
        (0.0, 0.0, float(whole.picture_width), float(high)),
    )
    space = seen.space
    all_of_it = seen.made("signal", of, denoise, small, lambda p: signal_of(p, space))
    darkest, brightest = (float(each) for each in np.quantile(all_of_it, ENDS))
    lab = lab_of(planes, space).reshape(3, -1).T
    return Taken(does, box, signal_of(planes, space).ravel(), lab, darkest, brightest)


def widened(before: tuple[float, float], found: tuple[float, float], does: Takes) -> tuple[float, float]:
    """Return a stretch with another put to it, or cut back so that the other is out."""
    low, high = before
    if does == "add":
        return min(low, found[0]), max(high, found[1])
    # what is taken out lies nearer to one end: that end gives way
    middle = (found[0] + found[1]) / 2
    if middle - low < high - middle:
        return min(max(low, found[1]), high), high
    return low, max(min(high, found[0]), low)
