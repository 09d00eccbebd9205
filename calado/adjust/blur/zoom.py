"""Zoom blur: every point smeared along the ray from a centre, as if the lens were zoomed while the shutter was open.

B = K∗(w·x) / K∗w, w the side's coverage (Knutsson1993). The smear is up to 64 pictures enlarged about the centre by
factors evenly spaced in their logarithm, made in steps that each take the mean of four (or two) of what the step before
made: 64 cost twelve. Bilinear; borders are continued. Along a row the place that is read runs beside the pixel for
1/|scale − 1| pixels before it moves on by one: such a *run* is read without looking anything up.
"""

from math import ceil, hypot, log2

import numba as nb
import numpy as np
from numpy.typing import NDArray

from calado.adjust.blur.motion import covered, uncovered
from calado.adjust.kind import Composited, Rows, SpatialAdjustment, SpatialContext, SpatialPlan
from calado.arrays import Planes
from calado.colour.spaces import ColourSpace
from calado.compiled import compiled
from calado.sheet.declare import Number, Unit, Values
from calado.strips import for_rows
from calado.window import Window

MOST_STEPS = 6


@compiled(fastmath=True)
def _mean_into(source, axis, ways, runs, rows, row_ways, first, last, out):  # type: ignore[no-untyped-def]
    """Mean of the picture read at a few scales.

    ``runs``, shape (n, 2): the first pixel of a run, and how far from a pixel it reads; those of scale k are number
    ``axis[k]`` to ``axis[k + 1]``, and each ends where the next begins.
    """
    wide, scales = source.shape[2], rows.shape[0]
    line = np.empty(wide + 1, np.float32)
    share = nb.float32(1) / nb.float32(scales)
    for c in range(source.shape[0]):
        for y in range(first, last):
            row = out[c, y]
            for x in range(wide):
                row[x] = 0
            for k in range(scales):
                above, below = source[c, rows[k, y]], source[c, min(rows[k, y] + 1, source.shape[1] - 1)]
                fy = row_ways[k, y]
                for x in range(wide):
                    line[x] = share * (above[x] + fy * (below[x] - above[x]))
                line[wide] = line[wide - 1]
                for r in range(axis[k], axis[k + 1]):
                    x0, off = runs[r, 0], runs[r, 1]
                    x1 = runs[r + 1, 0] if r + 1 < axis[k + 1] else wide
                    a, b = line[x0 + off : x1 + off], line[x0 + off + 1 : x1 + off + 1]
                    way, into = ways[k, x0:x1], row[x0:x1]
                    for x in range(x1 - x0):
                        into[x] += a[x] + way[x] * (b[x] - a[x])


Axis = tuple[NDArray[np.int32], NDArray[np.float32]]


def _axis(size: int, centre: float, scales: NDArray[np.float64]) -> Axis:
    """Return where a row or column is read at each scale, shape (n, size): the pixel before, and the way on from it."""
    places = np.stack([np.clip(centre + (np.arange(size) - centre) * scale, 0, size - 1) for scale in scales])
    before = np.floor(places)
    return before.astype(np.int32), (places - before).astype(np.float32)


def _runs(before: NDArray[np.int32]) -> tuple[NDArray[np.int32], NDArray[np.int32]]:
    """Return where each scale's runs begin, shape (n + 1,), and the runs: first pixel, and how far off they read."""
    off = before - np.arange(before.shape[1], dtype=np.int32)
    starts = [np.flatnonzero(np.diff(each, prepend=each[0] + 1)) for each in off]
    axis = np.cumsum([0, *(len(each) for each in starts)], dtype=np.int32)
    runs = [np.stack([each, off[k, each]], axis=1) for k, each in enumerate(starts)]
    return axis, np.ascontiguousarray(np.concatenate(runs), np.int32)


def zoomed(planes: Planes, amount: float, centre: tuple[float, float], farthest_px: float) -> Planes:
    """Return planes smeared over scales from e^(−amount/2) to e^(amount/2) about a place in pixels.

    ``farthest_px`` is the distance of the picture's farthest corner: it decides how many pictures are laid together.
    """
    steps = min(max(ceil(log2(max(amount * farthest_px / 2, 2.0))), 1), MOST_STEPS)
    span = amount
    for count in [4] * (steps // 2) + [2] * (steps % 2):
        scales = np.exp(((np.arange(count) + 0.5) / count - 0.5) * span)
        across, down = _axis(planes.shape[2], centre[0], scales), _axis(planes.shape[1], centre[1], scales)
        planes = _mean(planes, across, down)
        span /= count
    return planes


def _mean(planes: Planes, across: Axis, down: Axis) -> Planes:
    out = np.empty_like(planes)
    axis, runs = _runs(across[0])
    for_rows(out.shape[1], 32, lambda first, last: _mean_into(planes, axis, across[1], runs, *down, first, last, out))
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
