"""Lines round a region: distances against exact geometry, the whole line against the one that is grown and traced."""

from unittest import TestCase

import numpy as np
from shapely import LineString, Point, Polygon, union_all

from calado.region.contours import Contour
from calado.region.distance import distance_to
from calado.region.matte import Mattes
from calado.region.resolved import alone
from calado.region.ring import ring_matte
from calado.region.stroke import stroked
from calado.region.tracing import outlines
from calado.sheet.models import Part, Region
from calado.window import Window, full_window

WINDOW = full_window(300, 200)
STAR = ((0.3, 0.3), (0.7, 0.45), (1.2, 0.2), (0.95, 0.55), (1.25, 0.85), (0.7, 0.6), (0.35, 0.9), (0.5, 0.55))


def star() -> Region:
    return Region(id="r", name="r", parts=(Part(id="s", kind="polygon", points=STAR),))


def ring(region: Region, window: Window, offset: float, width: float) -> np.ndarray:
    return ring_matte(Mattes(), alone(region), window, (offset, width, 0.0), lambda key, make: make())


class Distances(TestCase):
    def test_of_any_lines_against_shapely(self) -> None:
        for seed in range(12):
            rng = np.random.default_rng(seed)
            lines = []
            for _ in "ab":
                way = np.cumsum(rng.normal(0, 0.02, (30, 2)), axis=0) + rng.uniform((0.3, 0.2), (1.2, 0.8))
                lines.append(Contour(np.clip(way, 0.01, (1.49, 0.99)), closed=False))
            away = distance_to(lines, WINDOW, 60.0)
            joined = union_all([LineString(line.points * 200) for line in lines])
            places = rng.integers(0, (300, 200), (300, 2))
            exact = np.array([joined.distance(Point(x + 0.5, y + 0.5)) for x, y in places])
            found = away[places[:, 1], places[:, 0]]
            near = exact < 59
            # the nearest segment is handed on from neighbour to neighbour: now and then one that is a hair further
            self.assertLess(np.abs(found[near] - exact[near]).max(), 0.1)
            self.assertLess(np.median(np.abs(found[near] - exact[near])), 1e-4)
            self.assertTrue(np.isinf(found[exact > 62]).all())


class Rings(TestCase):
    def test_they_run_where_the_grown_outline_does(self) -> None:
        for window in (full_window(900, 600), full_window(1800, 1200, 0.5)):
            for offset, width in ((0.01, 0.02), (0.08, 0.006), (-0.03, 0.01), (0.0, 0.002)):
                made = ring(star(), window, offset, width)
                lines = outlines(Mattes(), alone(star()), window, offset + width / 2)
                expected = stroked(lines, width, 0.0, window)
                with self.subTest(width=window.width, offset=offset):
                    # a corner that grows is a piece of a circle; traced it has corners of its own
                    self.assertLess(np.abs(made - expected).sum(), 0.06 * expected.sum())
                    self.assertLess(np.abs(made - expected).mean(), 0.004)

    def test_the_area_is_that_of_exact_geometry(self) -> None:
        outline = Polygon(np.array(STAR) * 600)
        for offset, width in ((0.02, 0.02), (0.1, 0.01), (0.0, 0.003)):
            far, near = (outline.buffer(600 * d, quad_segs=64) for d in (offset + width, offset))
            frame = Polygon([(0, 0), (900, 0), (900, 600), (0, 600)])
            exact = far.intersection(frame).area - near.intersection(frame).area
            self.assertAlmostEqual(
                float(ring(star(), full_window(900, 600), offset, width).sum()), exact, delta=0.02 * exact
            )

    def test_a_crop_is_a_piece_of_the_whole(self) -> None:
        whole = full_window(900, 600)
        crop = Window(900, 600, 1.0, 300, 150, 240, 200)
        made, all_of_it = (ring(star(), window, 0.03, 0.01) for window in (crop, whole))
        rows, columns = crop.inside(whole)
        self.assertGreater(made.max(), 0.9)
        np.testing.assert_allclose(made, all_of_it[rows, columns], atol=0.02)

    def test_of_nothing_and_beyond_the_frame(self) -> None:
        none = Region(id="r", name="r", parts=(Part(id="s", kind="ellipse", values={"x": 9.0, "y": 9.0}),))
        self.assertEqual(ring(none, WINDOW, 0.0, 0.05).max(), 0)
        # half of an ellipse stands outside: its line comes in where it crosses the frame, and runs on
        half = Region(
            id="r",
            name="r",
            parts=(Part(id="s", kind="ellipse", values={"x": -0.1, "y": 0.5, "width": 0.4, "height": 0.4}),),
        )
        made = ring(half, WINDOW, 0.1, 0.02)
        self.assertAlmostEqual(
            float((made[100] * (np.arange(300) + 0.5)).sum() / made[100].sum()) / 200, 0.21, delta=0.003
        )
