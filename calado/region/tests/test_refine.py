"""Refining: growing, opening, smoothing, blurring, clipping, against SciPy and against shapes known by formula."""

from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import ndimage

from calado.catalogue import CATALOGUE
from calado.errors import SheetError
from calado.region.matte import region_matte
from calado.region.refine.blur import blurred
from calado.region.refine.clip import clipped
from calado.region.refine.disc import grown
from calado.region.refine.grow import opened_or_closed
from calado.region.refine.registry import REFINE, STEPS, refined
from calado.region.refine.smooth import smoothed
from calado.sheet.check import check_sheet
from calado.sheet.models import Part, Region, Sheet
from calado.window import full_window

#: of a float32 matte
ROUND = 1e-6
#: of an edge that moves by a radius, in pixels
EDGE_PX = 0.12
#: from float taps and a cut at four standard deviations
TAPS = 2e-4


def noise(seed: int, shape: tuple[int, int] = (70, 90)) -> np.ndarray:
    blobs = ndimage.gaussian_filter(np.random.default_rng(seed).normal(size=shape), 4)
    return np.clip(0.5 + 4 * blobs, 0, 1).astype(np.float32)


def oval(radius: float, **refine: float) -> Region:
    values = {"x": 0.75, "y": 0.5, "width": 2 * radius, "height": 2 * radius}
    return Region(id="r", name="r", parts=(Part(id="a", kind="ellipse", values=values),), refine=refine)


class Growing(TestCase):
    def test_whole_radii_hold_at_least_scipys_disc(self) -> None:
        """SciPy's flat grey dilation looks at pixels only; ours reads between them, which can add but a little."""
        for seed, radius in ((1, 1), (2, 3), (3, 7), (4, 12)):
            matte = noise(seed)
            y, x = np.mgrid[-radius : radius + 1, -radius : radius + 1]
            expected = ndimage.grey_dilation(matte, footprint=x * x + y * y <= radius * radius, mode="nearest")
            made = grown(matte, radius)
            self.assertTrue((made >= expected - ROUND).all(), radius)
            slope = np.abs(np.gradient(matte)).max()
            self.assertLess((made - expected).max(), 1.5 * slope, radius)

    def test_a_disc_grows_and_shrinks_to_a_disc(self) -> None:
        """Area π(R + r)²: exact by the definition of Euclidean distance; also for a part of a pixel."""
        window = full_window(300, 200)
        for grow in (-9.5, -2.25, -0.4, 0.3, 1.7, 6.0, 21.3):
            area = float(region_matte(oval(0.25, grow=grow / 200), window).sum())
            radius = np.sqrt(area / np.pi)
            self.assertAlmostEqual(radius, 50 + grow, delta=EDGE_PX, msg=str(grow))

    def test_a_straight_soft_edge_moves_and_keeps_its_softness(self) -> None:
        slope = np.clip((np.arange(120, dtype=np.float32) - 50) / 20, 0, 1)
        for turned in (False, True):
            edge = np.tile(slope, (120, 1))
            made = grown(edge.T.copy() if turned else edge, 6.5)
            line = made[:, 60] if turned else made[60]
            expected = np.clip((np.arange(120) + 6.5 - 50) / 20, 0, 1)
            np.testing.assert_allclose(line[:100], expected[:100], atol=0.002)

    def test_a_slanted_edge_moves_by_the_distance(self) -> None:
        y, x = np.mgrid[0:140, 0:140].astype(np.float32)
        for degrees in (10, 30, 45, 60, 80):
            a, b = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
            edge = np.clip(0.5 - (a * (x - 70) + b * (y - 70)) / 8, 0, 1).astype(np.float32)
            for radius in (0.5, 2.0, 9.3):
                made = grown(edge, radius)[40:100, 40:100]
                expected = np.clip(0.5 - (a * (x - 70) + b * (y - 70) - radius) / 8, 0, 1)[40:100, 40:100]
                slope = (expected > 0.15) & (expected < 0.85)  # its ends bend, which reading between pixels rounds
                self.assertLess(np.abs(made - expected)[slope].max() * 8, EDGE_PX, (degrees, radius))

    @given(st.integers(0, 10**6), st.floats(0.1, 9))
    @settings(max_examples=25, deadline=None)
    def test_shrinking_is_growing_what_is_left_out(self, seed: int, radius: float) -> None:
        matte = noise(seed)
        np.testing.assert_allclose(grown(matte, -radius), 1 - grown(1 - matte, radius), atol=ROUND)
        self.assertTrue((grown(matte, radius) >= matte - ROUND).all())

    def test_beside_what_there_is_nothing_is_looked_at_and_nothing_changes(self) -> None:
        rng = np.random.default_rng(4)
        for radius in (0.7, 3.0, 18.5):
            matte = np.zeros((150, 230), np.float32)
            matte[41:63, 90:141] = rng.random((22, 51))
            # a trace in each corner: there is nothing to leave out any more
            framed = matte.copy()
            framed[[0, 0, -1, -1], [0, -1, 0, -1]] = 1e-30
            np.testing.assert_array_equal(
                grown(matte, radius), np.where(grown(framed, radius) > 1e-20, grown(framed, radius), 0)
            )
        np.testing.assert_array_equal(grown(np.zeros((40, 50), np.float32), 4.0), 0)

    def test_what_lies_beyond_the_frame_comes_in(self) -> None:
        outside = Region(
            id="r",
            name="r",
            parts=(Part(id="a", kind="ellipse", values={"x": -0.13, "y": 0.5, "width": 0.2, "height": 0.2}),),
            refine={"grow": 0.06},
        )
        made = region_matte(outside, full_window(150, 100))
        self.assertEqual(made[50, 1], 1)
        self.assertEqual(made[50, 8], 0)


class Opening(TestCase):
    def test_specks_go_and_gaps_fill(self) -> None:
        matte = np.zeros((80, 80), np.float32)
        matte[20:60, 20:60] = 1
        matte[39:42, 39:42] = 0  # a gap
        matte[4:7, 4:7] = 1  # a speck
        opened, closed = opened_or_closed(matte, -3), opened_or_closed(matte, 3)
        self.assertEqual((opened[5, 5], opened[30, 30], opened[40, 40]), (0, 1, 0))
        self.assertEqual((closed[5, 5], closed[40, 40], closed[10, 40]), (1, 1, 0))

    @given(st.integers(0, 10**6))
    @settings(max_examples=15, deadline=None)
    def test_twice_is_once(self, seed: int) -> None:
        """Opening and closing are idempotent (Serra1982); reading between pixels lets a little through."""
        matte = noise(seed)
        for radius in (-4, 4):
            once = opened_or_closed(matte, radius)
            inner = (slice(10, -10), slice(10, -10))
            self.assertLess(np.abs(opened_or_closed(once, radius) - once)[inner].mean(), 0.01)


class Smoothing(TestCase):
    def test_against_scipys_median(self) -> None:
        matte = noise(5)
        for radius in (1, 3, 6):
            x = np.mgrid[-radius : radius + 1, -radius : radius + 1][1]
            reach = np.array([int(np.sqrt(float(radius * radius - dy * dy))) for dy in range(-radius, radius + 1)])
            disc = np.abs(x) <= reach[:, None]
            expected = ndimage.median_filter(matte, footprint=disc)
            inner = (slice(radius, -radius), slice(radius, -radius))
            self.assertLess(np.abs(smoothed(matte, radius) - expected)[inner].max(), 1.01 / 255 * 2)

    def test_burrs_go_and_a_straight_edge_stays(self) -> None:
        edge = np.zeros((60, 60), np.float32)
        edge[:, :30] = 1
        rough = edge.copy()
        rough[30, 30:33] = 1
        made = smoothed(rough, 4)
        np.testing.assert_allclose(made[10:50, 5:55], edge[10:50, 5:55], atol=0.5 / 255)


class Blurring(TestCase):
    def test_against_scipys_gaussian(self) -> None:
        matte = noise(7, (200, 230))
        for sigma in (0.8, 3.0, 14.0):
            expected = ndimage.gaussian_filter(matte.astype(np.float64), sigma, mode="nearest", truncate=4.0)
            self.assertLess(np.abs(blurred(matte, sigma) - expected).max(), TAPS, sigma)


class Clipping(TestCase):
    def test_the_ends_and_between(self) -> None:
        ramp = np.linspace(0, 1, 101, dtype=np.float32)[None]
        made = clipped(ramp, 0.2, 0.7)[0]
        self.assertEqual((made[20], made[70]), (0, 1))
        self.assertAlmostEqual(float(made[45]), 0.5, places=5)
        self.assertTrue((np.diff(made) >= 0).all())
        crossed = clipped(ramp, 0.7, 0.2)
        self.assertTrue(np.isfinite(crossed).all())


class Family(TestCase):
    """Each number of every step at once."""

    def test_neutral_changes_nothing(self) -> None:
        matte = noise(9)
        neutral = {number.id: number.neutral for number in REFINE.numbers}
        np.testing.assert_array_equal(refined(matte, neutral, 0.01), matte)

    def test_strips_crops_and_sizes_agree(self) -> None:
        whole = full_window(300, 200)
        for number in REFINE.numbers:
            region = oval(0.3, **{number.id: number.high * 0.4 or number.low * 0.4})
            made = region_matte(region, whole)
            np.testing.assert_array_equal(region_matte(region, whole.rows(30, 61)), made[30:61], number.id)
            reduced = made.reshape(100, 2, 150, 2).mean(axis=(1, 3))
            half = region_matte(region, full_window(300, 200, 0.5))
            self.assertLess(np.abs(half - reduced).mean(), 0.003, number.id)
            self.assertTrue(made.min() >= 0 and made.max() <= 1)

    def test_inputs_stay_as_they_were(self) -> None:
        matte = noise(11)
        before = matte.copy()
        for step in STEPS:
            step.apply(matte, *(number.high / 2 for number in step.numbers))
            np.testing.assert_array_equal(matte, before)

    def test_out_of_range_is_refused_with_its_name(self) -> None:
        for number in REFINE.numbers:
            sheet = Sheet(regions=(oval(0.2, **{number.id: number.ceiling + 1}),))
            with self.assertRaisesRegex(SheetError, number.name):
                check_sheet(sheet, CATALOGUE)
        with self.assertRaisesRegex(SheetError, "no parameter"):
            check_sheet(Sheet(regions=(oval(0.2, wobble=1),)), CATALOGUE)
