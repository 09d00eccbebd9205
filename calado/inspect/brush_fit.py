"""Which brush fits the picture's edge near a place: as soft as the edge, and small enough to work along it.

The edge's softness is the standard deviation of the Gaussian that a clean step would have been softened by: for such a
step of height h the steepest slope is h / (σ √(2π)).
"""

from dataclasses import dataclass
from math import pi, sqrt

import cv2
import numpy as np

from calado.region.sampler import clipped
from calado.region.signal import signal_of
from calado.render.engine import Engine
from calado.render.source import Source
from calado.window import window_of_rectangle

#: how far around the place is looked, in picture heights
AROUND = 0.03
#: a step of less signal is no edge
LEAST_STEP = 0.06
#: a brush is so many times wider than the edge's 10–90 % width, and at least so wide, in picture heights
WIDER, LEAST_SIZE = 5.0, 0.012


@dataclass(frozen=True)
class Touch:
    """A brush's size in picture heights and its hardness, or none where there is no edge; and a sentence."""

    size: float | None
    hardness: float | None
    says: str


def touch_at(engine: Engine, source: Source, x: float, y: float) -> Touch:
    """Return the brush that fits the strongest edge near a place, in picture heights.

    Raises
    ------
    RequestError
        for a place outside of the picture.
    """
    high = source.height
    side = 2 * AROUND * high
    box = window_of_rectangle((source.width, high), 1.0, ((x - AROUND) * high, (y - AROUND) * high, side, side))
    signal = signal_of(np.nan_to_num(engine.source(source, clipped(box))), source.space)
    slope = np.hypot(cv2.Sobel(signal, -1, 1, 0, scale=0.125), cv2.Sobel(signal, -1, 0, 1, scale=0.125))
    row, column = np.unravel_index(int(slope.argmax()), slope.shape)
    reach = 6
    near = signal[max(row - reach, 0) : row + reach + 1, max(column - reach, 0) : column + reach + 1]
    step = float(near.max() - near.min())
    # noise from pixel to pixel has steps, and nowhere a slope
    if step < LEAST_STEP or not slope[row, column] > 0:
        return Touch(None, None, "There is no edge here to fit the brush to.")
    sigma_px = step / (float(slope[row, column]) * sqrt(2 * pi))
    width = 2.563 * sigma_px / high  # the 10–90 % width of a Gaussian edge
    size = min(max(WIDER * width, LEAST_SIZE), 0.2)
    hardness = min(max(1 - 2 * width / size, 0.0), 1.0)
    return Touch(
        round(size, 4),
        round(hardness, 2),
        f"The edge here is about {width * high:.1f} px soft: size {size * 100:.1f} %, hardness {hardness * 100:.0f} %.",
    )
