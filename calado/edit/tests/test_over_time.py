"""A change at one frame, brought to the sheet that moves."""

from unittest import TestCase

from calado.catalogue import CATALOGUE
from calado.edit.over_time import over_time
from calado.edit.transform import copy_region, mirror
from calado.sheet.models import Key, Part, Pass, Region, Sheet
from calado.sheet.timed import part_at, sheet_at
from calado.sheet.within import with_pass, with_region

KEYS = {"x": {"0": Key(value=0.2), "10": Key(value=0.8)}, "y": {"0": Key(value=0.5)}}
PART = Part(id="o", kind="ellipse", values={"x": 0.2}, keys=KEYS)
SHEET = Sheet(
    regions=(Region(id="r", name="r", parts=(PART,)),),
    passes=(Pass(id="p", name="p", region="r", keys={"mix": {"0": Key(value=1), "9": Key(value=0)}}),),
)


class OverTime(TestCase):
    def setUp(self) -> None:
        self.at = sheet_at(SHEET, 5, CATALOGUE)

    def test_nothing_changed_is_the_sheet_itself(self) -> None:
        self.assertEqual(over_time(SHEET, self.at, self.at), SHEET)

    def test_a_region_that_is_refined_still_moves(self) -> None:
        grown = with_region(self.at, self.at.regions[0].model_copy(update={"refine": {"grow": 0.01}}))
        made = over_time(SHEET, self.at, grown)
        self.assertEqual(made.regions[0].refine, {"grow": 0.01})
        self.assertEqual(made.regions[0].parts[0].keys, KEYS)

    def test_a_value_that_is_changed_holds_and_the_others_move(self) -> None:
        part = self.at.regions[0].parts[0]
        moved = part.model_copy(update={"values": {**part.values, "x": 0.9}})
        made = over_time(
            SHEET, self.at, with_region(self.at, self.at.regions[0].model_copy(update={"parts": (moved,)}))
        )
        self.assertEqual((made.regions[0].parts[0].values["x"], set(made.regions[0].parts[0].keys)), (0.9, {"y"}))

    def test_a_pass_and_what_is_new(self) -> None:
        changed = with_pass(self.at, self.at.passes[0].model_copy(update={"strength": 0.5}))
        made = over_time(SHEET, self.at, with_pass(changed, Pass(id="q", name="q")))
        self.assertEqual((made.passes[0].strength, set(made.passes[0].keys)), (0.5, {"mix"}))
        self.assertEqual([each.id for each in made.passes], ["p", "q"])


class Mapped(TestCase):
    def test_a_copy_on_another_shape_and_a_mirror_move_along(self) -> None:
        copied, id = copy_region(SHEET, "r", 1.5, Sheet(), 3.0)
        part = copied.region(id).parts[0]  # type: ignore[union-attr]
        self.assertEqual({frame: key.value for frame, key in part.keys["x"].items()}, {"0": 0.4, "10": 1.6})
        self.assertEqual(part.keys["x"]["0"].ease, "smooth")
        mirrored = mirror(SHEET, "r", None, 1.5).regions[0].parts[0]
        for frame in (0, 4, 10):
            x, other = part_at(PART, frame).values["x"], part_at(mirrored, frame).values["x"]
            self.assertAlmostEqual(float(x) + float(other), 1.5, places=4)
