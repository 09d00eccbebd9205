"""All adjustments at once, from their registry: neutral, strength, range, and what each is checked against outside."""

from dataclasses import replace
from unittest import TestCase

import numpy as np
from skimage import color
from skimage.metrics import structural_similarity

from calado.adjust.colour.lut import Lut
from calado.adjust.colour.mono import BANDS
from calado.adjust.kind import ClearAdjustment, GuardAdjustment, PointAdjustment
from calado.adjust.registry import ADJUSTMENTS, called, the_sole
from calado.colour import oklab
from calado.colour.spaces import DISPLAY_P3, SPACES, SRGB
from calado.numeric import cbrt
from calado.region.resolved import alone
from calado.render.assets import Assets
from calado.render.engine import Engine, Order
from calado.render.source import source_of
from calado.sheet.declare import GROUPS, Number
from calado.sheet.models import Part, Pass, Region, Sheet

RNG = np.random.default_rng(7)
PICTURE = RNG.random((3, 48, 72), np.float32)
OVAL = Region(
    id="oval",
    name="oval",
    parts=(
        Part(id="p", kind="ellipse", values={"x": 0.75, "y": 0.5, "width": 0.8, "height": 0.6, "feather_out": 0.1}),
    ),
)
POINTS = [each for each in ADJUSTMENTS.values() if isinstance(each, PointAdjustment) and not each.from_file]
#: these move black itself, or lay a colour over it
LIGHTS_BLACK = {"black", "tone", "wash", "solid"}
FLOAT32 = 4e-6


def render(**fields: object) -> np.ndarray:
    # what must cover does so whatever strength, mix and feather say: that is tested with the covers
    sheet = Sheet(regions=(OVAL,), passes=(Pass(id="a", name="a", region="oval", must_cover=False, **fields),))
    source = source_of(PICTURE, SRGB)
    return Engine(assets=Assets(luts=lambda digest: HALVED)).picture(source, Order(sheet), source.full())


#: a table that halves the signal
HALVED = Lut(np.array([[0, 0, 0], [0.5, 0.5, 0.5]], np.float32), (0.0, 0.0, 0.0), (1.0, 1.0, 1.0))
#: what these need besides their first number in order to act
MORE = {
    "curve": {"all": ((0.0, 0.0), (0.4, 0.7), (1.0, 1.0))},
    "lut": {"file": "halved", "name": "halved"},
    "sharpen": {"radius": 0.03},
    "grain": {"response": ((0.0, 1.0), (1.0, 1.0))},
    **{id: {band: 1.0 for band, _, _ in BANDS} for id in ("hue-by", "saturation-by", "lightness-by")},
}


def strong(adjustment: object) -> dict[str, object]:
    main = adjustment.parameters[0]  # type: ignore[attr-defined]
    first = main.high / 2 if main.neutral != main.high / 2 else main.high
    return {main.id: first, **MORE.get(adjustment.id, {})}  # type: ignore[attr-defined]


DARKER = {"exposure": {"amount": -1.0}, "contrast": {"amount": 1.0, "pivot": 1.0}}


def fields_of(adjustment: object, side: str) -> dict[str, object]:
    """A guard acts on what others did, so it gets a darkening that turns the hue to hold back."""
    values = {adjustment.id: strong(adjustment)}  # type: ignore[attr-defined]
    return {side: {**values, **(DARKER if isinstance(adjustment, GuardAdjustment) else {})}}


class Family(TestCase):
    def test_declarations_are_sound(self) -> None:
        for each in ADJUSTMENTS.values():
            self.assertIn(each.group, GROUPS)
            self.assertIsInstance(each.parameters[0], Number, each.id)
            self.assertTrue(each.says.endswith("."), each.id)
            for number in each.numbers:
                self.assertTrue(number.floor <= number.low <= number.neutral <= number.high <= number.ceiling, each.id)

    def test_neutral_strength_0_and_mix_0_give_the_source_bit_for_bit(self) -> None:
        for each in ADJUSTMENTS.values():
            main = each.parameters[0]
            for fields in (
                {"inside": {each.id: {main.id: main.neutral}}},
                {"inside": {each.id: strong(each)}, "strength": 0.0},
                {"outside": {each.id: strong(each)}, "mix": 0.0},
                {"outside": {each.id: strong(each)}, "on": False},
            ):
                np.testing.assert_array_equal(render(**fields), PICTURE, err_msg=each.id)

    def test_matte_0_leaves_the_source_bit_for_bit(self) -> None:
        matte = Engine().matte(source_of(PICTURE, SRGB), alone(OVAL), source_of(PICTURE, SRGB).full())
        for each in ADJUSTMENTS.values():
            inner, outer = render(**fields_of(each, "inside")), render(**fields_of(each, "outside"))
            np.testing.assert_array_equal(inner[:, matte == 0], PICTURE[:, matte == 0], err_msg=each.id)
            np.testing.assert_array_equal(outer[:, matte == 1], PICTURE[:, matte == 1], err_msg=each.id)
            if not isinstance(each, ClearAdjustment):  # which leaves the colours and takes the picture away
                before = render(inside=DARKER) if isinstance(each, GuardAdjustment) else PICTURE
                self.assertGreater(np.abs(inner - before).max(), 0.01, each.id)

    def test_the_input_is_never_written_to(self) -> None:
        before = PICTURE.copy()
        for each in ADJUSTMENTS.values():
            render(**fields_of(each, "inside"), **fields_of(each, "outside"))
        np.testing.assert_array_equal(PICTURE, before)

    def test_a_window_equals_the_same_place_of_the_whole(self) -> None:
        source = source_of(np.tile(PICTURE, (1, 4, 4)), SRGB)
        whole, part = source.full(), replace(source.full(), left=70, top=50, width=90, height=60)
        rows, columns = part.inside(whole)
        for each in ADJUSTMENTS.values():
            sheet = Sheet(
                regions=(OVAL,), passes=(Pass(id="a", name="a", region="oval", **fields_of(each, "outside")),)
            )
            engine = Engine(assets=Assets(luts=lambda digest: HALVED))
            expected = engine.picture(source, Order(sheet), whole)[:, rows, columns]
            made = Engine(assets=Assets(luts=lambda digest: HALVED)).picture(source, Order(sheet), part)
            np.testing.assert_allclose(made, expected, atol=2e-4, err_msg=each.id)

    def test_small_agrees_with_full_size(self) -> None:
        y, x = np.mgrid[:320, :480] / 320
        waves = [0.35 + 0.3 * np.sin(7 * x + k) * np.cos(5 * y - k) for k in range(3)]
        source = source_of(np.clip(np.stack(waves), 0.02, 0.98).astype(np.float32), SRGB)
        for each in ADJUSTMENTS.values():
            if each.id in {
                "grain",
                "own-grain",
                "scramble",
            }:  # noise agrees in its spread only, which is tested with the noise
                continue
            fields = fields_of(each, "outside") if each.id != "sharpen" else {"outside": {"sharpen": {"amount": 1.0}}}
            one_pass = Pass(id="a", name="a", region="oval", must_cover=False, **fields)
            sheet = Sheet(regions=(OVAL,), passes=(one_pass,))
            engine = Engine(assets=Assets(luts=lambda digest: HALVED))
            full = engine.picture(source, Order(sheet), source.full())
            small = engine.picture(source, Order(sheet), source.full(0.5))
            reduced = full.reshape(3, 160, 2, 240, 2).mean(axis=(2, 4))
            one, other = (np.moveaxis(SRGB.transfer.encode(np.clip(p, 0, 1)), 0, -1) for p in (reduced, small))
            # the hard edges of cells fall on whole pixels, which are others at half the size
            least = 0.98 if each.id == "mosaic" else 0.995
            self.assertGreaterEqual(structural_similarity(one, other, data_range=1.0, channel_axis=-1), least, each.id)
            difference = color.deltaE_ciede2000(color.rgb2lab(one), color.rgb2lab(other))
            self.assertLessEqual(difference.mean(), 0.5, each.id)

    def test_strength_scales_about_neutral_and_stays_in_range(self) -> None:
        for each in ADJUSTMENTS.values():
            half, double = each.scaled(strong(each), 0.5), each.scaled(strong(each), 8.0)
            for number in each.numbers:
                full = each.number(strong(each), number.id)
                expected = number.neutral + (full - number.neutral) / 2 if number.scales else full
                self.assertAlmostEqual(float(half[number.id]), expected)
                self.assertTrue(number.floor <= float(double[number.id]) <= number.ceiling)

    def test_black_stays_black_and_no_result_is_nan(self) -> None:
        for each in POINTS:
            planes = np.zeros((3, 2, 4), np.float32)
            each.step(each.settings(strong(each), SRGB)).run(planes)
            self.assertTrue(np.isfinite(planes).all(), each.id)
            if each.id not in LIGHTS_BLACK:
                np.testing.assert_allclose(planes, 0, atol=1e-9, err_msg=each.id)

    def test_far_values_stay_finite(self) -> None:
        for each in POINTS:
            planes = np.full((3, 1, 4), 100.0, np.float32)
            planes[2] = -0.5
            each.step(each.settings(strong(each), SRGB)).run(planes)
            self.assertTrue(np.isfinite(planes).all(), each.id)


class Roles(TestCase):
    def test_a_second_of_a_kind_that_stands_alone_is_told_at_once(self) -> None:
        light = ADJUSTMENTS[called("light")]
        self.assertEqual(light.id, "exposure")
        with self.assertRaisesRegex(TypeError, "the role “light”; here exposure and lamp has it"):
            the_sole((*ADJUSTMENTS.values(), replace(light, id="lamp")))
        with self.assertRaisesRegex(TypeError, "none has it"):
            the_sole([each for each in ADJUSTMENTS.values() if each is not light])


class Exposure(TestCase):
    def test_a_stop_is_a_factor_of_two(self) -> None:
        # ND 0.3 passes half the light (common practice of photography; 10^-0.3 = 0.501)
        for ev, factor in ((1.0, 2.0), (-1.0, 0.5), (-2.0, 0.25)):
            planes = PICTURE.copy()
            exposure = ADJUSTMENTS["exposure"]
            assert isinstance(exposure, PointAdjustment)
            exposure.step(exposure.settings({"amount": ev}, SRGB)).run(planes)
            np.testing.assert_array_equal(planes, PICTURE * np.float32(factor))


class Saturation(TestCase):
    def run_on(self, amount: float, space: object = SRGB) -> np.ndarray:
        planes = PICTURE.copy()
        saturation = ADJUSTMENTS["saturation"]
        assert isinstance(saturation, PointAdjustment)
        saturation.step(saturation.settings({"amount": amount}, space)).run(planes)  # type: ignore[arg-type]
        return np.moveaxis(planes, 0, -1)

    def test_against_plain_oklab_in_every_space(self) -> None:
        for space in SPACES.values():
            lab = oklab.linear_to_oklab(np.moveaxis(PICTURE, 0, -1).astype(np.float64), space)
            lab[..., 1:] *= 1.4
            np.testing.assert_allclose(self.run_on(0.4, space), oklab.oklab_to_linear(lab, space), atol=FLOAT32 * 4)

    def test_lightness_and_hue_stay(self) -> None:
        before = oklab.oklab_to_oklch(oklab.linear_to_oklab(np.moveaxis(PICTURE, 0, -1), DISPLAY_P3))
        after = oklab.oklab_to_oklch(oklab.linear_to_oklab(self.run_on(-0.5, DISPLAY_P3), DISPLAY_P3))
        np.testing.assert_allclose(after[..., 0], before[..., 0], atol=1e-5)
        np.testing.assert_allclose(after[..., 1], before[..., 1] / 2, atol=1e-5)

    def test_none_left_is_grey(self) -> None:
        grey = self.run_on(-1.0)
        self.assertLess(np.ptp(grey, axis=-1).max(), 2e-5)


class CubeRoot(TestCase):
    def test_stated_error(self) -> None:
        x = np.concatenate([np.logspace(-30, 6, 20000), -np.logspace(-30, 6, 2000), [0.0]]).astype(np.float32)
        made = np.array([cbrt(each) for each in x])
        exact = np.cbrt(x.astype(np.float64))
        error = np.abs(made[:-1] - exact[:-1]) / np.abs(exact[:-1])
        self.assertLess(error.max(), 5e-7)
        self.assertEqual(made[-1], 0.0)


class Stops(TestCase):
    def made(self, *passes: Pass) -> np.ndarray:
        source = source_of(np.full((3, 8, 8), 0.5, np.float32), SRGB)
        return Engine().picture(source, Order(Sheet(passes=passes)), source.full())

    def test_black_at_an_opacity_is_so_many_stops(self) -> None:
        # log2(1 − a) in linear light: 0.5 is one stop (derived in the project's definitions)
        for opacity, stops in ((0.5, -1.0), (0.75, -2.0), (0.1, np.log2(0.9))):
            black = self.made(Pass(id="a", name="a", mix=opacity, inside={"cut": {"amount": 1.0}}))
            darker = self.made(Pass(id="a", name="a", inside={"exposure": {"amount": stops}}))
            np.testing.assert_allclose(black, darker, rtol=1e-6)

    def test_stacked_darkenings_add_in_stops(self) -> None:
        one, two = (Pass(id=k, name=k, inside={"exposure": {"amount": -0.7}}) for k in "ab")
        whole = self.made(Pass(id="a", name="a", inside={"exposure": {"amount": -1.4}}))
        np.testing.assert_allclose(self.made(one, two), whole, rtol=1e-6)

    def test_blur_then_vignette_is_not_vignette_then_blur(self) -> None:
        dark = Pass(id="a", name="a", region="oval", outside={"exposure": {"amount": -2.0}})
        soft = Pass(id="b", name="b", inside={"blur": {"radius": 0.05}})
        source = source_of(PICTURE, SRGB)
        made = [
            Engine().picture(source, Order(Sheet(regions=(OVAL,), passes=each)), source.full())
            for each in ((dark, soft), (soft, dark))
        ]
        self.assertGreater(np.abs(made[0] - made[1]).max(), 0.02)
