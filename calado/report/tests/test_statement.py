"""Statements of changes: shares against areas that are known, kinds against what each adjustment is."""

import csv
import io
import unittest
from dataclasses import replace

import numpy as np
from pypdf import PdfReader

from calado.colour.spaces import SRGB
from calado.render.engine import Engine
from calado.render.source import source_of
from calado.report.concealment import Of, Written
from calado.report.pdf import statement_pdf
from calado.report.statement import DRAWS, HIDES, LAYS, MOVES, TAKES, Look, Stated, Statement, spread, statement
from calado.report.table import STATED, statement_csv
from calado.sheet.models import EMPTY_SHEET, Part, Pass, Region, Sheet, Treatment

WRITTEN = Written("lamp.png", 1234, "a" * 64, "2026-12-01 18:00 UTC", "0.1.0", 3)
OF = Of("The lamp", "b" * 64, 1, 0, 0)
#: a hard rectangle on a quarter of the picture
BOX = Part(id="b", kind="rectangle", values={"x": 0.75, "y": 0.5, "width": 0.75, "height": 0.5, "inner": 0, "outer": 0})
REGION = Region(id="r", name="box", parts=(BOX,))


def sheet(*treatments: Treatment, region: str | None = "r") -> Sheet:
    passes = tuple(Pass(id=f"p{k}", name=f"Pass {k}", region=region, inside=each) for k, each in enumerate(treatments))
    return Sheet(regions=(REGION,), passes=passes)


def stated(own: Sheet, project: Sheet = EMPTY_SHEET, cut: str = "", others: tuple[str, ...] = ()) -> Statement:
    rng = np.random.default_rng(4)
    codes = np.broadcast_to(rng.integers(60, 190, (1, 200, 300), np.uint8), (3, 200, 300))
    source = source_of(np.ascontiguousarray(codes), SRGB, "statement")
    take = Stated(OF, (own, project), [Look(0, source, (own, project))])
    return statement(WRITTEN, [take, *(replace(take, of=replace(OF, clip=each)) for each in others)], Engine(), cut)


class Statements(unittest.TestCase):
    def test_nothing_but_light_in_a_quarter_of_it(self) -> None:
        made = stated(sheet({"exposure": {"amount": -1.0}}))
        self.assertAlmostEqual(made.share, 0.25, delta=0.01)
        self.assertAlmostEqual(made.done[0].share, 0.25, delta=0.01)
        self.assertIn("Only light, colour and sharpness were changed", made.says)
        self.assertIn("about 25\u00a0%", made.says)
        self.assertIn("Nothing was added, taken away or moved.", made.says)
        self.assertIn("exposure", made.done[0].says)

    def test_each_kind_is_told_and_one_that_does_nothing_is_not(self) -> None:
        kinds = {
            HIDES: {"solid": {"amount": 1.0}},
            TAKES: {"cut": {"amount": 1.0}},
            MOVES: {"bulge": {"amount": 0.5}},
            LAYS: {"grain": {"amount": 0.5}},
            DRAWS: {"ring": {"width": 0.01}},
        }
        made = stated(sheet(*kinds.values()))
        self.assertEqual([each.kinds for each in made.done], [(kind,) for kind in kinds])
        for number, kind in enumerate(kinds):
            self.assertIn(f"“Pass {number}” {kind}", made.says)
        self.assertIn("Nothing else was added", made.says)
        still = stated(sheet({"solid": {"amount": 0.0}, "exposure": {"amount": 0.4}}))
        self.assertEqual(still.done[0].kinds, ())

    def test_each_pass_is_measured_on_what_stands_before_it_the_project_s_last(self) -> None:
        brighter, darker = {"exposure": {"amount": 1.0}}, {"exposure": {"amount": -1.0}}
        made = stated(sheet(brighter), sheet(darker))
        # they take each other back
        self.assertEqual(made.share, 0.0)
        self.assertEqual([round(each.share, 1) for each in made.done], [0.2, 0.2])
        self.assertIn("less than 1\u00a0%", made.says)

    def test_without_a_pass_nothing_was_changed_but_what_was_cut_out_is_said(self) -> None:
        self.assertEqual(stated(EMPTY_SHEET).says, "Nothing was changed.")
        self.assertIn("what lies outside of “box” was made transparent", stated(EMPTY_SHEET, cut="box").says)

    def test_of_several_clips_in_one_file_each_is_told(self) -> None:
        made = stated(sheet({"exposure": {"amount": -1.0}}), others=("The wood",))
        self.assertEqual([each.name for each in made.done], ["The lamp: Pass 0", "The wood: Pass 0"])
        self.assertIn("of each clip", made.read)

    def test_the_frames_that_are_looked_at_reach_from_the_first_to_the_last(self) -> None:
        for first, last in ((0, 0), (3, 5), (10, 900)):
            frames = spread(first, last)
            self.assertEqual((frames[0], frames[-1]), (first, last))
            self.assertEqual(frames, sorted(set(frames)))

    def test_others_read_the_paper_and_the_table(self) -> None:
        made = stated(sheet({"exposure": {"amount": -1.0}}, {"solid": {"amount": 1.0}}))
        text = " ".join("\n".join(p.extract_text() for p in PdfReader(io.BytesIO(statement_pdf(made))).pages).split())
        for said in ("Statement of changes", "lamp.png", "a" * 64, "The lamp", "Pass 1", HIDES, "exposure"):
            self.assertIn(said, text)
        self.assertEqual(statement_pdf(made), statement_pdf(made))
        rows = [dict(zip(STATED, row, strict=True)) for row in csv.reader(io.StringIO(statement_csv(made)))][1:]
        self.assertEqual([row["besides"] for row in rows], ["", HIDES])
        self.assertAlmostEqual(float(rows[0]["share"]), 0.25, delta=0.01)
