"""Regions that stand on regions, and imported mattes."""

import tempfile
from pathlib import Path
from unittest import TestCase

import imagecodecs
import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from skimage.transform import resize

from calado.catalogue import CATALOGUE
from calado.colour.spaces import SRGB
from calado.errors import CaladoError, SheetError
from calado.media.mattes import folder_sums, read_matte, store_matte
from calado.region.context import PartContext
from calado.region.imported import imported_matte, table_of
from calado.region.matte import Mattes, region_matte
from calado.render.engine import Engine
from calado.render.resolve import resolve
from calado.render.source import source_of
from calado.sheet.check import check_sheet
from calado.sheet.models import Part, Region, Sheet
from calado.window import full_window

WINDOW = full_window(90, 60)
SOURCE = source_of(np.zeros((3, 60, 90), np.float32), SRGB)
OVAL = Part(id="a", kind="ellipse", values={"x": 0.75, "y": 0.5, "width": 0.6, "height": 0.5})
ROUND = 1e-6


def on(id: str, other: str, **fields: object) -> Region:
    return Region(id=id, name=id, parts=(Part(id="p", kind="region", values={"region": other}, **fields),))


class Others(TestCase):
    def test_it_is_the_other_regions_matte_whatever_was_done_there(self) -> None:
        base = Region(id="base", name="base", parts=(OVAL,), refine={"grow": 0.05})
        sheet = Sheet(regions=(base, on("top", "base"), on("rest", "base", complement=True)))
        check_sheet(sheet, CATALOGUE)
        expected = region_matte(base, WINDOW)
        np.testing.assert_array_equal(Mattes().of(resolve(sheet, "top"), WINDOW), expected)
        np.testing.assert_allclose(Mattes().of(resolve(sheet, "rest"), WINDOW), 1 - expected, atol=ROUND)

    def test_a_change_below_is_seen_above_though_mattes_are_kept(self) -> None:
        engine = Engine()
        made = []
        for width in (0.3, 0.6):
            part = OVAL.model_copy(update={"values": {**OVAL.values, "width": width}})
            sheet = Sheet(regions=(Region(id="base", name="base", parts=(part,)), on("mid", "base"), on("top", "mid")))
            made.append(float(engine.matte(SOURCE, resolve(sheet, "top"), WINDOW).sum()))
        self.assertAlmostEqual(made[1] / made[0], 2, delta=0.05)

    def test_loops_are_refused_by_name(self) -> None:
        loop = Sheet(regions=(on("lamp", "hand"), on("hand", "sleeve"), on("sleeve", "hand")))
        with self.assertRaisesRegex(SheetError, "“hand” → “sleeve” → “hand”"):
            check_sheet(loop, CATALOGUE)
        with self.assertRaisesRegex(SheetError, "“lamp” → “lamp”"):
            check_sheet(Sheet(regions=(on("lamp", "lamp"),)), CATALOGUE)
        with self.assertRaisesRegex(SheetError, "not on the shelf"):
            check_sheet(Sheet(regions=(on("lamp", "gone"),)), CATALOGUE)

    @given(st.integers(2, 8), st.data())
    @settings(max_examples=30, deadline=None)
    def test_a_chain_is_never_a_loop_until_it_is_closed(self, count: int, data: st.DataObject) -> None:
        chain = [on(f"r{k}", f"r{k + 1}") for k in range(count)]
        end = Region(id=f"r{count}", name="end", parts=(OVAL,))
        check_sheet(Sheet(regions=(*chain, end)), CATALOGUE)
        back = data.draw(st.integers(0, count - 1))
        with self.assertRaisesRegex(SheetError, "stand on itself"):
            check_sheet(Sheet(regions=(*chain, on(f"r{count}", f"r{back}"))), CATALOGUE)


class Imported(TestCase):
    def setUp(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)
        y, x = np.mgrid[0:120, 0:160]
        self.shares = (0.5 + 0.5 * np.sin(x / 17) * np.cos(y / 13)).astype(np.float32)
        self.codes = np.rint(self.shares * 65535).astype(np.uint16)

    def matte(self, window, **values: str) -> np.ndarray:
        near = PartContext(sums=lambda digest: table_of(self.codes))
        return imported_matte(Part(id="m", kind="matte", values={"file": "x", **values}), window, near)

    def test_at_its_own_size_it_is_itself(self) -> None:
        np.testing.assert_allclose(self.matte(full_window(160, 120)), self.shares, atol=2 / 65535)

    def test_reduced_it_is_the_mean_and_enlarged_it_agrees_with_scikit_image(self) -> None:
        half = self.matte(full_window(160, 120, 0.5))
        np.testing.assert_allclose(half, self.shares.reshape(60, 2, 80, 2).mean(axis=(1, 3)), atol=ROUND * 20)
        # ours is the mean over a source pixel's size: linear between centres once more averaged, so a little softer
        double = self.matte(full_window(320, 240))
        np.testing.assert_allclose(double[4:-4, 4:-4], resize(self.shares, (240, 320), order=1)[4:-4, 4:-4], atol=0.004)

    def test_fitted_filling_stretched_mirrored(self) -> None:
        self.codes = np.full((40, 40), 65535, np.uint16)
        self.codes[:, :20] = 32768
        wide = full_window(80, 40)
        fitted = self.matte(wide)
        self.assertEqual((fitted[20, 5], fitted[20, 75]), (0, 0))
        self.assertAlmostEqual(float(fitted.sum()), 20 * 40 + 20 * 40 * 0.5, delta=2)
        for way in ("fill", "stretch"):
            made = self.matte(wide, fit=way)
            self.assertAlmostEqual(float(made[20, 5]), 0.5, places=3)
            self.assertEqual(made[20, 75], 1)
        self.assertEqual(self.matte(wide, fit="stretch", mirror="yes")[20, 5], 1)

    def test_enlarged_it_does_not_fade_at_its_border(self) -> None:
        self.codes = np.full((10, 15), 65535, np.uint16)
        for way in ("fit", "fill", "stretch"):
            np.testing.assert_allclose(self.matte(full_window(150, 100), fit=way), 1, atol=ROUND)

    def test_strips_agree_and_beyond_the_frame_it_ends_or_goes_on(self) -> None:
        window = full_window(100, 60)
        for way in ("fit", "fill", "stretch"):
            whole = self.matte(window, fit=way)
            np.testing.assert_array_equal(self.matte(window.rows(7, 30), fit=way), whole[7:30])
            beyond = self.matte(window.beyond(9), fit=way)
            np.testing.assert_array_equal(beyond[9:-9, 9:-9], whole)
            self.assertTrue(np.isfinite(beyond).all())
            self.assertEqual(beyond[0].max() == 0, way == "fit")

    def test_a_file_becomes_a_matte_and_is_kept_whole(self) -> None:
        grey = self.folder / "grey.png"
        grey.write_bytes(imagecodecs.png_encode(self.codes))
        clear = self.folder / "clear.png"
        rgba = np.zeros((120, 160, 4), np.uint8)
        rgba[..., 3] = np.rint(self.shares * 255)
        clear.write_bytes(imagecodecs.png_encode(rgba))
        self.assertEqual(read_matte(grey)[1], "White is inside, black outside.")
        made, note = read_matte(clear)
        self.assertIn("transparency", note)
        np.testing.assert_allclose(made / 65535, self.shares, atol=0.5 / 255 + ROUND)
        digest = store_matte(read_matte(grey)[0], self.folder / "kept")
        self.assertEqual(store_matte(read_matte(grey)[0], self.folder / "kept"), digest)
        np.testing.assert_array_equal(folder_sums(self.folder / "kept")(digest), table_of(self.codes))

    def test_a_missing_matte_and_a_name_that_points_elsewhere_are_refused(self) -> None:
        for name in ("0" * 32, "../../secret", ""):
            with self.assertRaisesRegex(CaladoError, "missing"):
                folder_sums(self.folder)(name)
