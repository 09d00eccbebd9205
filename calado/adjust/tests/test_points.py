"""The point adjustments against formulas in float64 and against other libraries."""

from unittest import TestCase

import colour
import numpy as np
from skimage import exposure

from calado.adjust.colour.white import daylight, light_at, off_locus
from calado.adjust.kind import PointAdjustment
from calado.adjust.registry import ADJUSTMENTS
from calado.colour import oklab
from calado.colour.spaces import BT2020, DISPLAY_P3, SPACES, SRGB, ColourSpace, xyz_of
from calado.numeric import exp2, log2, power
from calado.sheet.numbers import say_number

#: what a table over √x leaves of error near black, in linear light
TABLE = 1e-6
RNG = np.random.default_rng(5)
PICTURE = RNG.random((3, 24, 40), np.float32)
#: of an encoded value, 0…1: a fiftieth of an 8-bit code
CODE = 0.02 / 255


def run(id: str, space: ColourSpace = SRGB, picture: np.ndarray = PICTURE, **values: float) -> np.ndarray:
    planes = picture.copy()
    adjustment = ADJUSTMENTS[id]
    assert isinstance(adjustment, PointAdjustment)
    adjustment.step(adjustment.settings(values, space)).run(planes)
    return planes


class Numeric(TestCase):
    def test_stated_errors(self) -> None:
        x = np.logspace(-4.8, 4.8, 20001).astype(np.float32)
        made = np.array([log2(each) for each in x])
        self.assertLess(np.abs(made - np.log2(x.astype(np.float64))).max(), 1e-6)
        e = np.linspace(-20, 20, 20001).astype(np.float32)
        made = np.array([exp2(each) for each in e], np.float64)
        self.assertLess(np.abs(made / np.exp2(e.astype(np.float64)) - 1).max(), 4e-7)
        self.assertEqual((power(np.float32(0), np.float32(2)), exp2(np.float32(0))), (0, 1))
        self.assertAlmostEqual(float(power(np.float32(-0.5), np.float32(2))), -0.25, places=6)


class Contrast(TestCase):
    def test_a_power_about_the_pivot(self) -> None:
        for amount, pivot in ((0.4, 0.18), (-0.3, 0.5)):
            expected = pivot * (PICTURE.astype(np.float64) / pivot) ** (1 + amount)
            np.testing.assert_allclose(run("contrast", amount=amount, pivot=pivot), expected, rtol=5e-6, atol=TABLE)
        flat = np.full((3, 1, 8), 0.18, np.float32)
        np.testing.assert_allclose(run("contrast", picture=flat, amount=0.6), 0.18, rtol=1e-6)


class Levels(TestCase):
    def encoded(self, made: np.ndarray, space: ColourSpace = SRGB) -> np.ndarray:
        return np.asarray(space.transfer.encode(made.astype(np.float64)))

    def test_against_scikit_image_on_the_encoded_signal(self) -> None:
        for space in SPACES.values():
            signal = self.encoded(PICTURE, space)
            inner = signal > 0.12
            made = self.encoded(run("black", space, amount=0.1), space)
            expected = exposure.rescale_intensity(signal, in_range=(0.1, 1.0), out_range=(0.0, 1.0))
            np.testing.assert_allclose(made[inner], expected[inner], atol=CODE, err_msg=space.id)
            made = self.encoded(run("midtone", space, amount=0.5), space)
            np.testing.assert_allclose(made, exposure.adjust_gamma(signal, 2**-0.5), atol=CODE, err_msg=space.id)

    def test_white_point_and_lifted_black(self) -> None:
        signal = self.encoded(PICTURE)
        np.testing.assert_allclose(self.encoded(run("white", amount=0.8)), signal / 0.8, atol=CODE)
        dark = np.zeros((3, 1, 4), np.float32)
        np.testing.assert_allclose(self.encoded(run("black", picture=dark, amount=-0.1)), 0.1 / 1.1, atol=CODE)

    def test_the_ends_stay_under_the_midtone(self) -> None:
        ends = np.array([0.0, 1.0], np.float32).reshape(1, 1, 2).repeat(3, axis=0)
        np.testing.assert_allclose(run("midtone", BT2020, np.ascontiguousarray(ends), amount=0.7), ends, atol=2e-6)


class Hues(TestCase):
    def lch(self, planes: np.ndarray, space: ColourSpace) -> np.ndarray:
        return oklab.oklab_to_oklch(oklab.linear_to_oklab(np.moveaxis(planes, 0, -1).astype(np.float64), space))

    def test_all_turn_by_the_angle_and_nothing_else_moves(self) -> None:
        before, after = self.lch(PICTURE, DISPLAY_P3), self.lch(run("hue", DISPLAY_P3, turn=40.0), DISPLAY_P3)
        turned = (after[..., 2] - before[..., 2] - 40 + 180) % 360 - 180
        coloured = before[..., 1] > 0.01
        self.assertLess(np.abs(turned[coloured]).max(), 0.02)
        np.testing.assert_allclose(after[..., :2], before[..., :2], atol=2e-5)
        np.testing.assert_allclose(run("hue", turn=360.0), PICTURE, atol=1e-5)

    def test_pale_colours_move_first(self) -> None:
        lab = np.array([[0.6, 0.02, 0.0], [0.6, 0.1, 0.0], [0.6, 0.24, 0.0]])
        planes = np.ascontiguousarray(np.moveaxis(oklab.oklab_to_linear(lab, SRGB)[None], -1, 0).astype(np.float32))
        for amount in (0.5, -0.5):
            made = self.lch(run("muted", picture=planes, amount=amount), SRGB)[0]
            expected = lab[:, 1] * (1 + amount * (1 - lab[:, 1] / 0.25) ** 2)
            np.testing.assert_allclose(made[:, 1], expected, atol=2e-5)
            np.testing.assert_allclose(made[:, 0], 0.6, atol=1e-5)


class White(TestCase):
    """Against the colour-science library: the daylight locus and adaptation by CAT16."""

    def test_the_locus(self) -> None:
        for kelvin in (4000, 5003, 6504, 7000, 9000, 20000):
            np.testing.assert_allclose(daylight(1e6 / kelvin), colour.temperature.CCT_to_xy_CIE_D(kelvin), atol=1e-9)

    def test_the_locus_of_lamps(self) -> None:
        for kelvin in (2000, 2856, 3200, 3400):
            expected = colour.UCS_uv_to_xy(colour.temperature.CCT_to_uv_Krystek1985(kelvin))
            np.testing.assert_allclose(light_at(1e6 / kelvin), expected, atol=1e-6)
        # between the two it goes on without a step
        places = np.array([light_at(mired) for mired in np.arange(230, 310, 0.5)])
        self.assertLess(np.abs(np.diff(places, axis=0)).max(), 0.0012)

    def test_what_tungsten_lit_becomes_neutral(self) -> None:
        # CIE 15: illuminant A, 2856 K
        lit = SRGB.from_xyz @ xyz_of((0.44758, 0.40745))
        picture = np.repeat((0.4 * lit / lit.max()).astype(np.float32)[:, None, None], 4, axis=2)
        made = run("temperature", picture=picture, shift=1e6 / 6504 - 1e6 / 2856)[:, 0, 0]
        self.assertLess(float(np.ptp(made) / made.mean()), 0.02)

    def test_adapted_as_by_cat16(self) -> None:
        for space in (SRGB, DISPLAY_P3):
            for shift in (-60.0, 90.0):
                white = daylight(1e6 / 6504)
                other = daylight(1e6 / 6504 - shift)
                theirs = colour.adaptation.matrix_chromatic_adaptation_VonKries(
                    xyz_of(other), xyz_of(white), transform="CAT16"
                )
                expected = np.einsum("ij,jyx->iyx", space.from_xyz @ theirs @ space.to_xyz, PICTURE)
                np.testing.assert_allclose(run("temperature", space, shift=shift), expected, atol=2e-6)

    def test_up_is_warmer_and_greener(self) -> None:
        grey = np.full((3, 1, 4), 0.5, np.float32)
        warm = run("temperature", picture=grey, shift=50.0)[:, 0, 0]
        self.assertTrue(warm[0] > 0.5 > warm[2])
        green = run("tint", picture=grey, duv=0.01)[:, 0, 0]
        self.assertTrue(green[1] > green[0] and green[1] > green[2])

    def test_tint_is_a_distance_in_the_1960_diagram(self) -> None:
        def uv(xy: tuple[float, float]) -> np.ndarray:
            return np.asarray(colour.xy_to_UCS_uv(xy))

        for duv in (-0.02, 0.01):
            away = uv(off_locus(1e6 / 6504, duv)) - uv(daylight(1e6 / 6504))
            self.assertAlmostEqual(float(np.hypot(*away)), abs(duv), places=6)

    def test_said_in_kelvin(self) -> None:
        number = ADJUSTMENTS["temperature"].numbers[0]
        self.assertEqual(say_number(0.0, number), "6500\u00a0K")
        self.assertEqual(say_number(1e6 / 6504 - 1e6 / 5000, number), "5000\u00a0K")
        self.assertEqual(say_number(0.004, ADJUSTMENTS["tint"].numbers[0]), "+0.0040\u00a0Duv")
