"""The linear gradient: a half-plane, or a band of the picture, with a feathered edge."""

from math import atan2, cos, degrees, radians, sin

import numpy as np

from calado.arrays import Matte
from calado.compiled import compiled
from calado.region.affine import Affine
from calado.region.context import ALONE, PartContext
from calado.region.parameters import FAR, PROFILE, edge_of, feather, place_parameters
from calado.region.part import PartKind
from calado.region.profile import matte_at
from calado.sheet.declare import Choice, Number, Option, Unit
from calado.sheet.models import Part
from calado.strips import for_rows
from calado.window import Window

SIDES = Choice("sides", "Sides", (Option("one", "one-sided"), Option("two", "two-sided")))


@compiled()
def _fill(first, last, frame, band, edge, profile, left, top, out):  # type: ignore[no-untyped-def]
    """Fill rows by the distance to a line; ``band`` is half the width of a two-sided one, below 0 a one-sided one.

    ``frame`` = (x, y, across, down, pixel): a point of the line, the direction in which the matte falls.
    """
    pixel = np.float32(frame[4])
    for y in range(first, last):
        # along a row the distance grows by the same step from pixel to pixel
        start = (left + 0.5) * frame[4] - frame[0], (top + y + 0.5) * frame[4] - frame[1]
        at = start[0] * frame[2] + start[1] * frame[3]
        step = frame[2] * frame[4]
        for x in range(out.shape[1]):
            d = at + x * step
            if band >= 0:
                d = abs(d) - band
            out[y, x] = matte_at(np.float32(d), np.float32(edge[0]), np.float32(edge[1]), pixel, profile)


def gradient_matte(part: Part, window: Window, near: PartContext = ALONE) -> Matte:
    """Return the raw matte, shape (H, W), of a linear gradient.

    Convention: the line of the half goes through (x, y), in picture heights; at turn 0 it lies level and the matte
    falls downward, from 1 at ``feather_in`` above it to 0 at ``feather_out`` below; turn in degrees, clockwise on
    screen. Two-sided, a band of ``width`` around that line is inside, and the matte falls both ways.
    """
    number = {n.id: GRADIENT.number(part.values, n.id) for n in GRADIENT.numbers}
    turn = radians(number["turn"])
    frame = np.array([number["x"], number["y"], -sin(turn), cos(turn), window.pixel])
    band = number["width"] / 2 if part.values.get("sides") == "two" else -1.0
    edge, profile = edge_of(GRADIENT, part.values)
    out = np.empty((window.height, window.width), np.float32)

    def work(first: int, last: int) -> None:
        _fill(first, last, frame, band, edge, profile, window.left, window.top, out)

    for_rows(window.height, 64, work)
    return out


def _mapped(part: Part, affine: Affine) -> Part:
    """Return the gradient under a map of the plane: its line goes where it goes."""
    turn = radians(GRADIENT.number(part.values, "turn"))
    across, down = affine.normal(-sin(turn), cos(turn))
    complete = GRADIENT.complete(part.values) if affine.length != 1 else part.values
    x, y = affine.place(GRADIENT.number(part.values, "x"), GRADIENT.number(part.values, "y"))
    values = {
        **part.values,
        **affine.lengths(complete, "width", "feather_in", "feather_out"),
        "x": x,
        "y": y,
        "turn": round(degrees(atan2(-across, down)), 4),
    }
    return part.model_copy(update={"values": values})


def _place(aspect: float) -> dict[str, float | str]:
    """Return a gradient over the middle of the picture."""
    return {"x": round(aspect / 2, 4), "y": 0.5, "feather_in": 0.2, "feather_out": 0.2}


GRADIENT = PartKind(
    id="gradient",
    name="Gradient",
    parameters=(
        *place_parameters(),
        Number("turn", "Turn", Unit.ANGLE, 0.0, -180.0, 180.0, -360.0, 360.0, 0.5),
        Number("width", "Band", Unit.LENGTH, 0.3, 0.0, 1.0, 0.0, FAR, 0.005, needs=("sides", "two"), apart=True),
        feather("feather_in", "Feather in"),
        feather("feather_out", "Feather out"),
        SIDES,
        PROFILE,
    ),
    glyph="M0 0h18v5.5H0z",
    drawn="axis",
    beads="axis",
    noun="gradient",
    says="Full on one side of a line, none on the other; two-sided, full along a band.",
    matte=gradient_matte,
    mapped=_mapped,
    place=_place,
)
