"""A window: which pixels of which grid are wanted.

The picture at full size has ``picture_width`` × ``picture_height`` pixels. A grid of scale s has ceil(size · s) pixels;
pixel (i, j) of it covers [j/s, (j + 1)/s) × [i/s, (i + 1)/s) full-size pixels. All is anchored at the picture's corner,
so a strip, a crop and the whole agree pixel by pixel.
"""

from dataclasses import dataclass, replace
from math import ceil, floor

from calado.errors import RequestError


@dataclass(frozen=True)
class Window:
    """A rectangle of ``width`` × ``height`` pixels at (``left``, ``top``) of the grid of ``scale`` (0 < scale ≤ 1)."""

    picture_width: int
    picture_height: int
    scale: float
    left: int
    top: int
    width: int
    height: int

    @property
    def pixel(self) -> float:
        """The side of a pixel, in picture heights."""
        return 1.0 / (self.picture_height * self.scale)

    @property
    def pixels(self) -> int:
        """How many pixels it has."""
        return self.width * self.height

    @property
    def aspect(self) -> float:
        """Width of the picture in picture heights."""
        return self.picture_width / self.picture_height

    @property
    def grid_size(self) -> tuple[int, int]:
        """(width, height) of the whole grid."""
        return grid_size(self.picture_width, self.picture_height, self.scale)

    @property
    def whole(self) -> "Window":
        """The window of the whole picture in this grid."""
        width, height = self.grid_size
        return replace(self, left=0, top=0, width=width, height=height)

    def grown(self, pixels: int) -> "Window":
        """Return the window grown by ``pixels`` on each side, cut at the picture."""
        width, height = self.grid_size
        left, top = max(self.left - pixels, 0), max(self.top - pixels, 0)
        right, bottom = min(self.left + self.width + pixels, width), min(self.top + self.height + pixels, height)
        return replace(self, left=left, top=top, width=right - left, height=bottom - top)

    def beyond(self, pixels: int) -> "Window":
        """Return the window grown by ``pixels`` on each side, also beyond the picture, where outlines go on."""
        size = {"width": self.width + 2 * pixels, "height": self.height + 2 * pixels}
        return replace(self, left=self.left - pixels, top=self.top - pixels, **size)

    def within(self, box: tuple[float, float, float, float]) -> "Window | None":
        """Return the part of this window that a box in picture heights touches, with two pixels round it, or None."""
        x0 = max(floor(box[0] / self.pixel) - 2, self.left)
        y0 = max(floor(box[1] / self.pixel) - 2, self.top)
        x1 = min(ceil(box[2] / self.pixel) + 2, self.left + self.width)
        y1 = min(ceil(box[3] / self.pixel) + 2, self.top + self.height)
        return replace(self, left=x0, top=y0, width=x1 - x0, height=y1 - y0) if x1 > x0 and y1 > y0 else None

    def cut(self, outer: "Window") -> "Window":
        """Return the part of this window that lies in an outer one, which it meets."""
        left, top = max(self.left, outer.left), max(self.top, outer.top)
        right = min(self.left + self.width, outer.left + outer.width)
        bottom = min(self.top + self.height, outer.top + outer.height)
        return replace(self, left=left, top=top, width=right - left, height=bottom - top)

    def rows(self, first: int, last: int) -> "Window":
        """Return the window of the rows ``first`` to ``last`` (not included) of this one."""
        return replace(self, top=self.top + first, height=last - first)

    def inside(self, outer: "Window") -> tuple[slice, slice]:
        """Return the slices (rows, columns) of this window in an outer one of the same grid."""
        top, left = self.top - outer.top, self.left - outer.left
        return slice(top, top + self.height), slice(left, left + self.width)


def grid_size(picture_width: int, picture_height: int, scale: float) -> tuple[int, int]:
    """Return (width, height) of the grid of ``scale``; a rounding error of 1e-6 pixel makes no pixel more."""
    return max(1, ceil(picture_width * scale - 1e-6)), max(1, ceil(picture_height * scale - 1e-6))


def full_window(picture_width: int, picture_height: int, scale: float = 1.0) -> Window:
    """Return the window of the whole picture at a scale."""
    if not 0 < scale <= 1:
        raise RequestError(f"The scale must lie above 0 and not above 1, got {scale:g}.")
    width, height = grid_size(picture_width, picture_height, scale)
    return Window(picture_width, picture_height, scale, 0, 0, width, height)


def window_of_rectangle(picture: tuple[int, int], scale: float, rectangle: tuple[float, float, float, float]) -> Window:
    """Return the smallest window that holds a rectangle (left, top, width, height) in full-size pixels.

    Raises
    ------
    RequestError
        when the rectangle lies outside of the picture.
    """
    whole = full_window(*picture, scale)
    left, top, width, height = rectangle
    x0, y0 = max(floor(left * scale + 1e-6), 0), max(floor(top * scale + 1e-6), 0)
    x1 = min(ceil((left + width) * scale - 1e-6), whole.width)
    y1 = min(ceil((top + height) * scale - 1e-6), whole.height)
    if x1 <= x0 or y1 <= y0:
        raise RequestError(
            f"The rectangle lies outside of the picture of {picture[0]} × {picture[1]} pixels. Ask for a part of it.",
            code="render.rectangle",
        )
    return replace(whole, left=x0, top=y0, width=x1 - x0, height=y1 - y0)
