"""The picture as parts read it: the untouched source or what comes into a pass, calmed against noise if asked.

Convention: beyond the frame the picture goes on as its border is. What is no number counts as black, what is
infinite as very bright.
"""

from collections.abc import Callable, Hashable
from dataclasses import dataclass
from math import ceil
from typing import Literal, Protocol, TypeVar

import cv2
import numpy as np

from calado.arrays import Planes
from calado.colour.spaces import ColourSpace
from calado.region.signal import finite
from calado.sheet.declare import Choice, Number, Option, Unit, Values
from calado.window import Window

Array = TypeVar("Array", bound=np.ndarray)
Of = Literal["source", "incoming"]


class Keep(Protocol):
    """Gives what was made for a key, or makes it."""

    def __call__(self, key: Hashable, make: Callable[[], Array], /) -> Array:
        """Return the array of ``key``."""


def keep_nothing(key: Hashable, make: Callable[[], Array]) -> Array:
    """Return what is made, and keep nothing."""
    return make()


#: a Gaussian is cut at so many standard deviations
CUT = 3.0

READS = Choice(
    "reads",
    "Reads",
    (Option("source", "source"), Option("incoming", "picture so far")),
)
DENOISE = Number("denoise", "Noise eased", Unit.LENGTH, 0.0, 0.0, 0.02, 0.0, 0.1, 0.0005, "noise eased", "square")


def reads_of(values: Values) -> Of:
    """Return which picture a part reads."""
    return "incoming" if values.get("reads") == "incoming" else "source"


@dataclass(frozen=True, eq=False)
class PictureSampler:
    """The picture near a part: ``key`` names the source, ``before`` what comes into the pass.

    ``source(window)`` and ``incoming(window)`` give planes, shape (3, H, W), for windows within the frame.
    """

    key: str
    before: str
    space: ColourSpace
    source: Callable[[Window], Planes]
    incoming: Callable[[Window], Planes]
    keep: Keep = keep_nothing

    def name(self, of: Of) -> str:
        """Return what names the pixels of the picture that is read."""
        return self.key if of == "source" else f"{self.key} {self.before}"

    def made(self, what: str, of: Of, denoise: float, window: Window, make: Callable[[Planes], Array]) -> Array:
        """Return ``make(planes)``, last axes (H, W), for a window that may reach beyond the frame; kept by value.

        ``denoise`` is the standard deviation, in picture heights, of a Gaussian that the picture is calmed by before.
        """
        inner = clipped(window)
        key = ("seen", what, self.name(of), denoise, inner)
        made = self.keep(key, lambda: make(self.planes(of, denoise, inner)))
        return made if inner == window else continued(made, inner, window)

    def planes(self, of: Of, denoise: float, window: Window) -> Planes:
        """Return finite planes, shape (3, H, W), of a window within the frame."""
        sigma = denoise / window.pixel
        wide = window.grown(ceil(CUT * sigma)) if sigma > 0 else window
        planes = (self.source if of == "source" else self.incoming)(wide)
        planes = finite(planes)
        if sigma == 0:
            return planes
        side = 2 * ceil(CUT * sigma) + 1
        rows, columns = window.inside(wide)
        calmed = [cv2.GaussianBlur(each, (side, side), sigma, borderType=cv2.BORDER_REPLICATE) for each in planes]
        return np.ascontiguousarray(np.stack(calmed)[:, rows, columns], np.float32)


def clipped(window: Window) -> Window:
    """Return the part of a window that lies within the frame, at least a pixel of the border."""
    width, height = window.grid_size
    left, top = min(max(window.left, 0), width - 1), min(max(window.top, 0), height - 1)
    right, bottom = min(window.left + window.width, width), min(window.top + window.height, height)
    return Window(
        window.picture_width,
        window.picture_height,
        window.scale,
        left,
        top,
        max(right - left, 1),
        max(bottom - top, 1),
    )


def continued(array: Array, inner: Window, window: Window) -> Array:
    """Return an array, last axes those of ``inner``, at the pixels of ``window``, its border going on."""
    rows = np.clip(np.arange(window.height) + window.top - inner.top, 0, inner.height - 1)
    columns = np.clip(np.arange(window.width) + window.left - inner.left, 0, inner.width - 1)
    return np.ascontiguousarray(array[..., rows[:, None], columns])  # type: ignore[return-value]
