"""The polygon and the closed curve as kinds of part."""

from dataclasses import replace
from math import cos, pi, sin

from calado.region.affine import Affine
from calado.region.moved import changed_box, outline_within
from calado.region.outline import EDGE, outline_matte
from calado.region.part import PartKind, Points
from calado.sheet.models import Corner, Part


def _mapped(part: Part, affine: Affine) -> Part:
    """Return the outline under a map of the plane, its handles with it."""

    def moved(point: Corner) -> Corner:
        ways = (affine.vector(*point[k : k + 2]) for k in range(2, len(point), 2))
        return (*affine.place(*point[:2]), *(round(each, 5) for way in ways for each in way))

    values = {**part.values, **affine.lengths(part.values, "feather_in", "feather_out")}
    return part.model_copy(update={"points": tuple(map(moved, part.points)), "path": (), "values": values})


def _corners(aspect: float) -> Points:
    """Return a hexagon in the middle of the picture."""
    return tuple(
        (round(aspect / 2 + 0.3 * cos(k * pi / 3), 4), round(0.5 + 0.3 * sin(k * pi / 3), 4)) for k in range(6)
    )


def _round(aspect: float) -> Points:
    """Return a soft shape of four points in the middle of the picture."""
    x, across, down = aspect / 2, 0.35, 0.25
    # 0.5523: the handles with which four cubics follow a circle (common practice, no source)
    bow_x, bow_y = round(0.5523 * across, 4), round(0.5523 * down, 4)
    return (
        (round(x + across, 4), 0.5, 0.0, -bow_y, 0.0, bow_y),
        (round(x, 4), 0.5 + down, bow_x, 0.0, -bow_x, 0.0),
        (round(x - across, 4), 0.5, 0.0, bow_y, 0.0, -bow_y),
        (round(x, 4), 0.5 - down, -bow_x, 0.0, bow_x, 0.0),
    )


def _soft(aspect: float) -> dict[str, float | str]:
    return {"feather_in": 0.01, "feather_out": 0.01}


POLYGON = PartKind(
    id="polygon",
    name="Polygon",
    parameters=EDGE.parameters,
    glyph="M5 10.5 3.5 4.5 9 2.5 14.5 5.5 12.5 10.5z",
    drawn="points",
    beads="points",
    noun="polygon",
    points=True,
    says="Corners joined by straight lines.",
    matte=outline_matte,
    changed=changed_box,
    within=outline_within,
    by_distance=True,
    mapped=_mapped,
    place=_soft,
    corners=_corners,
)
CURVE = replace(
    POLYGON,
    id="curve",
    name="Curve",
    glyph="M3.5 8C2.5 3.5 7 1.5 9 4S15 3 15 7.5 5 12.5 3.5 8z",
    drawn="path",
    beads="points",
    noun="curve",
    handled=True,
    says="A closed curve through points with handles, as drawn by hand.",
    corners=_round,
)
