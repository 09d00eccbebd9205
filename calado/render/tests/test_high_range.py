"""Light beyond white on the screen: rolled off, in order, without a shift of hue."""

from unittest import TestCase

import numpy as np

from calado.colour.spaces import BT2020, BT2020_HIGH
from calado.render.encode import KNEE, file_codes, rolled_off, screen_codes


def grey(light: np.ndarray) -> np.ndarray:
    return np.ascontiguousarray(np.broadcast_to(light.astype(np.float32), (3, 1, len(light))))


class RolledOff(TestCase):
    def test_below_the_knee_nothing_changes_above_it_all_stays_in_order_below_white(self) -> None:
        light = np.geomspace(0.001, 49, 400)
        made = rolled_off(grey(light))[0, 0]
        low = light < KNEE
        np.testing.assert_allclose(made[low], light[low], rtol=1e-6)
        self.assertGreaterEqual(float(np.diff(made).min()), -1e-6)
        self.assertLessEqual(float(made.max()), 1.0)
        # the slope goes on where it begins
        near = rolled_off(grey(np.array([KNEE, KNEE + 1e-3])))[0, 0]
        self.assertAlmostEqual(float(np.diff(near)[0]) / 1e-3, 1, 2)

    def test_hue_and_nan(self) -> None:
        light = np.float32([[[4.0, np.nan]], [[1.0, 0.2]], [[0.5, 0.2]]])
        made = rolled_off(light)
        np.testing.assert_allclose(made[:, 0, 0] / made[0, 0, 0], [1, 0.25, 0.125], rtol=1e-6)
        self.assertEqual(float(made[0, 0, 1]), 0.0)

    def test_only_a_high_range_is(self) -> None:
        light = grey(np.array([0.9, 2.0]))
        self.assertEqual(screen_codes(light, BT2020)[0, 1, 0], 255)
        self.assertLess(int(screen_codes(light, BT2020_HIGH)[0, 0, 0]), int(screen_codes(light, BT2020)[0, 0, 0]))
        self.assertLess(int(file_codes(light, BT2020_HIGH, 16)[0, 0, 0]), int(file_codes(light, BT2020, 16)[0, 0, 0]))
