"""The other blurs, checked against SciPy's convolution and against what a lens, a streak and a zoom must do."""

from unittest import TestCase
from unittest.mock import patch

import cv2
import numpy as np
from scipy.ndimage import convolve, convolve1d

from calado.adjust.blur.lamps import rebuilt
from calado.adjust.blur.lens import spans, through
from calado.adjust.blur.motion import smear
from calado.adjust.blur.zoom import zoomed
from calado.adjust.registry import ADJUSTMENTS
from calado.colour.spaces import SRGB
from calado.render.engine import Engine, Order
from calado.render.source import source_of
from calado.sheet.models import Part, Pass, Region, Sheet
from calado.window import full_window

RNG = np.random.default_rng(5)
NOISE = RNG.random((3, 70, 90)).astype(np.float32)
HALF = Region(
    id="half",
    name="half",
    parts=(Part(id="p", kind="rectangle", values={"x": 0.5, "y": 0.5, "width": 1.0, "height": 4.0}),),
)
BLURS = {
    "blur": {"radius": 0.05},
    "lens": {"radius": 0.06, "gain": 3.0},
    "motion": {"length": 0.2, "angle": 25.0},
    "zoom": {"amount": 0.2},
}


def render(planes: np.ndarray, side: str, treatment: dict[str, object], region: str | None = "half") -> np.ndarray:
    source = source_of(planes, SRGB)
    sheet = Sheet(regions=(HALF,), passes=(Pass(id="a", name="a", region=region, **{side: treatment}),))
    return Engine().picture(source, Order(sheet), source.full())


def aperture(radius: float, blades: int, turn_deg: float = 0.0) -> np.ndarray:
    """The opening drawn at 16 times its size and reduced: coverage of each cell."""
    size, fine = 2 * int(np.ceil(radius * 1.4)) + 1, 16
    canvas = np.zeros((size * fine, size * fine), np.uint8)
    middle = size * fine / 2 - 0.5
    if blades == 0:
        y, x = np.mgrid[: size * fine, : size * fine] - middle
        canvas[x**2 + y**2 <= (radius * fine) ** 2] = 1
    else:
        corners = radius * fine * np.sqrt(2 * np.pi / (blades * np.sin(2 * np.pi / blades)))
        angles = np.radians(turn_deg - 90) + 2 * np.pi * np.arange(blades) / blades
        points = np.stack([middle + corners * np.cos(angles), middle + corners * np.sin(angles)], axis=1)
        cv2.fillPoly(canvas, [np.rint(points).astype(np.int32)], 1)
    kernel = canvas.reshape(size, fine, size, fine).mean(axis=(1, 3))
    return kernel / kernel.sum()


class Lens(TestCase):
    def test_the_opening_has_the_area_of_its_disc(self) -> None:
        for blades in (0, 5, 6, 7, 8, 9):
            for radius in (1.5, 4.0, 7.3):
                rows = spans(radius, blades, 10.0)
                area = (rows[:, 2] - rows[:, 1]).sum() / (4 if radius < 6 else 1)
                self.assertAlmostEqual(float(area), np.pi * radius**2, delta=0.02 * radius**2)

    def test_against_scipy_with_the_same_opening(self) -> None:
        for blades in (0, 5, 6, 9):
            for radius in (2.0, 5.5):
                made = through(NOISE, spans(radius, blades, 20.0))
                kernel = aperture(radius, blades, 20.0)
                expected = np.stack([convolve(plane, kernel[::-1, ::-1], mode="nearest") for plane in NOISE])
                self.assertLess(np.abs(made - expected).max(), 0.02, (blades, radius))
                self.assertLess(np.abs(made - expected).mean(), 0.004, (blades, radius))

    def test_a_highlight_becomes_the_opening_and_gain_makes_it_count(self) -> None:
        planes = np.full((3, 121, 121), 0.05, np.float32)
        planes[:, 60, 60] = 20.0
        plain = render(planes, "inside", {"lens": {"radius": 10 / 121}}, None)
        more = render(planes, "inside", {"lens": {"radius": 10 / 121, "gain": 9.0}}, None)
        disc = plain[0] > 0.06
        self.assertAlmostEqual(float(disc.sum()), np.pi * 100, delta=0.12 * np.pi * 100)
        self.assertGreater(more[0, 60, 60], 5 * plain[0, 60, 60])

    def test_a_clipped_lamp_gets_the_disc_of_the_lamp_that_it_was(self) -> None:
        # a lamp of 16 times white in an orange glow, as it was, and as a camera cut it off
        y, x = np.mgrid[:161, :161] - 80.0
        for radius, stops in ((2.5, 4.0), (4.0, 3.0)):
            lamp, glow = (np.hypot(x, y) < radius), np.exp(-np.hypot(x, y) / 9)
            colour = np.array([1.0, 0.7, 0.4])[:, None, None]
            real = (0.01 + colour * (0.5 * glow + (2.0**stops) * lamp)).astype(np.float32)
            seen = np.minimum(real, 1)
            disc = aperture(20.0, 0)
            wanted = np.stack([convolve(plane, disc, mode="nearest") for plane in real])
            values = {"radius": 20 / 161}
            plain, made = (
                render(seen, "inside", {"lens": {**values, **more}}, None) for more in ({}, {"lamps": stops})
            )
            middle = np.hypot(x, y) < 16
            before, after = (each[:, middle].mean(axis=1) / wanted[:, middle].mean(axis=1) for each in (plain, made))
            self.assertTrue((before < 0.6).all(), before)
            np.testing.assert_allclose(after, 1, atol=0.25)
            # the disc has the lamp's colour again, which was all but white where it was cut off
            np.testing.assert_allclose(after / after.max(), 1, atol=0.2)

    def test_clipped_light_is_rebuilt_alike_in_a_smaller_preview(self) -> None:
        y, x = np.mgrid[:320, :320] - 160.0
        seen = np.minimum(0.02 + 3.0 * np.exp(-(np.hypot(x, y) ** 2) / 30), 1).astype(np.float32)
        planes = np.stack([seen, 0.8 * seen, 0.6 * seen])
        source = source_of(planes, SRGB)
        values = {"lens": {"radius": 30 / 320, "lamps": 4.0}}
        order = Order(Sheet(passes=(Pass(id="a", name="a", inside=values),)))
        whole = Engine().picture(source, order, source.full()).reshape(3, 160, 2, 160, 2).mean(axis=(2, 4))
        half = Engine().picture(source, order, source.full(0.5))
        disc = np.hypot(x, y)[::2, ::2] < 24
        np.testing.assert_allclose(half[:, disc].mean(axis=1), whole[:, disc].mean(axis=1), rtol=0.25)

    def test_what_is_not_clipped_is_left_alone_and_nothing_turns_darker(self) -> None:
        window = full_window(90, 70)
        calm = (0.8 * NOISE).astype(np.float32)
        self.assertIs(rebuilt(calm, window, 5.0), calm)
        self.assertIs(rebuilt(NOISE, window, 0.0), NOISE)
        bright = (NOISE + 0.3).astype(np.float32)
        self.assertTrue((rebuilt(bright, window, 3.0) >= bright).all())
        # light that a file holds beyond white was not clipped
        far = np.full((3, 70, 90), 4.0, np.float32)
        np.testing.assert_array_equal(rebuilt(far, window, 3.0), far)


class Motion(TestCase):
    def test_level_and_upright_against_scipy(self) -> None:
        for length in (5, 9):
            kernel = np.full(length, 1 / length)
            for angle, axis in ((0.0, 2), (90.0, 1), (180.0, 2), (-90.0, 1)):
                made = smear(NOISE, length, angle, (0, 0))
                np.testing.assert_allclose(made, convolve1d(NOISE, kernel, axis=axis, mode="nearest"), atol=2e-6)

    def test_a_line_over_an_odd_length_peaks_at_one_over_it(self) -> None:
        planes = np.zeros((3, 41, 41), np.float32)
        planes[:, 20, 20] = 1
        made = smear(planes, 9, 90, (0, 0))
        self.assertAlmostEqual(float(made.max()), 1 / 9, places=6)
        self.assertAlmostEqual(float(made[0].sum()), 1, places=5)

    def test_any_angle_smears_along_its_line_alone(self) -> None:
        y, x = np.mgrid[:90, :140]
        for angle in (20.0, 45.0, 63.0, -30.0, 110.0):
            turn = np.radians(angle)
            across = (-x * np.sin(turn) + y * np.cos(turn)).astype(np.float32)
            along = (x * np.cos(turn) + y * np.sin(turn)).astype(np.float32)
            for wave, kept in ((np.sin(across * 0.3), True), (np.sin(along * 2 * np.pi / 15), False)):
                planes = np.tile(wave.astype(np.float32), (3, 1, 1))
                made = smear(planes, 15, angle, (3, 5))[:, 25:-25, 25:-25]
                # a wave that varies across the line stays; one of the line's own length vanishes
                expected = planes[:, 25:-25, 25:-25] if kept else 0
                self.assertLess(np.abs(made - expected).max(), 0.06, (angle, kept))

    def test_an_upright_streak_leaves_what_varies_only_across(self) -> None:
        planes = np.tile(RNG.random((3, 1, 80)).astype(np.float32), (1, 60, 1))
        np.testing.assert_allclose(
            render(planes, "inside", {"motion": {"length": 0.5, "angle": 90.0}}), planes, atol=2e-6
        )

    def test_blocks_make_no_difference(self) -> None:
        long = np.ascontiguousarray(np.tile(NOISE, (1, 1, 9)))
        for angle in (20.0, 70.0):
            planes = long if angle < 45 else np.ascontiguousarray(long.transpose(0, 2, 1))
            made = smear(planes, 31, angle, (7, 3))
            with patch("calado.adjust.blur.motion.BLOCK", 5000):
                np.testing.assert_allclose(made, smear(planes, 31, angle, (7, 3)), atol=2e-4)

    def test_windows_agree_wherever_they_begin(self) -> None:
        whole = smear(np.ascontiguousarray(NOISE), 7, 33, (0, 0))
        part = smear(np.ascontiguousarray(NOISE[:, 20:60, 20:70]), 7, 33, (20, 20))
        np.testing.assert_allclose(part[:, 10:-10, 10:-10], whole[:, 30:50, 30:60], atol=1e-5)


class Zoom(TestCase):
    def test_rays_stay_and_rings_dissolve(self) -> None:
        y, x = (np.mgrid[:101, :101] - 50).astype(np.float32)
        rays = np.tile(np.cos(5 * np.arctan2(y, x)), (3, 1, 1)).astype(np.float32)
        rings = np.tile(np.cos(np.hypot(x, y) * 1.2), (3, 1, 1)).astype(np.float32)
        away = np.hypot(x, y) > 30
        made_rays, made_rings = (zoomed(each, 0.3, (50, 50), 71) for each in (rays, rings))
        self.assertLess(np.abs(made_rays - rays)[:, away].mean(), 0.05)
        self.assertLess(np.abs(made_rings)[:, away].mean(), 0.25 * np.abs(rings)[:, away].mean())
        np.testing.assert_allclose(made_rays[:, 50, 50], rays[:, 50, 50], atol=0.3)


class AllBlurs(TestCase):
    def test_a_flat_picture_stays_flat_to_the_edge_of_the_frame(self) -> None:
        planes = np.full((3, 60, 80), 0.8, np.float32)
        for id, values in BLURS.items():
            for side in ("inside", "outside"):
                np.testing.assert_allclose(render(planes, side, {id: values}), planes, atol=1e-5, err_msg=id)

    def test_no_light_crosses_a_hard_edge(self) -> None:
        # the naive way leaves half the contrast just beside the edge (derived in the project's definitions)
        planes = np.full((3, 80, 120), 0.1, np.float32)
        planes[:, :, :80] = 0.9
        for id, values in BLURS.items():
            made = render(planes, "outside", {id: values})
            np.testing.assert_allclose(made, planes, atol=2e-5, err_msg=id)
        naive = cv2.GaussianBlur(planes[0], (0, 0), 4.0)
        self.assertAlmostEqual(float(naive[40, 80] - 0.1), 0.5 * 0.8, delta=0.06)

    def test_across_and_down_can_differ(self) -> None:
        planes = np.zeros((3, 61, 61), np.float32)
        planes[:, 30, 30] = 1
        made = render(planes, "inside", {"blur": {"radius": 4 / 61, "down": 0.0}}, None)
        np.testing.assert_allclose(made[:, :30], 0, atol=1e-7)
        spread = (made[0, 30] * (np.arange(61) - 30) ** 2).sum() / made[0, 30].sum()
        self.assertAlmostEqual(float(np.sqrt(spread)), 4.0, delta=0.1)

    def test_by_distance_the_ground_stays_sharp(self) -> None:
        planes = np.repeat(NOISE, 2, axis=2)
        values = {"radius": 0.05, "grade": "distance", "contact": 0.8, "span": 0.5}
        for id in ("blur", "lens"):
            made = render(planes, "outside", {id: values})
            moved = np.abs(made - planes)[:, :, 130:].mean(axis=(0, 2))
            self.assertLess(moved[56], 0.02, id)
            self.assertGreater(moved[5], 5 * moved[54], id)
        self.assertIn("lens", ADJUSTMENTS)

    def test_what_follows_a_graded_blur_keeps_to_its_side(self) -> None:
        planes = np.full((3, 60, 80), 0.4, np.float32)
        graded = {"blur": {"radius": 0.02, "grade": "radius"}}
        for after in ({"cut": {"amount": 1.0}}, {"grain": {"amount": 1.0}, "cut": {"amount": 1.0}}):
            made = render(planes, "outside", {**graded, **after})
            np.testing.assert_allclose(made[:, :, :58], 0.4, atol=1e-5)
            np.testing.assert_array_equal(made[:, :, 62:], 0)
