"""Marking where, beyond single outlines: joined, refined, looked at, taken elsewhere."""

import io
from math import cos, pi, sin

import numpy as np
from django.test import tag
from PIL import Image

from e2e.marking import OnAFreshShot
from e2e.words import VIGNETTE

ARCH = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 300 200"><path d="{}"/></svg>'


@tag("e2e")
class WhereTest(OnAFreshShot):
    def test_scribbling_round_a_thing_lays_a_turned_ellipse_round_it(self) -> None:
        self.bench("Ticket booth")
        self.begin("ellipse")
        turn = 0.5
        points = [
            (
                450 + 140 * cos(t) * cos(turn) - 70 * sin(t) * sin(turn),
                280 + 140 * cos(t) * sin(turn) + 70 * sin(t) * cos(turn),
            )
            for t in (2 * pi * k / 30 for k in range(32))
        ]
        self.path(*points, steps=1)
        values = self.drawn(1)["parts"][0]["values"]
        scale = self.view()[0] * 1067
        self.assertAlmostEqual(values["width"], 280 / scale, delta=0.02)
        self.assertAlmostEqual(values["height"], 140 / scale, delta=0.02)
        self.assertAlmostEqual(values["turn"], 28.6, delta=3)

    def test_with_ctrl_a_region_snaps_to_the_frame(self) -> None:
        self.bench("Ticket booth")
        self.begin("ellipse")
        self.path((250, 150), (400, 260))
        self.drawn(1)
        scale, left, top = self.view()
        x, y = self.middle(self.handle("Move"))
        centre = self.at(left + scale * 800, top + scale * 533.5)
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.keyboard.down("Control")
        self.page.mouse.move(centre[0] + 6, centre[1] - 5, steps=5)
        self.assertEqual(self.page.locator("[data-guides]").get_attribute("data-guides"), "2")
        self.page.mouse.up()
        self.page.keyboard.up("Control")
        self.settled()
        values = self.regions()[0]["parts"][0]["values"]
        self.assertAlmostEqual(values["x"], 1600 / 1067 / 2, places=4)
        self.assertAlmostEqual(values["y"], 0.5, places=4)
        self.assertEqual(self.page.locator("[data-guides]").get_attribute("data-guides"), "0")

    def test_a_freehand_curve_is_followed_closer_and_accepted_drawn_by_a_pen(self) -> None:
        self.bench("Ticket booth")
        self.begin("curve")
        self._pen(
            [(430 + (110 + 5 * sin(9 * t)) * cos(t), 280 + 110 * sin(t)) for t in (2 * pi * k / 60 for k in range(60))]
        )
        part = self.drawn(1)["parts"][0]
        self.assertGreater(len(part["path"]), 30)
        few = len(part["points"])
        self.page.get_by_role("button", name="closer").click()
        self.until(lambda: len(self.regions()[0]["parts"][0]["points"]) > few, True)
        self.page.get_by_role("button", name="accept").click()
        self.until(lambda: self.regions()[0]["parts"][0]["path"], [])
        self.assertEqual(self.page.get_by_role("button", name="closer").count(), 0)

    def _pen(self, points: list[tuple[float, float]]) -> None:
        """Draw with a pen that presses harder on its way."""
        wire = self.context.new_cdp_session(self.page)
        for k, point in enumerate(points):
            x, y = self.at(*point)
            kind = "mousePressed" if k == 0 else "mouseMoved"
            more = {
                "button": "left",
                "buttons": 1,
                "clickCount": 1,
                "pointerType": "pen",
                "force": 0.2 + 0.6 * k / len(points),
            }
            wire.send("Input.dispatchMouseEvent", {"type": kind, "x": x, "y": y, **more})
        x, y = self.at(*points[-1])
        up = {"type": "mouseReleased", "x": x, "y": y, "button": "left", "buttons": 0, "pointerType": "pen"}
        wire.send("Input.dispatchMouseEvent", {**up, "clickCount": 1})

    def test_the_view_scrolls_when_the_pen_nears_its_border(self) -> None:
        self.bench("Ticket booth")
        self.page.keyboard.press("1")
        self.settled()
        self.begin("rectangle")
        scale, left, top = self.view()
        start = ((300 - left) / scale / 1067, (250 - top) / scale / 1067)
        self.path((300, 250), (930, 300), end=False)
        self.until(lambda: self.view()[1] < left - 60, True)
        self.page.mouse.up()
        values = self.drawn(1)["parts"][0]["values"]
        self.assertAlmostEqual(values["x"] - values["width"] / 2, start[0], delta=0.004)
        self.assertGreater(values["width"], (930 - 300 + 60) / 1067)

    def test_wheel_and_space_while_an_outline_is_open(self) -> None:
        self.bench("Ticket booth")
        self.begin("polygon")
        for point in ((300, 200), (500, 200)):
            self.page.mouse.click(*self.at(*point))
        before = self.view()
        self.page.mouse.wheel(0, -200)
        self.until(lambda: self.view()[0] > before[0], True)
        zoomed = self.view()
        self.page.keyboard.down(" ")
        self.path((400, 300), (360, 280))
        self.page.keyboard.up(" ")
        self.until(lambda: self.view()[1] < zoomed[1], True)
        self.page.mouse.click(*self.at(420, 420))
        self.page.keyboard.press("Enter")
        self.assertEqual(len(self.drawn(1)["parts"][0]["points"]), 3)

    def test_refined_live_said_in_the_sentence_and_undone(self) -> None:
        self.bench("Ticket booth")
        self.start("vignette")
        self.region_words.first.click()
        self.facet("Refine")
        self.type_number("grow", "-4")
        self.type_number("blur", "1")
        self.reads(f"Outside frame oval, shrunk 4.0 %, blurred 1.0 %: {VIGNETTE}")
        self.page.get_by_role("button", name="back to none").click()
        self.reads(f"Outside frame oval: {VIGNETTE}")
        self.page.keyboard.press("Control+z")
        self.reads(f"Outside frame oval, shrunk 4.0 %, blurred 1.0 %: {VIGNETTE}")

    def test_beside_a_blur_the_edge_is_measured_and_grown_by_what_it_needs(self) -> None:
        self.bench("Portrait by lamplight")
        self.start("soft-edge")
        self.region_words.last.click()
        self.type_number("width", "55")
        self.type_number("height", "60")
        self.facet("Refine")
        self.page.get_by_role("button", name="measure the edge").click()
        self.page.get_by_text("px soft").wait_for()
        self.page.get_by_role("button", name="grow by").click()
        self.until(lambda: self.regions()[-1]["refine"].get("grow", 0) > 0, True)

    def test_pieces_are_dropped_and_kept(self) -> None:
        self.bench("Ticket booth")
        self.begin("ellipse")
        self.path((250, 150), (450, 330))
        self.drawn(1)
        self.join("add", "rectangle", (560, 200), (640, 280))
        self.join("subtract", "ellipse", (330, 210), (380, 260))
        self.facet("Islands")
        self.page.get_by_role("list").get_by_role("listitem").nth(2).wait_for()
        self.page.get_by_role("button", name="drop the hole").click()
        self.until(lambda: [each["kind"] for each in self.regions()[0]["removed"]], ["hole"])
        self.page.get_by_role("button", name="drop the island").last.click()
        self.until(lambda: len(self.regions()[0]["removed"]), 2)
        self.settled()
        for (x, y), expected in (((600, 240), 0), ((355, 235), 1)):
            self.assertAlmostEqual(self.matte_at(x, y, "region-1"), expected, delta=0.01)
        self.page.get_by_role("button", name="keep the hole").click()
        self.until(lambda: len(self.regions()[0]["removed"]), 1)

    def test_a_region_on_another_and_no_loop(self) -> None:
        self.bench("Ticket booth")
        self.begin("ellipse")
        self.path((250, 150), (450, 330))
        self.drawn(1)
        self.begin("rectangle")
        self.path((400, 150), (600, 330))
        self.drawn(2)
        self.page.get_by_role("button", name="subtract", exact=True).click()
        self.page.get_by_label("Another region").select_option(label="oval")
        self.until(lambda: len(self.regions()[1]["parts"]), 2)
        self.page.get_by_text("in a region").wait_for()
        self.cards.first.click()
        self.page.get_by_role("button", name="add", exact=True).click()
        self.page.get_by_label("Another region").select_option(label="rectangle")
        self.page.get_by_text("A region cannot stand on itself").wait_for()
        self.assertEqual(len(self.regions()[0]["parts"]), 1)

    def test_outlines_and_a_picture_from_files_and_back(self) -> None:
        self.bench("Ticket booth")
        self.page.keyboard.press("r")
        files = self.page.locator("input[type=file]")
        svg = ARCH.format("M90 160V90A60 60 0 0 1 210 90V160Z M130 160V110H170V160Z")
        files.last.set_input_files({"name": "arch.svg", "mimeType": "image/svg+xml", "buffer": svg.encode()})
        self.until(lambda: len(self.regions()), 1)
        self.settled()
        self.assertEqual(self.regions()[0]["name"], "arch")
        self.assertEqual([part["join"] for part in self.regions()[0]["parts"]], ["add", "subtract"])
        with self.page.expect_download() as saved:
            self.page.get_by_role("button", name="save SVG").click()
        self.assertEqual(saved.value.suggested_filename, "arch.svg")
        self.assertEqual(saved.value.path().read_text().count("<path"), 2)
        self.page.keyboard.press("r")
        out = io.BytesIO()
        Image.fromarray(np.tile(np.linspace(0, 255, 90).astype(np.uint8), (60, 1))).save(out, "PNG")
        files.first.set_input_files({"name": "fade.png", "mimeType": "image/png", "buffer": out.getvalue()})
        self.until(lambda: len(self.regions()), 2)
        self.page.get_by_role("radio", name="stretched").click()
        self.until(lambda: self.regions()[1]["parts"][0]["values"].get("fit"), "stretch")
        self.page.keyboard.press("r")
        files.last.set_input_files({"name": "bad.svg", "mimeType": "image/svg+xml", "buffer": b"<svg><script/></svg>"})
        self.page.get_by_text("has “script” in it").wait_for()
        self.assertEqual(len(self.regions()), 2)

    def test_mirrored_copied_and_deleted_with_the_question_answered(self) -> None:
        self.bench("Ticket booth")
        self.begin("ellipse")
        self.path((250, 150), (400, 260))
        x = self.drawn(1)["parts"][0]["values"]["x"]
        self.page.get_by_role("region", name="Shelf").get_by_role("button", name="mirror").click()
        self.until(lambda: abs(self.regions()[0]["parts"][0]["values"]["x"] - (1600 / 1067 - x)) < 1e-3, True)
        self.page.get_by_role("button", name="copy to…").click()
        self.page.get_by_label("Night rehearsal").check()
        self.page.get_by_role("button", name="Copy", exact=True).click()
        self.page.get_by_text("Copied to 1 shot.").wait_for()
        self.page.keyboard.press("Escape")
        self.page.get_by_role("button", name="+ start a pass…").click()
        self.starts_on.get_by_role("radio", name="oval", exact=True).click()
        self.page.locator("[data-starter=vignette]").click()
        self.reads(f"Outside oval: {VIGNETTE}")
        self.settled()
        self.page.get_by_role("button", name="delete", exact=True).last.click()
        self.page.get_by_text("The pass “Vignette” works on it.").wait_for()
        self.page.get_by_role("button", name="Keep it").click()
        self.assertEqual(len(self.regions()), 1)
        self.page.get_by_role("button", name="delete", exact=True).last.click()
        self.page.get_by_role("button", name="Delete it with that pass").click()
        self.until(lambda: (len(self.regions()), len(self.sheet()["passes"])), (0, 0))
        self.page.keyboard.press("Control+z")
        self.until(lambda: (len(self.regions()), len(self.sheet()["passes"])), (1, 1))
        self.bench("Night rehearsal", fresh=False)
        self.until(lambda: [each["name"] for each in self.regions()][-1:], ["oval"])

    def test_the_ribbon_leads_to_the_edge_and_shows_holes(self) -> None:
        self.bench("Portrait by lamplight")
        self.begin("ellipse")
        self.path((300, 150), (600, 450))
        self.drawn(1)
        self.page.keyboard.press("g")
        strip = self.page.get_by_role("button", name="The edge as a strip")
        strip.locator("img").wait_for()
        self.page.get_by_role("img", name="Profile across the edge").locator("path").nth(3).wait_for()
        self.page.get_by_role("radio", name="400 %").click()
        self.settled()
        box = strip.bounding_box()
        assert box is not None
        self.page.wait_for_timeout(400)
        self.page.mouse.click(box["x"] + 200, box["y"] + 30)
        self.until(lambda: self.view()[0] >= 1, True)
        stage = self.stage.bounding_box()
        assert stage is not None
        value = self.matte_at(stage["width"] / 2, stage["height"] / 2, self.regions()[-1]["id"])
        self.assertAlmostEqual(value, 0.5, delta=0.2)

    def test_held_against_the_source(self) -> None:
        self.bench("Portrait by lamplight")
        self.page.keyboard.press("w")
        line = self.page.get_by_role("slider", name="Wipe")
        x, y = self.middle(line)
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x - 200, y, steps=4)
        self.page.mouse.up()
        self.assertLess(float(line.input_value()), 35)
        self.page.keyboard.press("u")
        beside = self.page.get_by_role("group", name="Beside the stage")
        beside.wait_for()
        before, after = beside.bounding_box(), self.stage.bounding_box()
        assert before is not None and after is not None
        self.assertAlmostEqual(before["width"], after["width"], delta=2)
        self.page.mouse.move(before["x"] + 200, before["y"] + 200)
        scale = self.view()[0]
        self.page.mouse.wheel(0, -150)
        self.until(lambda: self.view()[0] > scale, True)
        self.page.keyboard.press("u")
        self.page.keyboard.press("b")
        self.page.get_by_text("This is the source").wait_for()
        self.page.keyboard.press("b")
        self.page.get_by_text("This is the source").wait_for(state="detached")
        self.page.get_by_role("button", name="Compare").click()
        self.page.get_by_role("menuitemcheckbox", name="Difference").click()
        self.page.locator("canvas[data-view=difference]").wait_for()

    def test_the_lattice_in_another_thread_on_the_other_side(self) -> None:
        self.bench("Portrait by lamplight")
        self.start("vignette")
        self.page.keyboard.press("l")
        self.page.locator("canvas[data-view=lattice]").wait_for()
        self.settled()
        for name in ("lichen", "dense", "inside"):
            self.page.locator("[data-readings]").get_by_role("radio", name=name, exact=True).click()
            self.settled()
        self.page.keyboard.press("i")
        self.page.locator("canvas[data-view=outline]").wait_for()
        self.settled()
        self.assertEqual(self.outlines.count(), 0)
