"""Sheets of older versions: what they say is kept, in the words of the present version."""

from unittest import TestCase

from calado.catalogue import CATALOGUE
from calado.edit.looks import read_look
from calado.sheet.check import read_sheet
from calado.sheet.models import Sheet

STROKE = {"way": [0.2, 0.5, 1.0, 0.4, 0.5, 1.0], "size": 0.1}
#: a sheet as version 1 wrote it
FIRST = {
    "version": 1,
    "regions": [
        {
            "id": "r",
            "name": "r",
            "dropped": [{"kind": "hole", "x": 1.0, "y": 0.5}],
            "band": [STROKE],
            "parts": [
                {
                    "id": "b",
                    "kind": "brush",
                    "values": {"similar": 3.0},
                    "strokes": [STROKE, STROKE | {"does": "take"}],
                },
                {"id": "l", "kind": "luminance", "values": {"calm": 0.01}},
                {"id": "s", "kind": "rough", "strokes": [STROKE | {"does": "put", "similar": 4.0}]},
            ],
        }
    ],
    "passes": [{"id": "p", "name": "p", "region": "r", "outside": {"exposure": {"amount": -1.0}}}],
}


class FirstVersionTest(TestCase):
    def test_all_of_it_is_read(self) -> None:
        region = read_sheet(FIRST, CATALOGUE).regions[0]
        brush, luminance, rough = region.parts
        self.assertEqual([each.does for each in brush.strokes], ["add", "erase"])
        self.assertEqual(list(brush.strokes[0].points), STROKE["way"])
        self.assertEqual(brush.values, {"colour_tolerance": 3.0})
        self.assertEqual(luminance.values, {"denoise": 0.01})
        self.assertEqual((rough.strokes[0].does, rough.strokes[0].colour_tolerance), ("add", 4.0))
        self.assertEqual((region.removed[0].kind, len(region.band)), ("hole", 1))

    def test_it_is_written_in_the_present_version(self) -> None:
        self.assertEqual(read_sheet(FIRST, CATALOGUE).model_dump()["version"], 2)

    def test_treatments_stay(self) -> None:
        self.assertEqual(read_sheet(FIRST, CATALOGUE).passes[0].outside, {"exposure": {"amount": -1.0}})

    def test_the_given_sheet_is_left_as_it_was(self) -> None:
        Sheet.model_validate(FIRST)
        self.assertEqual(FIRST["version"], 1)

    def test_a_look_that_holds_one_is_read(self) -> None:
        look = read_look({"kind": "calado-look", "name": "n", "aspect": 1.5, "sheet": FIRST})
        self.assertEqual(look.sheet.regions[0].parts[0].strokes[1].does, "erase")
