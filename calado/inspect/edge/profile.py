"""A profile across the edge of a region: matte and light along the normal of the nearest place of the outline."""

from dataclasses import dataclass

import numpy as np

from calado.errors import RequestError
from calado.inspect.edge.sampling import outward, read_evenly, unrolled
from calado.region.resolved import ResolvedRegion
from calado.region.signal import signal_of
from calado.region.tracing import outlines
from calado.render.engine import Engine, Order
from calado.render.source import Source
from calado.window import window_of_rectangle

SAMPLES = 81


@dataclass(frozen=True, eq=False)
class EdgeProfile:
    """Values along the normal, from ``reach`` pixels inside to as many outside; ``x, y`` is the place of the outline.

    ``matte`` in 0…1; ``before`` and ``after`` the encoded luminance of the source and of the finished picture.
    """

    x: float
    y: float
    reach: float
    matte: tuple[float, ...]
    before: tuple[float, ...]
    after: tuple[float, ...]


def edge_profile(
    engine: Engine, source: Source, order: Order, where: ResolvedRegion, at: tuple[float, float], reach: float
) -> EdgeProfile:
    """Return the profile nearest to a place, in full-size pixels, ``reach`` pixels to both sides.

    Raises
    ------
    RequestError
        when the region has no edge in the frame.
    """
    lines = outlines(engine.mattes(source), where, source.full())
    if not lines:
        raise RequestError("This region has no edge in the frame.", code="render.edgeless")
    place = np.array(at) / source.height
    line = min(lines, key=lambda each: float(np.hypot(*(each.points - place).T).min()))
    index = int(np.hypot(*(line.points - place).T).argmin())
    steps = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(line.points, axis=0).T))])
    points, normals = unrolled(line, np.array([steps[index] / steps[-1]]), 3.0 / source.height)
    normals = outward(engine, source, where, points, normals)
    centre = points[0] * source.height
    offsets = np.linspace(-reach, reach, SAMPLES)
    places = centre + offsets[:, None] * normals[0]
    low = np.maximum(np.floor(places.min(axis=0)) - 2, 0)
    high = np.minimum(np.ceil(places.max(axis=0)) + 2, [source.width, source.height])
    sides = (float(low[0]), float(low[1]), float(high[0] - low[0]), float(high[1] - low[1]))
    window = window_of_rectangle((source.width, source.height), 1.0, sides)
    local = places - np.array([window.left, window.top])

    def told(plane: np.ndarray) -> tuple[float, ...]:
        return tuple(round(float(value), 4) for value in read_evenly(plane, local))

    return EdgeProfile(
        round(float(centre[0]), 2),
        round(float(centre[1]), 2),
        reach,
        told(engine.matte(source, where, window)),
        told(signal_of(engine.source(source, window), source.space)),
        told(signal_of(engine.picture(source, order, window), source.space)),
    )
