"""What adjustments may know about the whole picture, however small the window is."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Planes

#: share of the darkest-channel's brightest pixels from which the veil's light is read (He2009)
VEILED = 0.001


@dataclass(frozen=True, eq=False)
class PictureStats:
    """What is read from the untouched picture, when it is asked for.

    ``small()`` gives a small copy of it, shape (3, H, W), linear light; ``grain()`` tells the
    standard deviation of its noise at full size, over its signal (``texture.own_grain``).
    """

    small: Callable[[], Planes]
    grain: Callable[[], NDArray[np.float32]] = lambda: np.zeros(1, np.float32)

    @cached_property
    def thumb(self) -> Planes:
        """The small copy."""
        return self.small()

    @cached_property
    def airlight(self) -> tuple[float, float, float]:
        """The light of the veil: the brightest pixel among the 0.1 % whose darkest channel is brightest.

        References
        ----------
        He2009
        """
        flat = self.thumb.reshape(3, -1)
        dark = flat.min(axis=0)
        count = max(1, int(dark.size * VEILED))
        veiled = flat[:, np.argpartition(dark, dark.size - count)[dark.size - count :]]
        light = np.maximum(veiled[:, veiled.sum(axis=0).argmax()], 0.05)
        return float(light[0]), float(light[1]), float(light[2])


#: for pictures about which nothing need be known
NO_STATS = PictureStats(lambda: np.ones((3, 1, 1), np.float32))
