"""Boxes in perspective against OpenCV, which warps their mattes pixel by pixel."""

import unittest

import cv2
import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from calado.follow.carried import carried_region
from calado.follow.motion import Motion, Step
from calado.region.context import ALONE
from calado.region.kinds import PARTS
from calado.region.projective import Map
from calado.render.resolve import resolve
from calado.sheet.models import Part, Region, Sheet, Track
from calado.window import Window

HIGH, WIDE = 360, 540
#: the reference is made at so many times the size
FINE = 4


def matte(part: Part, scale: int = 1) -> np.ndarray:
    window = Window(WIDE * scale, HIGH * scale, 1.0, 0, 0, WIDE * scale, HIGH * scale)
    return np.asarray(PARTS[part.kind].matte(part, window, ALONE))


def tilted(corners: list[float]) -> Map:
    """Return the map that takes the corners of a card in the middle of the picture by so much elsewhere."""
    card = np.array([[0.4, 0.2], [1.1, 0.2], [1.1, 0.8], [0.4, 0.8]], np.float32)
    to = card + np.array(corners, np.float32).reshape(4, 2)
    return np.asarray(cv2.getPerspectiveTransform(card, to), np.float64)


def carried(part: Part, matrix: Map) -> Part:
    steps = {0: Step(np.eye(3), 1.0), 1: Step(matrix, 1.0)}
    motion = Motion("clip", 0, (0.75, 0.5), steps)
    region = Region(id="r", name="r", parts=(part,), track=Track(motion="0" * 64, at=0))
    return carried_region(region, 1, lambda digest: motion).parts[0]


class InPerspective(unittest.TestCase):
    corners = st.lists(st.floats(-0.12, 0.12), min_size=8, max_size=8)

    def check(self, part: Part, matrix: Map) -> None:
        pixels = (
            np.diag([HIGH * FINE, HIGH * FINE, 1.0]) @ matrix @ np.diag([1 / (HIGH * FINE), 1 / (HIGH * FINE), 1.0])
        )
        warped = cv2.warpPerspective(matte(part, FINE), pixels, (WIDE * FINE, HIGH * FINE))
        expected = cv2.resize(warped, (WIDE, HIGH), interpolation=cv2.INTER_AREA)
        made = matte(carried(part, matrix))
        # a border's pixels, no more: 0.35 is what half a pixel makes of one
        self.assertLess(np.abs(made - expected).mean() * made.size / max(np.sqrt(expected.sum()), 1), 0.4)
        self.assertLess(float((np.abs(made - expected) > 0.6).sum()), 4)

    @settings(max_examples=40)
    @given(corners, st.floats(-40, 40), st.sampled_from((0.0, 0.0, 0.3, 1.0)))
    def test_a_rectangle_becomes_the_quadrangle_that_the_map_makes_of_it(
        self, corners: list[float], turn: float, corner: float
    ) -> None:
        values = {"x": 0.75, "y": 0.5, "width": 0.5, "height": 0.3, "turn": turn, "corner": corner}
        self.check(Part(id="p", kind="rectangle", values=values), tilted(corners))

    @settings(max_examples=40)
    @given(corners, st.floats(-89, 89), st.floats(0.1, 0.5))
    def test_an_ellipse_becomes_the_ellipse_that_the_map_makes_of_it(
        self, corners: list[float], turn: float, height: float
    ) -> None:
        values = {"x": 0.75, "y": 0.5, "width": 0.5, "height": height, "turn": turn}
        self.check(Part(id="p", kind="ellipse", values=values), tilted(corners))

    @given(st.floats(-180, 180), st.floats(0.5, 2), st.floats(-0.3, 0.3))
    def test_turned_sized_and_moved_a_rectangle_stays_one(self, turn: float, scale: float, shift: float) -> None:
        c, s = scale * np.cos(np.radians(turn)), scale * np.sin(np.radians(turn))
        part = Part(id="p", kind="rectangle", values={"x": 0.7, "y": 0.4, "width": 0.5, "height": 0.3, "corner": 0.4})
        made = carried(part, np.array([[c, -s, shift], [s, c, -shift], [0, 0, 1]]))
        self.assertEqual(made.points, ())
        self.assertAlmostEqual(float(made.values["width"]), 0.5 * scale, places=3)

    def test_what_reaches_the_horizon_goes_by_its_first_order(self) -> None:
        matrix = np.array([[1.0, 0, 0], [0, 1, 0], [1.6, 0, -0.6]])
        for kind in ("rectangle", "ellipse"):
            part = Part(id="p", kind=kind, values={"x": 0.75, "y": 0.5, "width": 1.2, "height": 0.3})
            made = carried(part, matrix)
            self.assertEqual(made.points, ())
            self.assertTrue(np.isfinite(matte(made)).all())

    def test_a_followed_region_hides_all_of_a_tilted_card(self) -> None:
        # the outline of the card itself, tilted as a swinging sign is
        part = Part(id="p", kind="rectangle", values={"x": 0.75, "y": 0.5, "width": 0.7, "height": 0.6})
        matrix = tilted([0.05, 0.06, -0.04, -0.05, -0.05, 0.04, 0.03, -0.02])
        made = carried(part, matrix)
        self.assertIsNotNone(resolve(Sheet(regions=(Region(id="r", name="r", parts=(made,)),)), "r"))
        card = (np.array([[0.4, 0.2], [1.1, 0.2], [1.1, 0.8], [0.4, 0.8]]) * HIGH).astype(np.float32)
        pixels = np.diag([HIGH, HIGH, 1.0]) @ matrix @ np.diag([1 / HIGH, 1 / HIGH, 1.0])
        outline = cv2.perspectiveTransform(card[None], pixels)[0]
        there = cv2.fillConvexPoly(np.zeros((HIGH, WIDE), np.uint8), np.rint(outline - 0.5).astype(np.int32), 1)
        inner = cv2.erode(there, np.ones((5, 5), np.uint8))
        self.assertEqual(float(matte(made)[inner == 1].min()), 1.0)
        by_first_order = matte(made.model_copy(update={"points": ()}))
        self.assertLess(float(by_first_order[inner == 1].min()), 0.5)


if __name__ == "__main__":
    unittest.main()
