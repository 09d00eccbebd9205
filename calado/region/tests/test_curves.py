"""Closed curves against shapely, and the fit to a path drawn by hand against the path itself."""

import itertools
from unittest import TestCase

import numpy as np
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from calado.region.chords import flattened
from calado.region.fit import TOLERANCE, fit_closed
from calado.region.kinds import PARTS
from calado.region.matte import part_matte
from calado.sheet.models import Corner, Part
from calado.window import full_window

WINDOW = full_window(300, 200)
FINE = 1e-6
#: four cubics leave a circle of radius r by 2.7e-4 r (Goldapp 1991; the value from memory)
CIRCLE = 2.8e-4


def curve(points: tuple[Corner, ...], **values: float | str) -> Part:
    return Part(id="a", kind="curve", points=points, values=values)


def circle(x: float, y: float, radius: float) -> tuple[Corner, ...]:
    bow = 0.5522847 * radius
    return (
        (x + radius, y, 0, -bow, 0, bow),
        (x, y + radius, bow, 0, -bow, 0),
        (x - radius, y, 0, bow, 0, -bow),
        (x, y - radius, -bow, 0, bow, 0),
    )


def path(radius: float = 0.3, noise: float = 0.0, count: int = 300) -> tuple[Corner, ...]:
    rng = np.random.default_rng(5)
    angle = np.linspace(0, 2 * np.pi, count, endpoint=False)
    r = radius + rng.normal(0, noise, count) if noise else np.full(count, radius)
    return tuple((float(0.75 + q * np.cos(a)), float(0.5 + q * np.sin(a))) for q, a in zip(r, angle, strict=True))


class Curves(TestCase):
    def test_a_circle_of_four_cubics(self) -> None:
        radius = np.hypot(*(flattened(circle(0.75, 0.5, 0.4), FINE) - (0.75, 0.5)).T)
        self.assertLess(np.abs(radius - 0.4).max(), CIRCLE * 0.4)
        area = float(part_matte(curve(circle(0.75, 0.5, 0.4)), full_window(1500, 1000)).sum()) / 1000**2
        self.assertAlmostEqual(area, np.pi * 0.16, delta=5e-4)

    def test_chords_stay_within_the_tolerance(self) -> None:
        exact = shapely.LinearRing(flattened(circle(0.5, 0.5, 0.3), 1e-9))
        for tolerance in (1e-2, 1e-3, 1e-4):
            coarse = flattened(circle(0.5, 0.5, 0.3), tolerance)
            middles = (coarse + np.roll(coarse, -1, axis=0)) / 2
            miss = shapely.distance(exact, shapely.points(middles))
            self.assertLess(miss.max(), tolerance)

    def test_without_handles_it_is_the_polygon(self) -> None:
        corners = ((0.2, 0.2), (1.2, 0.3), (0.7, 0.8))
        made = part_matte(curve(corners, feather_out=0.1), WINDOW)
        straight = Part(id="a", kind="polygon", points=corners, values={"feather_out": 0.1})
        np.testing.assert_array_equal(made, part_matte(straight, WINDOW))

    def test_feather_is_as_wide_all_along(self) -> None:
        made = part_matte(curve(circle(0.75, 0.5, 0.3), feather_out=0.1, profile="straight"), WINDOW)
        y, x = (np.mgrid[0:200, 0:300] + 0.5) / 200
        expected = np.clip(1 - (np.hypot(x - 0.75, y - 0.5) - 0.3) / 0.1, 0, 1)
        self.assertLess(np.abs(made - expected).max(), 0.002)


class Fit(TestCase):
    def miss(self, drawn: tuple[Corner, ...], made: tuple[Corner, ...]) -> float:
        """Return how far the path leaves the curve, by shapely."""
        ring = shapely.LinearRing(flattened(made, 1e-6))
        return float(shapely.distance(ring, shapely.points(np.array([p[:2] for p in drawn]))).max())

    def test_a_circle_takes_few_points(self) -> None:
        made = fit_closed(path())
        self.assertLessEqual(len(made), 8)
        self.assertLess(self.miss(path(), made), TOLERANCE)

    def test_an_unsteady_hand(self) -> None:
        drawn = path(noise=0.001)
        made = fit_closed(drawn)
        self.assertLess(len(made), 40)
        self.assertLess(self.miss(drawn, made), 2 * TOLERANCE)

    def test_corners_stay_corners(self) -> None:
        square = [(0.3, 0.3), (0.9, 0.3), (0.9, 0.8), (0.3, 0.8), (0.3, 0.3)]
        ends = itertools.pairwise(square)
        drawn = tuple(
            (a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])) for a, b in ends for t in np.linspace(0, 1, 60)
        )
        made = fit_closed(drawn)
        self.assertLess(self.miss(drawn, made), 2 * TOLERANCE)
        for corner in square[:-1]:
            nearest = min(np.hypot(p[0] - corner[0], p[1] - corner[1]) for p in made)
            self.assertLess(nearest, 2 * TOLERANCE)
        self.assertLessEqual(len(made), 8)

    @settings(max_examples=30, deadline=None)
    @given(st.lists(st.tuples(st.floats(0, 1.5), st.floats(0, 1)), max_size=30))
    def test_any_scribble_gives_a_valid_curve(self, drawn: list[tuple[float, float]]) -> None:
        made = fit_closed(tuple(drawn))
        self.assertTrue(all(np.isfinite(point).all() for point in map(np.array, made)))
        self.assertLess(len(made), 5000)
        matte = part_matte(curve(made), full_window(90, 60))
        self.assertTrue(np.isfinite(matte).all())

    def test_a_new_curve_is_round(self) -> None:
        kind = PARTS["curve"]
        made = part_matte(curve(kind.corners(1.5)), WINDOW)
        self.assertAlmostEqual(float(made.sum()) / 200**2, np.pi * 0.35 * 0.25, delta=2e-3)
