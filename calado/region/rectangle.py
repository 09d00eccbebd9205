"""The rectangle: turned, with rounded corners, feathered inward and outward."""

from math import cos, radians, sin

import numpy as np

from calado.arrays import Matte
from calado.compiled import compiled
from calado.region.box import box_within, fitted_rectangle, mapped_box
from calado.region.context import ALONE, PartContext
from calado.region.outline import outline_matte
from calado.region.parameters import FAR, FEATHERS, PROFILE, edge_of, place_parameters
from calado.region.part import PartKind
from calado.region.profile import matte_at
from calado.region.projective import rectangle_through
from calado.sheet.declare import Number, Unit
from calado.sheet.models import Part
from calado.strips import for_rows
from calado.window import Window


@compiled()
def _fill(first, last, frame, half, edge, profile, left, top, out):  # type: ignore[no-untyped-def]
    """Fill rows by the exact distance to a rounded rectangle.

    ``frame`` = (x, y, cos, sin, pixel), ``half`` = (half width, half height, corner radius).
    """
    pixel = frame[4]
    radius = half[2]
    a, b = half[0] - radius, half[1] - radius
    for y in range(first, last):
        dy = (top + y + 0.5) * pixel - frame[1]
        for x in range(out.shape[1]):
            dx = (left + x + 0.5) * pixel - frame[0]
            u = abs(dx * frame[2] + dy * frame[3]) - a
            v = abs(dy * frame[2] - dx * frame[3]) - b
            d = min(max(u, v), 0.0) - radius
            if u > 0 and v > 0:
                d += np.sqrt(u * u + v * v)
            else:
                d += max(max(u, v), 0.0)
            out[y, x] = matte_at(np.float32(d), np.float32(edge[0]), np.float32(edge[1]), np.float32(pixel), profile)


def rectangle_matte(part: Part, window: Window, near: PartContext = ALONE) -> Matte:
    """Return the raw matte, shape (H, W), of a turned rectangle.

    Convention: centre (x, y), width, height and feathers in picture heights; turn in degrees, clockwise on screen;
    ``corner`` is the radius of the corners as a share of half the shorter side. In perspective it has its outline as
    points.
    """
    if part.points:
        return outline_matte(part, window, near)
    number = {n.id: RECTANGLE.number(part.values, n.id) for n in RECTANGLE.numbers}
    turn = radians(number["turn"])
    frame = np.array([number["x"], number["y"], cos(turn), sin(turn), window.pixel])
    a, b = number["width"] / 2, number["height"] / 2
    half = np.array([a, b, number["corner"] * min(a, b)])
    edge, profile = edge_of(RECTANGLE, part.values)
    out = np.empty((window.height, window.width), np.float32)

    def work(first: int, last: int) -> None:
        _fill(first, last, frame, half, edge, profile, window.left, window.top, out)

    for_rows(window.height, 64, work)
    return out


def _place(aspect: float) -> dict[str, float | str]:
    """Return a rectangle in the middle of the picture."""
    return {
        "x": round(aspect / 2, 4),
        "y": 0.5,
        "width": 0.7,
        "height": 0.45,
        "feather_in": 0.02,
        "feather_out": 0.02,
    }


def _side(id: str, name: str) -> Number:
    return Number(id, name, Unit.LENGTH, 0.5, 0.0, 2.0, 0.0, FAR, 0.005, apart=id == "width")


RECTANGLE = PartKind(
    id="rectangle",
    name="Rectangle",
    parameters=(
        *place_parameters(),
        _side("width", "Width"),
        _side("height", "Height"),
        Number("turn", "Turn", Unit.ANGLE, 0.0, -90.0, 90.0, -360.0, 360.0, 0.5),
        Number("corner", "Corners", Unit.SHARE, 0.0, 0.0, 1.0, 0.0, 1.0, 0.01),
        *FEATHERS,
        PROFILE,
    ),
    glyph="M4 3h10v7H4z",
    drawn="corners",
    beads="box",
    noun="rectangle",
    says="A rectangle; its corners may be rounded.",
    matte=rectangle_matte,
    mapped=mapped_box,
    through=rectangle_through,
    fitted=fitted_rectangle,
    within=box_within,
    by_distance=True,
    place=_place,
)
