"""Ranges: trapezoids worked out by hand, colours of CSS Color 4, and what must hold of any range."""

from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from calado.colour.difference import delta_e_2000, linear_to_lab
from calado.colour.oklab import linear_to_oklab, oklab_to_linear
from calado.colour.spaces import DISPLAY_P3, SRGB
from calado.colour.transfer import srgb_to_linear
from calado.errors import SheetError
from calado.region.affine import Affine
from calado.region.context import ALONE, PartContext
from calado.region.kinds import PARTS
from calado.region.matte import part_matte
from calado.region.read.tests.seeing import matte_of, sample, seen_of
from calado.sheet.models import Part

#: float32 light, once encoded and once through OKLab
EXACT, OKLAB = 2e-6, 2e-4
RAMP = srgb_to_linear(np.repeat(np.linspace(0, 1, 101)[None, :, None], 3, axis=2))
#: OKLab of sRGB colours as CSS Color 4 and its test suite print them (from memory)
CSS = {
    "#7d2329": (0.40101, 0.1147, 0.0453),
    "#68a639": (0.66016, -0.1084, 0.1114),
    "#008000": (0.51975, -0.1403, 0.1077),
}


def colour(hex: str) -> np.ndarray:
    codes = [int(hex[k : k + 2], 16) / 255 for k in (1, 3, 5)]
    return srgb_to_linear(np.array(codes))[None, None]


class Luminance(TestCase):
    def test_the_trapezoid_worked_by_hand(self) -> None:
        matte = matte_of("luminance", RAMP, low=0.5, soft_low=0.2, high=0.8, soft_high=0.1, profile="straight")[0]
        for level, expected in (
            (30, 0),
            (35, 0.25),
            (40, 0.5),
            (50, 1),
            (65, 1),
            (80, 1),
            (85, 0.5),
            (90, 0),
            (100, 0),
        ):
            self.assertAlmostEqual(float(matte[level]), expected, delta=1e-4, msg=f"at {level} %")
        smooth = matte_of("luminance", RAMP, low=0.5, soft_low=0.2, high=1.0)[0]
        self.assertAlmostEqual(float(smooth[35]), 0.25**2 * (3 - 2 * 0.25), delta=1e-4)

    def test_open_ends_stay_whole_beyond_the_axis(self) -> None:
        light = np.array([[[-0.2] * 3, [0.0] * 3, [1.0] * 3, [7.0] * 3, [np.inf] * 3]])
        np.testing.assert_array_equal(matte_of("luminance", light, low=0.5, high=1.0)[0], [0, 0, 1, 1, 1])
        np.testing.assert_array_equal(matte_of("luminance", light, low=0.0, high=0.5)[0], [1, 1, 0, 0, 0])

    def test_what_is_no_number_counts_as_black(self) -> None:
        light = np.array([[[np.nan, np.nan, np.nan], [0.5, 0.5, 0.5]]])
        np.testing.assert_array_equal(matte_of("luminance", light, low=0.5, soft_low=0.1)[0], [0, 1])

    @settings(max_examples=40, deadline=None)
    @given(low=st.floats(0, 1), soft=st.floats(0, 0.5), profile=st.sampled_from(["smooth", "straight", "bell"]))
    def test_up_to_its_open_top_it_never_falls(self, low: float, soft: float, profile: str) -> None:
        matte = matte_of("luminance", RAMP, low=low, soft_low=soft, high=1.0, profile=profile)[0]
        self.assertTrue((np.diff(matte) >= -EXACT).all())
        self.assertEqual(float(matte[-1]), 1)

    @settings(max_examples=40, deadline=None)
    @given(low=st.floats(0.05, 0.9), soft=st.floats(0.05, 0.5))
    def test_a_soft_slope_takes_no_step(self, low: float, soft: float) -> None:
        matte = matte_of("luminance", RAMP, low=low, soft_low=soft, high=1.0)[0]
        # the steepest of a smoothstep is 1.5 times its mean
        self.assertLessEqual(float(np.diff(matte).max()), 1.5 * 0.01 / soft + 1e-4)

    def test_it_reads_what_comes_in_when_asked(self) -> None:
        light = np.full((1, 1, 3), 0.5)
        high = {"low": 0.7, "soft_low": 0.01, "high": 1.0}
        self.assertEqual(float(matte_of("luminance", light, **high)[0, 0]), 1)
        # what comes in is half as light in these tests
        self.assertEqual(float(matte_of("luminance", light, reads="incoming", **high)[0, 0]), 0)

    def test_calming_takes_noise_out_of_the_matte(self) -> None:
        noise = np.random.default_rng(1).normal(0.2, 0.05, (60, 60, 1)).clip(0).repeat(3, axis=2)
        loud, denoise = (matte_of("luminance", noise, low=0.48, soft_low=0.02, denoise=c) for c in (0.0, 0.05))
        self.assertLess(denoise.std(), 0.5 * loud.std())

    def test_without_a_picture_it_says_so(self) -> None:
        _, whole = seen_of(RAMP)
        with self.assertRaisesMessage("none here"):
            PARTS["luminance"].matte(Part(id="p", kind="luminance"), whole, ALONE)

    def assertRaisesMessage(self, words: str):  # type: ignore[no-untyped-def]
        return self.assertRaisesRegex(SheetError, words)


class Colours(TestCase):
    def test_css_colours_are_found_by_their_hue_and_chroma(self) -> None:
        for hex, (lightness, a, b) in CSS.items():
            hue, chroma = float(np.degrees(np.arctan2(b, a)) % 360), float(np.hypot(a, b))
            near = {"hue": hue, "hue_width": 2.0, "hue_soft": 0.0, "chroma_low": chroma - 0.01, "chroma_soft_low": 0.0}
            near |= {"by_lightness": "on", "light_low": lightness - 0.01, "light_high": lightness + 0.01}
            near |= {"light_soft_low": 0.0, "light_soft_high": 0.0}
            found = {other: float(matte_of("colours", colour(other), **near)[0, 0]) for other in CSS}
            self.assertEqual(found, {other: float(other == hex) for other in CSS})

    def test_hues_go_round(self) -> None:
        hues = np.radians(np.array([350.0, 2.0, 14.0, 26.0, 200.0]))
        lab = np.stack([np.full(5, 0.6), 0.08 * np.cos(hues), 0.08 * np.sin(hues)], axis=-1)[None]
        light = oklab_to_linear(lab)
        width = {"hue": 2.0, "hue_width": 12.5, "hue_soft": 23.0, "profile": "straight", "by_chroma": "off"}
        matte = matte_of("colours", light, **width)[0]
        np.testing.assert_allclose(matte, [1, 1, 1, 1 - 11.5 / 23, 0], atol=0.02)

    def test_a_grey_has_no_hue_and_with_hue_and_chroma_off_lightness_alone_decides(self) -> None:
        self.assertEqual(float(matte_of("colours", RAMP, hue_width=180.0).max()), 0)
        off = {"by_hue": "off", "by_chroma": "off", "by_lightness": "on", "light_low": 0.5, "light_soft_low": 0.0}
        lightness = linear_to_oklab(RAMP)[0, :, 0]
        matte = matte_of("colours", RAMP, **off)[0]
        sure = abs(lightness - 0.5) > 1e-3
        np.testing.assert_array_equal(matte[sure], (lightness > 0.5)[sure])
        np.testing.assert_array_equal(matte_of("colours", RAMP, by_hue="off", by_chroma="off"), 1)

    def test_the_same_colour_in_a_wider_space_gives_the_same_matte(self) -> None:
        rng = np.random.default_rng(3)
        light = rng.random((8, 8, 3))
        wide = light @ SRGB.to_xyz.T @ np.linalg.inv(DISPLAY_P3.to_xyz).T
        values = {"hue": 120.0, "hue_width": 60.0, "hue_soft": 30.0}
        np.testing.assert_allclose(
            matte_of("colours", wide, DISPLAY_P3, **values), matte_of("colours", light, SRGB, **values), atol=5e-3
        )


class Sampled(TestCase):
    def light(self) -> np.ndarray:
        return np.random.default_rng(5).random((12, 16, 3))

    def test_distance_in_oklab_and_in_ciede2000(self) -> None:
        light, taken = self.light(), (0.6, 0.05, 0.08)
        lab = linear_to_oklab(light)
        away = 100 * np.linalg.norm(lab - np.array(taken), axis=-1)
        wide = {"tolerance": 10.0, "softness": 20.0, "profile": "straight", "samples": (sample(*taken),)}
        expected = np.clip(1 - (away - 10) / 20, 0, 1)
        np.testing.assert_allclose(matte_of("sampled", light, **wide), expected, atol=2e-3)
        one = linear_to_lab(oklab_to_linear(np.array(taken)))
        apart = delta_e_2000(linear_to_lab(light), np.broadcast_to(one, light.shape))
        expected = np.clip(1 - (apart - 10) / 20, 0, 1)
        np.testing.assert_allclose(matte_of("sampled", light, metric="e00", **wide), expected, atol=2e-3)

    def test_more_samples_hold_more_and_one_kept_out_holds_less(self) -> None:
        light = self.light()
        one, two, out = sample(0.6, 0.05, 0.08), sample(0.5, -0.1, 0.0), sample(0.62, 0.06, 0.1, "erase")
        wide = {"tolerance": 14.0, "softness": 10.0}
        few, more = (matte_of("sampled", light, samples=s, **wide) for s in ((one,), (one, two)))
        less = matte_of("sampled", light, samples=(one, two, out), **wide)
        self.assertTrue((more >= few).all() and (less <= more).all())
        self.assertGreater(float((more - few).max()), 0.5)
        self.assertGreater(float((more - less).max()), 0.5)

    def test_no_sample_holds_nothing(self) -> None:
        self.assertEqual(float(matte_of("sampled", self.light()).max()), 0)


class Seeing(TestCase):
    """Every part that is read from the picture: a strip equals the whole, and beyond the frame the border goes on."""

    def kinds(self) -> list[Part]:
        values = {"luminance": {"low": 0.6, "denoise": 0.01}, "colours": {"by_lightness": "on", "denoise": 0.01}}
        made = [Part(id="p", kind=kind, values=value) for kind, value in values.items()]
        return [*made, Part(id="p", kind="sampled", samples=(sample(0.6, 0.0, 0.1),), values={"denoise": 0.01})]

    def test_strips_equal_the_whole(self) -> None:
        seen, whole = seen_of(np.random.default_rng(0).random((64, 80, 3)))
        for part in self.kinds():
            near = PartContext(seen=seen)
            expected = PARTS[part.kind].matte(part, whole, near)
            for first in (0, 20, 41):
                made = PARTS[part.kind].matte(part, whole.rows(first, first + 20), near)
                np.testing.assert_allclose(made, expected[first : first + 20], atol=OKLAB)

    def test_values_stay_in_range_and_with_its_complement_each_sums_to_one(self) -> None:
        seen, whole = seen_of(np.random.default_rng(0).random((40, 60, 3)) * 3 - 0.5)
        for part in self.kinds():
            matte, rest = (
                part_matte(each, whole, PartContext(seen=seen))
                for each in (part, part.model_copy(update={"complement": True}))
            )
            self.assertTrue(((matte >= 0) & (matte <= 1)).all(), part.kind)
            np.testing.assert_allclose(matte + rest, 1, atol=1e-6)
            faint = part_matte(part.model_copy(update={"opacity": 0.25}), whole, PartContext(seen=seen))
            np.testing.assert_allclose(faint, 0.25 * matte, atol=1e-6)

    def test_a_mirrored_part_holds_the_same_colours(self) -> None:
        seen, whole = seen_of(np.random.default_rng(0).random((40, 60, 3)))
        for part in self.kinds():
            mirrored = PARTS[part.kind].mapped(part, Affine.across(-1.0, whole.aspect))
            assert mirrored is not None
            one, other = (part_matte(each, whole, PartContext(seen=seen)) for each in (part, mirrored))
            np.testing.assert_array_equal(one, other, part.kind)

    def test_beyond_the_frame_the_border_goes_on(self) -> None:
        seen, whole = seen_of(np.random.default_rng(0).random((20, 30, 3)))
        for part in self.kinds():
            wide = PARTS[part.kind].matte(part, whole.beyond(5), PartContext(seen=seen))
            inner = PARTS[part.kind].matte(part, whole, PartContext(seen=seen))
            np.testing.assert_array_equal(wide, np.pad(inner, 5, mode="edge"))
