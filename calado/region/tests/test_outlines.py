"""Rectangle, polygon and gradient against shapely's distances and areas, and the family of all drawn parts."""

from unittest import TestCase

import numpy as np
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from skimage.draw import polygon2mask

from calado.region.kinds import PARTS
from calado.region.matte import part_matte
from calado.sheet.models import Part
from calado.window import Window, full_window

SIZE = (300, 200)
WINDOW = full_window(*SIZE)
#: float32 holds a distance of one picture height to this
FLOAT = 2e-6
#: a hard edge is the area of its pixels to first order: what that leaves over at corners, in pixels
CORNER_PX = 0.6
#: where a distance has a kink, between two sides, half a size cannot show it
KINK = 0.02

STAR = tuple(
    (0.75 + r * np.sin(k * np.pi / 5), 0.5 - r * np.cos(k * np.pi / 5)) for k, r in enumerate((0.45, 0.12) * 5)
)
SPIKE = ((0.2, 0.3), (1.3, 0.5), (0.2, 0.55), (0.5, 0.42))
#: a bow: it crosses itself, and what it goes round is inside by the even-odd rule
BOW = ((0.2, 0.2), (1.2, 0.8), (1.2, 0.2), (0.2, 0.8))


def polygon(points: tuple[tuple[float, float], ...], **values: float | str) -> Part:
    return Part(id="a", kind="polygon", points=points, values=values)


def rectangle(**values: float | str) -> Part:
    return Part(id="a", kind="rectangle", values={"x": 0.7, "y": 0.5, "width": 0.8, "height": 0.4, **values})


def centres(window: Window = WINDOW) -> tuple[np.ndarray, np.ndarray]:
    y, x = (np.mgrid[0 : window.height, 0 : window.width] + 0.5) * window.pixel
    return x, y


def signed(shape: shapely.Polygon) -> np.ndarray:
    """Shapely's signed distance at each pixel's centre, negative inside."""
    x, y = centres()
    points = shapely.points(x, y)
    distance = shapely.distance(shape.exterior, points)
    return np.where(shapely.contains_xy(shape, x, y), -distance, distance)


def ramp(d: np.ndarray, inward: float, outward: float) -> np.ndarray:
    return np.clip((outward - d) / (inward + outward), 0, 1)


class AgainstShapely(TestCase):
    def test_polygon_distance_at_corners_and_spikes_too(self) -> None:
        for points in (STAR, SPIKE):
            made = part_matte(polygon(points, feather_in=0.06, feather_out=0.15, profile="straight"), WINDOW)
            expected = ramp(signed(shapely.Polygon(points)), 0.06, 0.15)
            self.assertLess(np.abs(made - expected).max(), FLOAT / 0.21 * 10)

    def test_rounded_turned_rectangle(self) -> None:
        for corner, turn in ((0.0, 0.0), (0.0, 30.0), (0.5, -20.0), (1.0, 75.0)):
            part = rectangle(corner=corner, turn=turn, feather_in=0.05, feather_out=0.1, profile="straight")
            radius = corner * 0.2
            core = shapely.box(-0.4 + radius, -0.2 + radius, 0.4 - radius, 0.2 - radius)
            # the angle is clockwise on a screen, whose y goes down: the positive one of this library
            shape = shapely.affinity.rotate(core, turn, origin=(0, 0))
            shape = shapely.affinity.translate(shape, 0.7, 0.5)
            x, y = centres()
            points = shapely.points(x, y)
            outside = shapely.distance(shape, points)
            inner = np.where(shapely.contains_xy(shape, x, y), -shapely.distance(shape.boundary, points), outside)
            expected = ramp(inner - radius, 0.05, 0.1)
            self.assertLess(np.abs(part_matte(part, WINDOW) - expected).max(), FLOAT / 0.15 * 10, (corner, turn))

    def test_hard_edges_sum_to_the_area(self) -> None:
        for points in (STAR, SPIKE):
            made = float(part_matte(polygon(points), WINDOW).sum())
            exact = shapely.Polygon(points).area * SIZE[1] ** 2
            self.assertAlmostEqual(made, exact, delta=CORNER_PX * len(points))
        self.assertAlmostEqual(
            float(part_matte(rectangle(turn=33.0), WINDOW).sum()), 0.32 * 200**2, delta=4 * CORNER_PX
        )

    def test_self_crossing_is_even_odd(self) -> None:
        made = part_matte(polygon(BOW), WINDOW)
        x, y = centres()
        left = shapely.contains_xy(shapely.Polygon([BOW[0], (0.7, 0.5), BOW[3]]), x, y)
        right = shapely.contains_xy(shapely.Polygon([BOW[1], (0.7, 0.5), BOW[2]]), x, y)
        # pixels that an edge cuts in the middle may fall to either side
        clear = np.abs(made - 0.5) > 0.1
        self.assertEqual(int((clear & ((made > 0.5) != (left | right))).sum()), 0)
        # gone round twice in the same direction is outside: a square within a square, in one outline
        ring = ((0.2, 0.1), (1.2, 0.1), (1.2, 0.9), (0.2, 0.9), (0.2, 0.1), (0.5, 0.3), (0.9, 0.3), (0.9, 0.7),
                (0.5, 0.7), (0.5, 0.3))  # fmt: skip
        self.assertEqual(part_matte(polygon(ring), WINDOW)[100, 140], 0)


class AgainstAPolygonFill(TestCase):
    @settings(max_examples=25, deadline=None)
    @given(st.lists(st.tuples(st.floats(0, 1.5), st.floats(0, 1)), min_size=3, max_size=9))
    def test_any_polygon_is_filled_as_by_scikit_image(self, points: list[tuple[float, float]]) -> None:
        made = part_matte(polygon(tuple(points)), WINDOW)
        corners = np.array([(y * 200 - 0.5, x * 200 - 0.5) for x, y in points])
        filled = polygon2mask(SIZE[::-1], corners)
        clear = (made < 0.001) | (made > 0.999)
        # where two lines run over each other one raster may say either
        self.assertLessEqual(int((clear & ((made > 0.5) != filled)).sum()), 2)


class Gradients(TestCase):
    def gradient(self, **values: float | str) -> np.ndarray:
        part = Part(id="a", kind="gradient", values={"x": 0.75, "y": 0.5, "profile": "straight", **values})
        return part_matte(part, WINDOW)

    def test_level_one_sided(self) -> None:
        made = self.gradient(feather_in=0.25, feather_out=0.25)
        y = (np.arange(200) + 0.5) / 200
        np.testing.assert_allclose(made, np.repeat(np.clip((0.75 - y) / 0.5, 0, 1)[:, None], 300, 1), atol=1e-5)

    def test_a_quarter_turn_falls_to_the_left(self) -> None:
        made = self.gradient(turn=90.0, feather_in=0.1, feather_out=0.1)
        self.assertEqual((made[100, 299], made[100, 0]), (1.0, 0.0))
        np.testing.assert_allclose(made, np.repeat(made[:1], 200, 0), atol=1e-5)

    def test_two_sided_is_a_band_and_mirrors(self) -> None:
        made = self.gradient(sides="two", width=0.2, feather_out=0.2)
        np.testing.assert_allclose(made, made[::-1], atol=1e-5)
        self.assertTrue((made[82:118] == 1).all())
        self.assertEqual(made[0].max(), 0)


class Family(TestCase):
    def parts(self) -> list[Part]:
        soft = {"feather_in": 0.04, "feather_out": 0.07}
        made = []
        for kind in PARTS.values():
            if kind.sees(Part(id="a", kind=kind.id)):
                continue  # read from a picture: tested there
            values = {**kind.place(1.5), **(soft if kind.parameter("feather_in") else {})}
            if kind.parameter("turn"):
                values["turn"] = 23.0
            made.append(Part(id="a", kind=kind.id, values=values, points=kind.corners(1.5)))
        return made

    @settings(max_examples=15, deadline=None)
    @given(st.integers(0, 190), st.integers(1, 60))
    def test_a_strip_equals_the_whole_bit_for_bit(self, first: int, rows: int) -> None:
        for part in self.parts():
            last = min(first + rows, 200)
            strip = part_matte(part, WINDOW.rows(first, last))
            np.testing.assert_array_equal(strip, part_matte(part, WINDOW)[first:last], part.kind)

    def test_half_size_agrees_with_the_reduced_full_size(self) -> None:
        for part in self.parts():
            reduced = part_matte(part, WINDOW).reshape(100, 2, 150, 2).mean(axis=(1, 3))
            half = part_matte(part, full_window(*SIZE, 0.5))
            self.assertLess(np.abs(half - reduced).max(), KINK, part.kind)

    def test_a_wider_picture_shows_the_same_part_with_the_rest_of_it(self) -> None:
        for part in self.parts():
            wide = part_matte(part, full_window(450, 200))
            np.testing.assert_array_equal(wide[:, :300], part_matte(part, WINDOW), part.kind)

    def test_all_values_stay_in_range(self) -> None:
        for part in self.parts():
            made = part_matte(part, WINDOW)
            self.assertTrue(np.isfinite(made).all())
            self.assertTrue(((made >= 0) & (made <= 1)).all(), part.kind)

    def test_points_that_enclose_nothing(self) -> None:
        for points in (
            (),
            ((0.5, 0.5),),
            ((0.1, 0.1), (0.9, 0.9)),
            ((0.5, 0.5),) * 4,
            ((0.1, 0.5), (0.5, 0.5), (0.9, 0.5)),
        ):
            made = part_matte(polygon(points), WINDOW)
            self.assertLess(made.max(), 0.51, points)
            self.assertTrue(np.isfinite(made).all())

    def test_thousands_of_points(self) -> None:
        angle = np.linspace(0, 2 * np.pi, 5000, endpoint=False)
        circle = tuple(zip(0.75 + 0.4 * np.cos(angle), 0.5 + 0.4 * np.sin(angle), strict=True))
        made = part_matte(polygon(circle), WINDOW)
        self.assertAlmostEqual(float(made.sum()) / 200**2, np.pi * 0.16, delta=1e-4)
