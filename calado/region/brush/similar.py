"""Keeping a stroke to colour like that under its first touch: it stops at edges of colour.

The colour is the mean, in linear light, of a quarter of the brush under the first touch. Within the tolerance a place
counts whole, from half as much again not at all; of these places only what hangs together with the way of the pen is
kept.
"""

import numpy as np
import scipy
from numpy.typing import NDArray

from calado.arrays import Matte
from calado.region.brush.strokes import coverage, stroke_box
from calado.region.read.planes import lab_of
from calado.region.read.sampled import nearest
from calado.region.read.slope import slope_into
from calado.region.sampler import PictureSampler
from calado.sheet.models import Stroke
from calado.window import Window

#: how far around what is kept its soft rim may reach, in pixels
RIM = 2


def similar_coverage(stroke: Stroke, window: Window, seen: PictureSampler) -> tuple[Matte, Window] | None:
    """Return what a stroke covers of alike colour, and its window within the frame; None where it lies outside.

    The window is that of the whole stroke, so that a strip knows what hangs together as the whole does.
    """
    box = window.whole.within(stroke_box(stroke))
    if box is None:
        return None
    key = ("similar", stroke.model_dump_json(), seen.key, box)
    return seen.keep(key, lambda: _covered(stroke, box, seen)), box


def _covered(stroke: Stroke, box: Window, seen: PictureSampler) -> Matte:
    covered = coverage(stroke, box)
    lab = seen.made("lab", "source", 0.0, box, lambda p: lab_of(p, seen.space))
    away = nearest(lab, _touched(stroke, box, seen)[None])
    alike = np.ones(covered.shape, np.float32)
    slope_into(alike, away, (-1.0, 0.0, stroke.colour_tolerance, max(0.5 * stroke.colour_tolerance, 0.5)), "smooth")
    made: Matte = covered * alike * _joined((alike > 0.5) & (covered > 0), stroke, box)
    return made


def _touched(stroke: Stroke, box: Window, seen: PictureSampler) -> NDArray[np.float32]:
    """Return the OKLab, shape (3,), under the first touch."""
    x, y = (np.arange(n) + start + 0.5 for n, start in ((box.width, box.left), (box.height, box.top)))
    away = np.hypot(x[None] * box.pixel - stroke.points[0], y[:, None] * box.pixel - stroke.points[1])
    under = away <= max(stroke.size / 8, float(away.min()))
    light = seen.planes("source", 0.0, box)[:, under].mean(axis=1)
    return lab_of(light.reshape(3, 1, 1).astype(np.float32), seen.space)[:, 0, 0]


def _joined(inside: NDArray[np.bool_], stroke: Stroke, box: Window) -> NDArray[np.bool_]:
    """Return what of ``inside`` hangs together with the way of the pen, with a rim."""
    labels, _ = scipy.ndimage.label(inside, np.ones((3, 3)))
    way = np.asarray(stroke.points).reshape(-1, 3)
    steps = np.linspace(way[:-1, :2], way[1:, :2], 16).reshape(-1, 2) if len(way) > 1 else way[:, :2]
    columns = np.clip((steps[:, 0] / box.pixel).astype(int) - box.left, 0, box.width - 1)
    rows = np.clip((steps[:, 1] / box.pixel).astype(int) - box.top, 0, box.height - 1)
    under = np.unique(labels[rows, columns])
    kept = np.isin(labels, under[under > 0])
    joined: NDArray[np.bool_] = scipy.ndimage.binary_dilation(kept, iterations=RIM)
    return joined
