"""Samples taken from the picture set ranges, and starters read what is in the picture."""

import json
from pathlib import Path
from unittest import TestCase

import cv2
import numpy as np

from calado.catalogue import CATALOGUE
from calado.colour.oklab import linear_to_oklab, oklab_to_oklch
from calado.colour.spaces import SRGB
from calado.detect.find import find_kind
from calado.detect.net import ModelError
from calado.edit.create import Drawn, start_pass, start_region
from calado.edit.on_find import marks_one, on_find
from calado.edit.sample import take_sample
from calado.errors import SheetError
from calado.media.stills import read_still
from calado.render.engine import Engine
from calado.render.resolve import resolve
from calado.render.source import Source, source_of
from calado.sheet.check import check_sheet
from calado.sheet.models import Sheet, Stroke
from calado.start.analysis import PictureAnalysis, analyse
from demo.truths import truth as truths

DEMO = Path(__file__).parents[3] / "demo"


def ramp() -> Source:
    light = SRGB.transfer.decode(np.linspace(0, 1, 300))
    return source_of(np.ascontiguousarray(np.broadcast_to(light, (3, 200, 300)), np.float32), SRGB, "ramp")


def patches() -> Source:
    planes = np.full((3, 200, 300), 0.2, np.float32)
    planes[:, :, 100:200] = np.array([0.5, 0.08, 0.05])[:, None, None]
    planes[:, :, 200:] = np.array([0.05, 0.2, 0.5])[:, None, None]
    return source_of(planes, SRGB, "patches")


def truth(name: str, size: tuple[int, int] = (800, 534)) -> np.ndarray:
    grey = cv2.imread(str(DEMO / "truth" / f"{name}.png"), cv2.IMREAD_UNCHANGED)
    assert grey is not None
    plane = (grey if grey.ndim == 2 else grey[..., 0]) / np.iinfo(grey.dtype).max
    return cv2.resize(plane, size, interpolation=cv2.INTER_AREA)


def still(name: str) -> Source:
    made = read_still(DEMO / "stills" / f"{name}.png")
    return source_of(made.samples, made.space, name)


class Taking(TestCase):
    def sampled(self, source: Source, kind: str, *takes: tuple[str, float]) -> Sheet:
        sheet, region = start_region(Sheet(), Drawn(kind), source.aspect)
        for does, x in takes:
            sheet = take_sample(Engine(), source, sheet, (region, "part-1"), (x - 0.01, 0.4, 0.02, 0.02), does)
        check_sheet(sheet, CATALOGUE)
        return sheet

    def matte(self, source: Source, sheet: Sheet) -> np.ndarray:
        where = resolve(sheet, sheet.regions[0].id)
        assert where is not None
        return Engine().matte(source, where, source.full())[100]

    def test_a_sample_at_the_brightest_place_opens_the_top(self) -> None:
        values = self.sampled(ramp(), "luminance", ("set", 1.48)).regions[0].parts[0].values
        self.assertEqual(values["high"], 1.0)
        self.assertAlmostEqual(float(values["low"]), 0.96, delta=0.02)
        values = self.sampled(ramp(), "luminance", ("set", 0.01)).regions[0].parts[0].values
        self.assertEqual(values["low"], 0.0)

    def test_more_widens_and_out_narrows_a_range(self) -> None:
        one = self.matte(ramp(), self.sampled(ramp(), "luminance", ("set", 0.75)))
        more = self.matte(ramp(), self.sampled(ramp(), "luminance", ("set", 0.75), ("add", 1.05)))
        less = self.matte(ramp(), self.sampled(ramp(), "luminance", ("set", 0.75), ("add", 1.05), ("erase", 1.05)))
        self.assertTrue((more >= one).all() and (less <= more).all())
        self.assertEqual((float(more[210]), float(one[210])), (1, 0))
        self.assertLess(float(less[240]), float(more[240]) + 1e-6)

    def test_a_colour_is_found_by_its_own_hue_and_a_grey_by_its_lack_of_colour(self) -> None:
        sheet = self.sampled(patches(), "colours", ("set", 0.75))
        hue = oklab_to_oklch(linear_to_oklab(np.array([0.5, 0.08, 0.05])))[2]
        self.assertAlmostEqual(float(sheet.regions[0].parts[0].values["hue"]), hue, delta=0.5)
        np.testing.assert_array_equal(self.matte(patches(), sheet)[[50, 150, 250]], [0, 1, 0])
        grey = self.sampled(patches(), "colours", ("set", 0.25))
        np.testing.assert_array_equal(self.matte(patches(), grey)[[50, 150, 250]], [1, 0, 0])

    def test_samples_of_a_colour_are_kept_with_what_they_took(self) -> None:
        sheet = self.sampled(patches(), "sampled", ("add", 0.75), ("add", 0.25), ("erase", 0.25))
        samples = sheet.regions[0].parts[0].samples
        self.assertEqual([each.does for each in samples], ["add", "add", "erase"])
        red, blue, grey = (float(self.matte(patches(), sheet)[x]) for x in (150, 250, 50))
        self.assertEqual(red, 1)
        self.assertLess(blue, 0.3)
        self.assertLess(grey, 0.6)

    def test_parts_that_take_none_say_so(self) -> None:
        sheet, region = start_region(Sheet(), Drawn("ellipse"), 1.5)
        for place in ((region, "part-1"), (region, "nobody"), ("nowhere", "part-1")):
            with self.assertRaises(SheetError):
                take_sample(Engine(), ramp(), sheet, place, (0.5, 0.5, 0.1, 0.1), "set")


class Starters(TestCase):
    def started(self, starter: str, name: str) -> tuple[Sheet, Source]:
        source = still(name)
        sheet, _ = start_pass(Sheet(), starter, analyse(Engine(), source))
        check_sheet(sheet, CATALOGUE)
        return sheet, source

    def matte(self, sheet: Sheet, source: Source, scale: float = 0.5) -> np.ndarray:
        where = resolve(sheet, sheet.regions[0].id)
        assert where is not None
        return Engine().matte(source, where, source.full(scale))

    def test_calm_skin_leaves_eyes_lips_and_hair_alone(self) -> None:
        matte = self.matte(*self.started("calm-skin", "b_portrait"))
        eyes, lips, hair, skin = (truth(f"b_portrait_{name}") for name in ("eyes", "lips", "hair", "skin"))
        # cheek and chin, by hand in pixels of half the still
        self.assertGreater(float(matte[280:320, 400:470].mean()), 0.9)
        self.assertGreater(float(matte[340:370, 430:480].mean()), 0.9)
        self.assertGreater(float(matte[skin > 0.9].mean()), 0.55)
        for name, exact in (("eyes", eyes), ("lips", lips), ("hair", hair)):
            self.assertLess(float(matte[exact > 0.9].mean()), 0.08, name)
        matte = self.matte(*self.started("calm-skin", "a_bench"))
        self.assertLess(float(matte[truth("a_bench_hair") > 0.9].mean()), 0.08)

    def test_grain_lies_in_the_lamps_alone(self) -> None:
        sheet, source = self.started("grain-in-light", "f_night")
        matte = self.matte(sheet, source)
        self.assertEqual(sheet.regions[0].parts[0].kind, "luminance")
        for (y, x), held in (((180, 300), 1), ((200, 950), 1), ((700, 300), 0), ((650, 700), 0)):
            self.assertAlmostEqual(float(matte[y // 2, x // 2]), held, delta=0.1, msg=str((y, x)))

    def test_on_a_found_face_or_figure_it_stands_and_not_on_the_wall(self) -> None:
        told = json.loads((DEMO / "truth" / "truth.json").read_text())["stills"]
        for still in ("a_bench", "b_portrait", "e_booth", "f_night"):
            left, top, right, bottom = (n / 1067 for n in told[still]["faces"][0]["box"])
            for starter in ("call-out", "spotlight", "motion-streak"):
                with self.subTest(still=still, starter=starter):
                    (oval,) = self.started(starter, still)[0].regions[0].parts
                    x, y, wide, high = (float(oval.values[id]) for id in ("x", "y", "width", "height"))  # type: ignore[arg-type]
                    # brow, chin and both cheeks lie within
                    across, down = (left + right) / 2, (top + bottom) / 2
                    for a, b in ((left, down), (right, down), (across, top), (across, bottom)):
                        self.assertLess(((a - x) / (wide / 2)) ** 2 + ((b - y) / (high / 2)) ** 2, 1.0)
                    self.assertLess(wide * high, 0.9 * 1.5)

    def test_a_tamed_spot_leaves_what_is_dark_beside_it(self) -> None:
        for still in ("a_bench", "c_dusk", "f_night"):
            sheet, source = self.started("hot-spot", still)
            matte = self.matte(sheet, source)
            light = Engine().source(source, source.full(0.5)).max(axis=0)
            self.assertGreater(float(matte.max()), 0.9)
            self.assertLess(float(matte[light < 0.05].max()), 0.05)

    def test_the_accent_keeps_one_jar_of_its_hue(self) -> None:
        matte = self.matte(*self.started("colour-accent", "d_shelf"))
        # the large red jar, the small red one, the teal one
        self.assertGreater(float(matte[250:350, 700:760].mean()), 0.8)
        self.assertLess(float(matte[420:450, 110:150].mean()), 0.05)
        self.assertLess(float(matte[300:400, 470:530].mean()), 0.05)

    def test_selective_focus_stands_on_the_found_subject_and_a_cover_on_faces(self) -> None:
        sheet, _ = self.started("selective-focus", "a_bench")
        self.assertEqual(sheet.regions[0].parts[0].kind, "rough")
        sheet, _ = self.started("conceal", "e_booth")
        kinds = [part.kind for part in sheet.regions[0].parts]
        self.assertEqual((kinds[0], set(kinds[1:]), len(kinds)), ("ellipse", {"rectangle"}, 1 + 12))
        # a cover must not show through at its rim
        self.assertEqual(sheet.regions[0].parts[0].values["feather_in"], 0)
        for id, kind, count in (("conceal-faces", "ellipse", 1), ("conceal-lettering", "rectangle", 12)):
            sheet, _ = self.started(id, "e_booth")
            self.assertEqual([part.kind for part in sheet.regions[0].parts], [kind] * count)
        sheet, _ = self.started("conceal", "d_shelf")
        self.assertEqual([part.kind for part in sheet.regions[0].parts], ["rectangle"])

    def test_one_stroke_on_a_found_person_takes_the_person(self) -> None:
        source = still("a_bench")
        offers = find_kind(Engine(), source, "subject")
        self.assertEqual(find_kind(Engine(), source, "subject"), offers)
        high = source.height
        coat = Stroke(points=(570 / high, 650 / high, 1.0, 620 / high, 760 / high, 1.0), size=0.03)
        wall = Stroke(points=(900 / high, 650 / high, 1.0, 950 / high, 760 / high, 1.0), size=0.03)
        sheet, _ = start_region(Sheet(), on_find(Drawn("rough", strokes=(coat,)), lambda: offers), 1.5)
        self.assertEqual(sheet.regions[0].parts[0].strokes[-1], coat)
        matte, exact = self.matte(sheet, source) > 0.5, truth("a_bench_puppet") > 0.5
        self.assertGreater(float((matte & exact).sum() / (matte | exact).sum()), 0.85)
        for drawn in (
            Drawn("rough", strokes=(wall,)),
            Drawn("rough", strokes=(coat, coat)),
            Drawn("rough", strokes=(coat.model_copy(update={"does": "erase"}),)),
            Drawn("rough", strokes=(coat.model_copy(update={"size": 0.4}),)),
            Drawn("brush", strokes=(coat,)),
        ):
            self.assertEqual(on_find(drawn, lambda: offers), drawn)

    def test_what_stands_on_one_find_or_cuts_it_out_goes_along_with_it(self) -> None:
        offers = [*find_kind(Engine(), still("a_bench"), "subject"), *find_kind(Engine(), still("a_bench"), "face")]
        for starter in ("selective-focus", "spotlight"):
            sheet, _ = self.started(starter, "a_bench")
            self.assertTrue(marks_one(sheet.regions[0], offers), starter)
        sheet, _ = self.started("selective-focus", "a_bench")
        self.assertFalse(marks_one(sheet.regions[0], [each for each in offers if each.kind != "rough"]))
        (cut,) = sheet.regions[0].parts
        two = sheet.regions[0].model_copy(update={"parts": (cut, cut.model_copy(update={"id": "other"}))})
        self.assertFalse(marks_one(two, offers))

    def test_a_cover_holds_all_of_every_face_and_private_line(self) -> None:
        for name, facts in truths().stills.items():
            if not facts.regions and "face" not in facts.mattes:
                continue
            matte = self.matte(*self.started("conceal", name), 1.0)
            for line in facts.regions:
                exact = np.zeros(matte.shape, np.uint8)
                cv2.fillPoly(exact, [np.rint(np.array(line.polygon)).astype(np.int32)], 1)
                self.assertGreater(float((matte[exact > 0] == 1).mean()), 0.998, line.text)
            if "face" in facts.mattes:
                face = truth(facts.mattes["face"].removesuffix(".png"), matte.shape[::-1]) > 0.5
                self.assertEqual(float(matte[face].min()), 1, name)

    def test_where_there_is_no_face_a_cover_begins_on_the_lettering(self) -> None:
        drawn = np.full((800, 1200, 3), 220, np.uint8)
        cv2.putText(drawn, "Ambrose 0555 014", (120, 440), cv2.FONT_HERSHEY_SIMPLEX, 1.2, (30, 30, 30), 2, cv2.LINE_AA)
        source = source_of(np.ascontiguousarray(drawn.transpose(2, 0, 1)), SRGB, "lettering")
        sheet, _ = start_pass(Sheet(), "conceal", analyse(Engine(), source))
        matte = self.matte(sheet, source, 1.0)
        self.assertEqual(float(matte[drawn[..., 0] < 100].min()), 1)
        self.assertLess(float(matte.mean()), 0.2)

    def test_without_the_model_files_starters_go_by_the_picture(self) -> None:
        def missing(_):  # type: ignore[no-untyped-def]
            raise ModelError("missing")

        analysis = analyse(Engine(), still("a_bench"))
        sheet, _ = start_pass(
            Sheet(), "selective-focus", PictureAnalysis(analysis.thumb, analysis.space, analysis.aspect, missing)
        )
        self.assertEqual(sheet.regions[0].parts[0].kind, "ellipse")
