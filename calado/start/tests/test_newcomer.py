"""What a newcomer begins with, on every still of the demo: right at once, with nothing set."""

from functools import cache
from unittest import TestCase

import numpy as np

from calado.arrays import Planes
from calado.colour.oklab import linear_to_oklab, oklab_to_oklch
from calado.edit.create import start_pass
from calado.edit.tests.test_sample import still
from calado.render.engine import Engine, Order
from calado.render.resolve import resolve
from calado.render.source import Source
from calado.sheet.models import Sheet
from calado.start.analysis import PictureAnalysis, analyse

STILLS = ("a_bench", "b_portrait", "c_dusk", "d_shelf", "e_booth", "f_night", "g_wood")
SCALE = 0.25
#: what a matte of 0.999 lets through of the brightest light
NEARLY = 2e-3


@cache
def read(name: str) -> tuple[Engine, Source, PictureAnalysis]:
    engine, source = Engine(), still(name)
    return engine, source, analyse(engine, source)


def slope(planes: Planes) -> np.ndarray:
    tone = np.cbrt(np.maximum(planes, 0)).mean(axis=0)
    return np.hypot(*np.gradient(tone))


class Newcomer(TestCase):
    def begun(self, starter: str, name: str) -> tuple[Planes, Planes, np.ndarray]:
        """Return the picture before and after, and the region's matte."""
        engine, source, analysis = read(name)
        sheet, _ = start_pass(Sheet(), starter, analysis)
        window = source.full(SCALE)
        where = resolve(sheet, sheet.regions[0].id)
        assert where is not None
        return (
            engine.source(source, window),
            engine.picture(source, Order(sheet), window),
            engine.matte(source, where, window),
        )

    def test_a_vignette_darkens_the_corners_and_leaves_the_middle(self) -> None:
        for name in STILLS:
            before, after, _ = self.begun("vignette", name)
            high, wide = before.shape[1:]
            corners = np.ones((high, wide), bool)
            corners[high // 10 : -high // 10] = corners[:, wide // 10 : -wide // 10] = False
            with self.subTest(name):
                self.assertLess(after[:, corners].mean(), 0.8 * before[:, corners].mean())
                middle = np.s_[:, high * 2 // 5 : high * 3 // 5, wide * 2 // 5 : wide * 3 // 5]
                np.testing.assert_allclose(after[middle], before[middle], atol=1e-3)

    def test_a_soft_background_is_soft_and_the_subject_as_it_was(self) -> None:
        for name in STILLS:
            before, after, matte = self.begun("selective-focus", name)
            inside, outside = matte > 0.999, matte < 0.001
            with self.subTest(name, inside=float(inside.mean())):
                self.assertGreater(float(inside.mean()), 0.01)
                self.assertGreater(float(outside.mean()), 0.05)
                np.testing.assert_allclose(after[:, inside], before[:, inside], atol=NEARLY)
                self.assertLess(slope(after)[outside].mean(), 0.8 * slope(before)[outside].mean())

    def test_a_colour_accent_is_one_thing_in_grey(self) -> None:
        for name in STILLS:
            _, after, matte = self.begun("colour-accent", name)
            chroma = oklab_to_oklch(linear_to_oklab(np.moveaxis(after, 0, -1).astype(float)))[..., 1]
            inside, outside = matte > 0.9, matte < 0.01
            with self.subTest(name, inside=float(inside.mean())):
                self.assertTrue(0.002 < float(inside.mean()) < 0.35)
                self.assertLess(float(np.quantile(chroma[outside], 0.99)), 0.01)
                self.assertGreater(float(np.median(chroma[inside])), 0.06)
