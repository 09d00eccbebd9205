"""The brush: a touch is an analytic disc, a stroke equals a slow plain twin, and strokes join as parts do."""

from itertools import pairwise
from math import pi
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from calado.catalogue import CATALOGUE
from calado.edit.transform import copy_region, mirror
from calado.region.brush.strokes import SPACING, coverage, fold_into
from calado.region.context import ALONE, PartContext
from calado.region.kinds import PARTS
from calado.region.matte import LastDrawn
from calado.region.read.tests.seeing import seen_of
from calado.sheet.models import Part, Region, Sheet, Stroke
from calado.sheet.sentence import tell_refined
from calado.window import full_window

WINDOW = full_window(240, 160)
#: areas by antialiased rims, and float32 against float64
AREA, ROUND = 0.004, 2e-5
WAY = (0.3, 0.3, 1.0, 0.7, 0.45, 1.0, 1.1, 0.35, 1.0)


def stroke(*way: float, **fields: object) -> Stroke:
    return Stroke(points=way or WAY, **fields)


def plain_twin(made: Stroke, pixel: float, shape: tuple[int, int]) -> NDArray[np.float64]:
    """Return a stroke's coverage touch by touch, each a disc whose rim falls by a smoothstep."""
    y, x = (np.mgrid[: shape[0], : shape[1]] + 0.5) * pixel
    points = np.asarray(made.points).reshape(-1, 3)
    radius = made.size / 2
    a = np.zeros(shape)
    places = [points[0]]
    ahead = 0.0
    for p, q in pairwise(points):
        long = float(np.hypot(*(q - p)[:2]))
        at = ahead + SPACING * radius
        while at <= long:
            places.append(p + (q - p) * at / long)
            at += SPACING * radius
        ahead = at - SPACING * radius - long
    for px, py, pressure in places:
        d = np.hypot(x - px, y - py) - radius
        t = np.clip(-d / ((1 - made.hardness) * radius), 0, 1)
        ceiling = made.density * t * t * (3 - 2 * t)
        flow = made.flow * (pressure if made.pen == "flow" else 1.0)
        a = np.where(ceiling > a, a + flow * (ceiling - a), a)
    return a


class Touches(TestCase):
    def test_a_touch_is_a_disc_of_the_right_area(self) -> None:
        for size in (0.02, 0.11, 0.6):
            matte = coverage(stroke(0.75, 0.5, 1.0, size=size, hardness=1.0), WINDOW)
            self.assertAlmostEqual(
                matte.sum() * WINDOW.pixel**2 / (pi / 4 * size**2), 1, delta=max(AREA, 0.02 * 0.02 / size)
            )

    def test_a_touch_smaller_than_a_pixel_is_fainter_not_lost(self) -> None:
        size = 0.6 * WINDOW.pixel
        matte = coverage(stroke(0.75, 0.5, 1.0, size=size, hardness=1.0), WINDOW)
        self.assertTrue(0 < matte.sum() * WINDOW.pixel**2 < 3 * pi / 4 * size**2)

    def test_half_values_on_purpose(self) -> None:
        middle = (80, 120)
        for fields, expected in (
            ({"density": 0.5}, 0.5),
            ({"flow": 0.25}, 0.25),
            ({"density": 0.5, "flow": 0.5}, 0.25),
        ):
            matte = coverage(stroke(0.75, 0.5, 1.0, size=0.4, **fields), WINDOW)
            self.assertAlmostEqual(float(matte[middle]), expected, delta=ROUND)

    def test_pressure_scales_what_the_pen_says(self) -> None:
        light = stroke(0.75, 0.5, 0.5, size=0.4, hardness=1.0)
        area = {pen: coverage(light.model_copy(update={"pen": pen}), WINDOW).sum() for pen in ("none", "flow", "size")}
        self.assertAlmostEqual(area["flow"] / area["none"], 0.5, delta=ROUND)
        self.assertAlmostEqual(area["size"] / area["none"], 0.25, delta=0.01)


class Strokes(TestCase):
    def test_a_stroke_equals_its_slow_plain_twin(self) -> None:
        for fields in ({"flow": 0.3}, {"flow": 0.6, "density": 0.7, "hardness": 0.2}, {"flow": 0.9, "pen": "flow"}):
            way = (0.3, 0.3, 0.4, 0.7, 0.45, 0.9, 1.1, 0.35, 0.7)
            made = stroke(*way, size=0.2, **{"hardness": 0.5, **fields})
            twin = plain_twin(made, WINDOW.pixel, (160, 240))
            np.testing.assert_allclose(coverage(made, WINDOW), twin, atol=2e-3)

    def test_with_full_flow_it_is_the_way_swept_by_the_disc(self) -> None:
        made = stroke(0.4, 0.5, 1.0, 1.1, 0.5, 1.0, size=0.2, hardness=1.0)
        matte = coverage(made, WINDOW)
        # a rectangle with two half discs
        self.assertAlmostEqual(matte.sum() * WINDOW.pixel**2, 0.7 * 0.2 + pi / 4 * 0.04, delta=5e-4)
        again = stroke(*made.points, *made.points, size=0.2, hardness=0.3)
        np.testing.assert_allclose(
            coverage(again, WINDOW), coverage(stroke(*made.points, size=0.2, hardness=0.3), WINDOW), atol=ROUND
        )

    @settings(max_examples=30, deadline=None)
    @given(st.floats(0.05, 1), st.floats(0.05, 1), st.floats(0, 1))
    def test_it_never_exceeds_its_density(self, flow: float, density: float, hardness: float) -> None:
        made = stroke(*WAY, *WAY, size=0.15, flow=flow, density=density, hardness=hardness)
        self.assertLessEqual(float(coverage(made, WINDOW).max()), density + ROUND)

    def test_strokes_join_as_parts_do(self) -> None:
        one, other = stroke(size=0.2, density=0.6), stroke(0.5, 0.6, 1.0, 1.0, 0.2, 1.0, size=0.15)
        a, b = coverage(one, WINDOW), coverage(other, WINDOW)
        both = np.zeros_like(a)
        fold_into(both, [one, other], WINDOW)
        np.testing.assert_allclose(both, a + b - a * b, atol=ROUND)
        less = np.zeros_like(a)
        fold_into(less, [one, other.model_copy(update={"does": "erase"})], WINDOW)
        np.testing.assert_allclose(less, a - a * b, atol=ROUND)

    def test_a_strip_a_small_size_and_a_place_beside_the_frame_agree(self) -> None:
        made = [
            stroke(size=0.2, flow=0.5),
            stroke(-0.2, 0.5, 1.0, 0.3, 0.5, 1.0, size=0.3, does="erase"),
            stroke(5.0, 5.0, 1.0),
        ]
        whole = np.zeros((160, 240), np.float32)
        fold_into(whole, made, WINDOW)
        strip = np.zeros((30, 240), np.float32)
        fold_into(strip, made, WINDOW.rows(50, 80))
        np.testing.assert_array_equal(strip, whole[50:80])
        half = full_window(240, 160, 0.5)
        small = np.zeros((half.height, half.width), np.float32)
        fold_into(small, made, half)
        means = whole.reshape(80, 2, 120, 2).mean(axis=(1, 3))
        self.assertLess(float(abs(small - means).mean()), 0.004)

    def test_a_stroke_more_changes_only_its_box_and_gives_what_a_fresh_start_gives(self) -> None:
        last, near = LastDrawn(), PartContext()
        strokes = [stroke(0.1 * k, 0.5, 1.0, 0.1 * k + 0.2, 0.4, 1.0, size=0.1, flow=0.5) for k in range(8)]
        for count in (1, 2, 5, 8, 7, 3):
            part = Part(id="p", kind="brush", strokes=strokes[:count])
            np.testing.assert_array_equal(last.made(part, WINDOW, near), PARTS["brush"].matte(part, WINDOW, ALONE))


class Along(TestCase):
    """A region's strokes go along: in its mirror, in its copy, and in its sentence."""

    def region(self) -> Region:
        oval = {"x": 0.5, "y": 0.5, "width": 0.5, "height": 0.5}
        brush = Part(id="b", kind="brush", strokes=(stroke(),))
        return Region(id="r", name="r", parts=(Part(id="a", kind="ellipse", values=oval), brush), band=(stroke(),))

    def test_mirrored_with_its_band(self) -> None:
        made = mirror(Sheet(regions=(self.region(),)), "r", None, 1.5).regions[0]
        expected = tuple(1.5 - x for x in WAY[0::3])
        np.testing.assert_allclose(made.band[0].points[0::3], expected)
        np.testing.assert_allclose(made.parts[1].strokes[0].points[0::3], expected)
        matte, flipped = (coverage(each.band[0], WINDOW) for each in (self.region(), made))
        np.testing.assert_allclose(flipped, matte[:, ::-1], atol=1e-4)

    def test_copied_to_a_wider_frame_with_its_band(self) -> None:
        sheet, id = copy_region(Sheet(regions=(self.region(),)), "r", 1.5, Sheet(), 3.0)
        made = sheet.region(id)
        assert made is not None
        np.testing.assert_allclose(made.band[0].points[0::3], [2 * x for x in WAY[0::3]])
        self.assertEqual(made.band[0].size, self.region().band[0].size)

    def test_told_in_the_sentence(self) -> None:
        told = tell_refined(self.region().model_copy(update={"refine": {"grow": 0.01}}), CATALOGUE)
        self.assertEqual(told.replace("\u00a0", " "), "edge resolved, grown 1.0 %")


class Similar(TestCase):
    def matte(self, **fields: object) -> NDArray[np.float32]:
        light = np.full((160, 240, 3), 0.2)
        light[:, 120:] = (0.5, 0.1, 0.1)
        light[:, 180:] = 0.2
        seen, whole = seen_of(light)
        made = stroke(0.4, 0.5, 1.0, 1.0, 0.5, 1.0, size=0.6, hardness=1.0, **fields)
        return PARTS["brush"].matte(Part(id="p", kind="brush", strokes=(made,)), whole, PartContext(seen=seen))

    def test_it_stops_at_the_edge_of_its_first_touch(self) -> None:
        free, kept = self.matte(), self.matte(colour_tolerance=5.0)
        self.assertEqual(float(free[80, 150]), 1)
        np.testing.assert_allclose(kept[:, :118], free[:, :118], atol=ROUND)
        self.assertEqual(float(kept[:, 122:].max()), 0)

    def test_the_same_colour_beyond_another_is_not_reached(self) -> None:
        wide = self.matte(colour_tolerance=5.0)
        self.assertEqual(float(wide[80, 200]), 0)
        self.assertEqual(float(self.matte(colour_tolerance=90.0)[80, 175]), 1)
