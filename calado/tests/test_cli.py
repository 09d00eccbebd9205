"""The command line: the same pixels as the engine, and one sentence for each refusal."""

import contextlib
import io
import json
import tempfile
from pathlib import Path
from unittest import TestCase

import numpy as np
from PIL import Image

from calado.adjust.registry import ADJUSTMENTS
from calado.cli import main
from calado.colour.spaces import SRGB
from calado.edit.create import start_pass
from calado.media.stills import read_still
from calado.region.matte import region_matte
from calado.render.encode import file_codes
from calado.render.engine import Engine, Order
from calado.render.source import source_of
from calado.sheet.models import Sheet
from calado.start.analysis import plain

PICTURE = np.random.default_rng(2).integers(0, 256, (80, 120, 3), np.uint8)
SHEET, _ = start_pass(Sheet(), "vignette", plain(1.5))


class CommandLine(TestCase):
    def setUp(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)
        Image.fromarray(PICTURE).save(self.at("in.png"))
        Path(self.at("sheet.json")).write_text(SHEET.model_dump_json())

    def at(self, name: str) -> str:
        return str(self.folder / name)

    def run_it(self, *arguments: str) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main(list(arguments))
        return code, out.getvalue(), err.getvalue()

    def test_render_writes_what_the_engine_makes(self) -> None:
        source = source_of(np.ascontiguousarray(np.moveaxis(PICTURE, -1, 0)), SRGB)
        made = Engine().picture(source, Order(SHEET), source.full())
        self.assertEqual(self.run_it("render", self.at("sheet.json"), self.at("in.png"), "-o", self.at("o.png"))[0], 0)
        written = np.moveaxis(read_still(Path(self.at("o.png"))).samples, 0, -1)
        np.testing.assert_array_equal(written, file_codes(made, SRGB, 16))

    def test_project_passes_and_formats(self) -> None:
        project = {"passes": [{"id": "a", "name": "a", "inside": {"exposure": {"amount": -12}}}]}
        Path(self.at("project.json")).write_text(json.dumps(project))
        code, _, _ = self.run_it(
            "render", self.at("sheet.json"), self.at("in.png"), "--project", self.at("project.json"),
            "-o", self.at("o.jpg"),
        )  # fmt: skip
        self.assertEqual(code, 0)
        self.assertLess(np.asarray(Image.open(self.at("o.jpg"))).max(), 8)

    def test_matte(self) -> None:
        code, _, _ = self.run_it(
            "matte", self.at("sheet.json"), self.at("in.png"), "frame oval", "-o", self.at("m.png")
        )
        self.assertEqual(code, 0)
        source = source_of(np.ascontiguousarray(np.moveaxis(PICTURE, -1, 0)), SRGB)
        expected = np.rint(region_matte(SHEET.regions[0], source.full()) * 65535)
        np.testing.assert_array_equal(read_still(Path(self.at("m.png"))).samples[0], expected)

    def test_describe(self) -> None:
        self.assertIn("Outside frame oval: exposure −1.2", self.run_it("describe", self.at("sheet.json"))[1])

    def test_what_is_cut_clear_has_straight_alpha_and_stands_on_black_in_a_jpeg(self) -> None:
        sheet = SHEET.model_copy(
            update={"passes": (SHEET.passes[0].model_copy(update={"outside": {"clear": {"amount": 1.0}}}),)}
        )
        Path(self.at("sheet.json")).write_text(sheet.model_dump_json())
        source = source_of(np.ascontiguousarray(np.moveaxis(PICTURE, -1, 0)), SRGB)
        matte = region_matte(SHEET.regions[0], source.full())
        for name in ("o.png", "o.tif"):
            self.run_it("render", self.at("sheet.json"), self.at("in.png"), "--bits", "8", "-o", self.at(name))
            made = np.asarray(Image.open(self.at(name)))
            np.testing.assert_allclose(made[..., 3], matte * 255, atol=0.51)
            np.testing.assert_array_equal(made[matte > 0.01, :3], PICTURE[matte > 0.01])
        self.run_it("render", self.at("sheet.json"), self.at("in.png"), "-o", self.at("o.jpg"), "--quality", "100")
        corner = (slice(0, 4), slice(0, 4))
        self.assertLess(np.asarray(Image.open(self.at("o.jpg")))[corner].mean(), 0.5 * PICTURE[corner].mean())

    def test_check_says_what_a_second_look_points_out(self) -> None:
        self.assertEqual(self.run_it("check", self.at("sheet.json"), self.at("in.png"))[0], 0)
        bare = Sheet().model_dump_json()
        Path(self.at("sheet.json")).write_text(bare)
        self.assertEqual(self.run_it("check", self.at("sheet.json"), self.at("in.png"))[1], "Nothing to point out.\n")

    def test_the_table_of_adjustments_has_a_row_for_each_parameter(self) -> None:
        lines = self.run_it("adjustments")[1].splitlines()
        self.assertEqual(len(lines), 2 + sum(len(each.parameters) for each in ADJUSTMENTS.values()))
        self.assertTrue(any("`exposure`" in line and "0.0" in line for line in lines))

    def test_schema(self) -> None:
        schema = json.loads(self.run_it("schema")[1])
        outside = schema["$defs"]["Pass"]["properties"]["outside"]["properties"]
        self.assertEqual(outside["exposure"]["properties"]["amount"]["default"], 0)

    def test_a_weak_cover_is_refused_once_and_written_when_one_says_so(self) -> None:
        sheet = {"passes": [{"id": "a", "name": "Hide", "inside": {"mosaic": {"size": 0.03}}, "must_cover": False}]}
        Path(self.at("weak.json")).write_text(json.dumps(sheet))
        order = ("render", self.at("weak.json"), self.at("in.png"), "-o", self.at("o.png"))
        code, _, said = self.run_it(*order)
        self.assertEqual((code, said.count("“Hide” is weak"), Path(self.at("o.png")).exists()), (1, 1, False))
        code, _, said = self.run_it(*order, "--even-so")
        self.assertEqual((code, said.count("“Hide” is weak"), Path(self.at("o.png")).exists()), (0, 1, True))

    def test_refusals_are_one_sentence(self) -> None:
        sheet, picture = self.at("sheet.json"), self.at("in.png")
        for arguments, piece in (
            (("render", sheet, self.at("none.png"), "-o", self.at("o.png")), "No such file"),
            (("render", sheet, picture, "-o", self.at("o.gif")), "Name the output"),
            (("render", picture, picture, "-o", self.at("o.png")), "not valid JSON"),
            (("matte", sheet, picture, "lamp", "-o", self.at("m.png")), "it has frame oval"),
            (("matte", sheet, picture, "frame oval", "-o", self.at("m.jpg")), "written as PNG"),
        ):
            code, _, err = self.run_it(*arguments)
            self.assertEqual(code, 1)
            self.assertIn(piece, err)
            self.assertEqual(err.count("\n"), 1)
