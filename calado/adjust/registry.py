"""The registry of adjustments, in the order in which a treatment applies and says them: one line each."""

from calado.adjust.blur.gaussian import BLUR
from calado.adjust.colour.saturation import SATURATION
from calado.adjust.cover.ring import RING
from calado.adjust.kind import PointAdjustment, RingAdjustment, SpatialAdjustment
from calado.adjust.light.exposure import EXPOSURE

Adjustment = PointAdjustment | SpatialAdjustment | RingAdjustment

ADJUSTMENTS: dict[str, Adjustment] = {each.id: each for each in (EXPOSURE, SATURATION, BLUR, RING)}
