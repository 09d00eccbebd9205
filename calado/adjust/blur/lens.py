"""The blur of a lens: a disc, or the polygon of five to nine blades, in linear light.

B = K∗(g·w·x) / K∗(g·w), w the side's coverage (Knutsson1993), g = 1 + gain · S(Y) what a highlight counts for (our
choice: it weighs in numerator and denominator, so a flat picture stays flat). Light that was clipped is rebuilt first,
if asked for (see ``calado.adjust.blur.lamps``). The aperture is convex, so each of its
rows is one span: a row of it costs two readings of running sums, whatever its radius. A large aperture is laid on
cells of ⌊r/8⌋ pixels, anchored at the picture's corner.
"""

from math import ceil, floor, radians, tau

import numba as nb
import numpy as np
from numpy.typing import NDArray

from calado.adjust.blur.cells import Blurred, reach_px
from calado.adjust.blur.gather import corner, gather, normalise
from calado.adjust.blur.grade import GRADE, graded
from calado.adjust.blur.lamps import ROUND, rebuilt
from calado.adjust.kind import Composited, Rows, SpatialAdjustment, SpatialContext, SpatialPlan
from calado.arrays import Planes
from calado.colour.spaces import ColourSpace
from calado.compiled import compiled
from calado.sheet.declare import Choice, Number, Option, Unit, Values
from calado.strips import for_rows
from calado.window import Window

CELLS = 8
#: below this radius, in cells, a row is cut into four
FINE_RADIUS = 6.0
LEAST_RADIUS_PX = 0.3
BLADES = ("round", "five", "six", "seven", "eight", "nine")


def cell_of(radius_px: float) -> int:
    """Return the side of the cells, in pixels, for an aperture of ``radius_px``."""
    return max(1, floor(radius_px / CELLS))


def spans(radius: float, blades: int, turn_deg: float) -> NDArray[np.float32]:
    """Return the spans of an aperture, shape (n, 3): their row, where each begins and where it ends, in cells.

    All count from the aperture's centre. ``blades`` 0 is a disc. A span is the mean of what its height cuts out, so the
    spans' area is the aperture's; a small aperture has four of them a row, for its rim's sake. A polygon has the area
    of the disc: its corners lie outside of it.
    """
    parts = 4 if radius < FINE_RADIUS else 1
    fine = 16 // parts
    half = ceil(radius * 1.3)
    levels = (np.arange((2 * half + 1) * 16) + 0.5) / 16 - half - 0.5
    if blades == 0:
        wide = np.sqrt(np.maximum(radius**2 - levels**2, 0))
        ends = np.stack([-wide, wide], axis=1)
    else:
        corners = radius * np.sqrt(tau / (blades * np.sin(tau / blades)))
        ends = _cut(levels, corners, blades, turn_deg)
    means = ends.reshape(-1, fine, 2).mean(axis=1)
    rows = np.repeat(np.arange(-half, half + 1), parts)[:, None]
    kept = means[:, 1] - means[:, 0] > 1e-6
    return np.ascontiguousarray(np.concatenate([rows, means], axis=1)[kept], np.float32)


def _cut(levels: NDArray[np.float64], corners: float, blades: int, turn_deg: float) -> NDArray[np.float64]:
    """Return where lines at ``levels`` cut a regular polygon; beyond it they cut nothing."""
    angles = radians(turn_deg - 90) + tau * np.arange(blades) / blades
    x, y = corners * np.cos(angles), corners * np.sin(angles)
    low, high = np.full(len(levels), np.inf), np.full(len(levels), -np.inf)
    for k in range(blades):
        x0, y0, x1, y1 = x[k], y[k], x[(k + 1) % blades], y[(k + 1) % blades]
        if abs(y1 - y0) < 1e-12:
            continue
        t = (levels - y0) / (y1 - y0)
        at = np.where((t >= 0) & (t <= 1), x0 + t * (x1 - x0), np.nan)
        low, high = np.fmin(low, at), np.fmax(high, at)
    empty = ~(high > low)
    return np.stack([np.where(empty, 0, low), np.where(empty, 0, high)], axis=1)


@compiled(fastmath=True)
def _sums_into(cells, pad, first, last, out):  # type: ignore[no-untyped-def]
    """Add up along rows, the border continued ``pad`` cells to both sides; out[c, y, k] = Σ of the first k."""
    wide = cells.shape[2]
    for c in range(cells.shape[0]):
        for y in range(first, last):
            row, line = cells[c, y], out[c, y]
            total = nb.float64(0)
            line[0] = 0
            for k in range(wide + 2 * pad):
                total += row[min(max(k - pad, 0), wide - 1)]
                line[k + 1] = total


@compiled(fastmath=True)
def _aperture_into(sums, rows, pad, share, first, last, out):  # type: ignore[no-untyped-def]
    """Add up the spans of the aperture's rows; both ends are read between two cells."""
    high, wide = out.shape[1], out.shape[2]
    for c in range(out.shape[0]):
        for y in range(first, last):
            row = out[c, y]
            row[:] = 0
            for k in range(rows.shape[0]):
                line = sums[c, min(max(y + nb.int32(rows[k, 0]), 0), high - 1)]
                begin, end = rows[k, 1] + nb.float32(pad + 0.5), rows[k, 2] + nb.float32(pad + 0.5)
                b0, e0 = nb.int32(np.floor(begin)), nb.int32(np.floor(end))
                fb, fe = begin - nb.float32(b0), end - nb.float32(e0)
                b, b1 = line[b0 : b0 + wide], line[b0 + 1 : b0 + 1 + wide]
                e, e1 = line[e0 : e0 + wide], line[e0 + 1 : e0 + 1 + wide]
                for x in range(wide):
                    row[x] += (e[x] - b[x]) + fe * (e1[x] - e[x]) - fb * (b1[x] - b[x])
            for x in range(wide):
                row[x] *= share


@compiled(fastmath=True)
def _weigh_into(planes, matte, outside, gain, weights, first, last, out):  # type: ignore[no-untyped-def]
    """How much each pixel counts: its coverage times its highlight gain."""
    for y in range(first, last):
        for x in range(out.shape[1]):
            light = weights[0] * planes[0, y, x] + weights[1] * planes[1, y, x] + weights[2] * planes[2, y, x]
            t = min(max((light - nb.float32(0.5)) * nb.float32(2), nb.float32(0)), nb.float32(1))
            counts = nb.float32(1) + gain * t * t * (nb.float32(3) - nb.float32(2) * t)
            if matte.size > 0:
                counts *= nb.float32(1) - matte[y, x] if outside else matte[y, x]
            out[y, x] = counts


def through(cells: Planes, rows: NDArray[np.float32]) -> Planes:
    """Return cells blurred by an aperture given as spans; borders are continued."""
    pad = ceil(float(np.abs(rows[:, 1:]).max())) + 2
    sums = np.empty((cells.shape[0], cells.shape[1], cells.shape[2] + 2 * pad + 1), np.float32)
    for_rows(cells.shape[1], 16, lambda first, last: _sums_into(cells, pad, first, last, sums))
    out = np.empty_like(cells)
    share = np.float32(1 / (rows[:, 2] - rows[:, 1]).sum())
    for_rows(cells.shape[1], 8, lambda first, last: _aperture_into(sums, rows, pad, share, first, last, out))
    return out


def _weighed(planes: Planes, at: SpatialContext, gain: float) -> NDArray[np.float32] | None:
    if gain == 0:
        return at.weight
    out = np.empty((planes.shape[1], planes.shape[2]), np.float32)
    matte = at.matte if at.matte is not None else np.zeros((0, 0), np.float32)
    weights = at.space.luminance_weights.astype(np.float32)
    for_rows(
        out.shape[0],
        64,
        lambda first, last: _weigh_into(planes, matte, at.outside, np.float32(gain), weights, first, last, out),
    )
    return out


def _plan(values: Values, space: ColourSpace) -> SpatialPlan:
    number = LENS.all_numbers(values)
    blades = BLADES.index(str(values.get("blades", BLADES[0])))
    blades = blades + 4 if blades else 0

    def run(planes: Planes, at: SpatialContext, share: float) -> Rows:
        radius_px = number["radius"] * share / at.window.pixel
        if radius_px < LEAST_RADIUS_PX:
            return Composited(planes)
        cell = cell_of(radius_px)
        planes = rebuilt(planes, at.window, number["lamps"])
        rows = spans(radius_px / cell, blades, number["turn"])
        beyond = int(np.abs(rows[:, 0]).max()) + 2 if cell > 1 else 0
        weight = _weighed(planes, at, number["gain"])
        cells = through(gather(planes, weight, at.window, (cell, beyond), outside=False), rows)
        if weight is not None:
            normalise(cells)
        return Blurred(cells, cell, corner(at.window, cell, beyond))

    def reach(window: Window) -> int:
        radius_px = number["radius"] / window.pixel
        rim = reach_px((ROUND / window.pixel,) * 2) if number["lamps"] > 0 else 0
        return ceil(radius_px * 1.3) + 4 * cell_of(radius_px) + rim

    # a disc of radius r has the variance r²/4 along each axis
    return graded(SpatialPlan(run, reach, sigma=number["radius"] / 2), values)


LENS = SpatialAdjustment(
    roles=("blur", "sized"),
    id="lens",
    name="Lens blur",
    group="Blur",
    side="outside",
    space="linear",
    parameters=(
        Number("radius", "Lens blur", Unit.LENGTH, 0.0, 0.0, 0.04, 0.0, 0.2, 0.001, curve="square"),
        Number("gain", "Highlights", Unit.FACTOR, 0.0, 0.0, 10.0, 0.0, 50.0, 0.1, word="highlights ×", scales=False),
        Number("lamps", "Lamps", Unit.STOPS, 0.0, 0.0, 6.0, 0.0, 12.0, 0.1, word="clipped light", scales=False),
        Choice(
            "blades",
            "Opening",
            tuple(
                Option(id, id if id == "round" else f"{id} blades", "" if id == "round" else f"of {id} blades")
                for id in BLADES
            ),
        ),
        Number(
            "turn",
            "Turned",
            Unit.ANGLE,
            0.0,
            0.0,
            72.0,
            -360.0,
            360.0,
            1.0,
            word="turned",
            needs=("blades", *BLADES[1:]),
            scales=False,
        ),
        *GRADE,
    ),
    synonyms=("bokeh", "depth of field", "shallow focus", "defocus", "aperture", "selective focus", "blur background"),
    says="The disc or the blades of a lens; the other side lends it no light.",
    plan=_plan,
)
