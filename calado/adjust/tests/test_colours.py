"""Wash and monochrome, checked against the W3C's formulas as they are printed, and against what they promise."""

from unittest import TestCase

import numpy as np

from calado.adjust.colour.mono import BANDS, band_weights
from calado.adjust.colour.paint import light_of
from calado.adjust.colour.wash import MODES
from calado.adjust.registry import ADJUSTMENTS
from calado.adjust.tests.test_light import SIGNAL, treated
from calado.colour.oklab import linear_to_oklab, oklab_to_linear, oklab_to_oklch, oklch_to_oklab
from calado.colour.spaces import SRGB

COLOUR = {"light": 0.55, "chroma": 0.5, "hue": 40.0}


# Compositing and Blending Level 1, sections 10.1 and 10.2, in the names of the text
def hard_light(cb: np.ndarray, cs: np.ndarray) -> np.ndarray:
    return np.where(cs <= 0.5, cb * 2 * cs, cb + (2 * cs - 1) - cb * (2 * cs - 1))


def soft_light(cb: np.ndarray, cs: np.ndarray) -> np.ndarray:
    d = np.where(cb <= 0.25, ((16 * cb - 12) * cb + 4) * cb, np.sqrt(cb))
    return np.where(cs <= 0.5, cb - (1 - 2 * cs) * cb * (1 - cb), cb + (2 * cs - 1) * (d - cb))


SEPARABLE = {
    "normal": lambda cb, cs: cs + 0 * cb,
    "multiply": lambda cb, cs: cb * cs,
    "screen": lambda cb, cs: cb + cs - cb * cs,
    "overlay": lambda cb, cs: hard_light(cs + 0 * cb, cb),
    "darken": np.minimum,
    "lighten": np.maximum,
    "color-dodge": lambda cb, cs: np.where(cb == 0, 0, np.minimum(1, cb / np.maximum(1 - cs, 1e-12))),
    "color-burn": lambda cb, cs: np.where(cb == 1, 1, 1 - np.minimum(1, (1 - cb) / np.maximum(cs, 1e-12))),
    "hard-light": hard_light,
    "soft-light": soft_light,
    "difference": lambda cb, cs: np.abs(cb - cs),
    "exclusion": lambda cb, cs: cb + cs - 2 * cb * cs,
}


def lum(c: np.ndarray) -> float:
    return float(0.3 * c[0] + 0.59 * c[1] + 0.11 * c[2])


def clip_color(c: np.ndarray) -> np.ndarray:
    level, n, x = lum(c), c.min(), c.max()
    if n < 0:
        c = level + (c - level) * level / (level - n)
    if x > 1:
        c = level + (c - level) * (1 - level) / (x - level)
    return c


def set_lum(c: np.ndarray, level: float) -> np.ndarray:
    return clip_color(c + level - lum(c))


def sat(c: np.ndarray) -> float:
    return float(c.max() - c.min())


def set_sat(c: np.ndarray, s: float) -> np.ndarray:
    return (c - c.min()) * s / (c.max() - c.min()) if c.max() > c.min() else 0 * c


WHOLE = {
    "hue": lambda cb, cs: set_lum(set_sat(cs, sat(cb)), lum(cb)),
    "saturation": lambda cb, cs: set_lum(set_sat(cb, sat(cs)), lum(cb)),
    "color": lambda cb, cs: set_lum(cs, lum(cb)),
    "luminosity": lambda cb, cs: set_lum(cb, lum(cs)),
}


class Wash(TestCase):
    def test_every_mode_against_the_printed_formula(self) -> None:
        colour = SRGB.transfer.encode(np.array(light_of(COLOUR, SRGB)))
        for mode, _ in MODES:
            made = treated(SIGNAL, {"wash": {"amount": 0.8, "mode": mode, **COLOUR}})
            if mode in SEPARABLE:
                blended = SEPARABLE[mode](SIGNAL.astype(np.float64), colour)
            else:
                rows = [[WHOLE[mode](pixel, colour) for pixel in row] for row in SIGNAL.astype(np.float64)]
                blended = np.array(rows)
            np.testing.assert_allclose(made, SIGNAL + 0.8 * (blended - SIGNAL), atol=3e-4, err_msg=mode)

    def test_what_is_brighter_than_white_survives(self) -> None:
        bright = np.full((1, 1, 3), 1.5, np.float32)
        made = treated(bright, {"wash": {"amount": 1.0, "mode": "multiply", "light": 1.0, "chroma": 0.0}})
        np.testing.assert_allclose(made, 1.5, atol=1e-4)


class ByHue(TestCase):
    """In CSS Color 4's OKLCh, of which the wash's tests stand on the published conversion."""

    def setUp(self) -> None:
        # one colour at the middle of each band, and between two
        self.hues = np.arange(25, 385, 22.5)
        lch = np.stack([np.full(16, 0.65), np.full(16, 0.09), self.hues], axis=-1)
        self.linear = oklab_to_linear(oklch_to_oklab(lch))
        self.signal = SRGB.transfer.encode(self.linear)[None].astype(np.float32)

    def lch(self, treatment: dict[str, dict[str, object]]) -> np.ndarray:
        made = SRGB.transfer.decode(treated(self.signal, treatment)[0].astype(float))
        return oklab_to_oklch(linear_to_oklab(made))

    def test_each_touches_its_band_and_no_other(self) -> None:
        plain = self.lch({})
        for number, (id, _, centre) in enumerate(BANDS):
            away = np.abs((self.hues - centre + 180) % 360 - 180)
            weight = np.where(away < 45, 0.5 + 0.5 * np.cos(np.pi * away / 45), 0)
            at = 2 * number
            turned = self.lch({"hue-by": {"amount": 1.0, id: 0.6}}) - plain
            turn = (turned[:, 2] + 180) % 360 - 180
            np.testing.assert_allclose(turn, 15 * weight, atol=0.1, err_msg=id)
            np.testing.assert_allclose(turned[:, :2], 0, atol=5e-4, err_msg=id)
            stronger = self.lch({"saturation-by": {"amount": 1.0, id: -0.5}})
            np.testing.assert_allclose(stronger[:, 1] / plain[:, 1], 1 - 0.5 * weight, atol=0.01, err_msg=id)
            np.testing.assert_allclose(stronger[:, 0], plain[:, 0], atol=5e-4, err_msg=id)
            lighter = self.lch({"lightness-by": {"amount": 1.0, id: 0.5}}) - plain
            coloured = (0.09 / 0.12) ** 2
            np.testing.assert_allclose(lighter[:, 0], 0.1 * coloured * weight, atol=2e-3, err_msg=id)
            self.assertGreater(lighter[at, 0], 0.04)

    def test_half_the_amount_is_half_the_weight_and_greys_stay(self) -> None:
        for id in ("hue-by", "saturation-by", "lightness-by"):
            half, whole = self.lch({id: {"amount": 0.5, "red": 0.8}}), self.lch({id: {"amount": 1.0, "red": 0.4}})
            np.testing.assert_allclose(half, whole, atol=1e-3, err_msg=id)
            greys = np.repeat(np.linspace(0, 1, 20, dtype=np.float32)[None, :, None], 3, axis=2)
            weights = {band: 1.0 for band, _, _ in BANDS}
            np.testing.assert_allclose(treated(greys, {id: {"amount": 1.0, **weights}}), greys, atol=2e-4, err_msg=id)

    def test_nothing_left_of_a_hue_is_grey_and_of_no_other_hue(self) -> None:
        gone = self.lch({"saturation-by": {"amount": 1.0, **{id: -2.0 for id, _, _ in BANDS}}})
        self.assertLess(gone[:, 1].max(), 1e-3)


class Mono(TestCase):
    def test_the_bands_share_every_hue_out_without_a_gap(self) -> None:
        np.testing.assert_allclose(band_weights({id: 1.0 for id, _, _ in BANDS}), 1, atol=1e-12)

    def test_no_colour_is_left_and_the_lightness_stays(self) -> None:
        made = treated(SIGNAL, {"mono": {"amount": 1.0}})
        self.assertLess(np.ptp(made, axis=-1).max(), 1e-4)
        light = [linear_to_oklab(SRGB.transfer.decode(each))[..., 0] for each in (SIGNAL, made)]
        np.testing.assert_allclose(light[1], light[0], atol=1e-4)

    def test_a_weight_moves_the_grey_of_its_hue_alone(self) -> None:
        made = treated(SIGNAL, {"mono": {"amount": 1.0, "blue": 1.0}})
        plain = treated(SIGNAL, {"mono": {"amount": 1.0}})
        hue = oklab_to_oklch(linear_to_oklab(SRGB.transfer.decode(SIGNAL)))[..., 2]
        away = np.abs((hue - 250 + 180) % 360 - 180)
        np.testing.assert_allclose(made[away > 46], plain[away > 46], atol=1e-5)
        self.assertTrue((made[away < 30] > plain[away < 30] + 1e-3).all())

    def test_greys_stay_as_they_are(self) -> None:
        greys = np.repeat(np.linspace(0, 1, 20, dtype=np.float32)[None, :, None], 3, axis=2)
        weights = {id: 1.0 for id, _, _ in BANDS}
        np.testing.assert_allclose(treated(greys, {"mono": {"amount": 1.0, **weights}}), greys, atol=2e-4)
        self.assertIn("mono", ADJUSTMENTS)
