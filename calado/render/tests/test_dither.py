"""Dither: means are kept, what is a code stays it, covers stay even, and a soft falloff has no steps."""

from unittest import TestCase

import numpy as np

from calado.colour.spaces import SRGB, STILL_SPACES
from calado.render.dither import HALF, SIDE, pattern
from calado.render.encode import file_codes

RNG = np.random.default_rng(3)


def runs(codes: np.ndarray) -> int:
    """Return the longest run of one code along the rows."""
    longest = 0
    for row in codes:
        ends = np.flatnonzero(np.diff(row)) + 1
        longest = max(longest, int(np.diff(np.concatenate([[0], ends, [len(row)]])).max()))
    return longest


class Dithered(TestCase):
    def test_a_soft_falloff_has_no_steps_and_keeps_its_mean(self) -> None:
        # two codes' worth of light over 600 pixels, as a vignette leaves it in a night
        signal = np.linspace(20.0, 22.0, 600) / 255
        planes = np.broadcast_to(SRGB.transfer.decode(signal), (3, 256, 600)).astype(np.float32)
        planes = planes * (1 + np.linspace(0, 1e-4, 256, dtype=np.float32)[:, None])
        codes = file_codes(planes, SRGB, 8)
        self.assertGreater(runs(np.rint(np.broadcast_to(signal * 255, (1, 600)))), 200)
        # near a whole code little is left to spread
        self.assertLess(runs(codes[..., 1]), 150)
        away = (codes - signal[:, None] * 255).reshape(256, 30, 20, 3).mean(axis=(0, 2))
        # what lies nearer to a code than 0.5 − HALF becomes it
        self.assertLess(np.abs(away).max(), 0.5 - HALF + 0.01)

    def test_every_code_stays_and_nothing_goes_further_than_one(self) -> None:
        for space in STILL_SPACES.values():
            every = RNG.integers(0, 256, (3, 60, 90))
            light = space.transfer.decode(every / 255).astype(np.float32)
            np.testing.assert_array_equal(np.moveaxis(file_codes(light, space, 8), -1, 0), every)
            between = RNG.random((3, 60, 90))
            made = file_codes(space.transfer.decode(between).astype(np.float32), space, 8)
            self.assertLess(np.abs(np.moveaxis(made, -1, 0) - 255 * between).max(), 1)

    def test_a_cover_stays_even_and_bands_do_not_show(self) -> None:
        planes = np.full((3, 80, 90), 0.1234, np.float32)
        self.assertEqual(np.ptp(file_codes(planes, SRGB, 8)[..., 0]), 0)
        planes = RNG.random((3, 80, 90)).astype(np.float32)
        whole = file_codes(planes, SRGB, 8)
        bands = [file_codes(np.ascontiguousarray(planes[:, y : y + 17]), SRGB, 8, y) for y in range(0, 80, 17)]
        np.testing.assert_array_equal(np.concatenate(bands), whole)

    def test_the_pattern_is_even_and_fine(self) -> None:
        for each in pattern():
            np.testing.assert_allclose(np.sort(each, axis=None), np.linspace(-HALF, HALF, SIDE * SIDE), atol=1e-3)
            power = np.abs(np.fft.fft2(each)) ** 2
            at = np.hypot(*np.meshgrid(np.fft.fftfreq(SIDE), np.fft.fftfreq(SIDE)))
            # of white noise the mean power is the same everywhere
            self.assertLess(power[(at > 0) & (at < 0.1)].mean(), 0.05 * power[at > 0.3].mean())
