"""The speed of mattes: each kind of part, one point of a long curve moved, refining; against a distance transform."""

from collections.abc import Callable
from math import cos, pi, sin

import cv2
import numpy as np

from benchmarks.clock import least
from benchmarks.core import ROUNDS, Row
from benchmarks.figure import Figure
from calado.region.kinds import PARTS
from calado.region.matte import Mattes, part_matte
from calado.region.refine.disc import grown
from calado.region.refine.smooth import smoothed
from calado.region.resolved import alone
from calado.sheet.models import Part, Region
from calado.window import full_window

WINDOW = full_window(1600, 1067)
FEATHERS = {"feather_in": 0.02, "feather_out": 0.03}


def _plain(part: Part) -> Callable[[object], None]:
    """Return the straightforward way: fill the outline, measure distances on both sides, make the profile."""
    inside = (
        part_matte(part.model_copy(update={"values": {**part.values, "feather_in": 0, "feather_out": 0}}), WINDOW) > 0.5
    ).astype(np.uint8)

    def work(_: object) -> None:
        out = cv2.distanceTransform(1 - inside, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
        into = cv2.distanceTransform(inside, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
        t = np.clip((0.03 - (out - into) * WINDOW.pixel) / 0.05, 0, 1)
        t * t * (3 - 2 * t)

    return work


def _kinds() -> list[Row]:
    made = []
    for kind in PARTS.values():
        if not kind.beads or kind.strokes or kind.taken:
            continue
        soft = {name: value for name, value in FEATHERS.items() if kind.parameter(name)}
        part = Part(id="p", kind=kind.id, values={**kind.place(1.5), **soft}, points=kind.corners(1.5))
        plain = least(_plain(part), range(4), warm=1)
        made.append(
            Row(f"{kind.name.lower()}, feathered", least(lambda _, p=part: part_matte(p, WINDOW), range(ROUNDS)), plain)
        )
    return made


def curve_of(count: int, away_px: float) -> Part:
    """Return a curve of so many points, one of which stands elsewhere by ``away_px``."""
    points = []
    for j in range(count):
        t = 2 * pi * j / count
        r = 0.3 + 0.02 * sin(9 * t) + (away_px / 1067 if j == count // 4 else 0)
        points.append(
            (0.75 + r * cos(t), 0.5 + r * sin(t), 0.004 * sin(t), -0.004 * cos(t), -0.004 * sin(t), 0.004 * cos(t))
        )
    return Part(id="p", kind="curve", points=tuple(points), values={"feather_in": 0.01, "feather_out": 0.01})


def rows() -> list[Row]:
    """Return the table of mattes."""
    curves = [Region(id="r", name="r", parts=(curve_of(200, k),)) for k in range(ROUNDS)]
    mattes = Mattes()
    whole = least(lambda region: part_matte(region.parts[0], WINDOW), curves)
    moved = least(lambda region: mattes.of(alone(region), WINDOW), curves)
    matte = part_matte(curves[0].parts[0], WINDOW)
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (21, 21))
    dilated = least(lambda _: cv2.dilate(matte, disc), range(4), warm=1)
    codes = np.rint(matte * 255).astype(np.uint8)
    median = least(lambda _: cv2.medianBlur(codes, 13), range(4), warm=1)
    return [
        *_kinds(),
        Row("a curve of 200 points, first view", whole, least(_plain(curves[0].parts[0]), range(4), warm=1)),
        Row("… one point of it moves", moved),
        Row("grown by 10 px", least(lambda _: grown(matte, 10.0), range(ROUNDS)), dilated),
        Row("smoothed by 6 px", least(lambda _: smoothed(matte, 6.0), range(ROUNDS)), median),
    ]


def figures() -> list[Figure]:
    """Return the rows as figures."""
    return [row.figure for row in rows()]
