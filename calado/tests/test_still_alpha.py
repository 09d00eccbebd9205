"""Transparency of a still: kept bit for bit, blurred with the picture, and gone where something is covered."""

import tempfile
from pathlib import Path
from unittest import TestCase

import cv2
import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from calado.colour.spaces import SRGB
from calado.export import export_still
from calado.media.apart import Reader
from calado.media.stills import read_still
from calado.media.write import Target
from calado.render.engine import Engine, Order
from calado.render.preview import View, render_preview
from calado.render.source import Source, open_source, source_of, store_source
from calado.sheet.models import EMPTY_SHEET, Part, Pass, Region, Sheet
from calado.tests.test_export_regions import read

HIGH, WIDE = 60, 90
BOX = Part(id="a", kind="rectangle", values={"x": 0.75, "y": 0.5, "width": 0.5, "height": 0.5})


def pixels(dtype: type, seed: int = 3) -> np.ndarray:
    """Return colours and alpha, shape (H, W, 4): a third quite transparent, a third thin, a third opaque."""
    random, top = np.random.default_rng(seed), np.iinfo(dtype).max
    made = random.integers(0, top, (HIGH, WIDE, 4), endpoint=True).astype(dtype)
    made[:, :30, 3], made[:, 60:, 3] = 0, top
    made[:, 30:60, 3] = np.linspace(1, top - 1, 30)
    return made


def on(**treatment: dict[str, float]) -> Sheet:
    return Sheet(passes=(Pass(id="p", name="p", inside=treatment),))


def covering(**treatment: dict[str, float]) -> Sheet:
    a_pass = Pass(id="p", name="p", region="r", inside=treatment, must_cover=True)
    return Sheet(regions=(Region(id="r", name="r", parts=(BOX,)),), passes=(a_pass,))


class Kept(TestCase):
    def setUp(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)

    def written(self, codes: np.ndarray, name: str) -> Path:
        top = float(np.iinfo(codes.dtype).max)
        samples, share = np.moveaxis(codes[..., :3], -1, 0).copy(), codes[..., 3][None].copy()
        source = source_of(samples, SRGB, name, share)
        bits = 8 if top == 255 else 16
        path = self.folder / name
        export_still(source, Order(), path, Target("png" if name.endswith("png") else "tiff", bits))
        return path

    def test_an_untouched_picture_comes_back_bit_for_bit(self) -> None:
        for name, dtype in (("a.png", np.uint8), ("b.png", np.uint16), ("c.tif", np.uint16)):
            codes = pixels(dtype)
            made = read(self.written(codes, name))
            seen = codes[..., 3] > 0
            np.testing.assert_array_equal(made[..., 3], codes[..., 3])
            np.testing.assert_array_equal(made[seen], codes[seen])
            # what hid below what is quite transparent is not handed on
            self.assertEqual(made[~seen].max(), 0)

    def test_read_apart_and_stored_it_is_the_same(self) -> None:
        path = self.written(pixels(np.uint8), "a.png")
        reader = Reader()
        self.addCleanup(reader.close)
        here, apart = read_still(path), reader.still(path)
        assert here.share is not None and apart.share is not None
        np.testing.assert_array_equal(here.share, apart.share)
        source = source_of(apart.samples, apart.space, "a", apart.share)
        store_source(source, self.folder / "kept")
        again = open_source(self.folder / "kept", "a")
        for window in (source.full(), source.full(0.4)):
            for one, other in ((source, again), (source.share, again.share)):
                assert one is not None and other is not None
                np.testing.assert_array_equal(one.planes(window), other.planes(window))

    def test_what_is_quite_transparent_has_the_nearest_colour(self) -> None:
        codes = pixels(np.uint8)
        path = self.folder / "a.png"
        assert cv2.imwrite(str(path), codes[..., [2, 1, 0, 3]])
        made = np.moveaxis(read_still(path).samples, 0, -1)
        for row in range(HIGH):
            for column in (0, 12, 29):
                away = np.hypot(*np.meshgrid(np.arange(30, WIDE) - column, np.arange(HIGH) - row))
                # a chamfer distance may take one that is a little further off
                near = codes[:, 30:, :3][away < 1.06 * away.min() + 0.5]
                self.assertTrue((near == made[row, column]).all(axis=1).any())

    def test_a_picture_of_half_the_size_has_half_its_alpha(self) -> None:
        codes = pixels(np.uint8)
        source = read_still(self.written(codes, "a.png"))
        made = source_of(source.samples, SRGB, "a", source.share)
        assert made.share is not None
        wanted = cv2.resize(codes[..., 3] / np.float32(255), (WIDE // 2, HIGH // 2), interpolation=cv2.INTER_AREA)
        np.testing.assert_allclose(made.share.planes(made.full(0.5))[0], wanted, atol=1e-6)


class Worked(TestCase):
    def source(self, colour: float = 0.25) -> Source:
        alpha = pixels(np.uint16)[..., 3][None].copy()
        return source_of(np.full((3, HIGH, WIDE), colour, np.float32), SRGB, f"flat {colour}", alpha)

    @given(st.floats(0.01, 0.1))
    def test_alpha_is_blurred_as_the_picture_is(self, sigma: float) -> None:
        source, order = self.source(), Order(on(blur={"radius": sigma}))
        engine, window = Engine(), source.full()
        left = engine.clear(source, order, window)
        assert source.share is not None and left is not None
        alpha = source.share.planes(window)
        # the reference is our own blur of a picture that is as bright as the other is there, which others test
        picture = source_of(np.repeat(alpha, 3, axis=0), SRGB, f"alpha {sigma}")
        np.testing.assert_allclose(left, Engine().picture(picture, order, window)[0], atol=2e-3)
        np.testing.assert_allclose(engine.picture(source, order, window), 0.25, atol=1e-4)

    def test_other_adjustments_leave_it(self) -> None:
        source, order = self.source(), Order(on(exposure={"amount": 1.0}, sharpen={"amount": 0.5}))
        left = Engine().clear(source, order, source.full())
        assert source.share is not None and left is not None
        np.testing.assert_array_equal(left, source.share.planes(source.full())[0])

    def test_under_a_cover_all_is_opaque(self) -> None:
        source = self.source()
        for treatment in ({"solid": {"amount": 1.0}}, {"mosaic": {"size": 0.2}}):
            left = Engine().clear(source, Order(covering(**treatment)), source.full())
            assert left is not None
            self.assertEqual(left[20:40, 35:55].min(), 1)
            self.assertEqual(left[5, 5], 0)

    def test_on_screen_a_checker_shows_through(self) -> None:
        source = self.source()
        shown = {}
        for name in ("picture", "source"):
            view = View(name, (0, 0, WIDE, HIGH), 1.0, format="png")
            made = render_preview(Engine(), source, Order(EMPTY_SHEET), view).data
            shown[name] = cv2.imdecode(np.frombuffer(made, np.uint8), cv2.IMREAD_COLOR)
            self.assertGreater(len(np.unique(shown[name][:, :28, 0])), 1)
            self.assertEqual(len(np.unique(shown[name][:, 62:, 0])), 1)
        np.testing.assert_array_equal(shown["picture"], shown["source"])
