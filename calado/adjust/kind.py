"""What an adjustment must bring besides its declaration.

A *point* adjustment changes each pixel by itself: its kernel runs in place over a contiguous strip of planes, shape
(3, rows, W), float32, linear light. A *spatial* one looks around and says how far (its *reach*).
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Planes
from calado.colour.spaces import ColourSpace
from calado.sheet.declare import AdjustmentDeclaration, Values

Settings = NDArray[np.float32]


@dataclass(frozen=True)
class PointAdjustment(AdjustmentDeclaration):
    """A point adjustment.

    ``settings(values, space)`` turns values into the numbers of the kernel, contiguous float32;
    ``into(planes, settings)`` is a compiled kernel that changes a strip in place and releases the GIL.
    """

    settings: Callable[[Values, ColourSpace], Settings] = lambda values, space: np.zeros(0, np.float32)
    into: Callable[[Planes, Settings], None] = lambda planes, settings: None


@dataclass(frozen=True)
class Softening:
    """A Gaussian with standard deviation ``sigma`` in picture heights, graded by mixing or by radius."""

    sigma: float
    by_radius: bool

    @property
    def reach(self) -> float:
        """How far a pixel looks, in picture heights."""
        return 4.0 * self.sigma


@dataclass(frozen=True)
class RingPlan:
    """A line at ``offset`` outside of a region's outline, ``width`` wide, lengths in picture heights; no dash: whole.

    ``light`` is its colour in the picture's linear light.
    """

    offset: float
    width: float
    dash: float
    light: tuple[float, float, float]


@dataclass(frozen=True)
class RingAdjustment(AdjustmentDeclaration):
    """A line along a region's outline; ``plan`` says which."""

    plan: Callable[[Values, ColourSpace], RingPlan] = lambda values, space: RingPlan(0.0, 0.0, 0.0, (1.0, 1.0, 1.0))


@dataclass(frozen=True)
class SpatialAdjustment(AdjustmentDeclaration):
    """A blur of one side of a region; ``plan`` says what the engine has to do."""

    plan: Callable[[Values], Softening] = lambda values: Softening(0.0, False)


def numbers(*values: Any) -> Settings:
    """Return contiguous float32 settings (a Python scalar would compile a new specialisation)."""
    return np.array(values, np.float32).ravel()
