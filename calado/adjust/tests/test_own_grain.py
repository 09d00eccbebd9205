"""The picture's own grain, against noise that was put in, and the estimate of another school."""

from unittest import TestCase

import numpy as np
from scipy import ndimage

from calado.adjust.stats import PictureStats
from calado.adjust.texture.own_grain import LIGHTS, grain_of
from calado.colour.spaces import SRGB
from calado.colour.transfer import linear_to_srgb, srgb_to_linear
from calado.inspect.look.second_look import second_look
from calado.render.engine import Engine, Order
from calado.render.source import Source, source_of
from calado.sheet.models import Pass, Sheet

SIZE = (600, 400)


def noisy(seed: int, by_light: np.ndarray, texture: float = 0.0) -> tuple[Source, np.ndarray]:
    """A picture from dark to light with clouds and patches, and noise on its signal that depends on the light."""
    rng = np.random.default_rng(seed)
    wide, high = SIZE
    clouds = ndimage.gaussian_filter(rng.normal(size=(high, wide)), 25)
    signal = 0.5 + 0.42 * np.linspace(-1, 1, wide) + 0.05 * clouds / clouds.std()
    fine = ndimage.gaussian_filter(rng.normal(size=(high, wide)), 1.0)
    # a third of the picture has texture, as cloth or leaves have
    signal[: high // 3] += texture * fine[: high // 3] / fine.std()
    signal = np.clip(signal, 0.05, 0.95)
    sigma = np.interp(signal, np.linspace(0, 1, len(by_light)), by_light)
    seen = np.clip(signal + sigma * rng.normal(size=signal.shape), 0, 1)
    codes = np.rint(255 * np.repeat(seen[None], 3, axis=0)).astype(np.uint8)
    return source_of(codes, SRGB, f"noisy {seed} {by_light.sum()} {texture}"), sigma


def blurred(**more: dict[str, object]) -> Sheet:
    return Sheet(passes=(Pass(id="a", name="a", inside={"blur": {"radius": 0.02}, **more}),))


class Measured(TestCase):
    def test_noise_by_light_is_found_whatever_texture_stands_beside(self) -> None:
        curves = (np.full(8, 4 / 255), np.linspace(6, 2, 8) / 255, np.linspace(1.5, 8, 8) / 255)
        for seed, curve in enumerate(curves):
            for texture in (0.0, 0.05):
                source, _ = noisy(seed, curve, texture)
                own = Engine().stats(source).grain()
                self.assertEqual(own.shape, (LIGHTS,))
                np.testing.assert_allclose(own[1:-1], curve[1:-1], rtol=0.25, err_msg=f"{seed} {texture}")

    def test_as_wavelets_estimate_it(self) -> None:
        source, _ = noisy(7, np.full(8, 5 / 255))
        signal = linear_to_srgb(source.planes(source.full())[0].astype(float))
        # the median of the finest diagonal details, by Haar's wavelet, over 0.6745 (Donoho and Johnstone 1994)
        a, b, c, d = (signal[y::2, x::2] for y in (0, 1) for x in (0, 1))
        theirs = float(np.median(np.abs(a - b - c + d) / 2)) / 0.6745
        self.assertAlmostEqual(float(np.median(Engine().stats(source).grain())), theirs, delta=0.15 * theirs)

    def test_what_has_none_has_none(self) -> None:
        smooth = np.tile(np.linspace(0.05, 0.9, 300, dtype=np.float32), (3, 200, 1))
        self.assertLess(grain_of(np.ascontiguousarray(smooth), SRGB).max(), 1e-3)
        self.assertFalse(grain_of(np.zeros((3, 98, 98), np.float32), SRGB).any())
        self.assertFalse(PictureStats(lambda: smooth).grain().any())


class GivenBack(TestCase):
    def test_a_blurred_picture_has_as_much_as_before(self) -> None:
        source, _ = noisy(3, np.linspace(6, 3, 8) / 255)
        for scale in (1.0, 0.5):
            window = source.full(scale)
            before, bare, given = (
                linear_to_srgb(np.clip(Engine().picture(source, Order(sheet), window)[1].astype(float), 0, 1))
                for sheet in (Sheet(), blurred(), blurred(**{"own-grain": {"amount": 1.0}}))
            )
            # away from the rim, in the smooth part
            rows = slice(before.shape[0] // 2, before.shape[0] - 20)
            spread = [ndimage.laplace(each)[rows, 20:-20].std() for each in (before, bare, given)]
            self.assertLess(spread[1], 0.1 * spread[0])
            self.assertAlmostEqual(spread[2] / spread[0], 1, delta=0.2, msg=f"{scale}")

    def test_without_any_nothing_is_given(self) -> None:
        planes = np.tile(srgb_to_linear(np.linspace(0.1, 0.9, 240)).astype(np.float32), (3, 160, 1))
        source = source_of(np.ascontiguousarray(planes), SRGB)
        made, bare = (
            Engine().picture(source, Order(sheet), source.full())
            for sheet in (blurred(**{"own-grain": {"amount": 1.0}}), blurred())
        )
        np.testing.assert_allclose(made, bare, atol=2e-3)

    def test_a_second_look_misses_it_and_gives_it_back(self) -> None:
        source, _ = noisy(5, np.full(8, 5 / 255))
        found = [each for each in second_look(Engine(), source, blurred()) if each.kind == "grain"]
        self.assertEqual(len(found), 1)
        mended = found[0].mended
        assert mended is not None
        self.assertEqual(mended.passes[0].inside["own-grain"], {"amount": 1.0})
        self.assertEqual([each for each in second_look(Engine(), source, mended) if each.kind == "grain"], [])
        calm, _ = noisy(5, np.full(8, 0.3 / 255))
        self.assertEqual([each for each in second_look(Engine(), calm, blurred()) if each.kind == "grain"], [])
