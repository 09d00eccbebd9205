"""Motion blur: every point smeared into a line of even light, of a length and an angle.

B = K∗(w·x) / K∗w, w the side's coverage (Knutsson1993). The picture is sheared so that the line runs along its columns or
rows, whichever is nearer, smeared there by running sums with fractional ends, and sheared back; at 0° and 90° nothing is
sheared, and the line is exact. Angles are clockwise on screen, 0° level; the line is centred on its point.
"""

from math import ceil, cos, radians, sin

import numba as nb
import numpy as np

from calado.adjust.kind import At, Laid, Rows, SpatialAdjustment, SpatialPlan
from calado.arrays import Planes
from calado.colour.spaces import ColourSpace
from calado.sheet.declare import Number, Unit, Values
from calado.strips import each_strip
from calado.window import Window

LEAST_LENGTH_PX = 1.05


@nb.njit(nogil=True, cache=True, fastmath=True)
def _shear_into(source, slope, place, pad, first, last, out):  # type: ignore[no-untyped-def]
    """out[c, v, u] = source at column u, row v − pad + slope · (u + place), between two rows; borders continued."""
    high = source.shape[1]
    for v in range(first, last):
        for u in range(source.shape[2]):
            at = nb.float32(v - pad) + slope * nb.float32(u + place)
            i = nb.int32(np.floor(at))
            way = at - nb.float32(i)
            above, below = min(max(i, 0), high - 1), min(max(i + 1, 0), high - 1)
            for c in range(source.shape[0]):
                a = source[c, above, u]
                out[c, v, u] = a + way * (source[c, below, u] - a)


@nb.njit(nogil=True, cache=True, fastmath=True)
def _smear_into(source, half, first, last, out):  # type: ignore[no-untyped-def]
    """Mean over ± ``half`` pixels along rows: whole pixels by a running sum, the two ends in part; borders continued."""
    wide = source.shape[2]
    whole = nb.int32(np.floor(half - nb.float32(0.5)))
    rest = half - nb.float32(0.5) - nb.float32(whole)
    share = nb.float32(1) / (nb.float32(2) * half)
    for c in range(source.shape[0]):
        for y in range(first, last):
            row, line = source[c, y], out[c, y]
            total = nb.float64(0)
            for k in range(-whole, whole + 1):
                total += row[min(max(k, 0), wide - 1)]
            for x in range(wide):
                left, right = row[max(x - whole - 1, 0)], row[min(x + whole + 1, wide - 1)]
                line[x] = share * (nb.float32(total) + rest * (left + right))
                total += right - row[max(x - whole, 0)]


def smear(planes: Planes, length_px: float, angle_deg: float, place: tuple[int, int]) -> Planes:
    """Return planes smeared along lines; ``place`` = (left, top) of the window, so that windows agree."""
    dx, dy = cos(radians(angle_deg)), sin(radians(angle_deg))
    if abs(dy) > abs(dx):
        turned = smear(np.ascontiguousarray(planes.transpose(0, 2, 1)), length_px, 90 - angle_deg, place[::-1])
        return np.ascontiguousarray(turned.transpose(0, 2, 1))
    slope = dy / dx
    half = np.float32(max(length_px * abs(dx) / 2, 0.5))
    if abs(slope) < 1e-6:
        out = np.empty_like(planes)
        each_strip(planes.shape[1], 16, lambda first, last: _smear_into(planes, half, first, last, out))
        return out
    count, high, wide = planes.shape
    pad_low = ceil(max(slope * place[0], slope * (place[0] + wide), 0)) + 2
    pad_high = ceil(max(-slope * place[0], -slope * (place[0] + wide), 0)) + 2
    level = np.empty((count, high + pad_low + pad_high, wide), np.float32)
    _strips(level, planes, np.float32(slope), place[0], pad_low)
    smeared = np.empty_like(level)
    each_strip(level.shape[1], 16, lambda first, last: _smear_into(level, half, first, last, smeared))
    out = np.empty_like(planes)
    _strips(out, smeared, np.float32(-slope), place[0], -pad_low)
    return out


def _strips(out: Planes, source: Planes, slope: np.float32, place: int, pad: int) -> None:
    each_strip(out.shape[1], 32, lambda first, last: _shear_into(source, slope, place, pad, first, last, out))


def covered(planes: Planes, at: At) -> Planes:
    """Return w·x and w, shape (4, H, W), or the picture itself where all of it is the side."""
    weight = at.weight
    return planes if weight is None else np.concatenate([planes * weight, weight[None]])


def uncovered(planes: Planes) -> Planes:
    """Return w·x / w from what :func:`covered` made."""
    if len(planes) == 3:
        return planes
    return np.divide(planes[:3], planes[3], out=np.zeros_like(planes[:3]), where=planes[3] > 1e-6)


def _plan(values: Values, space: ColourSpace) -> SpatialPlan:
    number = MOTION.all_numbers(values)

    def run(planes: Planes, at: At, share: float) -> Rows:
        length_px = number["length"] * share / at.window.pixel
        if length_px < LEAST_LENGTH_PX:
            return Laid(planes)
        place = (at.window.left, at.window.top)
        return Laid(uncovered(smear(covered(planes, at), length_px, number["angle"], place)))

    return SpatialPlan(run, lambda window: ceil(number["length"] / window.pixel / 2) + 3)


MOTION = SpatialAdjustment(
    id="motion",
    name="Motion blur",
    group="Blur",
    space="linear",
    parameters=(
        Number("length", "Motion", Unit.LENGTH, 0.0, 0.0, 0.3, 0.0, 1.0, 0.002, curve="square", word="motion blur"),
        Number("angle", "Angle", Unit.ANGLE, 0.0, -90.0, 90.0, -360.0, 360.0, 1.0, word="at", scales=False),
    ),
    synonyms=("streak", "streaks", "pan", "speed", "smear", "camera movement", "vertical blur", "wood"),
    says="Every point smeared into a line; the other side lends it no light.",
    plan=_plan,
)
