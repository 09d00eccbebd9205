"""The ellipse, and by its roundness every superellipse up to a rectangle, feathered inward and outward.

A signed distance is smooth, so it is computed exactly on a sparse grid and interpolated where interpolation is proved
good enough at four more points; a block that fails is divided, down to single pixels. Blocks are anchored at the
picture's corner: a strip, a crop and the whole agree bit for bit.
"""

from math import cos, radians, sin

import numpy as np

from calado.arrays import Matte
from calado.compiled import compiled
from calado.region.blocks import allowed_miss, at_quarter, smooth_block
from calado.region.box import box_within, fitted_ellipse, mapped_box
from calado.region.context import ALONE, PartContext
from calado.region.parameters import FAR, FEATHERS, PROFILE, edge_of, place_parameters
from calado.region.part import PartKind
from calado.region.profile import matte_at
from calado.region.projective import ellipse_through
from calado.region.superellipse import quadrant, signed_distance
from calado.sheet.declare import Number, Unit
from calado.sheet.models import Part
from calado.strips import for_rows
from calado.window import Window

BLOCK = 32
THINNEST = 1e-4


@compiled(inline="always")
def _distance(x, y, frame, points):  # type: ignore[no-untyped-def]
    dx, dy = (x + 0.5) * frame[4] - frame[0], (y + 0.5) * frame[4] - frame[1]
    return signed_distance(dx * frame[2] + dy * frame[3], dy * frame[2] - dx * frame[3], points)


@compiled()
def _exact_block(x0, y0, size, frame, points, edge, profile, left, top, out):  # type: ignore[no-untyped-def]
    for y in range(max(y0, top), min(y0 + size, top + out.shape[0])):
        for x in range(max(x0, left), min(x0 + size, left + out.shape[1])):
            d = _distance(float(x), float(y), frame, points)
            out[y - top, x - left] = matte_at(
                np.float32(d), np.float32(edge[0]), np.float32(edge[1]), np.float32(frame[4]), profile
            )


@compiled()
def _block(x0, y0, size, frame, points, edge, profile, left, top, out):  # type: ignore[no-untyped-def]
    """Fill one block of the picture's grid; return False where interpolation would show and nothing was filled."""
    half = size * 0.5
    centre = _distance(x0 + half, y0 + half, frame, points)
    reach = (half * 1.415 + 1.0) * frame[4]  # a distance changes by at most 1 per unit of way
    if centre - reach > edge[1] + frame[4] or centre + reach < -edge[0] - frame[4]:
        value = np.float32(0.0) if centre - reach > edge[1] + frame[4] else np.float32(1.0)
        for y in range(max(y0, top), min(y0 + size, top + out.shape[0])):
            for x in range(max(x0, left), min(x0 + size, left + out.shape[1])):
                out[y - top, x - left] = value
        return True
    if size <= 4:
        _exact_block(x0, y0, size, frame, points, edge, profile, left, top, out)
        return True
    nodes = np.empty(9)
    for k in range(9):
        nodes[k] = centre if k == 4 else _distance(x0 + half * (k % 3), y0 + half * (k // 3), frame, points)
    allowed = allowed_miss(edge, frame[4])
    worst = 0.0
    for k in range(4):
        x, y = x0 + size * (0.25 + 0.5 * (k % 2)), y0 + size * (0.25 + 0.5 * (k // 2))
        worst = max(worst, abs(_distance(x, y, frame, points) - at_quarter(nodes, k)))
    if worst > allowed:
        return False
    smooth_block(x0, y0, size, nodes, frame[4], edge, profile, left, top, out)
    return True


@compiled(
    "void(int64, int64, float64[::1], Array(float64, 2, 'C', readonly=True), float64[::1], int64, int64, int64,"
    " float32[:, ::1])"
)
def _fill(first_row, last_row, frame, points, edge, profile, left, top, out):  # type: ignore[no-untyped-def]
    """Fill the block rows ``first_row`` to ``last_row`` (not included) of the picture's grid of blocks."""
    first, last = left // BLOCK, (left + out.shape[1] - 1) // BLOCK + 1
    # a stack, since a cached numba function may not call itself; 3 divisions × 3 waiting quarters + 4 fit
    waiting = np.empty((16, 3), np.int64)
    for row in range(first_row, last_row):
        for column in range(first, last):
            waiting[0] = column * BLOCK, row * BLOCK, BLOCK
            count = 1
            while count:
                count -= 1
                x0, y0, size = waiting[count]
                if _block(x0, y0, size, frame, points, edge, profile, left, top, out):
                    continue
                size //= 2
                for k in range(4):
                    waiting[count + k] = x0 + size * (k % 2), y0 + size * (k // 2), size
                count += 4


def ellipse_matte(part: Part, window: Window, near: PartContext = ALONE) -> Matte:
    """Return the raw matte, shape (H, W), of a turned superellipse.

    Convention: centre (x, y), width, height and feathers in picture heights; turn in degrees, clockwise on screen.
    """
    number = {n.id: ELLIPSE.number(part.values, n.id) for n in ELLIPSE.numbers}
    turn = radians(number["turn"])
    frame = np.array([number["x"], number["y"], cos(turn), sin(turn), window.pixel])
    a, b = max(number["width"] / 2, THINNEST), max(number["height"] / 2, THINNEST)
    points = quadrant(a, b, 2.0 / number["roundness"])
    edge, profile = edge_of(ELLIPSE, part.values)
    out = np.empty((window.height, window.width), np.float32)
    first, last = window.top // BLOCK, (window.top + window.height - 1) // BLOCK + 1

    def work(start: int, end: int) -> None:
        _fill(first + start, first + end, frame, points, edge, profile, window.left, window.top, out)

    for_rows(last - first, 4, work)
    return out


def _place(aspect: float) -> dict[str, float | str]:
    """Return an ellipse in the middle of the picture, half as high as it."""
    return {
        "x": round(aspect / 2, 4),
        "y": 0.5,
        "width": 0.6,
        "height": 0.5,
        "feather_in": 0.04,
        "feather_out": 0.04,
    }


def _axis(id: str, name: str) -> Number:
    return Number(id, name, Unit.LENGTH, 0.5, 0.002, 2.0, 0.002, FAR, 0.005, apart=id == "width")


ELLIPSE = PartKind(
    id="ellipse",
    name="Ellipse",
    parameters=(
        *place_parameters(),
        _axis("width", "Width"),
        _axis("height", "Height"),
        Number("turn", "Turn", Unit.ANGLE, 0.0, -90.0, 90.0, -360.0, 360.0, 0.5),
        Number("roundness", "Roundness", Unit.SHARE, 1.0, 0.02, 1.0, 0.02, 1.0, 0.01),
        *FEATHERS,
        PROFILE,
    ),
    glyph="M4 6.5a5 3.5 0 1 0 10 0a5 3.5 0 1 0-10 0z",
    drawn="corners",
    beads="box",
    noun="oval",
    says="An ellipse; less roundness squares it.",
    matte=ellipse_matte,
    mapped=mapped_box,
    through=ellipse_through,
    fitted=fitted_ellipse,
    within=box_within,
    by_distance=True,
    place=_place,
)
