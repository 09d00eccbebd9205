"""Readings, checked on pictures of which the answer is known."""

from unittest import TestCase

import cv2
import numpy as np

from calado.colour.spaces import SRGB
from calado.inspect.concealed import read_concealed
from calado.inspect.falloff import falloff_of
from calado.inspect.meter import meter_of
from calado.inspect.scopes import histogram, scope
from calado.inspect.spill import spill_of
from calado.render.engine import Engine
from calado.render.plate import plate_of
from calado.render.source import Source, source_of
from calado.sheet.models import Part, Pass, Region, Sheet

RNG = np.random.default_rng(2)
LEFT = Region(
    id="left",
    name="left",
    parts=(Part(id="p", kind="rectangle", values={"x": 0.0, "y": 0.5, "width": 1.5, "height": 4.0}),),
)


def grey(value: float, high: int = 120, wide: int = 180) -> np.ndarray:
    return np.full((3, high, wide), value, np.float32)


class Meters(TestCase):
    def read(self, source: Source, treatment: dict[str, object], region: str | None = "left", **fields: object):  # type: ignore[no-untyped-def]
        each = Pass(id="a", name="a", region=region, inside=treatment, **fields)  # type: ignore[arg-type]
        return meter_of(Engine(), source, Sheet(regions=(LEFT,), passes=(each,)), each, None, "")

    def test_area_is_that_of_the_region(self) -> None:
        read = self.read(source_of(grey(0.3), SRGB), {"exposure": {"amount": -1.0}})
        self.assertAlmostEqual(read.area, 0.5, delta=0.01)
        self.assertGreater(read.mean, 10)
        self.assertIn("Changes 50\u00a0% of the picture", read.says)

    def test_what_cannot_be_seen_is_said_so(self) -> None:
        source = source_of(grey(0.3), SRGB)
        self.assertEqual(self.read(source, {"exposure": {"amount": 0.01}}).says, "Below visibility.")
        self.assertEqual(self.read(source, {"exposure": {"amount": 0.5}}, on=False).says, "Nothing changes.")

    def test_clipped_and_crushed_shares(self) -> None:
        self.assertAlmostEqual(
            self.read(source_of(grey(0.6), SRGB), {"exposure": {"amount": 1.0}}).clipped, 0.5, delta=0.01
        )
        dark = self.read(source_of(grey(0.02), SRGB), {"exposure": {"amount": -6.0}})
        self.assertAlmostEqual(dark.crushed, 0.5, delta=0.01)
        self.assertIn("newly crushed to black", dark.says)


class Falloff(TestCase):
    def radial(self, stops: float) -> np.ndarray:
        y, x = np.mgrid[:120, :180]
        square = ((x - 89.5) ** 2 + (y - 59.5) ** 2) / (90**2 + 60**2)
        texture = RNG.normal(0, 0.05, (120, 180))
        return np.repeat((0.4 * np.exp2(stops * square + texture))[None], 3, axis=0).astype(np.float32)

    def test_the_stops_at_the_corner(self) -> None:
        for stops in (-0.5, -1.0, -2.0):
            read = falloff_of(self.radial(stops), SRGB)
            self.assertAlmostEqual(read.corner, stops, delta=0.08)
            self.assertTrue(read.certain)

    def test_natural_falloff_of_a_lens(self) -> None:
        # cos⁴ of the field angle: 30° at the corner leave 0.5625 of the light (common practice of optics)
        y, x = np.mgrid[:120, :180]
        radius = np.hypot(x - 89.5, y - 59.5) / np.hypot(90, 60) * np.tan(np.radians(30))
        light = np.cos(np.arctan(radius)) ** 4
        self.assertAlmostEqual(float(light[0, 0]), 0.5625, delta=0.005)
        read = falloff_of(np.repeat((0.5 * light)[None], 3, axis=0).astype(np.float32), SRGB)
        self.assertAlmostEqual(read.corner, np.log2(0.5625), delta=0.07)

    def test_an_even_or_brighter_border_is_none(self) -> None:
        self.assertFalse(falloff_of(self.radial(0.0), SRGB).certain)
        self.assertEqual(falloff_of(self.radial(1.0), SRGB).corner, 0.0)

    def test_a_light_at_one_side_is_none(self) -> None:
        y, x = np.mgrid[:120, :180]
        lit = 0.5 * np.exp2(-3 * ((x - 30) ** 2 + (y - 30) ** 2) / (90**2 + 60**2))
        self.assertFalse(falloff_of(np.repeat(lit[None], 3, axis=0).astype(np.float32), SRGB).certain)


class Scopes(TestCase):
    def test_the_histogram_is_that_of_numpy_and_sums_to_one(self) -> None:
        planes = RNG.random((3, 50, 70)).astype(np.float32)
        made = histogram(planes, SRGB)
        expected, _ = np.histogram(SRGB.transfer.encode(planes[0].astype(np.float64)), 256, (0, 1))
        np.testing.assert_allclose(made.red, expected / 3500, atol=1e-12)
        for each in (made.luma, made.red, made.green, made.blue):
            self.assertAlmostEqual(float(each.sum()), 1)

    def test_only_the_region_is_counted(self) -> None:
        planes = grey(0.0, 40, 60)
        planes[:, :, 30:] = 1.0
        matte = (np.arange(60) >= 30).astype(np.float32)[None].repeat(40, axis=0)
        self.assertAlmostEqual(float(histogram(planes, SRGB, matte).luma[-1]), 1)

    def test_the_waveform_draws_a_level_where_it_is(self) -> None:
        planes = grey(0.0, 40, 60)
        planes[:, :, 30:] = float(SRGB.transfer.decode(np.array(0.5)))
        drawn = scope("waveform", planes, SRGB, None, (120, 216))
        self.assertEqual(drawn.shape, (216, 120, 3))
        self.assertAlmostEqual(int(drawn[:, 90].max(axis=1).argmax()), (1.04 - 0.5) / 1.08 * 216, delta=1.01)
        self.assertEqual(scope("parade", planes, SRGB, None, (120, 100)).shape, (100, 120, 3))

    def test_the_vectorscope_puts_grey_in_the_middle_and_red_above(self) -> None:
        drawn = scope("vectorscope", grey(0.4), SRGB, None, (100, 100))
        self.assertGreater(drawn[50, 50].max(), 100)
        red = grey(0.0)
        red[0] = 1.0
        y, x = np.argwhere(scope("vectorscope", red, SRGB, None, (100, 100)).max(axis=2) > 0)[0]
        # full red of BT.709: Cr = ½, Cb = −0.2126/1.8556
        self.assertEqual((y, x), (0, int((0.5 - 0.2126 / 1.8556) * 100)))


class Plates(TestCase):
    def test_a_flat_surround_fills_flat_and_a_slope_goes_on(self) -> None:
        hole = np.ones((90, 130), np.float32)
        hole[30:60, 50:80] = 0
        planes = grey(0.3, 90, 130)
        planes[:, 30:60, 50:80] = 5.0
        np.testing.assert_allclose(plate_of(planes, hole), 0.3, atol=1e-5)
        slope = np.tile(np.linspace(0, 1, 130, dtype=np.float32), (3, 90, 1))
        marred = np.where(hole > 0, slope, 9.0).astype(np.float32)
        self.assertLess(np.abs(plate_of(marred, hole) - slope).max(), 0.15)


class Spills(TestCase):
    def test_the_share_that_was_put_there(self) -> None:
        y, x = np.mgrid[:200, :300]
        matte = (np.hypot(x - 150, y - 100) < 50).astype(np.float32)
        rim = (np.hypot(x - 150, y - 100) < 53) & (matte == 0)
        for share in (0.0, 0.5, 0.8):
            tone = np.where(matte > 0, 0.9, 0.3)
            tone = np.where(rim, 0.3 + share * 0.6, tone)
            planes = np.repeat((tone**3)[None], 3, axis=0).astype(np.float32)
            read = spill_of(planes, matte)
            assert read is not None
            self.assertAlmostEqual(read.share, share, delta=0.06)

    def test_alike_colours_say_nothing(self) -> None:
        matte = np.zeros((100, 100), np.float32)
        matte[30:60, 30:60] = 1
        self.assertIsNone(spill_of(grey(0.5, 100, 100), matte))


class Covers(TestCase):
    def text(self) -> np.ndarray:
        codes = np.full((160, 240), 230, np.uint8)
        scale = cv2.getFontScaleFromHeight(cv2.FONT_HERSHEY_DUPLEX, 14, 1)
        for foot in (64, 94, 124):
            cv2.putText(codes, "LMP 407229", (40, foot), cv2.FONT_HERSHEY_DUPLEX, scale, 20, 1, cv2.LINE_AA)
        return np.repeat(SRGB.transfer.decode(codes / 255).astype(np.float32)[None], 3, axis=0)

    def test_cells_letters_and_detail(self) -> None:
        before = self.text()
        matte = np.zeros((160, 240), np.float32)
        matte[40:135, 30:200] = 1
        fine = read_concealed(before, before, matte, 1 / 160, {"mosaic": {"size": 5 / 160}})
        coarse = read_concealed(before, grey(0.5, 160, 240), matte, 1 / 160, {"mosaic": {"size": 40 / 160}})
        assert fine and coarse
        self.assertAlmostEqual(fine.cells_across or 0, 34, delta=0.2)
        self.assertAlmostEqual(fine.letter_cells or 0, 14 / 5, delta=0.5)
        self.assertTrue(fine.weak)
        self.assertTrue(coarse.weak and coarse.lettering)
        self.assertLess(coarse.detail_left, 0.01)
