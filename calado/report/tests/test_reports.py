"""Reports read by others: the PDF by a PDF library, the table by a reader of CSV."""

import csv
import io
import unittest
from dataclasses import replace

import cv2
import numpy as np
from pypdf import PdfReader

from calado.follow.motion import Motion, Step
from calado.report.concealment import Of, Report, Told, Written, concealment_report
from calado.report.pdf import report_pdf
from calado.report.table import HEAD, report_csv
from calado.sheet.models import EMPTY_SHEET, Declared, Fix, Part, Pass, Region, Sheet, Track

DIGEST = "c" * 64
SURE = {5: 0.3, 12: 0.2, 30: 0.55, 31: 0.6}
MOTION = Motion("clip", 20, (0.5, 0.5), {k: Step(np.eye(3), SURE.get(k, 0.97)) for k in range(50)})


def sheet(name: str = "plate") -> Sheet:
    part = Part(id="o", kind="ellipse", values={"x": 0.5, "y": 0.5, "width": 0.2, "height": 0.2})
    track = Track(motion=DIGEST, at=20, fixes={"12": Fix(dx=0.01)})
    covers = {"40": Declared(last=44, says="absent", who="Odile", when="2026-11-30T10:00:00Z")}
    region = Region(id="r", name=name, parts=(part,), track=track, covers=covers)
    light = Pass(id="l", name="Light", inside={"exposure": {"amount": -0.5}})
    return Sheet(
        regions=(region,), passes=(Pass(id="p", name="Conceal", region="r", inside={"solid": {"amount": 1}}), light)
    )


def report(first: int = 0, last: int = 49, name: str = "plate", *, joined: bool = False) -> Report:
    written = Written("swing.mp4", 1234567, "a" * 64, "2026-11-30 18:00 UTC", "0.1.0", 7)
    found = {
        "covers": [{"pass_id": "p", "left": 0.0061, "at": 31, "frames": 45, "take": 0}],
        "findings": ["It has 49 frames, 50 were ordered."],
    }
    of = Of("swing", "b" * 64, 50, first, last)
    takes = [Told(of, (sheet(name), EMPTY_SHEET), lambda digest: MOTION)]
    takes += [replace(takes[0], of=replace(of, clip="swing, the end"))] if joined else []
    return concealment_report(written, takes, found, ["“plate”: one frame is open."])


class Covers(unittest.TestCase):
    def test_frames_by_how_they_stand_and_the_least_sure_of_those_that_are_covered(self) -> None:
        (cover,) = report().covers
        self.assertEqual(cover.says, "It covers 44, absent in 5, 1 open.")
        self.assertEqual([(run.first, run.last) for run in cover.runs], [(0, 4), (5, 5), (6, 39), (40, 44), (45, 49)])
        self.assertTrue({5, 12, 30, 31} <= {each.frame for each in cover.shown})
        self.assertIn("from frame 20 where it was marked, corrected in 12", cover.stands)
        self.assertIn("0.7\u00a0%", cover.left)

    def test_only_the_frames_that_were_written_are_told(self) -> None:
        (cover,) = report(10, 42).covers
        self.assertEqual((cover.runs[0].first, cover.runs[-1].last), (10, 42))
        self.assertEqual(cover.says, "It covers 30, absent in 3.")
        self.assertTrue(all(10 <= each.frame <= 42 for each in cover.shown))

    def test_of_several_clips_in_one_file_each_is_told(self) -> None:
        one, other = report(joined=True).covers
        self.assertEqual((one.name, other.name), ("swing: Conceal", "swing, the end: Conceal"))
        self.assertEqual((other.shown, other.left), ((), "Nothing of the file lies under it."))
        self.assertEqual(len(report(joined=True).sentences), 4)


class Files(unittest.TestCase):
    def test_the_table_is_read_back(self) -> None:
        rows = list(csv.reader(io.StringIO(report_csv(report(name="=HYPERLINK(1)")))))
        self.assertEqual(tuple(rows[0]), HEAD)
        self.assertEqual(len(rows), 6)
        absent = dict(zip(HEAD, rows[4], strict=True))
        self.assertEqual(
            (absent["first"], absent["last"], absent["state"], absent["who"]), ("40", "44", "absent", "Odile")
        )
        self.assertEqual(absent["region"], "'=HYPERLINK(1)")
        covered = dict(zip(HEAD, rows[1], strict=True))
        self.assertEqual((covered["declared"], covered["who"]), ("", ""))

    def test_a_reader_of_pdf_finds_all_of_it_and_the_pictures(self) -> None:
        asked: list[int] = []

        def picture(frame: int) -> bytes | None:
            asked.append(frame)
            return bytes(cv2.imencode(".jpg", np.full((120, 213, 3), frame, np.uint8))[1]) if frame != 5 else None

        data = report_pdf(report(), picture)
        self.assertEqual(data, report_pdf(report(), picture))
        reader = PdfReader(io.BytesIO(data))
        text = " ".join("\n".join(page.extract_text() for page in reader.pages).split())
        for said in ("swing.mp4", "a" * 64, "Conceal, over plate", "frames 40 to 44", "declared absent", "Odile", "30"):
            self.assertIn(said, text)
        self.assertIn("It has 49 frames, 50 were ordered.", text)
        self.assertIn("exposure", text)
        pictures = sum(len(page.images) for page in reader.pages)
        self.assertEqual(pictures, len(set(asked)) - 1)


class Letters(unittest.TestCase):
    def test_names_come_in_their_own_letters(self) -> None:
        for name in ("Ōdilė Šťastná", "Μαρία η μαριονέτα", "Кукольный театр", "Թատրոն", "თეატრი"):
            with self.subTest(name):
                read = PdfReader(io.BytesIO(report_pdf(report(name=name), lambda frame: None)))
                self.assertIn(name, " ".join(page.extract_text() for page in read.pages).replace("\n", " "))
