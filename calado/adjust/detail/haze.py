"""Haze, taken away by the dark channel prior or added by the same model.

x = J · t + A · (1 − t): A is the light of the veil, read once from the whole picture. Taking away: t = 1 − 0.95 ·
amount · dark(x/A), the darkest channel within a patch, refined by the guided filter; J = (x − A)/max(t, 0.15) + A.
Adding: a veil of the same light, even over the side: t = 1 − amount.

References
----------
He2009, He2013
"""

import cv2
import numpy as np

from calado.adjust.detail.guided import base_of, reach_px
from calado.adjust.kind import Composited, Rows, SpatialAdjustment, SpatialContext, SpatialPlan
from calado.arrays import Planes
from calado.colour.spaces import ColourSpace
from calado.sheet.declare import Number, Unit, Values
from calado.window import Window

PATCH = 0.012
RADIUS = 0.04
KEPT = 0.95
LEAST = 0.15


def _plan(values: Values, space: ColourSpace) -> SpatialPlan:
    number = HAZE.all_numbers(values)
    amount = number["amount"]

    def run(planes: Planes, at: SpatialContext, share: float) -> Rows:
        veil = np.array(at.stats.airlight, np.float32)
        if amount > 0:
            mean = veil.mean()
            light = mean + (veil - mean) * np.float32(1 - number["grey"])
            return Composited(planes + np.float32(amount) * (light[:, None, None] - planes))
        dark = np.clip((planes / veil[:, None, None]).min(axis=0), 0, 1)
        half = max(1, round(PATCH / at.window.pixel))
        dark = cv2.erode(dark, np.ones((2 * half + 1, 2 * half + 1), np.uint8), borderType=cv2.BORDER_REPLICATE)
        dark = base_of(np.ascontiguousarray(dark), RADIUS / at.window.pixel, 1e-3, at.window)
        through = np.maximum(1 - np.float32(KEPT * -amount) * np.clip(dark, 0, 1), np.float32(LEAST))
        return Composited((planes - veil[:, None, None]) / through + veil[:, None, None])

    def reach(window: Window) -> int:
        return 0 if amount > 0 else reach_px(RADIUS / window.pixel) + max(1, round(PATCH / window.pixel))

    return SpatialPlan(run, reach)


HAZE = SpatialAdjustment(
    id="haze",
    name="Haze",
    group="Detail",
    side="outside",
    parameters=(
        Number("amount", "Haze", Unit.SHARE, 0.0, -1.0, 1.0, -1.0, 1.0, 0.01),
        Number("grey", "Grey", Unit.SHARE, 0.0, 0.0, 1.0, 0.0, 1.0, 0.01, word="grey", scales=False),
    ),
    synonyms=("dehaze", "fog", "mist", "veil", "smoke", "clear air"),
    says="A veil of the picture's own light: taken away below 0, added above.",
    plan=_plan,
)
