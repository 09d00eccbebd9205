"""Even colour: colours are drawn to those around them, light and shade stay.

In OKLab a surface of one chromaticity has a chroma in proportion to its lightness; so the target of a pixel of
lightness L is that of its neighbourhood's mean, (a, b)·L / L̄, the mean a Gaussian of linear light on this side of the
region. *Amount* of the way is gone to it; of *redness* only what is redder than the target goes (ours).

References
----------
Ottosson2020
"""

from dataclasses import dataclass

import numba as nb
import numpy as np

from calado.adjust.blur.cells import Blurred, blur, reach_px
from calado.adjust.kind import Composited, Rows, SpatialAdjustment, SpatialContext, SpatialPlan, numbers
from calado.arrays import Planes, Settings
from calado.colour.oklab import LMS_TO_LAB, lms_to_rgb, rgb_to_lms
from calado.colour.spaces import ColourSpace
from calado.compiled import compiled
from calado.numeric import cbrt
from calado.sheet.declare import Number, Unit, Values
from calado.window import Window

#: a neighbourhood darker than this, in lightness, tells no colour
DARK = 0.02


@compiled(inline="always")
def _lab(s, r, g, b):  # type: ignore[no-untyped-def]
    p = cbrt(s[0] * r + s[1] * g + s[2] * b)
    q = cbrt(s[3] * r + s[4] * g + s[5] * b)
    t = cbrt(s[6] * r + s[7] * g + s[8] * b)
    return (
        s[9] * p + s[10] * q + s[11] * t,
        s[12] * p + s[13] * q + s[14] * t,
        s[15] * p + s[16] * q + s[17] * t,
    )


@compiled(fastmath=True)
def _even_into(planes, first, last, column, s, out):  # type: ignore[no-untyped-def]
    """``out`` holds the neighbourhood's means of rows ``first`` to ``last`` from ``column`` on, and takes the result.

    s: RGB→LMS (9), LMS′→OKLab (9), OKLab→LMS′ (9), LMS→RGB (9), amount, redness.
    """
    amount, redness, dark = s[36], s[37], nb.float32(DARK)
    for y in range(first, last):
        for x in range(out.shape[2]):
            i, j = y - first, x + column
            light, one, two = _lab(s, planes[0, y, j], planes[1, y, j], planes[2, y, j])
            around, a, b = _lab(s, out[0, i, x], out[1, i, x], out[2, i, x])
            scale = light / max(around, dark)
            a, b = a * scale - one, b * scale - two
            one += amount * a
            two += amount * b
            one += redness * min(a * (nb.float32(1) - amount), nb.float32(0))
            p = s[18] * light + s[19] * one + s[20] * two
            q = s[21] * light + s[22] * one + s[23] * two
            t = s[24] * light + s[25] * one + s[26] * two
            p, q, t = p * p * p, q * q * q, t * t * t
            out[0, i, x] = s[27] * p + s[28] * q + s[29] * t
            out[1, i, x] = s[30] * p + s[31] * q + s[32] * t
            out[2, i, x] = s[33] * p + s[34] * q + s[35] * t


@dataclass(frozen=True, eq=False)
class _Even:
    """A picture whose colours are evened out as its rows are asked for."""

    planes: Planes
    around: Blurred
    settings: Settings

    def rows_into(self, first: int, last: int, column: int, out: Planes) -> None:
        """Fill ``out``, shape (3, last − first, n), with the rows of the window from ``column`` on."""
        self.around.rows_into(first, last, column, out)
        _even_into(self.planes, first, last, column, self.settings, out)


def _plan(values: Values, space: ColourSpace) -> SpatialPlan:
    number = EVEN.all_numbers(values)
    matrices = (rgb_to_lms(space), LMS_TO_LAB, np.linalg.inv(LMS_TO_LAB), lms_to_rgb(space))
    shares = [min(number[id], 1.0) for id in ("amount", "redness")]
    settings = numbers(np.concatenate([*(each.ravel() for each in matrices), shares]))

    def run(planes: Planes, at: SpatialContext, share: float) -> Rows:
        sigma = number["radius"] / at.window.pixel
        if sigma < 0.5:  # finer than a pixel: nothing of it can be seen at this size
            return Composited(planes)
        around = blur(planes, at.matte, at.window, (sigma, sigma), outside=at.outside)
        return _Even(planes, around, settings)

    def reach(window: Window) -> int:
        sigma = number["radius"] / window.pixel
        return reach_px((sigma, sigma))

    return SpatialPlan(run, reach)


EVEN = SpatialAdjustment(
    id="even",
    name="Even colour",
    group="Detail",
    space="oklab",
    parameters=(
        Number("amount", "Even colour", Unit.SHARE, 0.0, 0.0, 1.0, 0.0, 1.0, 0.01, word="all"),
        Number("redness", "Redness", Unit.SHARE, 0.0, 0.0, 1.0, 0.0, 1.0, 0.01, word="redness"),
        Number("radius", "Radius", Unit.LENGTH, 0.04, 0.01, 0.12, 0.004, 0.3, 0.002, scales=False),
    ),
    switch="any",
    synonyms=("skin", "even skin", "blotches", "redness", "flush", "patchy", "stains", "uneven colour", "tone"),
    says="Colours drawn to those around them, or only what is redder; light and shade stay.",
    plan=_plan,
)
