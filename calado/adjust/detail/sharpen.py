"""Unsharp mask on the tone, with a threshold below which nothing is done.

t′ = t + amount · D · S(|D|/threshold), D = t − Gaussian(t); S is smoothstep over ½…1½ of the threshold, so that noise
below it stays as it is, without a step (common practice, no source).
"""

import cv2
import numpy as np

from calado.adjust.detail.guided import tone, with_tone
from calado.adjust.kind import Composited, Rows, SpatialAdjustment, SpatialContext, SpatialPlan
from calado.arrays import Planes
from calado.colour.spaces import ColourSpace
from calado.sheet.declare import Number, Unit, Values

CUT = 4.0


def _plan(values: Values, space: ColourSpace) -> SpatialPlan:
    number = SHARPEN.all_numbers(values)

    def run(planes: Planes, at: SpatialContext, share: float) -> Rows:
        sigma = number["radius"] / at.window.pixel
        if sigma < 0.2:  # finer than a pixel: nothing of it can be seen at this size
            return Composited(planes)
        old = tone(planes, at.space)
        half = int(np.ceil(CUT * sigma))
        soft = cv2.GaussianBlur(old, (2 * half + 1, 2 * half + 1), sigma, borderType=cv2.BORDER_REPLICATE)
        detail = old - soft
        if number["threshold"] > 0:
            t = np.clip(np.abs(detail) / np.float32(number["threshold"]) - np.float32(0.5), 0, 1)
            detail *= t * t * (3 - 2 * t)
        return Composited(with_tone(planes, old, old + np.float32(number["amount"]) * detail))

    return SpatialPlan(run, lambda window: int(np.ceil(CUT * number["radius"] / window.pixel)))


SHARPEN = SpatialAdjustment(
    id="sharpen",
    name="Sharpen",
    group="Detail",
    parameters=(
        Number("amount", "Sharpen", Unit.SHARE, 0.0, 0.0, 2.0, 0.0, 5.0, 0.01),
        Number("radius", "Radius", Unit.LENGTH, 0.0012, 0.0005, 0.005, 0.0002, 0.03, 0.0001, scales=False),
        Number("threshold", "Threshold", Unit.SHARE, 0.0, 0.0, 0.1, 0.0, 0.5, 0.001, scales=False),
    ),
    synonyms=("unsharp mask", "crisp", "acutance", "edge"),
    says="Unsharp mask on the tone; what lies below the threshold stays.",
    plan=_plan,
)
