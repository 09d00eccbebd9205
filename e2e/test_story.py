"""One user's afternoon, from a still to a file: what the first slice of Calado promises."""

import io
import json
import tempfile
from pathlib import Path

import numpy as np
from django.test import tag
from PIL import Image

from calado.cli import main
from calado.media.stills import read_still
from e2e.support import ROOT, InBrowser
from e2e.words import VIGNETTE


def own_picture() -> bytes:
    """A small made-up still: waves of three colours."""
    rows, columns = np.mgrid[0:300, 0:450]
    waves = [np.sin(columns / (20 + 9 * c)) * np.cos(rows / (17 + 5 * c)) for c in range(3)]
    out = io.BytesIO()
    Image.fromarray((np.stack(waves, axis=2) * 110 + 128).astype(np.uint8)).save(out, "PNG")
    return out.getvalue()


@tag("e2e")
class StoryTest(InBrowser):
    def test_from_a_still_to_a_file(self) -> None:
        self.bench("The bench by the window")
        self.page.get_by_text("Nothing is done to this shot yet.").wait_for()
        self.start("vignette")
        self.reads(f"Outside frame oval: {VIGNETTE}")
        self._shape_the_ellipse()
        self._look_at_the_matte()
        self._pull_the_faders()
        self._blur_outside_of_the_same_region()
        self._compare()
        self._undo_across_a_reload()
        self._export("PNG, 16 bit", "png")
        self._export("JPEG", "jpg")

    def _shape_the_ellipse(self) -> None:
        self.region_words.first.click()
        self.handle("Move").wait_for()
        before = self.sheet()["regions"][0]["parts"][0]["values"]
        self.drag("Move", 30, -20)
        self.drag("Size, right", -60, 0)
        self.drag("Turn", 40, 25)
        self.drag("Feather in", -20, 12)
        after = self.sheet()["regions"][0]["parts"][0]["values"]
        for value in ("x", "y", "width", "turn", "feather_in"):
            self.assertNotAlmostEqual(after.get(value, 0), before.get(value, 0), msg=value)
        scale = float(self.stage.get_attribute("data-scale") or 0) * 1067
        moved = (self.number("x"), self.number("y"))
        self.assertNotEqual(moved, ("50.0 %", "50.0 %"), "the tray shows what was dragged")
        self.assertLess(after["width"], before["width"] - 40 / scale)

    def _look_at_the_matte(self) -> None:
        pictures = {}
        for view in ("Lattice", "Matte", "Cutout", "Picture"):
            self.page.get_by_role("radio", name=view, exact=True).click()
            self.page.locator(f"canvas[data-view={view.lower()}]").wait_for()
            self.settled()
            pictures[view] = self.page.locator("canvas").screenshot()
        self.assertEqual(len(set(pictures.values())), 4, "each view shows something else")
        matte = np.asarray(Image.open(io.BytesIO(pictures["Matte"])).convert("L"))
        self.assertGreater(matte[matte.shape[0] // 2, matte.shape[1] // 2], 150)

    def _pull_the_faders(self) -> None:
        self.change_words.first.click()
        self.page.get_by_role("radio", name="Outside").wait_for()
        knob = self.page.get_by_role("slider", name="Exposure")
        x, y = self.middle(knob)
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x, y + 12, steps=5)
        self.page.locator("canvas[data-picture]").wait_for()
        self.page.mouse.up()
        self.settled()
        dragged = self.sheet()["passes"][0]["outside"]["exposure"]["amount"]
        self.assertLess(dragged, -1.25)
        self.page.get_by_role("tab", name="Colour").click()
        self.type_number("amount", "-30")
        self.assertEqual(self.sheet()["passes"][0]["outside"]["saturation"]["amount"], -0.3)
        self.reads(
            f"Outside frame oval: exposure −{-dragged:.1f} EV, saturation −30 %, "
            "highlights protected 80 % from 55 %, hue kept 100 %."
        )

    def _blur_outside_of_the_same_region(self) -> None:
        self.page.get_by_role("button", name="+ start a pass…").click()
        self.page.get_by_label("Search by purpose").fill("soften backgroud")
        self.page.get_by_text("read as").wait_for()
        self.page.get_by_role("radio", name="frame oval").click()
        self.page.get_by_role("button", name="Blur", exact=True).click()
        self.page.locator("[data-parameter=radius]").first.wait_for()
        self.settled()
        sheet = self.sheet()
        self.assertEqual([each["region"] for each in sheet["passes"]], [sheet["regions"][0]["id"]] * 2)
        self.type_number("radius", "1.5")
        self.reads("Outside frame oval: blur 1.5 %.", 1)
        self.cards.locator("small", has_text="2").wait_for()

    def _compare(self) -> None:
        canvas = self.page.locator("canvas")
        done = canvas.screenshot()
        self.page.keyboard.down("s")
        self.page.locator("canvas[data-view=source]").wait_for()
        self.settled()
        self.assertNotEqual(canvas.screenshot(), done)
        self.page.keyboard.up("s")
        self.page.locator("canvas[data-view=picture]").wait_for()
        self.settled()
        self.page.keyboard.down("x")
        self.page.get_by_text("Exaggerated four times").wait_for()
        self.settled()
        self.page.keyboard.up("x")
        before = self.sheet()
        switch = self.page.get_by_role("switch", name="Vignette, on or off")
        switch.click()
        self.settled()
        self.assertFalse(self.sheet()["passes"][0]["on"])
        switch.click()
        self.settled()
        self.assertEqual(self.sheet(), before, "looking and comparing change nothing")

    def _undo_across_a_reload(self) -> None:
        now = self.sheet()
        undo, redo = (self.page.get_by_role("button", name=name, exact=True) for name in ("Undo", "Redo"))
        undo.click()
        self.settled()
        undo.click()
        self.settled()
        undo.click()
        self.settled()
        self.page.locator("[data-pass] [data-told]", has_text="blur").wait_for()
        self.assertNotEqual(self.sheet(), now)
        self.page.reload()
        self.settled()
        for _ in range(3):
            redo.click()
            self.settled()
        self.assertEqual(self.sheet(), now)
        self.page.reload()
        self.settled()
        undo.click()
        self.settled()
        self.assertNotEqual(self.sheet(), now, "undo is kept across a reload")
        redo.click()
        self.settled()

    def _export(self, kind: str, suffix: str) -> None:
        self.page.get_by_role("button", name="Export…").click()
        dialog = self.page.get_by_role("dialog")
        dialog.get_by_role("radio", name=kind, exact=True).click()
        ends = suffix != "png"
        dialog.get_by_role("radio", name="cut off" if ends else "led to white, its hue kept").click()
        dialog.get_by_role("button", name="Export", exact=True).click()
        newest = dialog.locator("[data-export]").first
        if suffix == "png":  # a JPEG of this size may be done before anybody looks
            dialog.get_by_role("progressbar").first.wait_for()
        dialog.locator("[data-export]").first.locator(f"text=.{suffix}").wait_for()
        newest.get_by_role("link", name="download").wait_for()
        with self.page.expect_download() as got:
            newest.get_by_role("link", name="download").click()
        if suffix == "png":
            self._statement()
        dialog.get_by_role("button", name="Close", exact=True).click()
        self.assertTrue(got.value.suggested_filename.endswith(suffix))
        with tempfile.TemporaryDirectory() as held:
            folder = Path(held)
            (folder / "sheet.json").write_text(json.dumps(self.sheet()))
            source = ROOT / "demo" / "stills" / "a_bench.png"
            out = folder / f"out.{suffix}"
            said = ["render", str(folder / "sheet.json"), str(source), "-o", str(out)]
            self.assertEqual(main([*said, "--cut-off"] if ends else said), 0)
            exported, rendered = read_still(Path(got.value.path())), read_still(out)
        self.assertEqual(exported.samples.dtype, np.uint16 if suffix == "png" else np.uint8)
        np.testing.assert_array_equal(exported.samples, rendered.samples)
        untouched = read_still(ROOT / "demo" / "stills" / "a_bench.png").samples
        self.assertGreater(np.abs(exported.samples / exported.samples.max() - untouched / 255.0).mean(), 0.01)

    def _statement(self) -> None:
        self.page.get_by_role("button", name="Statement of changes of").first.click()
        said = self.page.get_by_role("dialog", name="Statement of changes")
        said.get_by_text("of the picture").first.wait_for()
        self.assertEqual(said.get_by_role("region").count(), len(self.sheet()["passes"]))
        with self.page.expect_download() as paper:
            said.get_by_role("link", name="PDF").click()
        self.assertTrue(Path(paper.value.path()).read_bytes().startswith(b"%PDF"))
        said.get_by_role("button", name="Close", exact=True).click()

    def test_a_picture_of_ones_own(self) -> None:
        self.contact_sheet()
        files = [{"name": "waves.png", "mimeType": "image/png", "buffer": own_picture()}]
        self.page.locator("input[type=file]").set_input_files(files)
        self.page.get_by_role("link", name="Open waves").click()
        self.settled()
        self.page.get_by_text("450 × 300 px").wait_for()
        self.start("spotlight")
        said = (
            "Inside subject oval: exposure +0.3 EV. "
            "Outside subject oval: exposure −1.3 EV, saturation −15 %, "
            "highlights protected 80 %, legible down to 8 %, hue kept 100 %."
        )
        self.reads(said)
        # the same file again is noticed, and leads to the shot that is there
        self.page.get_by_role("link", name="Lanternmoth").click()
        self.page.locator("input[type=file]").set_input_files([{**files[0], "name": "again.png"}])
        self.page.get_by_role("alert").get_by_role("link", name="open it").click()
        self.settled()
        self.reads(said)
