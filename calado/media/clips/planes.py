"""A clip's picture as its planes stand in the file: codes of luma and chroma, or of red, green and blue."""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

#: uint8 or uint16 codes, shape (H, W)
CodePlane = NDArray[np.uint8] | NDArray[np.uint16]


@dataclass(frozen=True)
class Layout:
    """How a picture's planes are laid out.

    ``kind`` is *yuv* (luma, two of chroma), *rgb* (red, green, blue) or *grey*; ``across`` and ``down`` tell how many
    pixels stand on one sample of chroma each way, ``sited_top`` that chroma stands on the upper row of its pixels and
    not between two, ``alpha`` that a last plane tells how much of each pixel is there, from 0 to the highest code.
    """

    kind: str
    bits: int
    across: int = 1
    down: int = 1
    sited_top: bool = False
    alpha: bool = False

    @property
    def top(self) -> int:
        """The highest code."""
        return (1 << self.bits) - 1

    @property
    def opaque(self) -> "Layout":
        """The same without alpha."""
        return replace(self, alpha=False)

    def chroma_size(self, width: int, height: int) -> tuple[int, int]:
        """Return width and height of a chroma plane."""
        return -(-width // self.across), -(-height // self.down)


@dataclass(frozen=True, eq=False)
class Picture:
    """The planes of one frame, as stored: not turned upright."""

    layout: Layout
    planes: tuple[CodePlane, ...]

    @property
    def colour(self) -> tuple[CodePlane, ...]:
        """The planes without alpha."""
        return self.planes[:-1] if self.layout.alpha else self.planes

    @property
    def alpha(self) -> CodePlane | None:
        """The plane of alpha."""
        return self.planes[-1] if self.layout.alpha else None

    @property
    def width(self) -> int:
        """Width as stored."""
        return int(self.planes[0].shape[1])

    @property
    def height(self) -> int:
        """Height as stored."""
        return int(self.planes[0].shape[0])
