"""Starters: they fit the picture, take free names, and are found in spite of slips."""

from unittest import TestCase

import numpy as np

from calado.catalogue import CATALOGUE
from calado.edit.create import Drawn, each_apart, free_name, join_part, start_adjustment, start_pass, start_region
from calado.errors import SheetError
from calado.region.kinds import PARTS
from calado.region.matte import region_matte
from calado.sheet.check import check_sheet
from calado.sheet.declare import Reference
from calado.sheet.models import Part, Pass, Region, Sheet
from calado.start.analysis import plain
from calado.start.search import search
from calado.start.starters import STARTERS
from calado.window import full_window

DRAWN = [
    kind
    for kind in PARTS.values()
    if not any(isinstance(p, Reference) for p in kind.parameters) and not (kind.strokes or kind.taken)
]


class Starting(TestCase):
    def test_every_starter_makes_a_valid_sheet_on_any_shape(self) -> None:
        for aspect in (0.3, 1.0, 1.5, 3.2):
            sheet = Sheet()
            for starter in STARTERS:
                sheet, id = start_pass(sheet, starter.id, plain(aspect))
                check_sheet(sheet, CATALOGUE)
                self.assertEqual(sheet.passes[-1].id, id)

    def test_the_vignette_leaves_the_middle_and_reaches_the_corners(self) -> None:
        for width, height in ((1500, 1000), (1000, 1500), (1000, 1000)):
            sheet, _ = start_pass(Sheet(), "vignette", plain(width / height))
            matte = region_matte(sheet.regions[0], full_window(width, height, 0.1))
            middle = tuple(side // 2 for side in matte.shape)
            self.assertEqual(matte[middle], 1)
            self.assertLess(matte[0, 0], 0.1)
            np.testing.assert_allclose(matte, matte[::-1, ::-1], atol=1e-3)

    def test_a_second_pass_may_stand_on_the_same_region(self) -> None:
        sheet, _ = start_pass(Sheet(), "vignette", plain(1.5))
        sheet, _ = start_pass(sheet, "soft-edge", plain(1.5), sheet.regions[0].id)
        sheet, id = start_adjustment(sheet, "blur", "outside", sheet.regions[0].id, 1.5)
        self.assertEqual(len(sheet.regions), 1)
        self.assertEqual({each.region for each in sheet.passes}, {"region-1"})
        self.assertIn("blur", sheet.passes[-1].outside)
        self.assertEqual(id, "pass-3")

    def test_each_thing_that_is_covered_goes_its_own_way(self) -> None:
        parts = tuple(
            Part(id=f"part-{k}", kind="rectangle", values={"x": 0.3 * k, "y": 0.5, "width": 0.2, "height": 0.1})
            for k in (1, 2, 3)
        )
        region = Region(id="region", name="lines", parts=parts)
        one = Pass(id="pass", name="Conceal", region="region", inside={"solid": {"amount": 1.0}})
        made = each_apart(Sheet(regions=(region,), passes=(one,)), "pass")
        check_sheet(made, CATALOGUE)
        self.assertEqual([len(each.parts) for each in made.regions], [1, 1, 1])
        self.assertEqual([each.region for each in made.passes], [each.id for each in made.regions])
        self.assertEqual({str(each.inside) for each in made.passes}, {str(one.inside)})
        self.assertEqual([each.parts[0].values for each in made.regions], [part.values for part in parts])
        self.assertEqual(len({each.name for each in (*made.regions, *made.passes)}), 6)
        # what is taken out of a region stays with it
        cut = region.model_copy(update={"parts": (parts[0], parts[1].model_copy(update={"join": "subtract"}))})
        whole = Sheet(regions=(cut,), passes=(one,))
        self.assertIs(each_apart(whole, "pass"), whole)

    def test_names_and_ids_are_free(self) -> None:
        sheet = Sheet()
        for _ in range(3):
            sheet, _ = start_pass(sheet, "vignette", plain(1.5))
        self.assertEqual([each.name for each in sheet.passes], ["Vignette", "Vignette 2", "Vignette 3"])
        self.assertEqual(free_name("oval", ["oval", "oval 2"]), "oval 3")

    def test_regions_and_parts(self) -> None:
        sheet, region = start_region(Sheet(), Drawn("ellipse"), 1.5)
        sheet, part = join_part(sheet, region, Drawn("ellipse"), "subtract", 1.5)
        check_sheet(sheet, CATALOGUE)
        self.assertEqual([each.join for each in sheet.regions[0].parts], ["add", "subtract"])
        self.assertEqual(sheet.regions[0].parts[1].id, part)

    def test_every_kind_can_be_drawn_or_placed(self) -> None:
        for kind in DRAWN:
            points = ((0.1, 0.1), (0.4, 0.1), (0.1, 0.4)) if kind.points else ()
            for drawn in (Drawn(kind.id), Drawn(kind.id, {"feather_in": 0.01} if kind.parameters else {}, points)):
                sheet, _ = start_region(Sheet(), drawn, 1.5)
                check_sheet(sheet, CATALOGUE)
                matte = region_matte(sheet.regions[0], full_window(90, 60))
                self.assertGreater(matte.max(), 0.5, kind.id)

    def test_what_stands_for_something_names_it(self) -> None:
        for id in ("region", "matte"):
            with self.assertRaisesRegex(SheetError, "Choose"):
                start_region(Sheet(), Drawn(id), 1.5)

    def test_points_where_they_belong_and_within_reach(self) -> None:
        for drawn in (
            Drawn("ellipse", {}, ((0.1, 0.1),) * 3),
            Drawn("polygon", {}, ((0.1, 0.1), (99.0, 0.1), (0.1, 0.4))),
        ):
            sheet, _ = start_region(Sheet(), drawn, 1.5)
            with self.assertRaisesRegex(SheetError, "point"):
                check_sheet(sheet, CATALOGUE)

    def test_what_does_not_exist_is_refused(self) -> None:
        for attempt in (
            lambda: start_pass(Sheet(), "sparkle", plain(1.5)),
            lambda: start_pass(Sheet(), "vignette", plain(1.5), "lamp"),
            lambda: start_adjustment(Sheet(), "sparkle", "inside", None, 1.5),
            lambda: join_part(Sheet(), "lamp", Drawn("ellipse"), "add", 1.5),
        ):
            with self.assertRaises(SheetError):
                attempt()


class Searching(TestCase):
    def test_by_purpose_synonym_and_slip(self) -> None:
        for query, starter in (
            ("vignette", "vignette"),
            ("vinyete", "vignette"),
            ("darken corners", "vignette"),
            ("blurr cornrs", "soft-edge"),
            ("stage lihgt", "spotlight"),
        ):
            self.assertIn(starter, search(query).starters, query)

    def test_adjustments_are_found_too(self) -> None:
        self.assertIn("exposure", search("brihgtness").adjustments)
        self.assertEqual(search("brihgtness").read_as, "brightness")

    def test_nothing_and_everything(self) -> None:
        self.assertEqual(search("zzzzqq").starters, ())
        # what is more special shows where it is asked for
        self.assertEqual(set(search("").starters), {each.id for each in STARTERS if not each.asked})
        self.assertIn("conceal-faces", search("conceal").starters)
        self.assertEqual(search("").read_as, "")
