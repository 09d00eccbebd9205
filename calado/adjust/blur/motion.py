"""Motion blur: every point smeared into a line of even light, of a length and an angle.

B = K∗(w·x) / K∗w, w the side's coverage (Knutsson1993). The picture is sheared so that the line runs along its columns
or rows, whichever is nearer, smeared there by running sums with fractional ends, and sheared back; at 0° and 90°
nothing is sheared, and the line is exact. Angles are clockwise on screen, 0° level; the line is centred on its point.
"""

from math import ceil, cos, radians, sin

import numba as nb
import numpy as np

from calado.adjust.kind import Composited, Rows, SpatialAdjustment, SpatialContext, SpatialPlan
from calado.arrays import Planes
from calado.colour.spaces import ColourSpace
from calado.compiled import compiled
from calado.sheet.declare import Number, Unit, Values
from calado.strips import for_rows

LEAST_LENGTH_PX = 1.05
#: how much of the line's axis is sheared at a time, in pixels
BLOCK = 512


@compiled(fastmath=True)
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


@compiled(fastmath=True)
def _smear_into(source, half, first, last, out):  # type: ignore[no-untyped-def]
    """Take the mean over ± ``half`` pixels along rows, the two ends in part; borders are continued."""
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


@compiled(fastmath=True)
def _slide_into(source, slope, place, pad, first, last, out):  # type: ignore[no-untyped-def]
    """out[c, v, u] = source at row v, column u − pad + slope · (v + place), between two columns; borders continued."""
    wide = source.shape[2]
    for v in range(first, last):
        shift = slope * nb.float32(v + place) - nb.float32(pad)
        base = nb.int32(np.floor(shift))
        way = shift - nb.float32(base)
        for c in range(source.shape[0]):
            row, line = source[c, v], out[c, v]
            for u in range(out.shape[2]):
                a = row[min(max(u + base, 0), wide - 1)]
                line[u] = a + way * (row[min(max(u + base + 1, 0), wide - 1)] - a)


@compiled(fastmath=True)
def _smear_down_into(source, half, first, last, out):  # type: ignore[no-untyped-def]
    """Do as :func:`_smear_into` down columns ``first`` to ``last``: rows are added to a line of sums and taken off."""
    high = source.shape[1]
    whole = nb.int32(np.floor(half - nb.float32(0.5)))
    rest = half - nb.float32(0.5) - nb.float32(whole)
    share = nb.float32(1) / (nb.float32(2) * half)
    total = np.empty(last - first, np.float64)
    for c in range(source.shape[0]):
        plane = source[c]
        total[:] = 0
        for k in range(-whole, whole + 1):
            row = plane[min(max(k, 0), high - 1), first:last]
            for x in range(total.size):
                total[x] += row[x]
        for y in range(high):
            above, below = plane[max(y - whole - 1, 0), first:last], plane[min(y + whole + 1, high - 1), first:last]
            gone, line = plane[max(y - whole, 0), first:last], out[c, y, first:last]
            for x in range(total.size):
                line[x] = share * (nb.float32(total[x]) + rest * (above[x] + below[x]))
                total[x] += below[x] - gone[x]


def smear(planes: Planes, length_px: float, angle_deg: float, place: tuple[int, int]) -> Planes:
    """Return planes smeared along lines; ``place`` = (left, top) of the window, so that windows agree."""
    dx, dy = cos(radians(angle_deg)), sin(radians(angle_deg))
    down = abs(dy) > abs(dx)
    slope = dx / dy if down else dy / dx
    half = np.float32(max(length_px * max(abs(dx), abs(dy)) / 2, 0.5))
    if abs(slope) < 1e-6:
        return _smeared(planes, half, down=down)
    begin = place[1] if down else place[0]
    return _in_blocks(planes, half, slope, begin, down=down)


def _in_blocks(planes: Planes, half: np.float32, slope: float, begin: int, *, down: bool) -> Planes:
    """Shear, smear and shear back block by block: a long picture sheared whole would be mostly border."""
    along, reach = planes.shape[1 if down else 2], ceil(half) + 2
    out = np.empty_like(planes)
    for first in range(0, along, BLOCK):
        last = min(first + BLOCK, along)
        low, high = max(first - reach, 0), min(last + reach, along)
        wide, inner = slice(low, high), slice(first - low, last - low)
        if down:
            made = _sheared(np.ascontiguousarray(planes[:, wide]), half, slope, begin + low, down=True)
            out[:, first:last] = made[:, inner]
        else:
            made = _sheared(np.ascontiguousarray(planes[:, :, wide]), half, slope, begin + low, down=False)
            out[:, :, first:last] = made[:, :, inner]
    return out


def _sheared(planes: Planes, half: np.float32, slope: float, begin: int, *, down: bool) -> Planes:
    count, high, wide = planes.shape
    across, along = (wide, high) if down else (high, wide)
    pad = ceil(max(slope * begin, slope * (begin + along))) + 2
    long = across + ceil(abs(slope) * along) + 5
    level = np.empty((count, high, long) if down else (count, long, wide), np.float32)
    _shift(planes, np.float32(slope), begin, pad, level, down=down)
    out = np.empty_like(planes)
    _shift(_smeared(level, half, down=down), np.float32(-slope), begin, -pad, out, down=down)
    return out


def _smeared(planes: Planes, half: np.float32, *, down: bool) -> Planes:
    out = np.empty_like(planes)
    if down:
        for_rows(planes.shape[2], 256, lambda first, last: _smear_down_into(planes, half, first, last, out))
    else:
        for_rows(planes.shape[1], 16, lambda first, last: _smear_into(planes, half, first, last, out))
    return out


def _shift(source: Planes, slope: np.float32, begin: int, pad: int, out: Planes, *, down: bool) -> None:
    into = _slide_into if down else _shear_into
    for_rows(out.shape[1], 32, lambda first, last: into(source, slope, begin, pad, first, last, out))


def covered(planes: Planes, at: SpatialContext) -> Planes:
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

    def run(planes: Planes, at: SpatialContext, share: float) -> Rows:
        length_px = number["length"] * share / at.window.pixel
        if length_px < LEAST_LENGTH_PX:
            return Composited(planes)
        place = (at.window.left, at.window.top)
        return Composited(uncovered(smear(covered(planes, at), length_px, number["angle"], place)))

    return SpatialPlan(run, lambda window: ceil(number["length"] / window.pixel / 2) + 3)


MOTION = SpatialAdjustment(
    roles=("blur",),
    id="motion",
    name="Motion blur",
    group="Blur",
    side="outside",
    space="linear",
    parameters=(
        Number("length", "Motion", Unit.LENGTH, 0.0, 0.0, 0.3, 0.0, 1.0, 0.002, curve="square", word="motion blur"),
        Number("angle", "Angle", Unit.ANGLE, 0.0, -90.0, 90.0, -360.0, 360.0, 1.0, word="at", scales=False),
    ),
    synonyms=("streak", "streaks", "pan", "speed", "smear", "camera movement", "vertical blur", "wood"),
    says="Every point smeared into a line; the other side lends it no light.",
    begins={"length": 0.06},
    plan=_plan,
)
