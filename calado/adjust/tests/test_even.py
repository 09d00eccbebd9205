"""Even colour, against OKLab and Gaussians in double precision, and against what it must leave alone."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.ndimage import gaussian_filter

from calado.colour.oklab import linear_to_oklab, oklab_to_linear
from calado.colour.spaces import SRGB
from calado.render.engine import Engine, Order
from calado.render.source import source_of
from calado.sheet.models import Part, Pass, Region, Sheet

HIGH, WIDE, RADIUS = 80, 100, 0.06
LIGHT = np.random.default_rng(4).uniform(0.05, 0.9, (3, HIGH, WIDE)).astype(np.float32)


def evened(planes: np.ndarray, region: Region | None = None, **values: float) -> np.ndarray:
    inside = {"even": {"radius": RADIUS, **values}}
    a_pass = Pass(id="p", name="p", region=region.id if region else None, inside=inside)
    sheet = Sheet(regions=(region,) if region else (), passes=(a_pass,))
    source = source_of(planes, SRGB)
    return Engine().picture(source, Order(sheet), source.full())


def lab_of(planes: np.ndarray) -> np.ndarray:
    return np.moveaxis(linear_to_oklab(np.moveaxis(planes, 0, -1).astype(float)), -1, 0)


class Even(TestCase):
    @given(st.floats(0, 1), st.floats(0, 1))
    def test_it_is_what_its_formula_says(self, amount: float, redness: float) -> None:
        made = evened(LIGHT, amount=amount, redness=redness)
        around = np.stack([gaussian_filter(each.astype(float), RADIUS * HIGH, mode="nearest") for each in LIGHT])
        lab, mean = lab_of(LIGHT), lab_of(around)
        target = mean[1:] * lab[0] / mean[0]
        wanted = lab.copy()
        wanted[1:] += amount * (target - lab[1:])
        wanted[1] += redness * np.minimum(target[0] - wanted[1], 0)
        light = np.moveaxis(oklab_to_linear(np.moveaxis(wanted, 0, -1)), -1, 0)
        # continued edges differ by how a Gaussian on cells continues them
        inner = np.s_[:, 35:-35, 35:-35]
        np.testing.assert_allclose(made[inner], light[inner], atol=2e-3)

    def test_light_and_shade_stay_and_colour_becomes_even(self) -> None:
        made = lab_of(evened(LIGHT, amount=0.8))
        old = lab_of(LIGHT)
        np.testing.assert_allclose(made[0], old[0], atol=2e-4)
        self.assertLess((made[1:] / made[0]).std(), 0.35 * (old[1:] / old[0]).std())

    def test_one_surface_in_light_and_shade_is_left_alone(self) -> None:
        shade = np.linspace(0.1, 1, WIDE)[None, None] ** 2 * np.array([0.8, 0.5, 0.4])[:, None, None]
        planes = np.broadcast_to(shade, (3, HIGH, WIDE)).astype(np.float32).copy()
        np.testing.assert_allclose(evened(planes, amount=1.0), planes, atol=2e-5)

    def test_redness_only_takes_what_is_redder(self) -> None:
        lab, made = lab_of(LIGHT), lab_of(evened(LIGHT, redness=1.0))
        moved = made[1] - lab[1]
        self.assertLess(moved.max(), 1e-4)
        self.assertGreater((moved < -0.01).mean(), 0.3)
        np.testing.assert_allclose(made[2], lab[2], atol=2e-4)

    def test_nothing_of_the_other_side_comes_in(self) -> None:
        planes = LIGHT.copy()
        planes[:, :, 50:] = np.array([0.9, 0.05, 0.05])[:, None, None]
        half = Part(id="a", kind="rectangle", values={"x": 0.3125, "y": 0.5, "width": 0.625, "height": 3.0})
        region = Region(id="r", name="r", parts=(half,))
        made = evened(planes, region, amount=1.0)
        other = evened(np.concatenate([LIGHT[:, :, :50], LIGHT[:, :, :50]], axis=2), region, amount=1.0)
        np.testing.assert_allclose(made[:, :, :50], other[:, :, :50], atol=1e-5)
        np.testing.assert_array_equal(made[:, :, 50:], planes[:, :, 50:])
