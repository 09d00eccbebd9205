"""Covers, grain, painting and bulge: what each promises."""

from unittest import TestCase

import cv2
import numpy as np

from calado.adjust.detail.guided import base_of
from calado.adjust.texture.noise import field
from calado.colour.spaces import SRGB
from calado.render.engine import Engine, Order
from calado.render.source import source_of
from calado.sheet.models import Part, Pass, Region, Sheet
from calado.window import full_window

RNG = np.random.default_rng(9)
NOISE = RNG.random((3, 96, 144)).astype(np.float32)
PLATE = Region(
    id="plate",
    name="plate",
    parts=(Part(id="p", kind="rectangle", values={"x": 0.75, "y": 0.5, "width": 0.75, "height": 0.5}),),
)


def render(planes: np.ndarray, treatment: dict[str, object], region: str | None = "plate") -> np.ndarray:
    source = source_of(planes, SRGB)
    sheet = Sheet(regions=(PLATE,), passes=(Pass(id="a", name="a", region=region, inside=treatment),))
    return Engine().picture(source, Order(sheet), source.full())


class Mosaic(TestCase):
    def test_a_cell_has_the_mean_of_its_light_and_nothing_else_changes(self) -> None:
        made = render(NOISE, {"mosaic": {"size": 12 / 96}})
        rows, columns = slice(24, 72), slice(36, 108)
        cells = NOISE[:, rows, columns].reshape(3, 4, 12, 6, 12).mean(axis=(2, 4))
        np.testing.assert_allclose(made[:, rows, columns], np.kron(cells, np.ones((1, 12, 12))), atol=1e-6)
        made[:, rows, columns] = NOISE[:, rows, columns]
        np.testing.assert_array_equal(made, NOISE)

    def test_each_shape_has_one_value_a_cell_and_cells_of_its_size(self) -> None:
        for shape, area in (("square", 144), ("hexagon", 144), ("diamond", 72)):
            made = render(NOISE, {"mosaic": {"size": 12 / 96, "shape": shape}}, None)
            values = np.unique(made[0].round(6))
            self.assertAlmostEqual(96 * 144 / len(values), area, delta=area * 0.25, msg=shape)

    def test_tall_cells(self) -> None:
        made = render(NOISE, {"mosaic": {"size": 12 / 96, "tall": 2.0}}, None)
        np.testing.assert_allclose(made[0, :24, :12], NOISE[0, :24, :12].mean(), atol=1e-6)

    def test_rectangles_of_any_size_have_the_means_of_their_pixels(self) -> None:
        high, wide = NOISE.shape[1:]
        for size, tall in ((7.3, 1.0), (4.0, 0.1), (1.2, 0.5), (30.0, 3.0), (0.9, 2.0), (40.0, 1.0)):
            made = render(NOISE, {"mosaic": {"size": size / high, "tall": tall}}, None)
            rows = np.floor((np.arange(high) + 0.5) / (size * tall)).astype(int)
            columns = np.floor((np.arange(wide) + 0.5) / size).astype(int)
            cells = np.unique(rows[:, None] * 10_000 + columns, return_inverse=True)[1].ravel()
            for plane, shown in zip(NOISE, made, strict=True):
                means = np.bincount(cells, plane.ravel()) / np.bincount(cells)
                np.testing.assert_allclose(shown.ravel(), means[cells], atol=1e-5, err_msg=f"{size} {tall}")


class Solid(TestCase):
    def test_what_is_covered_leaves_no_trace_not_even_as_a_nan(self) -> None:
        other = NOISE.copy()
        other[:, 24:72, 36:108] = np.nan
        one, two = render(NOISE, {"solid": {"amount": 1.0}}), render(other, {"solid": {"amount": 1.0}})
        np.testing.assert_array_equal(one, two)

    def test_under_a_pass_that_follows_too(self) -> None:
        passes = (
            Pass(id="a", name="a", region="plate", inside={"solid": {"amount": 1.0}}),
            Pass(id="b", name="b", inside={"blur": {"radius": 0.05}}),
        )
        made = []
        for planes in (NOISE, np.where(np.arange(144) // 36 % 3 == 1, np.float32(0.5), NOISE)):
            hidden = NOISE.copy()
            hidden[:, 24:72, 36:108] = planes[:, 24:72, 36:108]
            source = source_of(hidden, SRGB)
            made.append(Engine().picture(source, Order(Sheet(regions=(PLATE,), passes=passes)), source.full()))
        np.testing.assert_array_equal(made[0], made[1])


class Scramble(TestCase):
    def test_little_of_the_detail_is_left(self) -> None:
        made = render(NOISE, {"scramble": {"radius": 0.1}}, None)
        # what follows the hidden pixels, once the noise that is the same for all of them is taken off
        flat = render(np.full_like(NOISE, 0.5), {"scramble": {"radius": 0.1}}, None)
        self.assertLess(float((made / flat * 0.5).std()), 0.1 * float(NOISE.std()))
        self.assertGreater(float(np.log2(flat).std()), 0.15)


class Grain(TestCase):
    def flat(self, signal: float, **values: object) -> np.ndarray:
        planes = np.full((3, 300, 300), SRGB.transfer.decode(np.array(signal)), np.float32)
        return SRGB.transfer.encode(render(planes, {"grain": {"amount": 1.0, "size": 2 / 300, **values}}, None))

    def test_none_in_the_shadows_more_with_the_light_and_never_a_step(self) -> None:
        spread = [float(self.flat(signal).std()) for signal in np.linspace(0.05, 0.95, 19)]
        self.assertLess(spread[0], 1e-6)
        self.assertLess(spread[3], 1e-6)
        self.assertTrue((np.diff(spread) > -0.004).all())
        self.assertLess(np.diff(spread).max(), 0.03)
        self.assertAlmostEqual(spread[16], 0.15, delta=0.015)

    def test_the_same_seed_gives_the_same_grain_and_another_another(self) -> None:
        np.testing.assert_array_equal(self.flat(0.7), self.flat(0.7))
        alike = np.corrcoef(self.flat(0.7)[0].ravel(), self.flat(0.7, seed=2.0)[0].ravel())[0, 1]
        self.assertLess(abs(alike), 0.05)

    def test_the_field_is_even_at_every_size(self) -> None:
        window = full_window(400, 400)
        for size in (1 / 400, 3 / 400, 8 / 400):
            noise = field(window, size, 1)
            self.assertAlmostEqual(float(noise.mean()), 0, delta=0.05)
            self.assertAlmostEqual(float(noise.std()), 1, delta=0.05)
        # at half the size a pixel holds four grains of one pixel each, so it has half their spread
        self.assertAlmostEqual(float(field(full_window(400, 400, 0.5), 1 / 400, 1).std()), 0.5, delta=0.03)


class Painterly(TestCase):
    def test_areas_flatten_and_an_edge_stays(self) -> None:
        planes = np.full((3, 90, 120), 0.2, np.float32)
        planes[:, :, 60:] = 0.7
        noisy = planes + RNG.normal(0, 0.02, planes.shape).astype(np.float32)
        made = render(noisy, {"painterly": {"amount": 1.0, "size": 0.1}}, None)
        self.assertLess(made[:, :, :50].std(), 0.4 * noisy[:, :, :50].std())
        step = made[0, 10:80, 60].mean() - made[0, 10:80, 59].mean()
        self.assertGreater(step, 0.4)


class Guided(TestCase):
    def test_against_opencv_at_single_pixels(self) -> None:
        plane = np.ascontiguousarray(NOISE[0])
        window = full_window(144, 96)
        for radius, eps in ((3, 0.01), (3, 0.2)):
            made = base_of(plane, radius, eps, window)
            theirs = cv2.ximgproc.guidedFilter(plane, plane, radius, eps)
            inner = (slice(8, -8), slice(8, -8))  # theirs mirrors at the frame, ours continues
            np.testing.assert_allclose(made[inner], theirs[inner], atol=2e-4)

    def test_a_strong_edge_stays_and_a_weak_ripple_goes(self) -> None:
        _, x = np.mgrid[:200, :300]
        plane = (np.where(x < 150, 0.2, 0.8) + 0.02 * np.sin(x * 1.7)).astype(np.float32)
        base = base_of(plane, 20.0, 0.01, full_window(300, 200))
        self.assertGreater(base[100, 156] - base[100, 143], 0.5)
        self.assertLess(base[100, 50:100].std(), 0.25 * plane[100, 50:100].std())


class Haze(TestCase):
    def test_taking_away_clears_what_adding_veiled(self) -> None:
        _, x = np.mgrid[:120, :180]
        scene = np.stack([0.4 * (np.sin(x / 9 + k) > 0) + 0.02 * k for k in range(3)]).astype(np.float32)
        scene[:, :12] = 0.9  # the sky, which is all veil
        veiled = scene * 0.5 + 0.9 * 0.5
        cleared = render(veiled, {"haze": {"amount": -0.9}}, None)
        self.assertGreater(cleared.std(), 1.5 * veiled.std())
        self.assertLess(np.abs(cleared - scene).mean(), 0.5 * np.abs(veiled - scene).mean())


class Bulge(TestCase):
    def test_the_centre_is_enlarged_and_the_rim_stays(self) -> None:
        y, x = np.mgrid[:120, :180].astype(np.float32)
        planes = np.stack([(x + 0.5) / 120, (y + 0.5) / 120, np.ones_like(x)])
        values = {"amount": 0.5, "radius": 0.3, "x": 0.75, "y": 0.5}
        made = render(planes, {"bulge": values}, None)
        slope = made[0, 60, 91] - made[0, 60, 90]
        self.assertAlmostEqual(float(slope * 120), 0.5, delta=0.02)
        far = np.hypot((x + 0.5) / 120 - 0.75, (y + 0.5) / 120 - 0.5) > 0.3
        np.testing.assert_array_equal(made[:, far], planes[:, far])
