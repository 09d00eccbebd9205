"""The ellipse's matte against an exact distance transform, areas and worked widths."""

from collections.abc import Mapping
from math import pi
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import ndimage
from scipy.special import gamma

from calado.region.ellipse import ELLIPSE, ellipse_matte
from calado.region.superellipse import quadrant, signed_distance
from calado.sheet.models import Part
from calado.window import full_window

#: a raster of this many pixels a height knows a distance to half a pixel
FINE = 600
OVAL = {"x": 0.75, "y": 0.5, "width": 1.0, "height": 0.6, "turn": 25.0}


def oval(values: Mapping[str, float | str]) -> Part:
    return Part(id="a", kind="ellipse", values=dict(values))


def matte(size: tuple[int, int] = (900, 600), **values: float | str) -> np.ndarray:
    return ellipse_matte(oval({**OVAL, **values}), full_window(*size))


def inside(values: dict[str, float], size: tuple[int, int]) -> np.ndarray:
    """The implicit equation, evaluated plainly at pixel centres."""
    y, x = (np.mgrid[0 : size[1], 0 : size[0]] + 0.5) / size[1]
    t = np.radians(values["turn"])
    dx, dy = x - values["x"], y - values["y"]
    u, v = dx * np.cos(t) + dy * np.sin(t), dy * np.cos(t) - dx * np.sin(t)
    n = 2 / values.get("roundness", 1.0)
    return np.abs(2 * u / values["width"]) ** n + np.abs(2 * v / values["height"]) ** n < 1


class Distance(TestCase):
    def test_feathered_edge_against_a_euclidean_distance_transform(self) -> None:
        for roundness in (1.0, 0.4, 0.1):
            values = {**OVAL, "roundness": roundness}
            # a raster three times as fine has a pixel centre where each of ours has one
            full = inside(values, (3 * 900, 3 * FINE))
            d = (ndimage.distance_transform_edt(~full) - ndimage.distance_transform_edt(full))[1::3, 1::3] / (3 * FINE)
            made = matte(roundness=roundness, feather_in=0.1, feather_out=0.15, profile="straight")
            expected = np.clip((0.15 - d) / 0.25, 0, 1)
            # the transform knows the edge to the diagonal of a pixel of its raster; the band is 0.25
            self.assertLess(np.abs(made - expected).max(), 2**0.5 / (3 * FINE) / 0.25)

    def test_chords_lie_on_the_curve(self) -> None:
        for exponent in (2.0, 5.0, 20.0, 100.0):
            points = quadrant(0.6, 0.3, exponent)
            middle = (points[:, 1:] + points[:, :-1]) / 2
            radius = ((middle[0] / 0.6) ** exponent + (middle[1] / 0.3) ** exponent) ** (1 / exponent)
            sagitta = np.hypot(*middle) * np.abs(1 / radius - 1)
            self.assertLess(sagitta.max(), 1e-5)

    def test_a_circle_is_exact(self) -> None:
        points = quadrant(0.5, 0.5, 2.0)
        for u, v in ((0.0, 0.0), (0.2, -0.1), (-0.7, 0.4), (0.5, 0.0)):
            self.assertAlmostEqual(signed_distance(u, v, points), np.hypot(u, v) - 0.5, 5)


class Area(TestCase):
    def test_a_hard_edge_sums_to_the_area(self) -> None:
        made = matte().sum() / 600**2
        self.assertAlmostEqual(made, pi * 0.5 * 0.3, delta=2e-5)

    def test_superellipse_area(self) -> None:
        # area 4ab Γ(1 + 1/n)² / Γ(1 + 2/n): Gielis and others; here as in any handbook of curves, from memory
        for roundness in (0.8, 0.5, 0.2):
            n = 2 / roundness
            expected = 4 * 0.5 * 0.3 * gamma(1 + 1 / n) ** 2 / gamma(1 + 2 / n)
            self.assertAlmostEqual(matte(roundness=roundness).sum() / 600**2, expected, delta=2e-4)

    def test_a_full_frame_ellipse_covers_a_quarter_pi(self) -> None:
        made = matte(width=1.5, height=1.0, turn=0.0)
        self.assertAlmostEqual(made.mean(), pi / 4, delta=5e-5)


class Profiles(TestCase):
    def row(self, **values: float | str) -> tuple[np.ndarray, np.ndarray]:
        """The matte along a line through the centre of a large circle, and the place of each pixel."""
        made = matte((4000, 40), x=0.0, y=0.5, width=80.0, height=80.0, turn=0.0, **values)
        return made[20], (np.arange(4000) + 0.5) / 40

    def width(self, row: np.ndarray, at: np.ndarray, high: float, low: float) -> float:
        return float(np.interp(-low, -row, at) - np.interp(-high, -row, at))

    def test_bell_widths_of_a_gaussian_edge(self) -> None:
        row, at = self.row(feather_in=3.0, feather_out=3.0, profile="bell")
        sigma = 6.0 / 7.0  # the band of six lengths spans seven sigmas
        self.assertAlmostEqual(self.width(row, at, 0.9, 0.1) / sigma, 2.563, delta=0.02)
        self.assertAlmostEqual(self.width(row, at, 0.95, 0.05) / sigma, 3.290, delta=0.02)

    def test_half_at_the_middle_of_the_band(self) -> None:
        for profile in ("smooth", "straight", "bell"):
            row, at = self.row(feather_in=1.0, feather_out=3.0, profile=profile)
            self.assertAlmostEqual(float(np.interp(-0.5, -row, at)), 41.0, delta=0.03)
            self.assertTrue(np.all(np.diff(row) <= 1e-6))

    def test_feather_is_relative(self) -> None:
        # 50 px of feather is 5, 2.5, 1.25 % of 1000, 2000, 4000 px (CORE)
        for height, share in ((1000, 0.05), (2000, 0.025), (4000, 0.0125)):
            far = {"x": 0.0, "y": 0.5, "width": 20.0, "height": 20.0}
            edge = ellipse_matte(
                oval({**far, "feather_out": share, "profile": "straight"}),
                full_window(12000 * height // 1000, height).rows(height // 2, height // 2 + 1),
            )[0]
            self.assertAlmostEqual(int(((edge > 0) & (edge < 1)).sum()), 50, delta=1)


class Windows(TestCase):
    @settings(max_examples=20, deadline=None)
    @given(st.integers(0, 500), st.integers(1, 99), st.floats(-180, 180), st.floats(0.02, 1))
    def test_a_strip_equals_the_whole_bit_for_bit(self, first: int, rows: int, turn: float, roundness: float) -> None:
        whole = matte(turn=turn, roundness=roundness, feather_in=0.05, feather_out=0.1)
        values = {**OVAL, "turn": turn, "roundness": roundness, "feather_in": 0.05, "feather_out": 0.1}
        strip = ellipse_matte(oval(values), full_window(900, 600).rows(first, first + rows))
        np.testing.assert_array_equal(strip, whole[first : first + rows])

    def test_beyond_the_frame_is_the_same_region_cut(self) -> None:
        # a picture twice as wide shows the same ellipse, with the rest of it
        wide = matte((1800, 600), x=1.4)
        np.testing.assert_array_equal(wide[:, :900], matte(x=1.4))

    def test_half_size_agrees_with_the_reduced_full_size(self) -> None:
        values = {**OVAL, "feather_in": 0.03, "feather_out": 0.05}
        full = ellipse_matte(oval(values), full_window(900, 600))
        half = ellipse_matte(oval(values), full_window(900, 600, 0.5))
        reduced = full.reshape(300, 2, 450, 2).mean(axis=(1, 3))
        self.assertLess(np.abs(half - reduced).max(), 0.004)

    def test_zero_size_is_refused_by_its_range_and_tiny_survives(self) -> None:
        width = ELLIPSE.parameter("width")
        self.assertGreater(width.floor, 0)  # type: ignore[union-attr]
        tiny = matte(width=width.floor, height=width.floor)  # type: ignore[union-attr]
        self.assertTrue(np.isfinite(tiny).all())
        self.assertLess(tiny.sum(), 6)
