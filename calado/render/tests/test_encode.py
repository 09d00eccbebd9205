"""Codes for files against the transfer functions themselves, in float64."""

from unittest import TestCase

import numpy as np

from calado.colour.spaces import SPACES
from calado.render.encode import file_codes
from calado.render.source import code_table

#: rounding is half a code; the table and float32 add this much
EXCESS = 0.03
#: a high range is rolled off first (test_high_range)
WITHIN_WHITE = [space for space in SPACES.values() if not space.high]


class FileCodes(TestCase):
    def test_sixteen_bits_within_rounding_of_the_curve(self) -> None:
        rng = np.random.default_rng(3)
        # fourth powers: most of them dark, where the curve bends most
        planes = (rng.random((3, 60, 500)) ** 4 * 1.1 - 0.01).astype(np.float32)
        for space in WITHIN_WHITE:
            exact = space.transfer.encode(np.clip(planes.astype(np.float64), 0, 1)) * 65535
            codes = np.moveaxis(file_codes(planes, space, 16), -1, 0)
            within = planes.max(axis=0) <= 1  # what is beyond white goes there as a whole
            self.assertLess(np.abs(codes - exact)[:, within].max(), 0.5 + EXCESS, space.id)

    def test_every_code_comes_back(self) -> None:
        for space in WITHIN_WHITE:
            for bits, kind in ((8, np.uint8), (16, np.uint16)):
                linear = code_table(space, np.dtype(kind)).reshape(2, -1)
                codes = file_codes(np.stack([linear] * 3), space, bits)[..., 1]
                np.testing.assert_array_equal(codes.ravel(), np.arange(2**bits), f"{space.id}, {bits} bits")

    def test_what_is_no_number_is_black_and_what_is_too_much_is_white(self) -> None:
        planes = np.array([[[np.nan, np.inf, -np.inf, 2.0, -1.0]]] * 3, np.float32)
        for bits in (8, 16):
            top = 2**bits - 1
            np.testing.assert_array_equal(file_codes(planes, SPACES["srgb"], bits)[0, :, 0], [0, top, 0, top, 0])
