"""What lies beyond: where the finished picture has light or colours that are led back on their way to the screen.

The picture in grey; over it what is beyond white as a whole, and hatched the colours that a screen of sRGB has not.
"""

import numpy as np

from calado.arrays import Codes, Planes
from calado.colour.spaces import SRGB, ColourSpace
from calado.render.gamut import BEYOND
from calado.render.views import LICHEN, Place

#: how far below 0 a channel must lie, of linear light, to be a colour that is lost
LOST = 0.002
#: the stripes of what is hatched, in pixels
STRIPE = 3
#: greys keep apart from what lies over them
GREYS = (30, 150)


def beyond_view(codes: Codes, planes: Planes, space: ColourSpace, place: Place) -> Codes:
    """Return the picture in grey with what is led back, shape (H, W, 3).

    ``codes`` are the finished picture's on the screen, ``planes`` its linear light before it was led anywhere.
    """
    over = planes.max(axis=0) > BEYOND
    shown = planes if space is SRGB else np.tensordot(space.matrix_to(SRGB), planes, axes=1)
    lost = ~over & ((shown.min(axis=0) < -LOST) | (shown.max(axis=0) > 1 + LOST))
    rows, columns = np.arange(codes.shape[0]) + place.top, np.arange(codes.shape[1]) + place.left
    stripes = (rows[:, None] + columns) // STRIPE % 2 == 0
    dark, light = GREYS
    grey = dark + (light - dark) * (codes @ np.array([0.2126, 0.7152, 0.0722])) / 255
    made = np.repeat(np.rint(grey).astype(np.uint8)[..., None], 3, axis=2)
    made[over | (lost & stripes)] = LICHEN
    return made
