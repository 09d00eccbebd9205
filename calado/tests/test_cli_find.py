"""``calado find``: what is found is told as JSON, of a still and of a frame of a clip, and makes parts."""

import contextlib
import io
import json
import tempfile
from pathlib import Path
from typing import Any
from unittest import TestCase

from calado.catalogue import CATALOGUE
from calado.cli import main
from calado.follow.tests.passing import by_at, going_by
from calado.media.clips.tests.made import make
from calado.sheet.check import read_sheet

DEMO = Path(__file__).parents[2] / "demo"


class Finding(TestCase):
    def run_it(self, *arguments: object) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main([str(each) for each in arguments])
        return code, out.getvalue(), err.getvalue()

    def found(self, *arguments: object) -> Any:
        code, said, _ = self.run_it("find", *arguments)
        self.assertEqual(code, 0)
        return json.loads(said)

    def test_what_is_found_in_a_still_makes_parts(self) -> None:
        told = self.found("all", DEMO / "stills" / "e_booth.png")
        self.assertEqual((told["width"], told["height"]), (1600, 1067))
        names = [each["name"] for each in told["found"]]
        self.assertEqual((names.count("face"), names.count("text")), (1, 12))
        parts = [{"id": f"p{number}", **each["part"]} for number, each in enumerate(told["found"])]
        made = {"regions": [{"id": "r", "name": "found", "parts": parts}]}
        self.assertEqual(len(read_sheet(json.dumps(made).encode(), CATALOGUE).regions[0].parts), len(parts))
        for each in told["found"]:
            self.assertTrue(all(-0.1 < x < 1.6 and -0.1 < y < 1.1 for x, y in each["outline"]), each)

    def test_of_a_clip_one_frame(self) -> None:
        there = self.found("faces", DEMO / "clips" / "walk.mp4", "--at", 24)
        self.assertEqual([each["name"] for each in there["found"] if each["sure"]], ["face"])
        # by then she has gone out of the frame
        gone = self.found("faces", DEMO / "clips" / "walk.mp4", "--at", 84)
        self.assertFalse(any(each["sure"] for each in gone["found"]))

    def test_along_a_clip_each_once_with_its_frames(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            clip = make(Path(folder) / "by.mp4", 13, size=(320, 180), scene=going_by)
            told = self.found("faces", clip, "--along")
            (face,) = told["found"]
            self.assertEqual((face["name"], face["sure"], face["spans"], told["every"]), ("face", True, [[0, 12]], 6))
            left, top, wide, high = (each * 180 for each in face["box"])
            x, y = by_at(face["frame"])
            self.assertTrue(left < x < left + wide and top < y < top + high)
            for refused in (("subjects", clip), ("faces", DEMO / "stills" / "e_booth.png")):
                code, _, said = self.run_it("find", *refused, "--along")
                self.assertEqual((code, said), (1, "calado: Along a clip faces and lettering are looked for.\n"))

    def test_refused_in_a_sentence(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            clip = make(Path(folder) / "a.mp4", 3)
            code, _, said = self.run_it("find", "faces", clip, "--at", 9)
            self.assertEqual(code, 1)
            self.assertRegex(said, r"^calado: .*frames 0 to 2.*\n$")
            (Path(folder) / "a.png").write_bytes(b"no picture")
            code, _, said = self.run_it("find", "lettering", Path(folder) / "a.png")
            self.assertEqual((code, said.count("\n")), (1, 1))
