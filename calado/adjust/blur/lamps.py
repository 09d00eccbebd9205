"""Light that was clipped, rebuilt before a lens blurs it.

A lamp that the camera cut off at white is many times brighter than it shows; out of focus its disc is as bright as the
lamp was, not as white is. How many stops brighter nobody can read from the picture: it is asked for. Its colour is that
of the light round it, which was not cut off; whatever it was, no channel of it was below what shows.

Ours; that clipped light is the cause of dull discs is common practice, no source.
"""

import numpy as np
from numpy.typing import NDArray

from calado.adjust.blur.cells import blur
from calado.arrays import Planes
from calado.window import Window

#: from this share of white on light counts as clipped, wholly from white on; well beyond it nothing was clipped
FROM, BEYOND = 0.85, 1.3
#: how far the colour round a lamp is read, as a standard deviation in picture heights
ROUND = 0.004
#: less light has no colour
DARK = 1e-4


def clipped(planes: Planes) -> NDArray[np.float32]:
    """Return how far each pixel stands at the picture's white, 0…1, shape (H, W)."""
    most = planes.max(axis=0)
    rise = np.clip((most - FROM) / (1 - FROM), 0, 1)
    fall = np.clip((most - 1.05) / (BEYOND - 1.05), 0, 1)
    return np.asarray(rise * rise * (3 - 2 * rise) * (1 - fall), np.float32)


def rebuilt(planes: Planes, window: Window, stops: float) -> Planes:
    """Return planes, shape (3, H, W), in which clipped light is so many stops brighter than white, in its rim's colour.

    All else stays as it is; nothing becomes darker.
    """
    if stops <= 0:
        return planes
    share = clipped(planes)
    if not share.any():
        return planes
    sigma = ROUND / window.pixel
    rim = np.empty_like(planes)
    blur(planes, np.float32(1) - share, window, (sigma, sigma), outside=False).rows_into(0, planes.shape[1], 0, rim)
    light = rim.max(axis=0)
    # where no rim is near, white
    colour = np.where(light > DARK, rim / np.maximum(light, DARK), np.float32(1))
    raised = np.maximum(planes, np.float32(2.0**stops) * colour)
    return np.asarray(planes + share * (raised - planes), np.float32)
