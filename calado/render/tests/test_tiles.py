"""Pieces of rows through passes, against the formula in float64, at whatever width and wherever a side begins."""

from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from calado.adjust.kind import GuardAdjustment, PointAdjustment
from calado.adjust.registry import ADJUSTMENTS
from calado.adjust.stats import NO_STATS
from calado.arrays import Matte, Planes
from calado.colour.spaces import SRGB
from calado.render.passes import RenderContext, run_passes
from calado.render.plan import plan_sheets
from calado.render.program import code_of
from calado.render.tiles import GUARD, PIECE, POINT
from calado.sheet.models import Part, Pass, Region, Sheet
from calado.window import full_window

WIDTHS = st.one_of(st.integers(1, 70), st.integers(PIECE - 3, PIECE + 40), st.just(2 * PIECE + 17))
HIGH = 5
REGION = Region(id="r", name="r", parts=(Part(id="p", kind="ellipse"),))


def spread(rng: np.random.Generator, wide: int) -> Matte:
    """Return a matte with nothing, all and what lies between in runs of any length."""
    matte = rng.random((HIGH, wide)).astype(np.float32)
    for row in matte:
        for value in (0, 1, 0):
            first, last = np.sort(rng.integers(0, wide + 1, 2))
            row[first:last] = value
    return matte


def run(picture: Planes, matte: Matte, passes: tuple[Pass, ...]) -> Planes:
    plans = plan_sheets((Sheet(regions=(REGION,), passes=passes),), SRGB)
    openings = RenderContext(
        lambda where: matte,
        lambda where, ring: np.zeros_like(matte),
        lambda plan, planes, at: planes,
        lambda: picture,
        SRGB,
        NO_STATS,
        0,
    )
    return run_passes(picture, plans, full_window(picture.shape[2], HIGH), openings)


def two_sided(inside: float, outside: float, mix: float) -> Pass:
    """Return a pass of exposure on both sides, which is a plain factor."""
    each = {"exposure": {"amount": inside}}, {"exposure": {"amount": outside}}
    return Pass(id="a", name="a", region="r", inside=each[0], outside=each[1], mix=mix)


class Kernels(TestCase):
    def test_each_adjustment_of_points_and_each_guard_has_compiled_code(self) -> None:
        for each in ADJUSTMENTS.values():
            with self.subTest(each.id):
                if isinstance(each, PointAdjustment):
                    self.assertGreater(code_of(each.into, POINT), 0)
                if isinstance(each, GuardAdjustment):
                    self.assertGreater(code_of(each.into, GUARD), 0)


class AgainstTheFormula(TestCase):
    @settings(max_examples=60)
    @given(st.integers(0, 2**32 - 1), WIDTHS, st.sampled_from((1.0, 0.6)))
    def test_both_sides_of_several_passes(self, seed: int, wide: int, mix: float) -> None:
        rng = np.random.default_rng(seed)
        picture, matte = rng.random((3, HIGH, wide)).astype(np.float32), spread(rng, wide)
        passes = (two_sided(0.5, -1.0, mix), two_sided(-0.25, 0.75, mix))
        expected = picture.astype(np.float64)
        for each in passes:
            inner, outer = (2.0 ** float(side["exposure"]["amount"]) for side in (each.inside, each.outside))  # type: ignore[arg-type]
            expected = expected + mix * expected * (matte * (inner - 1) + (1.0 - matte) * (outer - 1))
        np.testing.assert_allclose(run(picture, matte, passes), expected, rtol=3e-6, atol=1e-6)

    @settings(max_examples=60)
    @given(st.integers(0, 2**32 - 1), WIDTHS)
    def test_nothing_is_touched_without_weight_and_nothing_is_left_where_it_is_whole(
        self, seed: int, wide: int
    ) -> None:
        rng = np.random.default_rng(seed)
        picture, matte = rng.random((3, HIGH, wide)).astype(np.float32), spread(rng, wide)
        # what stands below must not show in the least, be it no number
        picture[:, matte == 1] = np.nan
        cover = Pass(id="a", name="a", region="r", inside={"solid": {"amount": 1.0}})
        made = run(picture, matte, (cover,))
        np.testing.assert_array_equal(made[:, matte == 0], picture[:, matte == 0])
        self.assertTrue(all(len(np.unique(plane[matte == 1])) <= 1 for plane in made))
        self.assertTrue(np.isfinite(made[:, matte == 1]).all())

    @settings(max_examples=30)
    @given(st.integers(0, 2**32 - 1), WIDTHS)
    def test_a_blur_lies_where_its_side_does(self, seed: int, wide: int) -> None:
        rng = np.random.default_rng(seed)
        picture, matte = rng.random((3, HIGH, wide)).astype(np.float32), spread(rng, wide)
        blurred = Pass(id="a", name="a", region="r", inside={"blur": {"radius": 0.2}})
        made = run(picture, matte, (blurred,))
        np.testing.assert_array_equal(made[:, matte == 0], picture[:, matte == 0])
        alone = run(picture, np.ones_like(matte), (blurred,))
        if (matte == 1).all():
            np.testing.assert_array_equal(made, alone)
        self.assertTrue(np.isfinite(made).all())
