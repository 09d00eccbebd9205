"""From a path drawn by hand to a closed curve of few points, within a stated tolerance.

The path is cut where it turns sharply; between two cuts a cubic Bézier is fitted by least squares, its parameters are
improved by Newton's method, and where it still misses the path by more than the tolerance it is cut in two there.

References
----------
Schneider1990
"""

import itertools

import numpy as np
from numpy.typing import NDArray

from calado.sheet.models import Corner

Way = NDArray[np.float64]

#: how far the curve may leave the path, in picture heights: 3 px of a picture 1000 px high
TOLERANCE = 0.003
#: a turn sharper than this, seen over SPAN of the path on both sides, is a corner
CORNER_DEG, SPAN = 55.0, 0.012
_ROUNDS = 5
_DIGITS = 5


def fit_closed(path: tuple[Corner, ...], tolerance: float = TOLERANCE) -> tuple[Corner, ...]:
    """Return the points of a closed curve along a path.

    Convention: a point is (x, y, x_in, y_in, x_out, y_out), its two handles relative to it; all in picture heights.
    Where the path has a corner, the handles do not line up.
    """
    way = _even(np.array([point[:2] for point in path], np.float64))
    if len(way) < 4:
        return tuple((round(float(x), _DIGITS), round(float(y), _DIGITS)) for x, y in way)
    cuts = _corners(way)
    first = cuts[0] if cuts else 0
    way = np.concatenate([way[first:], way[: first + 1]])
    marks = [cut - first for cut in cuts] or [0]
    marks.append(len(way) - 1)
    seam = None if cuts else _direction(way[-3], way[2])
    cubics: list[Way] = []
    for start, end in itertools.pairwise(marks):
        piece = way[start : end + 1]
        leaving = _direction(piece[0], piece[min(2, len(piece) - 1)]) if seam is None else seam
        arriving = _direction(piece[-1], piece[max(-3, -len(piece))]) if seam is None else -seam
        cubics += _fit(piece, leaving, arriving, tolerance)
    return _points(cubics)


def _even(way: Way) -> Way:
    """Return the closed path in steps of a quarter of SPAN, without a repeated end."""
    closed = np.concatenate([way, way[:1]]) if len(way) else way
    steps = np.hypot(*np.diff(closed, axis=0).T) if len(closed) > 1 else np.zeros(0)
    along = np.concatenate([[0.0], np.cumsum(steps)])
    if along[-1] == 0:
        return way[:1]
    count = int(np.clip(along[-1] / (SPAN / 4), 8, 4000))
    at = np.linspace(0, along[-1], count, endpoint=False)
    return np.stack([np.interp(at, along, closed[:, 0]), np.interp(at, along, closed[:, 1])], axis=1)


def _corners(way: Way) -> list[int]:
    """Return where a closed path turns by more than CORNER_DEG, the sharpest place of each turn."""
    span = 4
    before = way - np.roll(way, span, axis=0)
    after = np.roll(way, -span, axis=0) - way
    turn = np.abs(np.angle(np.exp(1j * (np.arctan2(*after.T[::-1]) - np.arctan2(*before.T[::-1])))))
    sharp = np.degrees(turn) > CORNER_DEG
    peak = np.all([turn >= np.roll(turn, k) for k in range(-span, span + 1)], axis=0)
    found = np.flatnonzero(sharp & peak)
    return [
        int(k) for k, before_it in zip(found, np.roll(found, 1), strict=True) if len(found) == 1 or k - before_it != 1
    ]


def _direction(origin: Way, to: Way) -> Way:
    way = to - origin
    length = float(np.hypot(*way))
    made: Way = way / length if length > 0 else np.array([1.0, 0.0])
    return made


def _bezier(cubic: Way, t: Way) -> Way:
    s = 1 - t
    weights = np.stack([s**3, 3 * s * s * t, 3 * s * t * t, t**3], axis=1)
    made: Way = weights @ cubic
    return made


def _fit(piece: Way, leaving: Way, arriving: Way, tolerance: float) -> list[Way]:
    """Return cubics, each of shape (4, 2), along an open path with given directions at its ends."""
    if len(piece) < 3:
        third = np.hypot(*(piece[-1] - piece[0])) / 3
        return [np.stack([piece[0], piece[0] + third * leaving, piece[-1] + third * arriving, piece[-1]])]
    steps = np.hypot(*np.diff(piece, axis=0).T)
    t = np.concatenate([[0.0], np.cumsum(steps)]) / max(steps.sum(), 1e-12)
    worst = 0
    for _ in range(_ROUNDS):
        cubic = _least_squares(piece, t, leaving, arriving)
        miss = np.hypot(*(_bezier(cubic, t) - piece).T)
        worst = int(miss.argmax())
        if miss[worst] <= tolerance:
            return [cubic]
        t = _improved(cubic, piece, t)
    worst = min(max(worst, 1), len(piece) - 2)
    across = _direction(piece[max(worst - 2, 0)], piece[min(worst + 2, len(piece) - 1)])
    return _fit(piece[: worst + 1], leaving, -across, tolerance) + _fit(piece[worst:], across, arriving, tolerance)


def _least_squares(piece: Way, t: Way, leaving: Way, arriving: Way) -> Way:
    """Return the cubic through the ends whose handles, along given directions, have the best lengths."""
    s = 1 - t
    first, last = piece[0], piece[-1]
    a = (3 * s * s * t)[:, None] * leaving, (3 * s * t * t)[:, None] * arriving
    rest = piece - np.outer(s**3 + 3 * s * s * t, first) - np.outer(t**3 + 3 * s * t * t, last)
    c = np.array([[np.sum(p * q) for q in a] for p in a])
    x = np.array([np.sum(p * rest) for p in a])
    chord = float(np.hypot(*(last - first)))
    alone = chord / 3 or float(np.hypot(*np.diff(piece, axis=0).T).sum()) / 3
    determinant = float(np.linalg.det(c))
    lengths = np.linalg.solve(c, x) if abs(determinant) > 1e-14 else np.full(2, alone)
    if lengths.min() < 1e-3 * alone:
        lengths = np.full(2, alone)
    return np.stack([first, first + lengths[0] * leaving, last + lengths[1] * arriving, last])


def _improved(cubic: Way, piece: Way, t: Way) -> Way:
    """Return parameters of nearer points of the cubic, by one step of Newton's method each."""
    first, second = 3 * np.diff(cubic, axis=0), 6 * np.diff(cubic, n=2, axis=0)
    s = 1 - t
    slope = np.stack([s * s, 2 * s * t, t * t], axis=1) @ first
    bend = np.stack([s, t], axis=1) @ second
    away = _bezier(cubic, t) - piece
    below = np.sum(slope * slope + away * bend, axis=1)
    step = np.divide(np.sum(away * slope, axis=1), below, out=np.zeros_like(t), where=np.abs(below) > 1e-12)
    made: Way = np.maximum.accumulate(np.clip(t - step, 0, 1))
    return made


def _points(cubics: list[Way]) -> tuple[Corner, ...]:
    """Return the closed curve's points from its cubics in order."""
    made: list[Corner] = []
    for k, cubic in enumerate(cubics):
        x, y = cubic[0]
        into, out = cubics[k - 1][2] - cubic[0], cubic[1] - cubic[0]
        made.append(tuple(round(float(number), _DIGITS) for number in (x, y, *into, *out)))
    return tuple(made)
