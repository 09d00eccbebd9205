"""Resolve edge: in a band under the brush a region's edge is solved anew from the picture.

What the region's matte says beside the band is known; within it alpha is solved. The band's soft rim leads from the one
to the other.
"""

import hashlib

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte
from calado.region.brush.strokes import fold_into
from calado.region.context import PartContext
from calado.region.solve.alpha import cleared, solve_alpha
from calado.region.solve.prior import opinion
from calado.region.solve.rough import ALPHA_SIDE, Solving, encoded, key_of, solving_window
from calado.region.solve.solved import Stop
from calado.sheet.models import Stroke
from calado.window import Window

#: a pixel counts as known from so near to 0 and 1
KNOWN = 0.02
#: what is solved reaches a little beyond where the band counts
INTO = 0.02
#: measured: a fringe is told best by what is known close by
PLACE = 0.25


def band_of(strokes: tuple[Stroke, ...], window: Window) -> Matte:
    """Return how much the edge of each pixel of a window is resolved anew, shape (H, W)."""
    out = np.zeros((window.height, window.width), np.float32)
    fold_into(out, strokes, window)
    return out


def edge_solving(region: str, strokes: tuple[Stroke, ...], whole: Matte, window: Window, near: PartContext) -> Solving:
    """Return how the band of a region is solved; ``whole`` is its matte of the frame at the size of solving."""
    seen = near.picture
    large = solving_window(window, ALPHA_SIDE)

    def fine(stop: Stop) -> Matte:
        picture = np.ascontiguousarray(np.moveaxis(encoded(seen, large), 0, -1))
        return resolved(picture, whole, band_of(strokes, large) > INTO, stop)

    marks = [stroke.model_dump(mode="json") for stroke in strokes]
    key = hashlib.sha256(whole.tobytes()).hexdigest()
    return Solving(key_of(seen, "edge", marks, key), f"edge {region} {seen.key}", lambda: whole, fine)


def resolved(picture: NDArray[np.float32], matte: Matte, band: NDArray[np.bool_], stop: Stop) -> Matte:
    """Return a matte, shape (H, W), whose edge within a band is solved from a picture, shape (H, W, 3)."""
    inside, outside = ~band & (matte > 1 - KNOWN), ~band & (matte < KNOWN)
    solved = matte.copy()
    if not band.any() or not inside.any() or not outside.any():
        return solved
    found = cleared(solve_alpha(picture, inside, outside, opinion(picture, inside, outside, PLACE), stop))
    solved[band] = found[band]
    return solved


def with_edge(matte: Matte, solved: Matte, band: Matte) -> Matte:
    """Return a window's matte with its edge replaced where the band says so."""
    made: Matte = matte + band * (solved - matte)
    return made
