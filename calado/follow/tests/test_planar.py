"""Following against clips of which every corner is known, and fits against OpenCV and formulas."""

import unittest

import cv2
import numpy as np

from calado.follow.fits import carried, fitted, shift
from calado.follow.margin import margin_of
from calado.follow.motion import Step
from calado.follow.planar import Found, Planar
from calado.follow.several import Several, blended
from calado.follow.template import noise_of
from calado.follow.tests.moving import Clip, Plan

SEEDS = range(1, 3)


def followed(clip: Clip) -> tuple[list[float], list[Found]]:
    """Return of each frame by how many pixels the worst corner is off, and what was found."""
    frames = list(clip.frames())
    follower = Planar(frames[0].codes, clip.card)
    found = [follower.step(each.codes) for each in frames[1:]]
    off = [
        float(np.linalg.norm(carried(each.matrix, clip.corners) - carried(true.matrix, clip.corners), axis=1).max())
        for each, true in zip(found, frames[1:], strict=True)
    ]
    return off, found


class Corners(unittest.TestCase):
    def test_within_a_fraction_of_a_pixel_in_every_frame(self) -> None:
        plans = {
            "goes": (Plan(), 0.25),
            "fast": (Plan(way=(420, 60)), 0.35),
            "larger": (Plan(scale=1.8, way=(60, 20)), 0.5),
            "smaller": (Plan(scale=0.5), 0.5),
            "turned": (Plan(turn=120), 0.35),
            "tilted": (Plan(tilt=40), 0.6),
            "noisy": (Plan(noise=12), 0.9),
            "darker": (Plan(light=1.2), 0.5),
        }
        for name, (plan, worst) in plans.items():
            for seed in SEEDS:
                with self.subTest(name, seed=seed):
                    off, found = followed(Clip(plan, seed, frames=14))
                    self.assertLess(max(off), worst)
                    self.assertEqual({each.state for each in found}, {"on"})
                    self.assertGreater(min(each.confidence for each in found), 0.5)

    def test_behind_something_and_in_another_shot_it_is_held_and_found_again(self) -> None:
        for plan in (Plan(hidden=range(9, 14)), Plan(elsewhere=range(9, 14))):
            for seed in SEEDS:
                with self.subTest(plan=plan, seed=seed):
                    off, found = followed(Clip(plan, seed))
                    # frame n is at n - 1, as the first is the reference
                    self.assertEqual({each.state for each in found[8:13]}, {"held"})
                    self.assertLess(max(each.confidence for each in found[8:13]), 0.5)
                    np.testing.assert_array_equal(found[12].matrix, found[7].matrix)
                    self.assertEqual([each.state for each in found[13:]], ["on"] * 10)
                    self.assertLess(max(off[13:]), 0.4)

    def test_it_goes_on_from_where_it_is_put(self) -> None:
        clip = Clip(Plan(turn=60), 5)
        frames = list(clip.frames())
        follower = Planar(frames[0].codes, clip.card)
        follower.go_on(frames[11].codes, frames[11].matrix)
        found = follower.step(frames[12].codes)
        off = np.linalg.norm(carried(found.matrix, clip.corners) - carried(frames[12].matrix, clip.corners), axis=1)
        self.assertLess(off.max(), 0.3)

    def test_a_region_without_texture_is_never_surely_somewhere_else(self) -> None:
        flat = np.full((200, 300), 120, np.uint8)
        mask = np.zeros(flat.shape, bool)
        mask[60:120, 80:160] = True
        rng = np.random.default_rng(1)
        noisy = [np.clip(flat + rng.normal(0, 2, flat.shape), 0, 255).astype(np.uint8) for _ in range(4)]
        follower = Planar(noisy[0], mask)
        for each in noisy[1:]:
            self.assertLess(follower.step(each).confidence, 0.5)

    def test_without_texture_it_is_held_by_its_outline_and_colours(self) -> None:
        for seed in SEEDS:
            plan = Plan(way=(160, 60), spread=1, noise=2, turn=25, colour=(152, 96))
            off, found = followed(Clip(plan, seed))
            self.assertEqual({each.state for each in found}, {"on"})
            self.assertLess(max(off), 2.0)
            self.assertLess(float(np.median(off)), 0.6)
            # another of its kind would look the same: never as sure as by texture
            self.assertLess(max(each.confidence for each in found), 0.8)
            self.assertGreater(min(each.confidence for each in found), 0.5)

    def test_without_texture_it_is_found_again_but_not_surely(self) -> None:
        plan = Plan(spread=1, noise=2, colour=(152, 96), elsewhere=range(9, 14))
        for seed in SEEDS:
            off, found = followed(Clip(plan, seed))
            self.assertEqual({each.state for each in found[8:13]}, {"held"})
            self.assertEqual([each.state for each in found[13:]], ["on"] * 10)
            self.assertLess(max(off[13:]), 2.0)
            self.assertLess(found[13].confidence, 0.5)

    def test_a_smear_is_read_from_the_picture(self) -> None:
        for shutter in (0.0, 0.5):
            clip = Clip(Plan(way=(320, 40), shutter=shutter), 3)
            frames = list(clip.frames())
            follower = Planar(frames[0].codes, clip.card)
            fastest = 12
            for each in frames[1:fastest]:
                follower.step(each.codes)
            path = np.linalg.norm(
                carried(frames[fastest].matrix, clip.corners) - carried(frames[fastest - 1].matrix, clip.corners),
                axis=1,
            ).max()
            found = follower.step(frames[fastest].codes)
            self.assertAlmostEqual(found.smear, shutter * path / 2, delta=0.13 * path)


class References(unittest.TestCase):
    def test_of_two_references_the_one_that_still_looks_like_it_is_believed(self) -> None:
        # it turns so far away that its first look tells nothing any more
        clip = Clip(Plan(scale=0.3, tilt=50, noise=6), 2, frames=30)
        frames = list(clip.frames())
        several = Several(frames[0].codes, clip.card, "perspective")
        several.go_on(frames[20].codes, frames[20].matrix)
        for each in frames[21:]:
            found = several.step(each.codes)
            off = np.linalg.norm(carried(found.matrix, clip.corners) - carried(each.matrix, clip.corners), axis=1)
            self.assertLess(off.max(), 1.0)
            self.assertEqual(found.state, "on")

    def test_between_two_that_are_sure_it_lies_between_them_else_where_one_is(self) -> None:
        box = np.array([[0.2, 0.2], [0.6, 0.2], [0.6, 0.5], [0.2, 0.5]])
        here, there = Step(shift(0.1, 0.0), 0.9), Step(shift(0.11, 0.004), 0.95)
        made = blended(here, there, 0.25, box, 720)
        np.testing.assert_allclose(carried(made.matrix, box), box + np.array([0.1025, 0.001]), atol=1e-6)
        self.assertEqual(made.confidence, 0.9)
        unsure, far = Step(shift(0.3, 0.0), 0.2), Step(shift(0.2, 0.0), 0.95)
        self.assertIs(blended(here, unsure, 0.9, box, 720), here)
        self.assertIs(blended(unsure, there, 0.1, box, 720), there)
        self.assertIs(blended(here, far, 0.5, box, 720), far)


class Covers(unittest.TestCase):
    def test_what_shows_is_covered_in_every_frame_that_is_not_open(self) -> None:
        plans = (Plan(way=(320, 40), shutter=0.5), Plan(noise=9, turn=50), Plan(hidden=range(9, 14)), Plan(scale=0.5))
        for seed, plan in enumerate(plans):
            clip = Clip(plan, seed)
            frames = list(clip.frames())
            follower, high = Planar(frames[0].codes, clip.card), clip.card.shape[0]
            for number, each in enumerate(frames[1:], start=1):
                found = follower.step(each.codes)
                if found.state == "held" or found.confidence < 0.5 or number in plan.hidden:
                    continue
                step = Step(found.matrix, found.confidence, smear=found.smear / high)
                laid = cv2.warpPerspective(clip.card.astype(np.uint8), found.matrix, clip.card.shape[::-1])
                away = cv2.distanceTransform(1 - laid, cv2.DIST_L2, 5)
                seen = clip.seen(number)
                beside = seen[away > high * margin_of(step, "perspective")].sum()
                self.assertLess(float(beside), 0.001 * float(seen.sum()))


class Fits(unittest.TestCase):
    def test_the_simplest_that_explains_the_points(self) -> None:
        rng = np.random.default_rng(2)
        a = rng.uniform(0, 300, (60, 2))
        similar = np.array([[0.9, -0.3, 12.0], [0.3, 0.9, -7], [0, 0, 1]])
        perspective = np.array([[1.1, 0.1, 5], [-0.05, 0.95, 3], [4e-4, -2e-4, 1]])
        for true in (shift(31.5, -4.25), similar, perspective):
            b = carried(true, a)
            b[::6] += rng.uniform(20, 60, (10, 2))
            found = fitted(a, b, 1.5, "perspective")
            assert found is not None
            matrix, good = found
            np.testing.assert_allclose(carried(matrix, a), carried(true, a), atol=0.05)
            np.testing.assert_array_equal(np.flatnonzero(~good), np.arange(0, 60, 6))
        self.assertIsNone(fitted(a[:2], a[:2], 1.5, "perspective"))

    def test_carried_as_opencv_does(self) -> None:
        matrix = np.array([[1.1, 0.1, 5], [-0.05, 0.95, 3], [4e-4, -2e-4, 1]])
        points = np.array([[3.0, 4], [100, 50], [-20, 7]])
        np.testing.assert_allclose(carried(matrix, points), cv2.perspectiveTransform(points[None], matrix)[0])

    def test_noise_is_measured(self) -> None:
        rng = np.random.default_rng(3)
        slope = np.linspace(20, 220, 400)[None] + np.zeros((300, 1))
        for true in (2.0, 6.0, 12.0):
            self.assertAlmostEqual(
                noise_of((slope + rng.normal(0, true, slope.shape)).astype(np.float32)), true, delta=0.05 * true
            )
