"""A row of small pictures, as one JPEG."""

from collections.abc import Iterable

import numpy as np
import simplejpeg

from calado.render.encode import screen_codes
from calado.render.engine import Engine, Order
from calado.render.source import Source
from calado.window import Window

QUALITY = 82


def frame_strip(engine: Engine, pictures: Iterable[tuple[Source, Order]], count: int, size: tuple[int, int]) -> bytes:
    """Return ``count`` finished pictures side by side, each filling ``size`` = (width, height) from its middle.

    What is transparent stands on black.
    """
    wide, high = size
    row = np.zeros((high, wide * count, 3), np.uint8)
    for k, (source, order) in enumerate(pictures):
        scale = min(max(wide / source.width, high / source.height), 1.0)
        whole = source.full(scale)
        across, down = min(wide, whole.width), min(high, whole.height)
        left, top = (whole.width - across) // 2, (whole.height - down) // 2
        window = Window(source.width, source.height, scale, left, top, across, down)
        planes, share = engine.picture(source, order, window), engine.clear(source, order, window)
        planes = planes if share is None else planes * share
        row[:down, k * wide : k * wide + across] = screen_codes(planes, source.space)
    return bytes(simplejpeg.encode_jpeg(row, quality=QUALITY, colorsubsampling="420"))
