"""Features of faces as curves, against the demo's exact mattes and the formula of the spline."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import CubicHermiteSpline

from calado.detect.find import find_kind
from calado.detect.offer import Offer
from calado.edit.create import start_feature
from calado.edit.tests.test_sample import still, truth
from calado.errors import SheetError
from calado.region.resolved import alone
from calado.render.engine import Engine
from calado.sheet.models import Sheet
from calado.start.features import NO_SKIN, feature_parts, grown, through

PLACE = st.tuples(st.floats(0, 1.5), st.floats(0, 1))


def faces(scene: str) -> list[Offer]:
    return [face for face in find_kind(Engine(), still(scene), "face") if face.name == "face" and face.closely]


def matte(scene: str, feature: str) -> np.ndarray:
    source = still(scene)
    sheet, _ = start_feature(Sheet(), faces(scene), feature)
    return Engine().matte(source, alone(sheet.regions[0]), source.full())


def shared(made: np.ndarray, true: np.ndarray) -> float:
    return float((made & true).sum() / (made | true).sum())


class OnFaces(TestCase):
    def test_the_outline_of_each_face_and_the_lips_lie_where_they_are(self) -> None:
        for scene in ("a_bench", "e_booth", "f_night"):
            made = matte(scene, "face")
            with self.subTest(scene):
                self.assertGreater(shared(made > 0.5, truth(f"{scene}_face", made.shape[::-1]) > 0.5), 0.8)
        lips = matte("b_portrait", "lips")
        true = truth("b_portrait_lips", lips.shape[::-1]) > 0.5
        self.assertGreater(float((lips > 0.5)[true].mean()), 0.9)
        self.assertGreater(shared(lips > 0.5, true), 0.75)

    def test_skin_is_the_face_without_what_is_no_skin(self) -> None:
        skin, face = matte("b_portrait", "skin"), matte("b_portrait", "face")
        self.assertTrue((skin <= face + 1e-6).all())
        for feature in ("lips", "eyes", "brows"):
            self.assertLess(float(skin[matte("b_portrait", feature) > 0.9].max()), 0.05, feature)
        self.assertGreater(float(skin.sum()), 0.6 * float(face.sum()))

    def test_each_is_a_part_that_can_be_edited(self) -> None:
        (face,) = faces("b_portrait")
        self.assertEqual(
            [len(feature_parts(face, each)) for each in ("face", "eyes", "brows", "lips", "mouth")], [1, 2, 2, 1, 1]
        )
        skin = feature_parts(face, "skin", 3)
        self.assertEqual([each.id for each in skin], [f"part-{k}" for k in range(3, 3 + len(skin))])
        self.assertEqual(len(skin), 1 + sum(len(face.curves[each]) for each in NO_SKIN))
        self.assertEqual({(each.kind, each.join) for each in skin[1:]}, {("curve", "subtract")})

    def test_what_is_not_known_is_said(self) -> None:
        (face,) = faces("b_portrait")
        bare = Offer("face", 0.9, (0, 0, 1, 1), "ellipse")
        for found, feature, code in ((face, "ears", "unknown"), (bare, "eyes", "none")):
            with self.assertRaises(SheetError) as said:
                feature_parts(found, feature)
            self.assertEqual(said.exception.code, f"feature.{code}")
        with self.assertRaises(SheetError):
            start_feature(Sheet(), [], "eyes")


class Curves(TestCase):
    @given(st.lists(PLACE, min_size=4, max_size=12))
    def test_it_goes_through_its_places_as_the_spline_does(self, loop: list[tuple[float, float]]) -> None:
        corners = np.array(through(loop))
        places = np.array(loop)
        np.testing.assert_allclose(corners[:, :2], places, atol=1e-5)
        # the spline has half of the way between the neighbours as its slope; a Bézier's handles are a third of it
        slopes = (np.roll(places, -1, axis=0) - np.roll(places, 1, axis=0)) / 2
        for k in range(len(loop)):
            after = (k + 1) % len(loop)
            spline = CubicHermiteSpline([0, 1], places[[k, after]], slopes[[k, after]])
            ends = corners[k, :2], corners[k, :2] + corners[k, 4:], corners[after, :2] + corners[after, 2:4]
            middle = (ends[0] + 3 * ends[1] + 3 * ends[2] + corners[after, :2]) / 8
            np.testing.assert_allclose(middle, spline(0.5), atol=3e-5)

    def test_a_circle_grows_by_what_is_asked_whichever_way_it_goes_round(self) -> None:
        angles = np.linspace(0, 2 * np.pi, 16, endpoint=False)
        circle = [(float(x), float(y)) for x, y in zip(np.cos(angles), np.sin(angles), strict=True)]
        for loop in (circle, circle[::-1]):
            for by in (0.1, -0.05):
                np.testing.assert_allclose(np.hypot(*np.array(grown(loop, by)).T), 1 + by, atol=1e-9)
