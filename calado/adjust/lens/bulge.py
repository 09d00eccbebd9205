"""A bulge: the picture pushed outward from a centre, or drawn inward, within a radius.

A pixel at distance d from the centre reads from d · (1 − amount · (1 − (d/R)²)²): the centre is enlarged by
1/(1 − amount), the rim meets its surroundings without a crease (our choice). Below 0 it draws inward. Catmull–Rom.
"""

from math import ceil

import numba as nb
import numpy as np

from calado.adjust.kind import Composited, Rows, SpatialAdjustment, SpatialContext, SpatialPlan
from calado.arrays import Planes
from calado.colour.spaces import ColourSpace
from calado.compiled import compiled
from calado.sheet.declare import Number, Unit, Values
from calado.strips import for_rows


@compiled("float32(float32, float32, float32, float32, float32)", inline="always")
def _between(a, b, c, d, t):  # type: ignore[no-untyped-def]
    """Catmull–Rom between b and c."""
    half = nb.float32(0.5)
    return b + half * t * (
        c
        - a
        + t * (nb.float32(2) * a - nb.float32(5) * b + nb.float32(4) * c - d + t * (nb.float32(3) * (b - c) + d - a))
    )


@compiled(fastmath=True)
def _bulge_into(planes, x0, y0, radius, amount, first, last, out):  # type: ignore[no-untyped-def]
    """(x0, y0) and the radius in pixels of the window; what lies outside the radius is copied."""
    high, wide = planes.shape[1], planes.shape[2]
    over = 1.0 / radius**2
    column = np.empty(4, np.float32)
    for y in range(first, last):
        for x in range(wide):
            dx, dy = x - x0, y - y0
            within = 1.0 - (dx * dx + dy * dy) * over
            if within <= 0:
                for c in range(3):
                    out[c, y, x] = planes[c, y, x]
                continue
            scale = 1.0 - amount * within * within
            u, v = x0 + dx * scale, y0 + dy * scale
            j, i = nb.int64(np.floor(u)), nb.int64(np.floor(v))
            fx, fy = nb.float32(u - j), nb.float32(v - i)
            for c in range(3):
                for k in range(4):
                    row = planes[c, min(max(i + k - 1, 0), high - 1)]
                    column[k] = _between(
                        row[min(max(j - 1, 0), wide - 1)],
                        row[min(max(j, 0), wide - 1)],
                        row[min(max(j + 1, 0), wide - 1)],
                        row[min(max(j + 2, 0), wide - 1)],
                        fx,
                    )
                out[c, y, x] = _between(column[0], column[1], column[2], column[3], fy)


def _plan(values: Values, space: ColourSpace) -> SpatialPlan:
    number = BULGE.all_numbers(values)
    amount, radius = number["amount"], number["radius"]

    def run(planes: Planes, at: SpatialContext, share: float) -> Rows:
        window, pixel = at.window, at.window.pixel
        x0, y0 = number["x"] / pixel - window.left - 0.5, number["y"] / pixel - window.top - 0.5
        out = np.empty_like(planes)
        for_rows(
            out.shape[1],
            32,
            lambda first, last: _bulge_into(planes, x0, y0, radius / pixel, amount, first, last, out),
        )
        return Composited(out)

    # the farthest reading: d · (1 − (d/R)²)² is largest at d = R/√5, where it is 0.287 R
    return SpatialPlan(run, lambda window: ceil(0.287 * abs(amount) * radius / window.pixel) + 3)


BULGE = SpatialAdjustment(
    id="bulge",
    name="Bulge",
    group="Lens",
    space="linear",
    parameters=(
        Number("amount", "Bulge", Unit.SHARE, 0.0, -0.8, 0.8, -2.0, 0.95, 0.01),
        Number("radius", "Radius", Unit.LENGTH, 0.4, 0.05, 1.0, 0.01, 4.0, 0.005, word="within", scales=False),
        Number("x", "Centre across", Unit.ACROSS, 0.75, 0.0, 1.5, -4.0, 8.0, 0.005, word="about", scales=False),
        Number("y", "Centre down", Unit.LENGTH, 0.5, 0.0, 1.0, -4.0, 5.0, 0.005, word="and", scales=False),
    ),
    synonyms=("fisheye", "peephole", "door viewer", "pinch", "spherize", "magnify", "distort"),
    says="The picture pushed out from a centre, or drawn in.",
    moves=("x", "y", "radius"),
    plan=_plan,
)
