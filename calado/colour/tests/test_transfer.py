"""Transfer functions against the standards' printed values and a colour-science library."""

from unittest import TestCase

import colour
import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from calado.colour import transfer

SAME = 1e-9
#: the standards print their constants to 4 to 7 digits; libraries differ by as much
PRINTED = 2e-5
PAIRS = (
    (transfer.linear_to_srgb, transfer.srgb_to_linear),
    (transfer.linear_to_bt2020, transfer.bt2020_to_linear),
    (transfer.linear_to_pq, transfer.pq_to_linear),
    (transfer.linear_to_hlg, transfer.hlg_to_linear),
)


class Known(TestCase):
    def test_srgb_values_of_iec_61966_2_1(self) -> None:
        # IEC 61966-2-1: slope 12.92 below 0.0031308; 0.18 linear is 0.4613561 (computed from the printed formula)
        self.assertAlmostEqual(float(transfer.linear_to_srgb(np.float64(0.0031308))), 0.0031308 * 12.92, 12)
        self.assertAlmostEqual(float(transfer.linear_to_srgb(np.float64(0.18))), 0.46135612950044164, 12)
        self.assertAlmostEqual(float(transfer.linear_to_srgb(np.float64(1.0))), 1.0, 12)

    def test_bt709_values(self) -> None:
        # Rec. ITU-R BT.709-6, item 1.2: V = 1.099 L^0.45 - 0.099; 0.18 gives 0.409 (published to three digits)
        self.assertAlmostEqual(float(transfer.linear_to_bt2020(np.float64(0.18))), 0.409, 3)
        self.assertAlmostEqual(float(transfer.linear_to_bt2020(np.float64(0.01))), 0.045, 12)

    def test_high_range_against_colour_science(self) -> None:
        x = np.linspace(0, 1, 1001)
        expected = colour.models.eotf_BT2100_PQ(x) / transfer.REFERENCE_WHITE
        np.testing.assert_allclose(transfer.pq_to_linear(x), expected, rtol=1e-9, atol=1e-12)
        scene = colour.models.oetf_inverse_BT2100_HLG(x)
        scale = colour.models.oetf_inverse_BT2100_HLG(np.array(transfer.HLG_WHITE))
        np.testing.assert_allclose(transfer.hlg_to_linear(x), scene / scale, rtol=1e-6, atol=1e-9)

    def test_reference_white_lies_where_bt_2408_puts_it(self) -> None:
        # ITU-R BT.2408, table 1: 203 cd/m², 58 % of PQ, 75 % of HLG
        self.assertAlmostEqual(float(transfer.linear_to_pq(np.float64(1))), 0.58, 2)
        self.assertAlmostEqual(float(transfer.linear_to_hlg(np.float64(1))), 0.75, 9)

    def test_against_colour_science(self) -> None:
        x = np.linspace(0, 1, 1001)
        np.testing.assert_allclose(transfer.linear_to_srgb(x), colour.models.eotf_inverse_sRGB(x), atol=PRINTED)
        np.testing.assert_allclose(
            transfer.linear_to_bt2020(x), colour.models.oetf_BT2020(x, is_12_bits_system=True), atol=1e-4
        )


class Twins(TestCase):
    @given(st.floats(-100, 100))
    def test_twins_undo_each_other(self, x: float) -> None:
        for encode, decode in PAIRS:
            self.assertAlmostEqual(float(decode(encode(np.float64(x)))), x, delta=SAME * max(1, abs(x)))

    def test_negative_light_survives_and_nan_stays(self) -> None:
        for encode, _ in PAIRS:
            x = np.array([[0.2, -0.2], [np.nan, 3.0]])
            y = encode(x)
            self.assertEqual(y.shape, x.shape)
            self.assertEqual(y[0, 0], -y[0, 1])
            self.assertTrue(np.isnan(y[1, 0]))

    def test_no_step_at_the_branch(self) -> None:
        for encode, at in ((transfer.linear_to_srgb, 0.0031308), (transfer.linear_to_bt2020, transfer.BT2020_BETA)):
            below, above = encode(np.array([at - 1e-9, at + 1e-9]))
            self.assertLess(abs(above - below), 1e-6)
