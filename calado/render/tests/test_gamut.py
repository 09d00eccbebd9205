"""Light beyond white, against colour-science's OKLab: hue kept, in range, and nothing touched that is within."""

from unittest import TestCase

import colour
import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from calado.colour.spaces import DISPLAY_P3, OPRGB, SRGB
from calado.colour.transfer import linear_to_srgb
from calado.render.encode import file_codes, screen_codes
from calado.render.gamut import led_to_gamut

RNG = np.random.default_rng(8)


def hue(rgb: np.ndarray) -> np.ndarray:
    lab = colour.XYZ_to_Oklab(colour.RGB_to_XYZ(rgb, "sRGB", apply_cctf_decoding=False))
    return np.degrees(np.arctan2(lab[..., 2], lab[..., 1]))


class Led(TestCase):
    def led(self, rgb: np.ndarray) -> np.ndarray:
        return np.moveaxis(led_to_gamut(np.moveaxis(rgb, -1, 0)[:, None].astype(np.float32), SRGB)[:, 0], 0, -1)

    def test_skin_a_lamp_and_sky_by_a_stop_keep_their_hue(self) -> None:
        # clipped channel by channel they turn by 24°, 33° and −32°
        for signal in ((0.86, 0.68, 0.58), (1.0, 0.62, 0.2), (0.55, 0.75, 0.95)):
            light = 2 * SRGB.transfer.decode(np.array([signal]))
            made = self.led(light)
            turned = (hue(made) - hue(light) + 180) % 360 - 180
            self.assertLess(abs(float(turned[0])), 1.0)
            self.assertLessEqual(made.max(), 1.0)
            # brighter than it was, as was asked for
            self.assertGreater(made @ SRGB.luminance_weights, light @ SRGB.luminance_weights / 2)

    def test_what_is_within_stays_bit_for_bit(self) -> None:
        planes = RNG.random((3, 40, 60)).astype(np.float32) * 1.4 - 0.2
        planes[:, :5] = np.minimum(planes[:, :5], 1)
        planes[0, 7, 7] = np.nan
        made = led_to_gamut(planes, SRGB)
        within = ~(planes > 1.0001).any(axis=0)
        np.testing.assert_array_equal(made[:, within], planes[:, within])
        whole = np.isfinite(planes).all(axis=0)
        self.assertLessEqual(made[:, ~within & whole].max(), 1.0)
        inside = np.minimum(planes, 1)
        self.assertIs(led_to_gamut(inside, SRGB), inside)

    @given(st.tuples(*[st.floats(0, 1, width=32)] * 3), st.floats(1, 4))
    def test_a_little_beyond_is_a_little_changed_and_white_stays_white(
        self, rgb: tuple[float, ...], gain: float
    ) -> None:
        top = np.array(rgb) / max(max(rgb), 1e-3)
        near, far = self.led(top[None] * 1.001), self.led(top[None] * gain)
        if max(rgb) > 1e-3:
            np.testing.assert_allclose(near[0], top, atol=0.02)
        self.assertTrue(np.isfinite(far).all())
        np.testing.assert_array_equal(self.led(np.full((1, 3), gain)), 1.0)

    def test_cut_off_each_channel_ends_at_white_by_itself(self) -> None:
        bright = (RNG.random((3, 30, 40)) * 3).astype(np.float32)
        for bits in (8, 16):
            cut = file_codes(bright, SRGB, bits, cuts_off=True)
            top = 2**bits - 1
            exact = linear_to_srgb(np.clip(np.moveaxis(bright, 0, -1), 0, 1)) * top
            self.assertLessEqual(np.abs(cut - exact).max(), 1.0)
            np.testing.assert_array_equal(cut[np.moveaxis(bright, 0, -1) >= 1], top)
            # which turns hues: a choice, not what is usual
            self.assertGreater(np.abs(cut.astype(int) - file_codes(bright, SRGB, bits)).max(), top / 20)

    def test_infinite_light_is_white_and_files_and_screens_agree(self) -> None:
        planes = np.full((3, 8, 8), np.inf, np.float32)
        np.testing.assert_array_equal(led_to_gamut(planes, SRGB), 1.0)
        bright = (RNG.random((3, 30, 40)) * 3).astype(np.float32)
        # but for the dither
        apart = file_codes(bright, SRGB, 8).astype(int) - screen_codes(bright, SRGB)
        self.assertLessEqual(np.abs(apart).max(), 1)
        for space in (DISPLAY_P3, OPRGB):
            self.assertEqual(file_codes(bright, space, 16).max(), 65535)
