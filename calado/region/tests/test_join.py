"""Joining by Porter–Duff: the identities, and regions folded in order."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra import numpy as hnp

from calado.region.join import complement, join
from calado.region.kinds import PARTS
from calado.region.matte import part_matte, region_matte
from calado.region.refine.registry import REFINE
from calado.sheet.models import Part, Region
from calado.window import full_window

ROUND = 1e-6
mattes = hnp.arrays(np.float32, (3, 4), elements=st.floats(0, 1, width=32))


class Identities(TestCase):
    @given(mattes, mattes)
    def test_de_morgan(self, a: np.ndarray, b: np.ndarray) -> None:
        one = complement(join(a, b, "add"))
        other = join(complement(a), complement(b), "intersect")
        np.testing.assert_allclose(one, other, atol=ROUND)

    @given(mattes, mattes)
    def test_subtract_is_within_the_rest(self, a: np.ndarray, b: np.ndarray) -> None:
        np.testing.assert_allclose(join(a, b, "subtract"), join(a, complement(b), "intersect"), atol=ROUND)

    @given(mattes, mattes)
    def test_commute_and_stay_in_range(self, a: np.ndarray, b: np.ndarray) -> None:
        for how in ("add", "intersect"):
            np.testing.assert_allclose(join(a, b, how), join(b, a, how), atol=ROUND)
        for how in ("add", "subtract", "intersect"):
            made = join(a, b, how)
            self.assertGreaterEqual(made.min(), -ROUND)
            self.assertLessEqual(made.max(), 1 + ROUND)

    @given(mattes)
    def test_nothing_and_everything_are_neutral(self, a: np.ndarray) -> None:
        np.testing.assert_array_equal(join(a, np.zeros_like(a), "add"), a)
        np.testing.assert_array_equal(join(a, np.ones_like(a), "intersect"), a)
        np.testing.assert_allclose(complement(complement(a)), a, atol=ROUND)


class Regions(TestCase):
    window = full_window(60, 40)

    def region(self, *parts: Part) -> Region:
        return Region(id="r", name="r", parts=parts)

    def test_faders_end_within_what_a_sheet_takes(self) -> None:
        for declared in (*PARTS.values(), REFINE):
            for each in declared.numbers:
                self.assertTrue(each.floor <= each.low < each.high <= each.ceiling, (declared.id, each.id))

    def test_every_kind_complemented_sums_to_one(self) -> None:
        for kind in PARTS.values():
            plain = Part(id="a", kind=kind.id, values=kind.place(1.5))
            if kind.sees(plain):
                continue  # read from a picture: tested there
            other = plain.model_copy(update={"complement": True})
            total = part_matte(plain, self.window) + part_matte(other, self.window)
            np.testing.assert_allclose(total, 1, atol=ROUND, err_msg=kind.id)

    def test_opacity_scales(self) -> None:
        part = Part(id="a", kind="whole", opacity=0.25)
        np.testing.assert_array_equal(part_matte(part, self.window), np.float32(0.25))

    def test_a_hole_and_an_empty_region(self) -> None:
        oval = {"x": 0.75, "y": 0.5, "width": 0.6, "height": 0.6}
        hole = self.region(Part(id="a", kind="whole"), Part(id="b", kind="ellipse", join="subtract", values=oval))
        made = region_matte(hole, self.window)
        self.assertEqual(made[20, 30], 0)
        self.assertEqual(made[0, 0], 1)
        self.assertEqual(region_matte(self.region(), self.window).max(), 0)

    def test_a_part_that_is_off_is_not_there(self) -> None:
        oval = {"x": 0.75, "y": 0.5, "width": 0.6, "height": 0.6}
        off = self.region(Part(id="a", kind="whole", on=False), Part(id="b", kind="ellipse", values=oval))
        alone = self.region(Part(id="b", kind="ellipse", values=oval))
        np.testing.assert_array_equal(region_matte(off, self.window), region_matte(alone, self.window))
        none = self.region(Part(id="a", kind="whole", on=False))
        self.assertEqual(region_matte(none, self.window).max(), 0)

    def test_beginning_by_subtracting_starts_from_the_whole(self) -> None:
        oval = {"x": 0.75, "y": 0.5, "width": 0.6, "height": 0.6}
        less = self.region(Part(id="b", kind="ellipse", join="subtract", values=oval))
        self.assertEqual(region_matte(less, self.window)[0, 0], 1)
