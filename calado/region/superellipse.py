"""The outline |u/a|ⁿ + |v/b|ⁿ = 1 as a polyline, and the signed distance to it.

The quadrant u, v ≥ 0 is cut into ``COARSE × FINE`` chords, closer where it bends more; the nearest one is found in
stages: nearest of every FINE-th corner, nearest corner around it, nearer of its two chords. By symmetry the nearest
point of a quadrant's outline serves all four. The distance is exact for the polyline; its departure from the curve is
the chords' sagitta, below 1e-5 of the larger axis (asserted in the tests).
"""

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from calado.compiled import compiled

COARSE, FINE = 64, 8
CHORDS = COARSE * FINE
_DENSE = 6001

Polyline = NDArray[np.float64]


@lru_cache(maxsize=64)
def quadrant(a: float, b: float, exponent: float) -> Polyline:
    """Return the quadrant's outline, shape (2, CHORDS + 1), from (a, 0) to (0, b), read-only.

    ``a`` and ``b`` are the semi-axes; ``exponent`` is n, 2 for an ellipse.
    """
    # denser around the diagonal, where a large exponent puts all of the bend
    s = np.linspace(-1, 1, _DENSE)
    theta = np.pi / 4 * (1 + (0.85 * s**3 + 0.15 * s))
    cos, sin = np.cos(theta), np.sin(theta)
    radius = (np.maximum(cos, 0) ** exponent + np.maximum(sin, 0) ** exponent) ** (-1 / exponent)
    u, v = a * radius * np.maximum(cos, 0), b * radius * np.maximum(sin, 0)
    du, dv = np.diff(u), np.diff(v)
    length = np.hypot(du, dv)
    bend = np.abs(np.diff(np.unwrap(np.arctan2(dv, du))))
    measure = length / length.sum()
    measure[1:] += 2 * bend / max(bend.sum(), 1e-9)
    along = np.concatenate([[0.0], np.cumsum(measure)])
    position = np.interp(np.linspace(0, along[-1], CHORDS + 1), along, np.arange(_DENSE))
    points = np.stack([np.interp(position, np.arange(_DENSE), u), np.interp(position, np.arange(_DENSE), v)])
    points[:, 0], points[:, -1] = (a, 0), (0, b)
    points.setflags(write=False)
    return points


@compiled(inline="always")
def _to_chord(u, v, u0, v0, u1, v1):  # type: ignore[no-untyped-def]
    """Return squared distance to a chord, and on which side of it the point lies (> 0 outside)."""
    eu, ev = u1 - u0, v1 - v0
    wu, wv = u - u0, v - v0
    square = eu * eu + ev * ev
    t = min(max((wu * eu + wv * ev) / square, 0.0), 1.0) if square > 0 else 0.0
    pu, pv = wu - t * eu, wv - t * ev
    return pu * pu + pv * pv, eu * -wv + ev * wu


@compiled("float64(float64, float64, Array(float64, 2, 'C', readonly=True))")
def signed_distance(u: float, v: float, points: Polyline) -> float:
    """Return the signed distance of (u, v), in the outline's own axes, to the outline; negative inside."""
    u, v = abs(u), abs(v)
    best, near = np.inf, 0
    for i in range(0, CHORDS + 1, FINE):
        square = (points[0, i] - u) ** 2 + (points[1, i] - v) ** 2
        if square < best:
            best, near = square, i
    first, last = max(near - FINE, 0), min(near + FINE, CHORDS)
    best = np.inf
    for i in range(first, last + 1):
        square = (points[0, i] - u) ** 2 + (points[1, i] - v) ** 2
        if square < best:
            best, near = square, i
    best, side = np.inf, 1.0
    for i in range(max(near - 1, 0), min(near + 1, CHORDS)):
        square, turn = _to_chord(u, v, points[0, i], points[1, i], points[0, i + 1], points[1, i + 1])
        if square < best:
            best, side = square, turn
    return np.sqrt(best) if side > 0 else -np.sqrt(best)
