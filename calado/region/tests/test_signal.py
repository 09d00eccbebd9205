"""Encoded luminance against colour-science, and planes without what is no number against NumPy."""

from unittest import TestCase

import colour
import numpy as np

from calado.colour.spaces import REC709, SPACES, SRGB
from calado.region.signal import BRIGHTEST, finite, signal_of


class Signals(TestCase):
    def test_as_a_colour_science_library_encodes_luminance(self) -> None:
        order = np.random.default_rng(2)
        # from a hundredth of a code of 16 bits to far beyond white
        planes = np.exp2(order.uniform(-23, 12, (3, 40, 50))).astype(np.float32)
        for space, encode in (
            (SRGB, colour.models.eotf_inverse_sRGB),
            (REC709, lambda light: colour.models.oetf_BT2020(light, True)),
        ):
            with self.subTest(space.name):
                expected = encode(np.tensordot(space.luminance_weights, planes.astype(float), 1))
                # the curve of BT.2020 is printed there to four digits
                np.testing.assert_allclose(signal_of(planes, space), expected, rtol=4e-5, atol=4e-5)

    def test_white_is_one_and_black_and_below_and_no_number_are_nothing(self) -> None:
        for space in SPACES.values():
            with self.subTest(space.name):
                self.assertLessEqual(abs(float(signal_of(np.ones((3, 1, 1), np.float32), space)[0, 0]) - 1), 2e-6)
        for value in (0, -3, np.nan):
            planes = np.full((3, 2, 5), value, np.float32)
            self.assertEqual(signal_of(planes, SRGB).max(), 0)


class Finite(TestCase):
    def test_what_is_no_number_is_black_and_what_is_infinite_very_bright(self) -> None:
        planes = np.random.default_rng(3).normal(size=(3, 5, 7)).astype(np.float32)
        self.assertIs(finite(planes), planes)
        planes = planes.copy()
        planes[0, 1, 2], planes[1, 0, 0], planes[2, 4, 6] = np.nan, np.inf, -np.inf
        np.testing.assert_array_equal(finite(planes), np.nan_to_num(planes, posinf=BRIGHTEST, neginf=0.0))
