"""The demo's four faces with a truth, made small and laid into stills that have none, by a stated procedure."""

import json
from typing import NamedTuple

import cv2
import numpy as np

from calado.arrays import Codes
from calado.detect.tests.written import STILLS, still

GROUNDS, HEADS = ("g_wood", "d_shelf", "c_dusk"), ("a_bench", "b_portrait", "e_booth", "f_night")
#: heights of the faces in pixels; how far round a face its picture goes, in its heights; and how far apart two are
SIZES, ROUND, APART = (35.0, 70.0), 1.6, 250


class Laid(NamedTuple):
    """A face that was laid into a picture: its middle and height in pixels."""

    x: float
    y: float
    height: float


def with_small_faces(seed: int) -> tuple[Codes, list[Laid]]:
    """Return a still with the four faces laid into it, each with what is round it, and where they are."""
    rng = np.random.default_rng(seed)
    truth = json.loads((STILLS.parent / "truth" / "truth.json").read_text())["stills"]
    ground = still(GROUNDS[seed % len(GROUNDS)]).copy()
    laid: list[Laid] = []
    for name in HEADS:
        left, top, right, bottom = truth[name]["faces"][0]["box"]
        tall = rng.uniform(*SIZES)
        scale, room = tall / (bottom - top), ROUND * (bottom - top)
        x, y = (left + right) / 2, (top + bottom) / 2
        x0, y0 = int(max(x - room, 0)), int(max(y - room, 0))
        cut = still(name)[y0 : int(y + room), x0 : int(x + room)]
        small = cv2.resize(cut, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
        high, wide = small.shape[:2]
        while True:
            column, row = (int(rng.uniform(0, size)) for size in (ground.shape[1] - wide, ground.shape[0] - high))
            made = Laid(column + (x - x0) * scale, row + (y - y0) * scale, tall)
            if all(np.hypot(made.x - other.x, made.y - other.y) > APART for other in laid):
                break
        ground[row : row + high, column : column + wide] = small
        laid.append(made)
    return ground, laid
