"""Zoom blur: every point smeared along the ray from a centre, as if the lens were zoomed while the shutter was open.

B = K∗(w·x) / K∗w, w the side's coverage (Knutsson1993). The smear is 2ᵏ pictures enlarged about the centre by factors
evenly spaced in their logarithm: each of k steps is the mean of two, so 64 cost six. Bilinear; borders are continued.
"""

from math import ceil, hypot, log2

import numba as nb
import numpy as np
from numpy.typing import NDArray

from calado.adjust.blur.motion import covered, uncovered
from calado.adjust.kind import Composited, Rows, SpatialAdjustment, SpatialContext, SpatialPlan
from calado.arrays import Planes
from calado.colour.spaces import ColourSpace
from calado.sheet.declare import Number, Unit, Values
from calado.strips import for_rows
from calado.window import Window

MOST_STEPS = 6


@nb.njit(nogil=True, cache=True, fastmath=True)
def _mean_into(source, columns, ways, rows, row_ways, first, last, out):  # type: ignore[no-untyped-def]
    """Mean of the picture read at two scales: for each, the pixel before each place, and how far on the place is."""
    wide = source.shape[2]
    line = np.empty(wide + 1, np.float32)
    for c in range(source.shape[0]):
        for y in range(first, last):
            row = out[c, y]
            row[:] = 0
            for k in range(2):
                above, below = source[c, rows[k, y]], source[c, min(rows[k, y] + 1, source.shape[1] - 1)]
                fy = row_ways[k, y]
                for x in range(wide):
                    line[x] = nb.float32(0.5) * (above[x] + fy * (below[x] - above[x]))
                line[wide] = line[wide - 1]
                near, way = columns[k], ways[k]
                for x in range(wide):
                    a = line[near[x]]
                    row[x] += a + way[x] * (line[near[x] + 1] - a)


Axis = tuple[NDArray[np.int32], NDArray[np.float32]]


def _axis(size: int, centre: float, scales: tuple[float, float]) -> Axis:
    """Return where a row or column is read at two scales, shape (2, size): the pixel before, and the way on from it."""
    places = np.stack([np.clip(centre + (np.arange(size) - centre) * scale, 0, size - 1) for scale in scales])
    before = np.floor(places)
    return before.astype(np.int32), (places - before).astype(np.float32)


def zoomed(planes: Planes, amount: float, centre: tuple[float, float], farthest_px: float) -> Planes:
    """Return planes smeared over scales from e^(−amount/2) to e^(amount/2) about a place in pixels.

    ``farthest_px`` is the distance of the picture's farthest corner: it decides how many pictures are laid together.
    """
    steps = min(max(ceil(log2(max(amount * farthest_px / 2, 2.0))), 1), MOST_STEPS)
    for step in range(steps):
        half = amount / 2 ** (step + 2)
        scales = (float(np.exp(-half)), float(np.exp(half)))
        across, down = _axis(planes.shape[2], centre[0], scales), _axis(planes.shape[1], centre[1], scales)
        planes = _mean(planes, across, down)
    return planes


def _mean(planes: Planes, across: Axis, down: Axis) -> Planes:
    out = np.empty_like(planes)
    for_rows(out.shape[1], 32, lambda first, last: _mean_into(planes, *across, *down, first, last, out))
    return out


def _plan(values: Values, space: ColourSpace) -> SpatialPlan:
    number = ZOOM.all_numbers(values)

    def run(planes: Planes, at: SpatialContext, share: float) -> Rows:
        pixel = at.window.pixel
        centre = (number["x"] / pixel - at.window.left - 0.5, number["y"] / pixel - at.window.top - 0.5)
        farthest_px = farthest(at.window) / pixel
        return Composited(uncovered(zoomed(covered(planes, at), number["amount"] * share, centre, farthest_px)))

    def farthest(window: Window) -> float:
        return max(hypot(x - number["x"], y - number["y"]) for x in (0, window.aspect) for y in (0, 1))

    def reach(window: Window) -> int:
        return ceil(farthest(window) * (np.exp(number["amount"] / 2) - 1) / window.pixel) + MOST_STEPS + 1

    return SpatialPlan(run, reach)


ZOOM = SpatialAdjustment(
    roles=("blur",),
    id="zoom",
    name="Zoom blur",
    group="Blur",
    side="outside",
    space="linear",
    parameters=(
        Number("amount", "Zoom", Unit.SHARE, 0.0, 0.0, 0.4, 0.0, 1.0, 0.005, word="zoom blur"),
        Number("x", "Centre across", Unit.ACROSS, 0.75, 0.0, 1.5, -4.0, 8.0, 0.005, word="about", scales=False),
        Number("y", "Centre down", Unit.LENGTH, 0.5, 0.0, 1.0, -4.0, 5.0, 0.005, word="and", scales=False),
    ),
    synonyms=("radial blur", "rush", "burst", "explosion", "rays"),
    says="Every point smeared along the ray from a centre.",
    plan=_plan,
)
