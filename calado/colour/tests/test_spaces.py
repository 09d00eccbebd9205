"""Spaces against the standards' weights and a colour-science library; OKLab against CSS Color 4."""

from unittest import TestCase

import colour
import numpy as np

from calado.colour import oklab
from calado.colour.spaces import BT2020, DISPLAY_P3, SPACES, SRGB

#: digits that the recommendations print
PRINTED_4 = 5e-5
LIBRARY = 2e-4
NAMES = {"srgb": "sRGB", "p3": "Display P3", "bt2020": "ITU-R BT.2020", "oprgb": "Adobe RGB (1998)"}


class Weights(TestCase):
    def test_printed_luminance_weights(self) -> None:
        # Rec. ITU-R BT.709-6 item 3.2 and BT.2020-2 table 4, rounded there to four digits
        np.testing.assert_allclose(SRGB.luminance_weights, [0.2126, 0.7152, 0.0722], atol=PRINTED_4)
        np.testing.assert_allclose(BT2020.luminance_weights, [0.2627, 0.6780, 0.0593], atol=PRINTED_4)

    def test_weights_sum_to_one_and_white_is_white(self) -> None:
        for space in SPACES.values():
            self.assertAlmostEqual(space.luminance_weights.sum(), 1.0, 12)
            np.testing.assert_allclose(space.from_xyz @ space.to_xyz, np.eye(3), atol=1e-12)

    def test_matrices_against_colour_science(self) -> None:
        for id, name in NAMES.items():
            expected = colour.RGB_COLOURSPACES[name].matrix_RGB_to_XYZ
            np.testing.assert_allclose(SPACES[id].to_xyz, expected, atol=LIBRARY)

    def test_p3_red_in_srgb(self) -> None:
        # CSS Color 4, sample conversions: color(display-p3 1 0 0) is about color(srgb 1.0930 -0.2267 -0.1501)
        linear = DISPLAY_P3.matrix_to(SRGB) @ [1.0, 0.0, 0.0]
        np.testing.assert_allclose(SRGB.transfer.encode(linear), [1.0930, -0.2267, -0.1501], atol=2e-4)


class OkLab(TestCase):
    def test_samples_of_css_color_4(self) -> None:
        # CSS Color 4, section 9 and its test suite: sRGB red, green (lime), blue, and white in OKLab
        samples = {
            (1.0, 0.0, 0.0): (0.62796, 0.22486, 0.12585),
            (0.0, 1.0, 0.0): (0.86644, -0.23389, 0.17950),
            (0.0, 0.0, 1.0): (0.45201, -0.03246, -0.31153),
            (1.0, 1.0, 1.0): (1.0, 0.0, 0.0),
        }
        for rgb, lab in samples.items():
            np.testing.assert_allclose(oklab.linear_to_oklab(np.array(rgb)), lab, atol=2e-5)

    def test_against_colour_science(self) -> None:
        rgb = np.random.default_rng(4).random((50, 3))
        for space in SPACES.values():
            expected = colour.XYZ_to_Oklab(rgb @ space.to_xyz.T)
            np.testing.assert_allclose(oklab.linear_to_oklab(rgb, space), expected, atol=LIBRARY)

    def test_round_trip_of_any_shape(self) -> None:
        rgb = np.random.default_rng(5).normal(size=(4, 5, 3))
        for space in SPACES.values():
            back = oklab.oklab_to_linear(oklab.linear_to_oklab(rgb, space), space)
            np.testing.assert_allclose(back, rgb, atol=1e-9)

    def test_polar_form(self) -> None:
        lab = oklab.linear_to_oklab(np.random.default_rng(6).random((20, 3)))
        np.testing.assert_allclose(oklab.oklch_to_oklab(oklab.oklab_to_oklch(lab)), lab, atol=1e-12)
        # CSS Color 4: red is oklch(0.628 0.2577 29.23)
        np.testing.assert_allclose(
            oklab.oklab_to_oklch(oklab.linear_to_oklab(np.array([1.0, 0, 0]))), [0.628, 0.2577, 29.23], atol=5e-3
        )
        self.assertEqual(oklab.oklab_to_oklch(np.array([0.5, 0.0, 0.0]))[2], 0.0)
