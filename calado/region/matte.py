"""A region's matte from its parts."""

from collections.abc import Callable

import numpy as np

from calado.arrays import Matte
from calado.region.join import complement, join
from calado.region.kinds import PARTS
from calado.sheet.models import Part, Region
from calado.window import Window


def part_matte(part: Part, window: Window) -> Matte:
    """Return the matte, shape (H, W), of one part, with complement and opacity applied."""
    matte = PARTS[part.kind].matte(part, window)
    if part.complement:
        matte = complement(matte)
    return matte if part.opacity == 1 else matte * np.float32(part.opacity)


def region_matte(region: Region, window: Window, of_part: Callable[[Part, Window], Matte] = part_matte) -> Matte:
    """Return the matte, shape (H, W), of a region: its parts that are on, folded in order from nothing.

    ``of_part`` lets a caller keep the parts' mattes. A region that starts by *subtract* or *intersect* starts from the
    whole picture, which is what its sentence says.
    """
    folded: Matte | None = None
    for part in region.parts:
        if not part.on:
            continue
        if folded is None and part.join == "add":
            folded = of_part(part, window)
            continue
        before = np.ones((window.height, window.width), np.float32) if folded is None else folded
        folded = join(before, of_part(part, window), part.join)
    return np.zeros((window.height, window.width), np.float32) if folded is None else folded
