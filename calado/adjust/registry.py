"""The registry of adjustments, in the order in which a treatment applies and says them: one line each."""

from collections.abc import Iterable

from calado.adjust.blur.gaussian import BLUR
from calado.adjust.blur.lens import LENS
from calado.adjust.blur.motion import MOTION
from calado.adjust.blur.zoom import ZOOM
from calado.adjust.colour.bands import HUE_BY, LIGHTNESS_BY, SATURATION_BY
from calado.adjust.colour.hue import HUE
from calado.adjust.colour.lut import LUT
from calado.adjust.colour.mono import MONO
from calado.adjust.colour.muted import MUTED
from calado.adjust.colour.saturation import SATURATION
from calado.adjust.colour.wash import WASH
from calado.adjust.colour.white import TEMPERATURE, TINT
from calado.adjust.cover.mosaic import MOSAIC
from calado.adjust.cover.ring import RING
from calado.adjust.cover.scramble import SCRAMBLE
from calado.adjust.cover.solid import SOLID
from calado.adjust.detail.even import EVEN
from calado.adjust.detail.haze import HAZE
from calado.adjust.detail.layers import FINE, LOCAL
from calado.adjust.detail.sharpen import SHARPEN
from calado.adjust.kind import ClearAdjustment, GuardAdjustment, PointAdjustment, RingAdjustment, SpatialAdjustment
from calado.adjust.lens.bulge import BULGE
from calado.adjust.lens.cut import CLEAR, CUT
from calado.adjust.light.cdl import CDL
from calado.adjust.light.contrast import CONTRAST
from calado.adjust.light.curve import CURVE
from calado.adjust.light.exposure import EXPOSURE
from calado.adjust.light.guards import KEEP_HUE, LEGIBLE, PROTECT
from calado.adjust.light.levels import BLACK, MIDTONE, WHITE
from calado.adjust.light.reliefs import HIGHLIGHTS, SHADOWS
from calado.adjust.light.tone import TONE
from calado.adjust.texture.grain import GRAIN
from calado.adjust.texture.own_grain import OWN_GRAIN
from calado.adjust.texture.painterly import PAINTERLY
from calado.sheet.declare import SOLE, Role
from calado.sheet.models import Treatment

Adjustment = PointAdjustment | SpatialAdjustment | GuardAdjustment | RingAdjustment | ClearAdjustment

ADJUSTMENTS: dict[str, Adjustment] = {
    each.id: each
    for each in (
        *(HAZE, EXPOSURE, HIGHLIGHTS, SHADOWS, CONTRAST, BLACK, WHITE, MIDTONE, TONE, CURVE, CDL),
        *(TEMPERATURE, TINT, SATURATION, MUTED, HUE, HUE_BY, SATURATION_BY, LIGHTNESS_BY, MONO, WASH, LUT),
        *(EVEN, LOCAL, FINE, SHARPEN, BULGE, BLUR, LENS, MOTION, ZOOM, PAINTERLY),
        *(MOSAIC, SCRAMBLE, SOLID, GRAIN, OWN_GRAIN, CUT, CLEAR, PROTECT, LEGIBLE, KEEP_HUE, RING),
    )
}


def the_sole(adjustments: Iterable[Adjustment]) -> dict[Role, str]:
    """Return the id of the adjustment that has each of the roles which one has alone.

    Raises
    ------
    TypeError
        where none has it, or a second one.
    """
    found: dict[Role, str] = {}
    for role in SOLE:
        ids = [each.id for each in adjustments if role in each.roles]
        if len(ids) != 1:
            raise TypeError(f"One adjustment alone has the role “{role}”; here {' and '.join(ids) or 'none'} has it.")
        found[role] = ids[0]
    return found


_SOLE = the_sole(ADJUSTMENTS.values())


def called(role: Role) -> str:
    """Return the id of the adjustment that has a role alone."""
    return _SOLE[role]


def used(treatment: Treatment, *roles: Role) -> list[str]:
    """Return the ids of a treatment's adjustments that have any of the roles."""
    return [id for id in treatment if any(role in ADJUSTMENTS[id].roles for role in roles)]
