"""Looks: taken and laid again; starters that read the picture."""

import json
from pathlib import Path
from unittest import TestCase

import cv2
import numpy as np

from calado.catalogue import CATALOGUE
from calado.colour.spaces import SRGB
from calado.edit.create import start_pass
from calado.edit.looks import apply_look, read_look, take_look
from calado.errors import SheetError
from calado.sheet.check import check_sheet
from calado.sheet.models import Sheet
from calado.start.analysis import PictureAnalysis, plain
from calado.start.search import search
from calado.start.starters import STARTERS


def made(starter: str, analysis: PictureAnalysis | None = None) -> Sheet:
    return start_pass(Sheet(), starter, analysis or plain(1.5))[0]


class Looks(TestCase):
    def test_taken_written_read_and_laid_on_the_same_frame_it_is_the_same(self) -> None:
        for starter in STARTERS:
            sheet = made(starter.id)
            look = take_look(sheet, tuple(each.id for each in sheet.passes), "mine", 1.5)
            again = read_look(json.loads(look.model_dump_json()))
            laid, ids = apply_look(Sheet(), again, 1.5)
            check_sheet(laid, CATALOGUE)
            self.assertEqual(len(ids), 1)
            self.assertEqual(laid.passes[0].inside, sheet.passes[0].inside, starter.id)
            # a copied part may say its neutral turn
            places = [
                [{"turn": 0.0, **p.values} for p in r.parts if p.kind == "ellipse"]
                for s in (laid, sheet)
                for r in s.regions
            ]
            self.assertEqual(places[: len(places) // 2], places[len(places) // 2 :], starter.id)

    def test_on_another_frame_places_keep_their_share_of_it(self) -> None:
        look = take_look(made("peephole"), ("pass-1",), "hole", 1.5)
        laid, _ = apply_look(Sheet(), look, 0.75)
        x = float(look.sheet.passes[0].inside["bulge"]["x"])  # type: ignore[arg-type]
        self.assertAlmostEqual(float(laid.passes[0].inside["bulge"]["x"]), x / 2, places=4)  # type: ignore[arg-type]

    def test_two_passes_on_one_region_share_its_copy(self) -> None:
        sheet = made("vignette")
        sheet, _ = start_pass(sheet, "soft-edge", plain(1.5), sheet.regions[0].id)
        laid, ids = apply_look(made("vignette"), take_look(sheet, ("pass-1", "pass-2"), "both", 1.5), 1.5)
        self.assertEqual(len(ids), 2)
        self.assertEqual(len(laid.regions), 2)
        self.assertEqual(laid.passes[1].region, laid.passes[2].region)

    def test_what_is_no_look_is_refused_with_a_sentence(self) -> None:
        good = json.loads(take_look(made("vignette"), ("pass-1",), "v", 1.5).model_dump_json())
        bad = good["sheet"] | {"passes": [good["sheet"]["passes"][0] | {"outside": {"exposure": {"amount": 99.0}}}]}
        for data in (None, [], {}, {**good, "aspect": -1}, {**good, "sheet": bad}, {**good, "sheet": {"passes": []}}):
            with self.assertRaises(SheetError) as caught:
                read_look(data)
            self.assertTrue(str(caught.exception).endswith("."), str(caught.exception))
        self.assertRaises(SheetError, take_look, made("vignette"), ("nobody",), "x", 1.5)


class Reading(TestCase):
    def picture(self) -> np.ndarray:
        planes = np.full((3, 200, 300), 0.05, np.float32)
        canvas = np.zeros((200, 300), np.float32)
        cv2.ellipse(canvas, (90, 60), (24, 12), 20, 0, 360, 1.0, -1)
        cv2.ellipse(canvas, (92, 150), (14, 6), 0, 0, 360, 1.0, -1)
        return np.ascontiguousarray(planes + canvas)

    def test_the_burnt_place_and_its_reflection_are_found(self) -> None:
        sheet = made("hot-spot", PictureAnalysis(self.picture(), SRGB, 1.5))
        first, second, bright = sheet.regions[0].parts
        self.assertEqual((bright.kind, bright.join), ("luminance", "intersect"))
        self.assertAlmostEqual(float(first.values["x"]), 90 / 200, delta=0.01)  # type: ignore[arg-type]
        self.assertAlmostEqual(float(first.values["y"]), 60 / 200, delta=0.01)  # type: ignore[arg-type]
        self.assertAlmostEqual(float(first.values["turn"]), 20, delta=3)  # type: ignore[arg-type]
        self.assertAlmostEqual(float(second.values["y"]), 150 / 200, delta=0.01)  # type: ignore[arg-type]

    def test_a_vignette_is_weaker_where_the_corners_are_dark_already(self) -> None:
        y, x = np.mgrid[:200, :300]
        square = ((x - 149.5) ** 2 + (y - 99.5) ** 2) / (150**2 + 100**2)
        planes = np.repeat((0.5 * np.exp2(-0.8 * square))[None], 3, axis=0).astype(np.float32)
        values = [
            made("vignette", analysis).passes[0].outside["exposure"]["amount"]
            for analysis in (plain(1.5), PictureAnalysis(planes, SRGB, 1.5))
        ]
        self.assertEqual(values[0], -1.2)
        self.assertAlmostEqual(float(values[1]), -0.4, delta=0.1)  # type: ignore[arg-type]

    def test_skin_and_colour_are_found_where_they_are(self) -> None:
        planes = np.full((3, 200, 300), 0.1, np.float32)
        planes[:, 60:120, 180:230] = np.array([0.55, 0.30, 0.2], np.float32)[:, None, None]
        analysis = PictureAnalysis(planes, SRGB, 1.5)
        assert analysis.skin is not None
        self.assertAlmostEqual(analysis.skin.x, 205 / 200, delta=0.02)
        self.assertAlmostEqual(analysis.colourful.y, 90 / 200, delta=0.03)
        self.assertIsNone(plain(1.5).skin)


PHRASES = Path(__file__).parents[3] / "e2e" / "phrases.txt"


class Searching(TestCase):
    def test_every_phrase_of_the_trade_finds_what_it_means_first(self) -> None:
        lines = [line.split(" = ") for line in PHRASES.read_text().splitlines() if line and not line.startswith("#")]
        self.assertGreaterEqual(len(lines), 60)
        for phrase, wanted in lines:
            found = search(phrase)
            first = (found.starters if found.first == "starter" else found.adjustments)[:1]
            self.assertEqual(first, (wanted,), phrase)

    def test_words_that_say_nothing_leave_all_in_place(self) -> None:
        everything = search("")
        self.assertGreater(len(everything.starters) + len(everything.adjustments), 50)
        self.assertEqual(search("make it").starters[:0], ())

    def test_purposes_synonyms_and_slips(self) -> None:
        for query, starter in (
            ("darken corners", "vignette"),
            ("blur backgroud", "selective-focus"),
            ("hide plate", "conceal-lettering"),
            ("blur a face", "conceal-faces"),
            ("censer", "conceal"),
            ("smooth skin", "calm-skin"),
            ("burnt highlight", "hot-spot"),
            ("fisheye", "peephole"),
            ("black and white background", "colour-accent"),
            ("vertical blur", "motion-streak"),
        ):
            self.assertIn(starter, search(query).starters, query)
        for query, adjustment in (("lut", "lut"), ("dehaze", "haze"), ("pixelate", "mosaic"), ("lift gamma", "tone")):
            self.assertIn(adjustment, search(query).adjustments, query)
