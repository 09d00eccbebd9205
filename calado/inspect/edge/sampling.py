"""Walking along an outline: places on it, its normals, and reading planes there."""

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes
from calado.region.contours import Contour
from calado.region.resolved import ResolvedRegion
from calado.region.tracing import MARGIN, tracing_window
from calado.render.engine import Engine
from calado.render.source import Source

Places = NDArray[np.float64]


def unrolled(line: Contour, along: NDArray[np.float64], smooth: float) -> tuple[Places, Places]:
    """Return points and unit normals, shapes (N, 2), at shares of a line's length.

    The direction is taken over ``smooth`` picture heights to both sides, so that a jagged line does not tear.
    """
    steps = np.hypot(*np.diff(line.points, axis=0).T)
    way = np.concatenate([[0.0], np.cumsum(steps)])

    def at(shares: NDArray[np.float64]) -> Places:
        places = shares * way[-1]
        places = places % way[-1] if line.closed else np.clip(places, 0, way[-1])
        return np.stack([np.interp(places, way, line.points[:, k]) for k in (0, 1)], axis=1)

    reach = min(smooth / max(way[-1], 1e-9), 0.1)
    tangents = at(along + reach) - at(along - reach)
    tangents /= np.maximum(np.hypot(*tangents.T), 1e-12)[:, None]
    return at(along), np.stack([-tangents[:, 1], tangents[:, 0]], axis=1)


def outward(engine: Engine, source: Source, where: ResolvedRegion, points: Places, normals: Places) -> Places:
    """Return the normals turned to where the matte falls, judged over all of them together."""
    window = tracing_window(source.full()).beyond(MARGIN)
    matte = engine.matte(source, where, window)
    away = 1.5 * window.pixel
    corner = np.array([window.left, window.top])
    out, into = (read_evenly(matte, (points + side * away * normals) / window.pixel - corner) for side in (1, -1))
    return normals if out.sum() <= into.sum() else -normals


def read_evenly(plane: NDArray[np.float32] | Codes, at: Places) -> NDArray[np.float64]:
    """Return a plane read linearly at places (…, 2) in pixels; beyond its border it goes on."""
    x = np.clip(at[..., 0] - 0.5, 0, plane.shape[1] - 1)
    y = np.clip(at[..., 1] - 0.5, 0, plane.shape[0] - 1)
    j, i = x.astype(np.intp), y.astype(np.intp)
    right, below = np.minimum(j + 1, plane.shape[1] - 1), np.minimum(i + 1, plane.shape[0] - 1)
    fx, fy = x - j, y - i
    first = plane[i, j] * (1 - fx) + plane[i, right] * fx
    second = plane[below, j] * (1 - fx) + plane[below, right] * fx
    made: NDArray[np.float64] = first * (1 - fy) + second * fy
    return made
