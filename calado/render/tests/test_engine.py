"""The engine against a slow plain twin, and what must hold for any sheet."""

import tempfile
from dataclasses import replace
from pathlib import Path
from unittest import TestCase, mock

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import ndimage
from skimage import color, data, metrics

from calado.adjust.registry import ADJUSTMENTS
from calado.colour import oklab
from calado.colour.spaces import DISPLAY_P3, SRGB
from calado.errors import RequestError
from calado.region.resolved import alone
from calado.render.encode import file_codes, screen_codes
from calado.render.engine import Engine, Order
from calado.render.plan import plan_sheets
from calado.render.preview import View, render_preview
from calado.render.source import Source, open_source, source_of, store_source
from calado.sheet.models import Part, Pass, Region, Sheet
from calado.window import window_of_rectangle

ROUND = 2e-6
OVAL = Region(
    id="oval",
    name="oval",
    parts=(
        Part(
            id="p",
            kind="ellipse",
            values={
                "x": 0.6,
                "y": 0.55,
                "width": 0.7,
                "height": 0.5,
                "turn": 20.0,
                "feather_in": 0.05,
                "feather_out": 0.1,
            },
        ),
    ),
)


def reference_sheet(grade: str = "mix") -> Sheet:
    return Sheet(
        regions=(OVAL,),
        passes=(
            Pass(id="soft", name="soft", region="oval", outside={"blur": {"radius": 0.03, "grade": grade}}),
            Pass(id="warm", name="warm", region="oval", inside={"exposure": {"amount": 0.4}}, mix=0.7),
            Pass(
                id="edge",
                name="edge",
                region="oval",
                strength=0.8,
                inside={"saturation": {"amount": 0.2}},
                outside={"exposure": {"amount": -1.2}, "saturation": {"amount": -0.3}},
            ),
        ),
    )


def photograph(height: int = 300) -> Source:
    """The portrait that scikit-image carries (public domain), as codes."""
    picture = data.astronaut()[:height, :450]
    return source_of(np.ascontiguousarray(np.moveaxis(picture, -1, 0)), SRGB, f"portrait {height}")


def plain_twin(source: Source, sheet: Sheet) -> np.ndarray:
    """The reference sheet in float64, straight from CORE's definitions, with SciPy's Gaussian."""
    x = SRGB.transfer.decode(np.moveaxis(source.levels[0], 0, -1) / 255.0)
    height = x.shape[0]
    m = Engine().matte(source, alone(OVAL), source.full()).astype(np.float64)[..., None]
    w = 1 - m
    sigma = (0.03 * height, 0.03 * height, 0)
    soft = ndimage.gaussian_filter(w * x, sigma, mode="nearest", truncate=5)
    soft /= np.maximum(ndimage.gaussian_filter(w, sigma, mode="nearest", truncate=5), 1e-12)
    x = x + w * (soft - x)
    x = x + 0.7 * m * (x * 2**0.4 - x)

    def saturate(rgb: np.ndarray, scale: float) -> np.ndarray:
        lab = oklab.linear_to_oklab(rgb)
        lab[..., 1:] *= scale
        return oklab.oklab_to_linear(lab)

    inner, outer = saturate(x, 1 + 0.2 * 0.8), saturate(x * 2 ** (-1.2 * 0.8), 1 - 0.3 * 0.8)
    return x + m * (inner - x) + w * (outer - x)


class AgainstThePlainTwin(TestCase):
    def test_within_one_code_of_the_float64_truth(self) -> None:
        source, sheet = photograph(), reference_sheet()
        made = Engine().picture(source, Order(sheet), source.full())
        plain = plain_twin(source, sheet)
        truth = np.clip(SRGB.transfer.encode(plain), 0, 1) * 255
        # what is beyond white is led there as a whole, which has tests of its own
        within = (plain <= 1).all(axis=2)
        self.assertGreater(within.mean(), 0.9)
        for codes, mean in ((screen_codes(made, SRGB), 0.3), (file_codes(made, SRGB, 8), 0.36)):
            away = np.abs(codes.astype(float) - truth)[within]
            self.assertLessEqual(away.max(), 1.0)
            # a dithered code is a third of one away from what it stands for, a rounded one a quarter
            self.assertLess(away.mean(), mean)


class AnySheet(TestCase):
    def test_strips_and_crops_equal_the_whole(self) -> None:
        source = photograph()
        for grade in ("mix", "radius"):
            order = Order(reference_sheet(grade))
            whole = Engine().picture(source, order, source.full())
            for first, last in ((0, 64), (64, 65), (131, 300)):
                strip = Engine().picture(source, order, source.full().rows(first, last))
                np.testing.assert_allclose(strip, whole[:, first:last], atol=ROUND, err_msg=grade)
            crop = window_of_rectangle((450, 300), 1.0, (101, 55, 83, 120))
            np.testing.assert_allclose(Engine().picture(source, order, crop), whole[:, 55:175, 101:184], atol=ROUND)

    def test_small_agrees_with_full_size(self) -> None:
        # CORE: SSIM at least 0.995 and mean ΔE00 at most 0.5 between quarter size and full size reduced
        picture = np.clip(np.repeat(np.repeat(data.astronaut(), 2, 0), 2, 1), 0, 255).astype(np.uint8)
        source = source_of(np.ascontiguousarray(np.moveaxis(picture, -1, 0)), SRGB, "large")
        for grade in ("mix", "radius"):
            order = Order(reference_sheet(grade))
            full = Engine().picture(source, order, source.full())
            small = Engine().picture(source, order, source.full(0.25))
            reduced = full.reshape(3, 256, 4, 256, 4).mean(axis=(2, 4), dtype=np.float32)
            one, other = screen_codes(small, SRGB), screen_codes(reduced, SRGB)
            self.assertGreaterEqual(metrics.structural_similarity(one, other, channel_axis=2), 0.995, grade)
            self.assertLessEqual(color.deltaE_ciede2000(color.rgb2lab(one), color.rgb2lab(other)).mean(), 0.5, grade)

    def test_what_is_kept_never_shows(self) -> None:
        source, engine, sheet = photograph(), Engine(), reference_sheet()
        for ev in (-0.4, -0.9, -0.4, 0.3):
            last = sheet.passes[2].model_copy(update={"outside": {"exposure": {"amount": ev}}})
            now = Order(sheet.model_copy(update={"passes": (*sheet.passes[:2], last)}))
            kept = engine.picture(source, now, source.full())
            np.testing.assert_array_equal(kept, Engine().picture(source, now, source.full()))
        self.assertGreater(engine.bytes_held, 0)

    def test_plans_and_keys_are_made_once(self) -> None:
        source, engine = photograph(), Engine()
        order = Order(reference_sheet())
        view = View("lattice", (0.0, 0.0, 450.0, 300.0), 1.0, "oval")
        with mock.patch("calado.render.engine.plan_sheets", wraps=plan_sheets) as planned:
            first = render_preview(engine, source, order, view).data
            self.assertEqual(planned.call_count, 1)
            # another sheet of the same values is planned anew, and shows the same
            self.assertEqual(render_preview(engine, source, Order(reference_sheet()), view).data, first)
            self.assertEqual(planned.call_count, 2)
        with mock.patch.object(Region, "model_dump_json", autospec=True, side_effect=Region.model_dump_json) as dumped:
            for _ in range(3):
                render_preview(engine, source, order, view)
            self.assertEqual(dumped.call_count, 0)

    def test_the_cache_is_bounded(self) -> None:
        source, engine = photograph(), Engine(cache_bytes=4 * 2**20)
        for k in range(6):
            moved = OVAL.model_copy(update={"parts": (OVAL.parts[0].model_copy(update={"opacity": 1 - k / 10}),)})
            engine.picture(source, Order(reference_sheet().model_copy(update={"regions": (moved,)})), source.full())
        self.assertLessEqual(engine.bytes_held, 4 * 2**20)

    def test_project_passes_run_last(self) -> None:
        source = photograph()
        up = Sheet(passes=(Pass(id="up", name="up", inside={"exposure": {"amount": 1.0}}),))
        shot = Engine().picture(source, Order(reference_sheet()), source.full())
        both = Engine().picture(source, Order(reference_sheet(), up), source.full())
        np.testing.assert_array_equal(both, shot * 2)

    def test_exaggerating_shows_four_times_the_strength(self) -> None:
        source = photograph()
        sheet = Sheet(passes=(Pass(id="a", name="a", inside={"exposure": {"amount": 0.25}}),))
        made = Engine().picture(source, Order(sheet, exaggerate="a"), source.full())
        np.testing.assert_allclose(made, source.planes(source.full()) * 2, rtol=1e-6)

    @settings(max_examples=15, deadline=None)
    @given(st.sampled_from(sorted(ADJUSTMENTS)), st.floats(0, 1), st.floats(0, 2), st.booleans())
    def test_any_adjustment_stays_finite(self, id: str, share: float, strength: float, outside: bool) -> None:
        main = ADJUSTMENTS[id].numbers[0]
        treatment = {id: {main.id: main.low + share * (main.high - main.low)}}
        side = {"outside" if outside else "inside": treatment}
        sheet = Sheet(regions=(OVAL,), passes=(Pass(id="a", name="a", region="oval", strength=strength, **side),))
        source = photograph(120)
        self.assertTrue(np.isfinite(Engine().picture(source, Order(sheet), source.full())).all())


class Views(TestCase):
    def view(self, name: str, **fields: object) -> np.ndarray:
        source = photograph()
        view = View(name, (0.0, 0.0, 450.0, 300.0), 1.0, "oval", format="png", **fields)  # type: ignore[arg-type]
        made = render_preview(Engine(), source, Order(reference_sheet()), view)
        import imagecodecs

        return np.asarray(imagecodecs.png_decode(made.data))

    def test_preview_at_scale_1_is_what_the_export_writes(self) -> None:
        source = photograph()
        made = Engine().picture(source, Order(reference_sheet()), source.full())
        shown = self.view("picture")
        np.testing.assert_array_equal(shown, screen_codes(made, SRGB))
        # the file is dithered
        self.assertLessEqual(np.abs(shown.astype(int) - file_codes(made, SRGB, 8)).max(), 1)

    def test_source_matte_and_cutout(self) -> None:
        source = photograph()
        matte = Engine().matte(source, alone(OVAL), source.full())
        np.testing.assert_array_equal(self.view("source"), np.moveaxis(source.levels[0], 0, -1))
        np.testing.assert_array_equal(self.view("matte")[..., 0], np.rint(matte * 255))
        cutout = self.view("cutout")
        self.assertTrue((cutout[matte == 0] == 128).all())
        np.testing.assert_array_equal(cutout[matte == 1], self.view("picture")[matte == 1])

    def test_grounds_of_the_cutout(self) -> None:
        matte = Engine().matte(photograph(), alone(OVAL), photograph().full())
        for ground, codes in (("black", {0}), ("white", {255}), ("checker", {96, 160})):
            self.assertEqual(set(np.unique(self.view("cutout", ground=ground)[matte == 0])), codes)
        board = self.view("cutout", ground="checker")[:, 0, 0]
        np.testing.assert_array_equal(board[:24], [96] * 12 + [160] * 12)

    def test_difference_is_four_times_the_change(self) -> None:
        change = np.abs(self.view("picture").astype(int) - self.view("source").astype(int))
        np.testing.assert_array_equal(self.view("difference"), np.minimum(4 * change, 255))

    def test_the_lattice_leaves_the_inside_whole_and_thins_with_the_matte(self) -> None:
        source = photograph()
        matte = Engine().matte(source, alone(OVAL), source.full())
        lattice, picture = self.view("lattice"), self.view("picture")
        np.testing.assert_array_equal(lattice[matte > 0.96], picture[matte > 0.96])
        changed = (lattice != picture).any(axis=2)
        dense, thin = changed[matte < 0.05].mean(), changed[(matte > 0.55) & (matte < 0.9)].mean()
        self.assertTrue(dense > 1.5 * thin > 0, (dense, thin))
        # openwork: most of the ground stays as it was
        self.assertLess(dense, 0.5)

    def test_a_region_that_is_not_there_is_refused(self) -> None:
        source = photograph()
        with self.assertRaisesRegex(RequestError, "no region"):
            render_preview(Engine(), source, Order(), View("matte", (0, 0, 9, 9), 1.0, "none"))

    def test_bad_rectangles_are_refused(self) -> None:
        source = photograph()
        for rectangle, scale in (((900, 0, 5, 5), 1.0), ((0, 0, 5, 5), 0.0), ((0, 0, float("nan"), 5), 1.0)):
            with self.assertRaises(RequestError):
                render_preview(Engine(), source, Order(), View("picture", rectangle, scale))

    def test_a_draft_has_half_the_scale_and_says_so(self) -> None:
        source = photograph()
        made = render_preview(Engine(), source, Order(), View("picture", (0, 0, 450, 300), 1.0, draft=True))
        self.assertTrue(made.coarse)
        self.assertEqual(made.rectangle, (0, 0, 450, 300))


class Sources(TestCase):
    def test_scaled_windows_are_area_means(self) -> None:
        planes = np.random.default_rng(1).random((3, 40, 60), np.float32)
        source = source_of(planes, SRGB)
        half = source.planes(source.full(0.5))
        np.testing.assert_allclose(half, planes.reshape(3, 20, 2, 30, 2).mean(axis=(2, 4)), atol=1e-6)
        third = source.planes(source.full(0.4))
        self.assertAlmostEqual(float(third.mean()), float(planes.mean()), 3)

    def test_a_stored_source_opens_the_same(self) -> None:
        source = replace(photograph(120), space=DISPLAY_P3)
        with tempfile.TemporaryDirectory() as folder:
            store_source(source, Path(folder))
            opened = open_source(Path(folder), "again")
            window = source.full(0.3)
            self.assertIs(opened.space, DISPLAY_P3)
            np.testing.assert_array_equal(opened.planes(window), source.planes(window))


class JoinedTables(TestCase):
    def test_adjustments_of_one_channel_each_run_as_one_table(self) -> None:
        treatment = {
            "contrast": {"amount": 0.3},
            "midtone": {"amount": -0.2},
            "tone": {"shadows_level": 0.3, "highlights_x": 0.4},
            "wash": {"amount": 0.4, "mode": "multiply"},
        }
        together = plan_sheets((Sheet(passes=(Pass(id="a", name="a", inside=treatment),)),), SRGB)
        steps = together[0].inside.stages[0]
        assert isinstance(steps, tuple)
        self.assertEqual(len(steps), 1)
        source = source_of(np.random.default_rng(1).random((3, 32, 48)).astype(np.float32), SRGB)
        apart = tuple(Pass(id=id, name=id, inside={id: values}) for id, values in treatment.items())
        one, each = (
            Engine().picture(source, Order(Sheet(passes=passes)), source.full())
            for passes in ((Pass(id="a", name="a", inside=treatment),), apart)
        )
        np.testing.assert_allclose(one, each, atol=1e-4)  # far below a code of eight bits
