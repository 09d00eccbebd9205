"""The registry of adjustments, in the order in which a treatment applies and says them: one line each."""

from calado.adjust.blur.gaussian import BLUR
from calado.adjust.colour.hue import HUE
from calado.adjust.colour.muted import MUTED
from calado.adjust.colour.saturation import SATURATION
from calado.adjust.colour.white import TEMPERATURE, TINT
from calado.adjust.cover.ring import RING
from calado.adjust.kind import PointAdjustment, RingAdjustment, SpatialAdjustment
from calado.adjust.light.contrast import CONTRAST
from calado.adjust.light.exposure import EXPOSURE
from calado.adjust.light.levels import BLACK, MIDTONE, WHITE

Adjustment = PointAdjustment | SpatialAdjustment | RingAdjustment

ADJUSTMENTS: dict[str, Adjustment] = {
    each.id: each
    for each in (EXPOSURE, CONTRAST, BLACK, WHITE, MIDTONE, TEMPERATURE, TINT, SATURATION, MUTED, HUE, BLUR, RING)
}
