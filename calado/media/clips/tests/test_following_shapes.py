"""A shape followed through a made clip against its exact mattes: a figure with a fringe that walks, behind a pillar."""

import tempfile
import unittest
from functools import cache
from pathlib import Path

import cv2
import numpy as np

from calado.errors import RequestError
from calado.follow.camera import Camera
from calado.follow.carried import sheet_in_time
from calado.follow.motion import Motion, Step, motion_bytes, motion_from
from calado.follow.tests.dancing import PAN, SIZE, scene, truth
from calado.media.clips.clip import Clip
from calado.media.clips.following import follow_region
from calado.media.clips.following_shapes import followed_shape
from calado.media.clips.frames import Frames
from calado.media.clips.tests.made import make
from calado.media.clips.way import Way
from calado.media.mattes import folder_sums, store_matte
from calado.render.assets import Assets
from calado.render.engine import Engine
from calado.render.resolve import resolve
from calado.sheet.models import Part, Region, Sheet, Stroke, Track

FRAMES = 30
#: frames in which half of the figure or more is to be seen, and those in which the pillar stands before it
BEHIND = range(14, 23)
HELD = tempfile.TemporaryDirectory()
FOLDER = Path(HELD.name)


@cache
def clip() -> Path:
    return make(FOLDER / "walks.mp4", FRAMES, size=SIZE, scene=scene, options={"crf": "12"})


def keep(codes: np.ndarray) -> str:
    return store_matte(codes, FOLDER)


def matte_of(step: Step) -> np.ndarray:
    sums = folder_sums(FOLDER)(step.matte)
    return np.diff(np.diff(sums, axis=0), axis=1)


def followed(keys: dict[int, np.ndarray], at: int = 0, frames: tuple[int, int] = (0, FRAMES - 1)) -> Motion:
    with Clip(clip()) as opened:
        way = Way(at, frames)
        return followed_shape(
            Frames(opened, "walks"), 1.0, keys, {}, way, (0.3, 0.5), keep, lambda frame, step, share: True
        )


@cache
def from_the_first() -> Motion:
    return followed({0: truth(0)})


def likeness(a: np.ndarray, b: np.ndarray) -> float:
    """Return the share of soft mattes: the sum of the lesser over that of the greater."""
    return float(np.minimum(a, b).sum() / np.maximum(a, b).sum())


class Shapes(unittest.TestCase):
    def test_it_is_cut_out_in_every_frame_from_one(self) -> None:
        found = {frame: likeness(matte_of(step), truth(frame)) for frame, step in from_the_first().steps.items()}
        open_ones = [found[frame] for frame in range(1, FRAMES) if frame not in BEHIND]
        self.assertEqual(len(found), FRAMES)
        self.assertGreater(np.median(open_ones), 0.86)
        self.assertGreater(min(open_ones), 0.82, found)
        # behind the pillar, what shows on both sides of it
        self.assertGreater(np.median([found[frame] for frame in BEHIND]), 0.75, found)

    def test_where_it_is_sure_it_is_right(self) -> None:
        for frame, step in from_the_first().steps.items():
            if step.sureness > 0.8:
                self.assertGreater(likeness(matte_of(step), truth(frame)), 0.7, (frame, step.confidence))

    def test_its_fringe_stays_a_fringe(self) -> None:
        against = []
        for frame in (each for each in range(1, FRAMES) if each not in BEHIND):
            true, made = truth(frame), matte_of(from_the_first().steps[frame])
            soft = (true > 0.02) & (true < 0.98)
            off, hard = (float(np.abs(each - true)[soft].mean()) for each in (made, true > 0.5))
            against.append(off / hard)
        # on the whole nearer than the best mask without softness, which is cut from the truth, and never far from it
        self.assertLess(np.median(against), 0.95, against)
        self.assertLess(max(against), 1.2, against)

    def test_it_says_how_the_figure_goes(self) -> None:
        """The middle of the matte, against the truth's."""
        steps = from_the_first().steps
        for frame in (4, 8, 26):
            x = [float((each.sum(axis=0) @ np.arange(SIZE[0])) / each.sum()) for each in (truth(0), truth(frame))]
            self.assertAlmostEqual(
                steps[frame].matrix[0, 2] * SIZE[1] + (steps[frame].matrix[0, 0] - 1) * x[0], x[1] - x[0], delta=2
            )

    def test_backwards_and_between_two_keys(self) -> None:
        back = followed({26: truth(26)}, at=26, frames=(23, 26))
        self.assertGreater(min(likeness(matte_of(back.steps[n]), truth(n)) for n in (23, 24, 25)), 0.8)
        # between two that were marked it is at least as good as from the first alone
        both = followed({0: truth(0), 8: truth(8)}, frames=(0, 8))
        alone = [likeness(matte_of(from_the_first().steps[n]), truth(n)) for n in range(1, 8)]
        mended = [likeness(matte_of(both.steps[n]), truth(n)) for n in range(1, 8)]
        self.assertGreater(np.mean(mended), np.mean(alone) - 0.01)
        np.testing.assert_allclose(matte_of(both.steps[8]), truth(8), atol=1 / 65535)

    def test_stopped_it_keeps_what_it_has(self) -> None:
        with Clip(clip()) as opened:
            for limit in (0.1, 0.9):
                way = Way(0, (0, 9))
                motion = followed_shape(
                    Frames(opened, "walks"),
                    1.0,
                    {0: truth(0)},
                    {},
                    way,
                    (0.3, 0.5),
                    keep,
                    lambda f, s, share, limit=limit: share < limit,
                )
                self.assertIn(0, motion.steps)
                self.assertLess(len(motion.steps), 10)
                self.assertEqual(len(motion.steps) > 1, limit > 0.5)

    def test_a_motion_with_mattes_is_read_as_it_was_written(self) -> None:
        motion = from_the_first()
        again = motion_from(motion_bytes(motion))
        self.assertEqual(again.kind, "shape")
        self.assertEqual(
            [each.matte for each in again.steps.values()], [motion.steps[n].matte for n in sorted(motion.steps)]
        )


class OnASheet(unittest.TestCase):
    """A rough-in, marked in the first frame, followed, corrected in another."""

    def setUp(self) -> None:
        rows = [(0.29, 0.2), (0.29, 0.3), (0.28, 0.5), (0.28, 0.6)]
        inside = Stroke(points=tuple(n for place in rows for n in (*place, 1.0)), size=0.04)
        outline = ((0.1, 0.08), (0.47, 0.08), (0.47, 0.93), (0.1, 0.93))
        part = Part(id="s", kind="rough", points=outline, strokes=(inside,), values={"band": 0.02})
        self.region = Region(id="figure", name="figure", parts=(part, Part(id="o", kind="ellipse", on=False)))
        self.sheet = Sheet(regions=(self.region,))
        self.opened = Clip(clip())
        self.addCleanup(self.opened.close)
        self.frames = Frames(self.opened, "walks")
        self.assets = Assets(sums=folder_sums(FOLDER))

    def follow(self, sheet: Sheet, known: Motion | None = None, last: int = 6) -> Motion:
        way = Way(0, (0, last), "any", known)
        return follow_region(self.frames, sheet, "figure", way, self.assets, keep=keep, motions=lambda digest: known)

    def matte(self, sheet: Sheet, motion: Motion, frame: int) -> np.ndarray:
        still = sheet_in_time(sheet, frame, lambda digest: motion)
        where = resolve(still, "figure")
        assert where is not None
        source = self.frames.source(frame)
        return Engine(assets=self.assets).matte(source, where, source.full())

    def test_followed_corrected_and_carried_on(self) -> None:
        motion = self.follow(self.sheet)
        self.assertEqual(motion.kind, "shape")
        track = Track(motion="0" * 64, at=0)
        along = Sheet(regions=(self.region.model_copy(update={"track": track}),))
        self.assertGreater(likeness(self.matte(along, motion, 5), truth(5)), 0.85)
        # parts that were off stay so, and all keep their order and their names
        parts = sheet_in_time(along, 5, lambda digest: motion).regions[0].parts
        self.assertEqual([(part.id, part.on) for part in parts], [("s", True), ("o", False)])
        # a mark on the surround takes the head away in its frame, and nothing far from it
        x = (50 + 7 * 5) / SIZE[1]
        mark = Stroke(points=(x, 0.24, 1.0, x, 0.34, 1.0), does="erase", size=0.14)
        marked = Sheet(
            regions=(self.region.model_copy(update={"track": track.model_copy(update={"marks": {"5": (mark,)}})}),)
        )
        before, after = self.matte(along, motion, 5), self.matte(marked, motion, 5)
        self.assertLess(after[44:62, 80:90].mean(), 0.1)
        np.testing.assert_array_equal(before[100:], after[100:])
        np.testing.assert_array_equal(self.matte(along, motion, 4), self.matte(marked, motion, 4))
        # cut anew with it, the frames beside it know of it too; its own mark counts no twice
        again = self.follow(marked, motion)
        self.assertTrue(again.steps[5].marks)
        self.assertEqual(sheet_in_time(marked, 5, lambda digest: again).regions[0].parts[0].strokes, ())
        self.assertLess(self.matte(marked, again, 4)[44:62, 73:83].mean(), 0.6)
        self.assertGreater(self.matte(along, motion, 4)[44:62, 73:83].mean(), 0.9)

    def test_what_it_asks_for_is_said(self) -> None:
        empty = Sheet(regions=(self.region.model_copy(update={"parts": (Part(id="s", kind="rough"),)}),))
        with self.assertRaisesRegex(RequestError, "too little of this region"):
            self.follow(empty)

    def test_said_to_be_flat_it_is_followed_so(self) -> None:
        way = Way(0, (0, 3), "place")
        motion = follow_region(self.frames, self.sheet, "figure", way, self.assets, keep=keep)
        self.assertEqual((motion.kind, motion.steps[2].matte), ("place", ""))


class Ground(unittest.TestCase):
    def test_its_pan_is_told_from_the_figure(self) -> None:
        greys = [cv2.cvtColor(scene(frame, SIZE), cv2.COLOR_RGB2GRAY) for frame in range(10)]
        camera = Camera(greys[0], cv2.dilate(truth(0), np.ones((9, 9))) > 0)
        for frame, grey in enumerate(greys[1:], start=1):
            motion = camera.step(grey)
            assert motion is not None
            corners = np.array([[[0.0, 0], [SIZE[0], 0], [SIZE[0], SIZE[1]], [0, SIZE[1]]]])
            moved = cv2.perspectiveTransform(corners, motion)
            np.testing.assert_allclose(moved - corners, np.broadcast_to([PAN * frame, 0], corners.shape), atol=0.6)

    def test_another_shot_is_no_ground_and_after_it_it_is_there_again(self) -> None:
        greys = [cv2.cvtColor(scene(frame, SIZE), cv2.COLOR_RGB2GRAY) for frame in range(8)]
        other = np.random.default_rng(5).integers(0, 255, (12, 20), np.uint8)
        elsewhere = cv2.resize(other, SIZE, interpolation=cv2.INTER_CUBIC)
        camera = Camera(greys[0], cv2.dilate(truth(0), np.ones((9, 9))) > 0)
        shown = [*greys[1:4], *(np.roll(elsewhere, 3 * n, axis=1) for n in range(3)), *greys[6:]]
        found = [camera.step(grey) for grey in shown]
        self.assertEqual([each is None for each in found], [False] * 3 + [True] * 3 + [False] * 2)
        assert found[-1] is not None
        self.assertAlmostEqual(found[-1][0, 2], PAN * 7, delta=0.6)
