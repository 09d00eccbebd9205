"""Regions carried by a motion, against OpenCV's maps and the interpolation that SciPy gives."""

import json
import unittest

import cv2
import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import PchipInterpolator

from calado.catalogue import CATALOGUE
from calado.follow.carried import carried_region, corrected_matrix, doubtful, sheet_in_time, weakest
from calado.follow.motion import Motion, MotionDamaged, Step, digest_of, motion_bytes, motion_from, no_motions
from calado.sheet.check import read_sheet
from calado.sheet.models import Fix, Part, Region, Sheet, Track

DIGEST = "a" * 64
TILTED = np.array([[1.1, 0.08, 0.1], [-0.05, 0.95, 0.05], [0.12, -0.06, 1]])
MOTION = Motion(
    "clip",
    10,
    (0.8, 0.5),
    {
        10: Step(np.eye(3), 1.0),
        20: Step(TILTED, 0.9),
        30: Step(np.array([[1.0, 0, 0.3], [0, 1, -0.1], [0, 0, 1]]), 0.2, "held"),
    },
)


def motions(digest: str) -> Motion | None:
    return MOTION if digest == DIGEST else None


def region(part: Part, **fixes: Fix) -> Region:
    return Region(
        id="r", name="r", parts=(part,), track=Track(motion=DIGEST, at=10, fixes={k[1:]: v for k, v in fixes.items()})
    )


def oval(**values: float) -> Part:
    return Part(id="o", kind="ellipse", values={"x": 0.8, "y": 0.5, "width": 0.3, "height": 0.2, **values})


class Carried(unittest.TestCase):
    def test_an_outline_goes_point_by_point_in_perspective(self) -> None:
        corners = ((0.6, 0.3), (1.1, 0.35), (1.0, 0.8), (0.5, 0.7, -0.05, 0.02, 0.05, -0.02))
        (part,) = carried_region(region(Part(id="o", kind="polygon", points=corners)), 20, motions).parts
        ends = np.array([*(c[:2] for c in corners), (0.45, 0.72), (0.55, 0.68)])
        true = cv2.perspectiveTransform(ends[None], TILTED)[0]
        np.testing.assert_allclose([p[:2] for p in part.points], true[:4], atol=2e-5)
        np.testing.assert_allclose(part.points[3][2:4], true[4] - true[3], atol=2e-5)
        np.testing.assert_allclose(part.points[3][4:6], true[5] - true[3], atol=2e-5)

    def test_a_squared_oval_goes_by_the_first_order_at_the_middle(self) -> None:
        (part,) = carried_region(region(oval(roundness=0.5)), 20, motions).parts
        middle = cv2.perspectiveTransform(np.array([[[0.8, 0.5]]]), TILTED)[0, 0]
        np.testing.assert_allclose([part.values["x"], part.values["y"]], middle, atol=2e-5)
        # a small circle's area grows by the map's determinant
        (small,) = carried_region(region(oval(width=0.01, height=0.01)), 20, motions).parts
        ring = 0.005 * np.array([[np.cos(a), np.sin(a)] for a in np.linspace(0, 2 * np.pi, 400)]) + [0.8, 0.5]
        true = cv2.contourArea(np.float32(cv2.perspectiveTransform(ring[None], TILTED)[0] * 1e4)) / 1e8
        area = np.pi / 4 * float(small.values["width"]) * float(small.values["height"])  # type: ignore[arg-type]
        self.assertAlmostEqual(area / true, 1, delta=0.01)

    def test_at_the_reference_and_without_a_motion_it_is_as_it_was_marked(self) -> None:
        for frame, known in ((10, motions), (20, no_motions)):
            made = carried_region(region(oval()), frame, known)
            self.assertEqual((made.parts, made.track), ((oval(),), None))

    def test_outside_of_what_was_followed_it_is_held(self) -> None:
        self.assertEqual(MOTION.near(99).state, "held")
        self.assertEqual(carried_region(region(oval()), 99, motions), carried_region(region(oval()), 30, motions))

    def test_what_is_read_from_the_picture_does_not_move(self) -> None:
        part = Part(id="o", kind="luminance", values={})
        self.assertEqual(carried_region(region(part), 20, motions).parts, (part,))


class Doubts(unittest.TestCase):
    def test_hardly_sure_held_and_not_followed_but_not_where_it_was_corrected(self) -> None:
        track = Track(motion=DIGEST, at=10, fixes={"30": Fix()})
        near = Motion("clip", 1, (0, 0), {1: Step(np.eye(3), 1.0), 2: Step(np.eye(3), 0.49), 3: Step(np.eye(3), 0.5)})
        self.assertEqual(doubtful(track, range(6), near), [0, 2, 4, 5])
        self.assertEqual(doubtful(track, range(29, 32), MOTION), [29, 31])
        self.assertEqual(doubtful(track, range(3), None), [0, 1, 2])
        self.assertEqual(weakest(range(6), near), [0, 1, 2, 3, 4, 5])
        self.assertEqual(weakest(range(40), MOTION), [*range(10)])


class Corrections(unittest.TestCase):
    def test_a_shift_a_size_and_a_turn_about_where_it_is(self) -> None:
        fix = Fix(dx=0.05, dy=-0.02, scale=1.5, turn=30)
        plain, made = (carried_region(each, 30, motions).parts[0] for each in (region(oval()), region(oval(), f30=fix)))

        def number(part: Part, name: str) -> float:
            return float(part.values[name])  # type: ignore[arg-type]

        self.assertAlmostEqual(number(made, "x"), number(plain, "x") + 0.05, places=4)
        self.assertAlmostEqual(number(made, "y"), number(plain, "y") - 0.02, places=4)
        self.assertAlmostEqual(number(made, "width"), 1.5 * 0.3, places=4)
        self.assertAlmostEqual(number(made, "turn"), 30, places=2)

    def test_it_fades_from_one_to_the_next_and_to_none_at_the_reference(self) -> None:
        track = region(oval(), f30=Fix(dx=0.1), f50=Fix(dx=-0.2)).track
        assert track is not None
        way = PchipInterpolator([10, 30, 50], [0, 0.1, -0.2])
        for frame in (12, 20, 30, 41, 50):
            at = corrected_matrix(track, frame, MOTION) @ np.array([0.8, 0.5, 1])
            plain = MOTION.near(frame).matrix @ np.array([0.8, 0.5, 1])
            self.assertAlmostEqual(at[0] / at[2] - plain[0] / plain[2], float(way(frame)), places=9)
        last = corrected_matrix(track, 80, MOTION), corrected_matrix(track, 50, MOTION)
        np.testing.assert_allclose(*last)

    @given(st.integers(0, 60), st.floats(-1, 1), st.floats(0.5, 2))
    def test_the_region_stands_where_its_matrix_says(self, frame: int, dx: float, scale: float) -> None:
        point = Part(id="o", kind="polygon", points=((0.7, 0.4), (0.9, 0.4), (0.8, 0.6)))
        followed = region(point, f40=Fix(dx=dx, scale=scale))
        assert followed.track is not None
        matrix = np.eye(3) if frame == 10 else corrected_matrix(followed.track, frame, MOTION)
        true = cv2.perspectiveTransform(np.array([[p[:2] for p in point.points]]), matrix)[0]
        made = carried_region(followed, frame, motions).parts[0].points
        np.testing.assert_allclose(made, true, atol=2e-5)


class Files(unittest.TestCase):
    def test_read_back_as_it_was_under_the_same_name(self) -> None:
        data = motion_bytes(MOTION)
        back = motion_from(data)
        self.assertEqual((back.clip, back.at, back.middle), ("clip", 10, (0.8, 0.5)))
        np.testing.assert_allclose(back.steps[20].matrix, TILTED, atol=1e-6)
        self.assertEqual(digest_of(motion_bytes(back)), digest_of(data))

    def test_what_is_none_is_refused(self) -> None:
        whole = json.loads(motion_bytes(MOTION))
        steps = whole["steps"]
        for broken in (
            b"",
            b"[1]",
            b"\xff",
            json.dumps({**whole, "version": 9}).encode(),
            json.dumps({**whole, "at": 11}).encode(),
            json.dumps({**whole, "middle": [1]}).encode(),
            json.dumps({**whole, "kind": "somehow"}).encode(),
            json.dumps({**whole, "steps": {"10": {**steps["10"], "matrix": [[1, 2], [3, 4]]}}}).encode(),
            json.dumps({**whole, "steps": {"10": {**steps["10"], "matrix": [[0, 0, 0]] * 3}}}).encode(),
            json.dumps({**whole, "steps": {"10": {**steps["10"], "state": "lost"}}}).encode(),
            json.dumps({**whole, "steps": {"10": {**steps["10"], "confidence": "NaN"}}}).encode(),
        ):
            with self.subTest(broken[:60]), self.assertRaises(MotionDamaged):
                motion_from(broken)

    def test_a_sheet_keeps_it_and_stands_still_for_what_renders(self) -> None:
        sheet = Sheet(regions=(region(oval(), f30=Fix(dx=0.1)),))
        self.assertEqual(read_sheet(sheet.model_dump_json(), CATALOGUE), sheet)
        self.assertIsNone(sheet_in_time(sheet, 30, motions).regions[0].track)
