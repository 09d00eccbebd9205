"""Painterly stylisation that keeps edges: each pixel takes the mean of the calmest of four quarters around it.

References
----------
Kuwahara1976, smooth in its choice as Papari2007: each quarter's mean counts by its variance to the power −4, so no
pixel jumps between two.
"""

import cv2
import numba as nb
import numpy as np

from calado.adjust.detail.guided import tone
from calado.adjust.kind import Composited, Rows, SpatialAdjustment, SpatialContext, SpatialPlan
from calado.arrays import Planes
from calado.colour.spaces import ColourSpace
from calado.compiled import compiled
from calado.sheet.declare import Number, Unit, Values
from calado.strips import for_rows

KEPT_VARIANCE = 1e-5


@compiled(fastmath=True)
def _choose_into(planes, means, variance, half, amount, first, last, out):  # type: ignore[no-untyped-def]
    high, wide = variance.shape
    for y in range(first, last):
        up, down = max(y - half, 0), min(y + half, high - 1)
        for x in range(wide):
            left, right = max(x - half, 0), min(x + half, wide - 1)
            total = nb.float32(0)
            r, g, b = nb.float32(0), nb.float32(0), nb.float32(0)
            for i in (up, down):
                for j in (left, right):
                    calm = nb.float32(KEPT_VARIANCE) / (max(variance[i, j], nb.float32(0)) + nb.float32(KEPT_VARIANCE))
                    calm = calm * calm
                    calm = calm * calm + nb.float32(1e-12)
                    total += calm
                    r += calm * means[0, i, j]
                    g += calm * means[1, i, j]
                    b += calm * means[2, i, j]
            out[0, y, x] = planes[0, y, x] + amount * (r / total - planes[0, y, x])
            out[1, y, x] = planes[1, y, x] + amount * (g / total - planes[1, y, x])
            out[2, y, x] = planes[2, y, x] + amount * (b / total - planes[2, y, x])


def _plan(values: Values, space: ColourSpace) -> SpatialPlan:
    number = PAINTERLY.all_numbers(values)

    def half_px(pixel: float) -> int:
        return max(1, round(number["size"] / pixel / 2))

    def run(planes: Planes, at: SpatialContext, share: float) -> Rows:
        half = half_px(at.window.pixel)
        box = (half * 2 + 1, half * 2 + 1)
        means = np.stack([cv2.boxFilter(each, -1, box, borderType=cv2.BORDER_REPLICATE) for each in planes])
        plain = tone(planes, at.space)
        mean = cv2.boxFilter(plain, -1, box, borderType=cv2.BORDER_REPLICATE)
        variance = cv2.sqrBoxFilter(plain, -1, box, borderType=cv2.BORDER_REPLICATE) - mean * mean
        out = np.empty_like(planes)
        amount = np.float32(number["amount"])
        for_rows(
            out.shape[1],
            32,
            lambda first, last: _choose_into(planes, means, variance, half, amount, first, last, out),
        )
        return Composited(out)

    return SpatialPlan(run, lambda window: 2 * half_px(window.pixel) + 1)


PAINTERLY = SpatialAdjustment(
    id="painterly",
    name="Painterly",
    group="Texture",
    space="linear",
    parameters=(
        Number("amount", "Painterly", Unit.SHARE, 0.0, 0.0, 1.0, 0.0, 1.0, 0.01),
        Number("size", "Brush", Unit.LENGTH, 0.012, 0.004, 0.05, 0.002, 0.2, 0.001, word="brush", scales=False),
    ),
    synonyms=("cartoon", "comic", "painting", "oil", "stylise", "stylize", "brush strokes", "illustration"),
    says="Areas flow together as if painted; edges stay.",
    plan=_plan,
)
