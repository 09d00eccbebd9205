"""Light, checked against OpenColorIO, SciPy and what the definitions promise."""

import tempfile
from unittest import TestCase

import colour
import numpy as np
import PyOpenColorIO as ocio
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.interpolate import PchipInterpolator

from calado.adjust.colour.lut import Lut
from calado.adjust.kind import GuardAdjustment, PointAdjustment
from calado.adjust.light.curve import curve_through
from calado.adjust.light.guards import LEGIBLE, PROTECT
from calado.adjust.light.tone import colour_of
from calado.adjust.registry import ADJUSTMENTS
from calado.adjust.tone_lut import SIZE, STEPS, channel_settings, channels_into
from calado.colour.spaces import SPACES, SRGB, ColourSpace
from calado.media.cdl import read_cdl, write_cdl
from calado.render.engine import Engine, Order
from calado.render.source import source_of
from calado.sheet.models import Pass, Sheet

RNG = np.random.default_rng(11)
SIGNAL = RNG.random((40, 60, 3)).astype(np.float32)
#: look-ups of a table against the formula, on the signal
TABLE = 4e-6


def treated(signal: np.ndarray, values: dict[str, object], space: ColourSpace = SRGB) -> np.ndarray:
    """Put encoded pictures, shape (H, W, 3), through a treatment of point adjustments and guards."""
    planes = np.ascontiguousarray(np.moveaxis(space.transfer.decode(signal), -1, 0), np.float32)
    before = planes.copy()
    for id, each in values.items():
        adjustment = ADJUSTMENTS[id]
        assert isinstance(adjustment, PointAdjustment | GuardAdjustment)
        complete = adjustment.complete(each)  # type: ignore[arg-type]
        if isinstance(adjustment, GuardAdjustment):
            adjustment.into(planes, before, adjustment.settings(complete, space))
        else:
            adjustment.step(adjustment.settings(complete, space)).run(planes)
    return np.moveaxis(space.transfer.encode(planes), 0, -1)


def _hue_and_chroma(signal: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return the hue in degrees and the chroma in OKLab, as colour-science has it."""
    lab = colour.XYZ_to_Oklab(colour.RGB_to_XYZ(SRGB.transfer.decode(signal), "sRGB", apply_cctf_decoding=False))
    return np.degrees(np.arctan2(lab[..., 2], lab[..., 1])) % 360, np.hypot(lab[..., 1], lab[..., 2])


def by_ocio(transform: object, signal: np.ndarray) -> np.ndarray:
    processor = ocio.Config.CreateRaw().getProcessor(transform).getDefaultCPUProcessor()
    out = np.ascontiguousarray(signal, np.float32).copy()
    processor.applyRGB(out)
    return out


class Tables(TestCase):
    def test_the_straight_line_is_the_identity_within_the_stated_error(self) -> None:
        for space in SPACES.values():
            planes = np.tile(np.linspace(-0.1, 5, 4001, dtype=np.float32), (3, 1, 1))
            expected = planes.copy()
            channels_into(planes, channel_settings((lambda s: s, lambda s: s, lambda s: s), space))
            error = np.abs(space.transfer.encode(planes) - space.transfer.encode(expected))
            self.assertLess(error.max(), 2e-5 if space.id == "bt2020" else TABLE * 2, space.id)
        self.assertEqual(SIZE, 4 * STEPS + 1)


class CurveTest(TestCase):
    POINTS = ((0.0, 0.05), (0.3, 0.2), (0.6, 0.75), (1.0, 0.95))

    def test_against_pchip(self) -> None:
        made = treated(SIGNAL, {"curve": {"amount": 1.0, "all": self.POINTS}})
        x, y = zip(*self.POINTS, strict=True)
        np.testing.assert_allclose(made, PchipInterpolator(x, y)(SIGNAL), atol=TABLE * 2)

    def test_a_channel_has_its_own_after_the_common_one_and_amount_fades(self) -> None:
        common, red = ((0.0, 0.0), (0.5, 0.6), (1.0, 1.0)), ((0.0, 0.1), (1.0, 0.9))
        made = treated(SIGNAL, {"curve": {"amount": 0.5, "all": common, "red": red}})
        first = PchipInterpolator(*zip(*common, strict=True))(SIGNAL)
        first[..., 0] = 0.1 + 0.8 * first[..., 0]
        np.testing.assert_allclose(made, (SIGNAL + first) / 2, atol=TABLE * 2)

    @given(st.lists(st.tuples(st.floats(0, 1), st.floats(0, 1)), min_size=2, max_size=8))
    @settings(max_examples=60, deadline=None)
    def test_rising_points_make_a_rising_line_that_never_overshoots(self, points: list[tuple[float, float]]) -> None:
        x = np.sort(np.array([p[0] for p in points])) + np.arange(len(points)) * 0.01
        y = np.sort(np.array([p[1] for p in points]))
        line = curve_through(tuple(zip(x / x[-1], y, strict=True)))
        made = line(np.linspace(x[0] / x[-1], 1, 300))
        self.assertGreaterEqual(np.diff(made).min(), -1e-9)
        self.assertLessEqual(made.max(), y[-1] + 1e-9)
        self.assertGreaterEqual(made.min(), y[0] - 1e-9)


class Cdl(TestCase):
    VALUES = {
        **{f"slope_{c}": v for c, v in zip("rgb", (1.2, 0.9, 1.05), strict=True)},
        **{f"offset_{c}": v for c, v in zip("rgb", (0.02, -0.03, 0.05), strict=True)},
        **{f"power_{c}": v for c, v in zip("rgb", (0.9, 1.3, 1.0), strict=True)},
        "saturation": 1.4,
    }

    def transform(self) -> object:
        cdl = ocio.CDLTransform()
        cdl.setSlope([1.2, 0.9, 1.05])
        cdl.setOffset([0.02, -0.03, 0.05])
        cdl.setPower([0.9, 1.3, 1.0])
        cdl.setSat(1.4)
        cdl.setStyle(ocio.CDL_NO_CLAMP)
        return cdl

    def test_against_opencolorio(self) -> None:
        made = treated(SIGNAL, {"cdl": self.VALUES})
        np.testing.assert_allclose(made, by_ocio(self.transform(), SIGNAL), atol=2e-5)

    def test_files_are_read_by_opencolorio_and_by_us(self) -> None:
        for form in ("cc", "ccc", "cdl"):
            data = write_cdl([("stage", self.VALUES), ("foyer", {"saturation": 0.5})], form)
            name, values = read_cdl(data)[0]
            self.assertEqual(name, "stage")
            self.assertEqual({**self.VALUES}, {k: values[k] for k in self.VALUES})
            with tempfile.NamedTemporaryFile(suffix=f".{form}") as file:
                file.write(data)
                file.flush()
                read = ocio.CDLTransform.CreateFromFile(file.name, "stage")
            read.setStyle(ocio.CDL_NO_CLAMP)
            np.testing.assert_allclose(by_ocio(read, SIGNAL), by_ocio(self.transform(), SIGNAL), atol=1e-6)

    def test_bad_files_are_refused_with_a_sentence(self) -> None:
        for data in (b"", b"<a/>", b"<!DOCTYPE x><ColorCorrection/>", b"\x00\x01"):
            with self.assertRaises(ValueError) as caught:
                read_cdl(data)
            self.assertTrue(str(caught.exception).endswith("."))
        wrong = b"<ColorCorrection><SOPNode><Slope>1 x 1</Slope></SOPNode></ColorCorrection>"
        far = b"<ColorCorrection><SOPNode><Slope>1 99 1</Slope></SOPNode></ColorCorrection>"
        for data in (wrong, far):
            self.assertRaises(ValueError, read_cdl, data)


class Tone(TestCase):
    def test_a_place_on_the_pad_has_no_luminance(self) -> None:
        for x, y in ((1, 0), (0, 1), (-0.5, 0.8)):
            self.assertAlmostEqual(float(colour_of(x, y) @ SRGB.luminance_weights), 0, places=12)
        np.testing.assert_allclose(colour_of(0, 0), 0, atol=2e-3)

    def test_lift_leaves_white_gain_leaves_black_gamma_leaves_both(self) -> None:
        ends = np.array([[[0.0] * 3, [1.0] * 3]], np.float32)
        lifted = treated(ends, {"tone": {"shadows_level": 0.5}})
        gained = treated(ends, {"tone": {"highlights_level": 0.5, "highlights_x": 0.5}})
        bent = treated(ends, {"tone": {"midtones_level": 0.5, "midtones_y": -0.5}})
        np.testing.assert_allclose(lifted[0, 1], 1, atol=1e-5)
        np.testing.assert_allclose(lifted[0, 0], 0.35 * 0.5, atol=1e-3)
        np.testing.assert_allclose(gained[0, 0], 0, atol=1e-6)
        np.testing.assert_allclose(bent[0], ends[0], atol=1e-5)


class Guards(TestCase):
    DOWN = {"exposure": {"amount": -2.0}}

    def test_a_bright_pixel_is_darkened_less_than_a_middle_one(self) -> None:
        greys = np.repeat(np.linspace(0.2, 1.0, 9, dtype=np.float32)[None, :, None], 3, axis=2)
        held = treated(greys, {**self.DOWN, "protect": {"amount": 1.0}})
        light = SRGB.transfer.decode
        stops = np.log2(light(held[0, :, 0]) / light(greys[0, :, 0]))
        self.assertTrue((np.diff(stops) >= -1e-4).all())
        self.assertAlmostEqual(float(stops[0]), -2, places=3)
        self.assertAlmostEqual(float(stops[-1]), 0, places=3)

    def test_protecting_never_holds_a_brightening(self) -> None:
        up = {"exposure": {"amount": 1.0}}
        np.testing.assert_array_equal(treated(SIGNAL, {**up, "protect": {"amount": 1.0}}), treated(SIGNAL, up))

    def test_legible_keeps_the_order_of_tones_between_the_floor_and_what_was_there(self) -> None:
        greys = np.repeat(np.linspace(0.01, 1.0, 200, dtype=np.float32)[None, :, None], 3, axis=2)
        made = treated(greys, {"exposure": {"amount": -8.0}, "legible": {"floor": 0.15}})[0, :, 0]
        self.assertTrue((np.diff(made) > 0).all())
        self.assertTrue((made <= greys[0, :, 0] + 1e-5).all())
        # a bright tone taken down to nothing stands just at the floor
        self.assertAlmostEqual(float(made[-1]), 0.15, delta=0.01)

    def test_a_red_or_a_blue_lamp_is_protected_and_a_dark_red_is_not(self) -> None:
        lamps = np.array([[[1.0, 0.2, 0.25], [0.25, 0.3, 1.0], [0.55, 0.1, 0.12], [0.4, 0.4, 0.4]]], np.float32)
        guard = {"exposure": {"amount": -1.2}, "protect": {"amount": 1.0, "threshold": 0.55}}
        made, plain = treated(lamps, guard), treated(lamps, {"exposure": {"amount": -1.2}})
        np.testing.assert_allclose(made[0, :2], lamps[0, :2], atol=1e-4)
        np.testing.assert_allclose(made[0, 2:], plain[0, 2:], atol=1e-4)

    def test_keep_hue_gives_back_the_hue_and_leaves_light_and_strength(self) -> None:
        made = treated(SIGNAL, {"contrast": {"amount": 0.6}, "keep-hue": {"amount": 1.0}})
        plain = treated(SIGNAL, {"contrast": {"amount": 0.6}})
        weights = SRGB.luminance_weights
        lit, wanted = (SRGB.transfer.decode(each) @ weights for each in (made, plain))
        np.testing.assert_allclose(lit, wanted, atol=2e-5)
        (was, _), (hue, chroma), (turned, strong) = map(_hue_and_chroma, (SIGNAL, made, plain))
        coloured = (_hue_and_chroma(SIGNAL)[1] > 0.03) & (wanted > 0.002)
        away = lambda one: np.abs((one - was + 180) % 360 - 180)[coloured]  # noqa: E731
        self.assertGreater(np.quantile(away(turned), 0.9), 3)
        self.assertLess(away(hue).max(), 0.1)
        np.testing.assert_allclose(chroma[coloured], strong[coloured], rtol=0.1, atol=0.002)

    def test_keep_hue_leaves_alone_what_turned_none(self) -> None:
        for values in (
            {"exposure": {"amount": -1.2}},
            {"saturation": {"amount": -0.12}},
            {"saturation": {"amount": -1.0}},
        ):
            made, plain = treated(SIGNAL, {**values, "keep-hue": {"amount": 1.0}}), treated(SIGNAL, values)
            np.testing.assert_allclose(made, plain, atol=3e-4)

    def test_a_grey_has_no_hue_to_keep(self) -> None:
        grey = np.repeat(SIGNAL[..., :1], 3, axis=2)
        warm = {"wash": {"amount": 0.5, "mode": "multiply", "light": 0.9, "chroma": 0.2, "hue": 75.0}}
        made, plain = treated(grey, {**warm, "keep-hue": {"amount": 1.0}}), treated(grey, warm)
        self.assertGreater(np.ptp(plain, axis=2).mean(), 0.02)
        np.testing.assert_allclose(made, plain, atol=3e-4)

    def test_read_from_the_source_an_earlier_pass_does_not_matter(self) -> None:
        planes = np.full((3, 32, 32), 0.9, np.float32)
        source = source_of(planes, SRGB)
        dark = Pass(id="a", name="a", inside={"exposure": {"amount": -4.0}})
        for reads, factor in (("incoming", 2.0**-5), ("source", 2.0**-4)):
            guard = {"exposure": {"amount": -1.0}, "protect": {"amount": 1.0, "threshold": 0.5, "reads": reads}}
            sheet = Sheet(passes=(dark, Pass(id="b", name="b", inside=guard)))
            made = Engine().picture(source, Order(sheet), source.full())
            # read from the source the pixel counts as bright, and goes back to what the source is
            expected = 0.9 * factor if reads == "incoming" else 0.9
            self.assertAlmostEqual(float(made[0, 5, 5]), expected, delta=0.02)

    def test_declared_floors(self) -> None:
        self.assertEqual((PROTECT.space, LEGIBLE.group), ("linear", "Light"))


class Reliefs(TestCase):
    def render(self, planes: np.ndarray, treatment: dict[str, object]) -> np.ndarray:
        source = source_of(planes, SRGB)
        return Engine().picture(source, Order(Sheet(passes=(Pass(id="a", name="a", inside=treatment),))), source.full())

    def test_each_works_on_its_end_and_keeps_detail(self) -> None:
        ramp = np.tile(np.repeat(np.array([0.02, 0.9], np.float32), 100), (3, 120, 1))
        ripple = ramp * (1 + 0.05 * np.sin(np.arange(200) * 2.0)).astype(np.float32)
        down = self.render(ripple, {"highlights": {"amount": -1.0}})
        up = self.render(ripple, {"shadows": {"amount": 1.0}})
        np.testing.assert_allclose(down[:, :, :60], ripple[:, :, :60], rtol=1e-3)
        np.testing.assert_allclose(up[:, :, 140:], ripple[:, :, 140:], rtol=1e-3)
        self.assertAlmostEqual(float(np.log2(down[0, 60, 150:].mean() / ripple[0, 60, 150:].mean())), -2, delta=0.15)
        # the ripple's share of the light stays
        share = lambda p: p[0, 60, 150:].std() / p[0, 60, 150:].mean()  # noqa: E731
        self.assertAlmostEqual(share(down) / share(ripple), 1, delta=0.05)

    def test_brighter_stays_brighter_to_the_ends_of_the_faders_and_beyond(self) -> None:
        ramp = np.tile(np.linspace(0, 1, 900, dtype=np.float32) ** 2.2, (3, 40, 1))
        for id in ("highlights", "shadows"):
            for amount in (-2.0, -1.5, -1.0, -0.5, 0.5, 1.0, 1.5, 2.0):
                made = self.render(ramp, {id: {"amount": amount}})[0, 20]
                with self.subTest(id=id, amount=amount):
                    self.assertGreater(np.diff(SRGB.transfer.encode(made)).min(), 0)


class Luts(TestCase):
    def test_solid_against_opencolorio(self) -> None:
        size = 9
        transform = ocio.Lut3DTransform(size)
        transform.setInterpolation(ocio.INTERP_TETRAHEDRAL)
        values = RNG.random((size, size, size, 3)).astype(np.float32)
        data = np.ascontiguousarray(values.transpose(2, 1, 0, 3))  # theirs goes by red, green, blue
        transform.setData(data.ravel())
        table = Lut(values, (0.0, 0.0, 0.0), (1.0, 1.0, 1.0))
        made = self.through(table)
        np.testing.assert_allclose(made, by_ocio(transform, SIGNAL), atol=5e-5)

    def test_line_against_opencolorio(self) -> None:
        transform = ocio.Lut1DTransform(33, False)
        values = np.sort(RNG.random((33, 3)), axis=0).astype(np.float32)
        transform.setData(values.ravel())
        made = self.through(Lut(values, (0.0, 0.0, 0.0), (1.0, 1.0, 1.0)))
        # a table over √x meets the kinks of a coarse line between its own entries
        np.testing.assert_allclose(made, by_ocio(transform, SIGNAL), atol=2e-3)

    def through(self, table: Lut) -> np.ndarray:
        lut = ADJUSTMENTS["lut"]
        assert isinstance(lut, PointAdjustment) and lut.from_file
        planes = np.ascontiguousarray(np.moveaxis(SRGB.transfer.decode(SIGNAL), -1, 0), np.float32)
        lut.step(lut.from_file({"amount": 1.0, "file": "any"}, SRGB, lambda digest: table)).run(planes)
        return np.moveaxis(SRGB.transfer.encode(planes), 0, -1)
