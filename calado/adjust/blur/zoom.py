"""Zoom blur: every point smeared along the ray from a centre, as if the lens were zoomed while the shutter was open.

B = K∗(w·x) / K∗w, w the side's coverage (Knutsson1993). The smear is 2ᵏ pictures enlarged about the centre by factors
evenly spaced in their logarithm: each of k steps is the mean of two, so 64 cost six. Bilinear; borders are continued.
"""

from math import ceil, hypot, log2

import numba as nb
import numpy as np

from calado.adjust.blur.motion import covered, uncovered
from calado.adjust.kind import At, Laid, Rows, SpatialAdjustment, SpatialPlan
from calado.arrays import Planes
from calado.colour.spaces import ColourSpace
from calado.sheet.declare import Number, Unit, Values
from calado.strips import each_strip
from calado.window import Window

MOST_STEPS = 7


@nb.njit(nogil=True, cache=True, fastmath=True)
def _mean_into(source, near, far, x0, y0, first, last, out):  # type: ignore[no-untyped-def]
    """Mean of the picture read at two scales about (x0, y0), in pixels of the window."""
    high, wide = source.shape[1], source.shape[2]
    for y in range(first, last):
        for x in range(wide):
            for c in range(source.shape[0]):
                out[c, y, x] = nb.float32(0)
            for scale in (near, far):
                u = min(max(x0 + (nb.float32(x) - x0) * scale, nb.float32(0)), nb.float32(wide - 1))
                v = min(max(y0 + (nb.float32(y) - y0) * scale, nb.float32(0)), nb.float32(high - 1))
                j, i = min(nb.int32(u), max(wide - 2, 0)), min(nb.int32(v), max(high - 2, 0))
                fx, fy = u - nb.float32(j), v - nb.float32(i)
                right, below = min(j + 1, wide - 1), min(i + 1, high - 1)
                for c in range(source.shape[0]):
                    a = source[c, i, j] + fx * (source[c, i, right] - source[c, i, j])
                    b = source[c, below, j] + fx * (source[c, below, right] - source[c, below, j])
                    out[c, y, x] += nb.float32(0.5) * (a + fy * (b - a))


def zoomed(planes: Planes, amount: float, centre: tuple[float, float], farthest_px: float) -> Planes:
    """Return planes smeared over scales from e^(−amount/2) to e^(amount/2) about a place in pixels.

    ``farthest_px`` is the distance of the picture's farthest corner: it decides how many pictures are laid together.
    """
    steps = min(max(ceil(log2(max(amount * farthest_px, 2.0))), 1), MOST_STEPS)
    x0, y0 = np.float32(centre[0]), np.float32(centre[1])
    for step in range(steps):
        out = np.empty_like(planes)
        half = amount / 2 ** (step + 2)
        near, far = np.float32(np.exp(-half)), np.float32(np.exp(half))
        _strips(planes, near, far, x0, y0, out)
        planes = out
    return planes


def _strips(planes: Planes, near: np.float32, far: np.float32, x0: np.float32, y0: np.float32, out: Planes) -> None:
    each_strip(out.shape[1], 32, lambda first, last: _mean_into(planes, near, far, x0, y0, first, last, out))


def _plan(values: Values, space: ColourSpace) -> SpatialPlan:
    number = ZOOM.all_numbers(values)

    def run(planes: Planes, at: At, share: float) -> Rows:
        pixel = at.window.pixel
        centre = (number["x"] / pixel - at.window.left - 0.5, number["y"] / pixel - at.window.top - 0.5)
        farthest_px = farthest(at.window) / pixel
        return Laid(uncovered(zoomed(covered(planes, at), number["amount"] * share, centre, farthest_px)))

    def farthest(window: Window) -> float:
        return max(hypot(x - number["x"], y - number["y"]) for x in (0, window.aspect) for y in (0, 1))

    def reach(window: Window) -> int:
        return ceil(farthest(window) * (np.exp(number["amount"] / 2) - 1) / window.pixel) + MOST_STEPS + 1

    return SpatialPlan(run, reach)


ZOOM = SpatialAdjustment(
    id="zoom",
    name="Zoom blur",
    group="Blur",
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
