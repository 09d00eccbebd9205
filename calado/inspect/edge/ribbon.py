"""The edge ribbon: the outline of a region unrolled into one straight strip, inside above, outside below.

Each column of the strip stands on one place of the outline and runs along its normal. Several lines, holes among them,
follow each other with a gap between. Only the part of the strip that is wanted is rendered, from the picture's own
pixels.
"""

from dataclasses import dataclass
from math import ceil, floor

import imagecodecs
import numpy as np

from calado.arrays import Codes
from calado.errors import RequestError
from calado.inspect.edge.sampling import Places, outward, read_evenly, unrolled
from calado.region.resolved import ResolvedRegion
from calado.region.solve.foreground import freed
from calado.region.tracing import outlines
from calado.render.encode import screen_codes
from calado.render.engine import Engine, Order
from calado.render.source import Source
from calado.render.views import Place, cutout_view, matte_view
from calado.window import window_of_rectangle

GAP = 24
MAX_SIDE = 4096
#: a place for every so many columns is told, so that a press finds its way back
EVERY = 16
#: over how many full-size pixels the direction of the outline is averaged, so that a jagged line does not tear it
SMOOTH_PX = 3.0
GROUND = 90


@dataclass(frozen=True)
class Stretch:
    """A line of the outline on the strip: where it begins and how long it is, in columns."""

    start: int
    length: int


@dataclass(frozen=True, eq=False)
class Ribbon:
    """A part of the strip, codes (2·half, width, 3).

    ``places`` (N, 2) are the full-size pixels under every EVERY-th column, NaN between two lines.
    """

    codes: Codes
    total: int
    stretches: tuple[Stretch, ...]
    places: Places

    def told(self) -> dict[str, object]:
        """Return all but the picture as plain data."""
        places = [None if np.isnan(x) else [round(x, 1), round(y, 1)] for x, y in self.places.tolist()]
        return {
            "total": self.total,
            "every": EVERY,
            "lines": [[each.start, each.length] for each in self.stretches],
            "places": places,
        }


@dataclass(frozen=True)
class Cut:
    """Which part of the strip is wanted: columns from ``start`` on, ``half`` rows to each side; ``zoom`` 1, 2 or 4."""

    start: int
    width: int
    half: int
    zoom: float
    of: str = "picture"


def ribbon(engine: Engine, source: Source, order: Order, where: ResolvedRegion, cut: Cut) -> Ribbon:
    """Return a part of a region's edge ribbon.

    Raises
    ------
    RequestError
        when the region has no outline in the frame, or more is asked for than a screen holds.
    """
    if not (0 < cut.width <= MAX_SIDE and 0 < cut.half <= MAX_SIDE // 4 and 0.25 <= cut.zoom <= 16):
        raise RequestError(f"A ribbon has at most {MAX_SIDE} columns. Ask for less.", code="render.size")
    lines = outlines(engine.mattes(source), where, source.full())
    if not lines:
        raise RequestError("This region has no edge in the frame.", code="render.edgeless")
    per_height = source.height * cut.zoom
    stretches, at = [], 0
    for line in lines:
        length = max(1, round(line.length * per_height))
        stretches.append(Stretch(at, length))
        at += length + GAP
    codes = np.full((2 * cut.half, cut.width, 3), GROUND, np.uint8)
    places = np.full((cut.width, 2), np.nan)
    for line, stretch in zip(lines, stretches, strict=True):
        first, last = max(stretch.start, cut.start), min(stretch.start + stretch.length, cut.start + cut.width)
        if first >= last:
            continue
        columns = slice(first - cut.start, last - cut.start)
        along = (np.arange(first, last) - stretch.start + 0.5) / stretch.length
        points, normals = unrolled(line, along, SMOOTH_PX / source.height)
        normals = outward(engine, source, where, points, normals)
        codes[:, columns] = _strip(engine, source, order, where, cut, points * source.height, normals)
        places[columns] = points * source.height
    return Ribbon(codes, at - GAP, tuple(stretches), places[EVERY // 2 :: EVERY])


def _strip(
    engine: Engine, source: Source, order: Order, where: ResolvedRegion, cut: Cut, points: Places, normals: Places
) -> Codes:
    """Return the columns that stand on points, given in full-size pixels."""
    reach = cut.half / cut.zoom + 2
    low, high = points.min(axis=0) - reach, points.max(axis=0) + reach
    left, top = max(floor(low[0]), 0), max(floor(low[1]), 0)
    right, bottom = min(ceil(high[0]), source.width), min(ceil(high[1]), source.height)
    sides = (float(left), float(top), float(max(right - left, 1)), float(max(bottom - top, 1)))
    window = window_of_rectangle((source.width, source.height), 1.0, sides)
    if cut.of == "matte":
        codes = matte_view(engine.matte(source, where, window))
    elif cut.of == "source":
        codes = screen_codes(engine.source(source, window), source.space)
    else:
        planes = engine.picture(source, order, window)
        if cut.of == "cutout":
            matte = engine.matte(source, where, window)
            codes = cutout_view(screen_codes(freed(planes, matte), source.space), matte, "grey", Place(0, 0))
        else:
            codes = screen_codes(planes, source.space)
    away = (np.arange(2 * cut.half) + 0.5 - cut.half) / cut.zoom
    places = points - np.array([window.left, window.top]) + away[:, None, None] * normals
    read = np.stack([read_evenly(codes[..., c], places) for c in range(3)], axis=-1)
    beyond = (places < 0).any(axis=-1) | (places > [window.width, window.height]).any(axis=-1)
    read[beyond] = GROUND
    return np.asarray(read + 0.5, np.uint8)


def encoded_ribbon(made: Ribbon) -> bytes:
    """Return the strip as a PNG."""
    return bytes(imagecodecs.png_encode(made.codes, level=1))
