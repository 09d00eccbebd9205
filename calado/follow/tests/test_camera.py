"""The camera's own motion, on made takes of which everything is known: random sets, stated seeds, the worst frame."""

import unittest

import numpy as np

from calado.follow.camera import Camera, OnSet
from calado.follow.tests.filmed import TAKES, Film, Take, off_at_corners

FRAMES, SIZE = 24, (640, 360)
#: worst and median corner of the frame, in pixels; of the hardest one more is let through
HARD = {"all of it": (3.0, 0.6)}
WITHIN = (1.5, 0.5)


class Motions(unittest.TestCase):
    def test_within_a_pixel_at_the_frame_s_corners_and_lost_only_where_there_is_nothing_to_see(self) -> None:
        for name in ("… and comes back", "somebody walks by, a third of the frame", "all of it"):
            with self.subTest(name):
                take = TAKES[name]
                film = Film(take, 7, FRAMES, SIZE)
                first, *others = film.frames()
                camera = Camera(first.codes, np.zeros(first.codes.shape, bool))
                off = []
                for number, made in enumerate(others, start=1):
                    motion = camera.step(made.codes)
                    if number in take.elsewhere:
                        self.assertIsNone(motion, number)
                        continue
                    assert motion is not None, f"{name}, frame {number}"
                    off.append(off_at_corners(np.linalg.inv(motion), made.matrix, SIZE))
                worst, median = HARD.get(name, WITHIN)
                self.assertLess(max(off), worst)
                self.assertLess(float(np.median(off)), median)

    def test_where_it_stands_nothing_moves(self) -> None:
        first, *_ = Film(TAKES["pans by 20°"], 3, 2, SIZE).frames()
        camera = Camera(first.codes, np.zeros(first.codes.shape, bool))
        motion = camera.step(first.codes)
        assert motion is not None
        np.testing.assert_allclose(motion, np.eye(3), atol=1e-4)

    def test_a_frame_of_one_grey_shows_no_set(self) -> None:
        first, *_ = Film(TAKES["pans by 20°"], 3, 2, SIZE).frames()
        camera = Camera(first.codes, np.zeros(first.codes.shape, bool))
        self.assertIsNone(camera.step(np.full(first.codes.shape, 90, np.uint8)))
        self.assertIsNotNone(camera.step(first.codes))


class Regions(unittest.TestCase):
    def test_a_region_stays_on_the_set_from_a_frame_further_on_too(self) -> None:
        film = Film(Take(pan=15, walker=0.2), 5, FRAMES, SIZE)
        made = list(film.frames())
        follower = OnSet(made[0].codes)
        # gone on with from frame 8, where it lies right
        follower.go_on(made[8].codes, made[8].matrix)
        for each in made[9:]:
            found = follower.step(each.codes)
            self.assertEqual(found.state, "on")
            self.assertLess(off_at_corners(found.matrix, each.matrix, SIZE), 1.0)
