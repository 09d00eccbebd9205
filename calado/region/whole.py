"""The whole picture as a part."""

import numpy as np

from calado.arrays import Matte
from calado.region.context import ALONE, PartContext
from calado.region.part import PartKind
from calado.sheet.models import Part
from calado.window import Window


def whole_matte(part: Part, window: Window, near: PartContext = ALONE) -> Matte:
    """Return a matte of ones, shape (H, W)."""
    return np.ones((window.height, window.width), np.float32)


WHOLE = PartKind(
    id="whole",
    name="Whole picture",
    parameters=(),
    says="Everything in the frame.",
    matte=whole_matte,
    mapped=lambda part, affine: part,
)
