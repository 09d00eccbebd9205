"""What a photo editor and a press officer do all day, through the real interface, in no more presses than it takes."""

import io
from typing import Any

import cv2
import numpy as np
from PIL import Image

from demo.truths import TRUTH, truth
from e2e.marking import OnAFreshShot

STILLS = {
    "a_bench": "The bench by the window",
    "e_booth": "Ticket booth",
    "f_night": "Night rehearsal",
}


def face(name: str) -> np.ndarray:
    """Return where a still's face is, exactly."""
    file = truth().stills[name].mattes["face"]
    grey = cv2.imread(str(TRUTH / file), cv2.IMREAD_UNCHANGED)
    assert grey is not None
    plane = grey if grey.ndim == 2 else grey[..., 0]
    return np.asarray(plane > np.iinfo(plane.dtype).max // 2)


class Practice(OnAFreshShot):
    def begins(self, words: str) -> None:
        """Wait until the first pass's sentence begins so."""
        self.until(lambda: self.told()[: len(words)], words)

    def says(self, words: str, nth: int = 0) -> None:
        """Wait until a pass's sentence has these words."""
        self.until(lambda: words in self.told(nth), True)

    def press(self, name: str, **how: Any) -> None:
        self.page.get_by_role("button", name=name, exact=True).click(**how)

    def place(self, x: float, y: float) -> tuple[float, float]:
        """Return where a pixel of the picture is on the screen."""
        stage = self.page.locator(".stage.result")
        scale, left, top = (float(stage.get_attribute(f"data-{key}") or 0) for key in ("scale", "left", "top"))
        box = stage.bounding_box()
        assert box is not None
        return box["x"] + left + scale * x, box["y"] + top + scale * y

    def draw(self, *corners: tuple[float, float], kind: str = "ellipse") -> None:
        """Draw a region from corner to corner, in pixels of the picture."""
        regions = self.page.locator(".shelf .card").count()
        self.page.keyboard.press("r")
        self.page.get_by_role("radio", name=kind).click()
        (x0, y0), (x1, y1) = (self.place(*corner) for corner in corners)
        self.page.mouse.move(x0, y0)
        self.page.mouse.down()
        self.page.mouse.move(x1, y1, steps=6)
        self.page.mouse.up()
        self.until(self.page.locator(".shelf .card").count, regions + 1)
        self.settled()

    def exported(self, *choices: str, even_so: bool = False) -> np.ndarray:
        """Export with some choices of the dialog, and return the file's codes."""
        self.press("Export…")
        for choice in choices:
            self.page.get_by_role("radio", name=choice).click()
        before = self.page.locator("[data-export=done]").count()
        self.page.get_by_role("button", name="Export", exact=True).click()
        if even_so:
            self.press("Export all the same")
        self.until(self.page.locator("[data-export=done]").count, before + 1)
        with self.page.expect_download() as waited:
            self.page.locator("[data-export=done]").first.get_by_role("link", name="download").click()
        data = waited.value.path().read_bytes()
        self.press("Close")
        return np.asarray(Image.open(io.BytesIO(data)).convert("RGB"))


class Concealing(Practice):
    def test_a_face_is_gone_from_the_file_in_one_press_on_every_still_that_has_one(self) -> None:
        for name, shot in STILLS.items():
            with self.subTest(shot):
                self.bench(shot)
                self.press("conceal")
                self.says("which must cover: solid 100 %")
                self.settled()
                codes = self.exported("PNG, 8 bit")
                self.assertEqual(np.ptp(codes[face(name)], axis=0).max(), 0)

    def test_no_later_pass_prints_it_and_the_reading_says_what_is_true(self) -> None:
        self.bench("Ticket booth")
        self.draw((1180, 500), (1540, 700), kind="rectangle")
        self.press("conceal")
        self.settled()
        self.page.get_by_text("Covered by a solid: nothing of it is left.").wait_for()
        self.type_number("mix", "20")
        self.page.keyboard.press("r")
        self.page.get_by_role("radio", name="luminance range").click()
        self.page.mouse.click(*self.place(900, 200))
        self.page.locator(".slope-field").wait_for()
        self.press("darker")
        self.settled()
        codes = self.exported("PNG, 8 bit")
        for line in truth().stills["e_booth"].regions:
            if line.kind == "private line":
                (left, top), (right, bottom) = line.polygon[0], line.polygon[2]
                patch = codes[round(top) : round(bottom), round(left) : round(right)].reshape(-1, 3)
                self.assertEqual(np.ptp(patch, axis=0).max(), 0, line.text)

    def test_taking_must_cover_off_is_said_and_export_asks_once(self) -> None:
        self.bench("Ticket booth")
        self.draw((110, 725), (320, 800), kind="rectangle")
        self.press("conceal")
        self.settled()
        self.page.get_by_role("switch", name="must cover").click()
        self.settled()
        self.says("which need not cover")
        self.exported("PNG, 8 bit", even_so=True)
        self.press("Export…")
        self.page.get_by_text("Exported all the same:").wait_for()
        self.press("Close")
        # mended by second look
        self.page.get_by_role("button", name="Second look").locator(".count").wait_for()
        self.page.get_by_role("button", name="Second look").click()
        self.press("let it cover")
        self.settled()
        self.says("which must cover")

    def test_a_mosaic_over_lettering_is_said_to_be_undone(self) -> None:
        self.bench("Ticket booth")
        self.draw((110, 725), (320, 800), kind="rectangle")
        self.page.keyboard.press("n")
        self.page.get_by_label("Search by purpose").fill("mosaic")
        self.page.locator(".singles [data-first=true]").wait_for()
        self.page.keyboard.press("Enter")
        self.settled()
        self.begins("Inside rectangle, which must cover: mosaic")
        self.page.locator(".meter b[data-weak=true]").filter(has_text="lettering under it can be undone").wait_for()


class DrawFirst(Practice):
    def test_a_region_drawn_first_begins_its_own_sentence(self) -> None:
        self.bench("Dusk on the cobbles")
        self.draw((500, 500), (1000, 900))
        self.press("darker")
        self.settled()
        self.begins("Outside oval: exposure −")
        self.assertEqual(len(self.sheet()["regions"]), 1)
        # pressed the wrong side: the italic word swaps it
        self.page.locator("[data-pass] .side").click()
        self.settled()
        self.begins("Inside oval: exposure −")

    def test_a_curve_is_pressed_point_by_point(self) -> None:
        self.bench("Dusk on the cobbles")
        self.begin("curve")
        for place in ((400, 500), (700, 400), (900, 600), (650, 800)):
            self.page.mouse.click(*self.place(*place))
            self.page.wait_for_timeout(450)  # slower than a double press
        self.page.keyboard.press("Enter")
        points = self.drawn(1)["parts"][0]["points"]
        self.assertEqual([len(point) for point in points], [6] * 4)
        self.assertAlmostEqual(points[1][0] * 1067, 700, delta=3)

    def test_starting_a_pass_stands_on_the_region_in_hand(self) -> None:
        self.bench("Dusk on the cobbles")
        self.draw((500, 500), (1000, 900))
        self.page.keyboard.press("n")
        self.assertEqual(
            self.page.get_by_role("radiogroup", name="Where it starts").get_by_role("radio", checked=True).inner_text(),
            "oval",
        )
        self.page.locator("[data-starter=spotlight]").click()
        self.settled()
        self.assertEqual(len(self.sheet()["regions"]), 1)

    def test_the_picture_pressed_takes_what_lies_there_and_twice_zooms(self) -> None:
        self.bench("Dusk on the cobbles")
        self.draw((500, 500), (1000, 900))
        self.press("darker")
        self.settled()
        self.page.keyboard.press("Escape")
        self.page.mouse.click(*self.place(200, 200))
        self.page.locator("[data-pass] .what.chosen").filter(has_text="exposure").wait_for()
        scale = self.page.locator(".stage.result").get_attribute("data-scale")
        self.page.wait_for_timeout(500)
        self.page.mouse.dblclick(*self.place(1200, 300))
        self.until(lambda: round(float(self.page.locator(".stage.result").get_attribute("data-scale") or 0), 6), 1.0)
        self.page.wait_for_timeout(500)
        self.page.mouse.dblclick(*self.place(1200, 300))
        self.until(lambda: self.page.locator(".stage.result").get_attribute("data-scale"), scale)

    def test_resting_on_a_starter_shows_it_on_the_stage_and_changes_nothing(self) -> None:
        self.bench("Dusk on the cobbles")
        self.page.keyboard.press("n")
        self.page.locator("[data-starter=vignette]").hover()
        self.page.locator(".panel.peeking").wait_for()
        self.page.mouse.move(700, 60)
        self.page.locator(".panel:not(.peeking)").wait_for()
        self.page.keyboard.press("Escape")
        self.settled()
        self.assertEqual(self.sheet()["passes"], [])


class HandAndEye(Practice):
    def vignette(self) -> None:
        self.bench("Dusk on the cobbles")
        self.press("vignette")
        self.settled()
        self.page.locator("[data-pass] .what").first.click()

    def test_escape_in_a_drag_gives_back_what_stood_there(self) -> None:
        self.vignette()
        before = self.number("amount")
        track = self.page.locator("[data-parameter=amount] .track").first
        x, y = self.middle(track)
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x, y - 25, steps=4)
        self.assertNotEqual(self.number("amount"), before)
        self.page.keyboard.press("Escape")
        self.until(lambda: self.number("amount"), before)
        self.page.mouse.move(x, y - 40, steps=2)
        self.page.mouse.up()
        self.settled()
        self.assertEqual(self.number("amount"), before)
        # and the word in hand stays in hand
        self.assertEqual(self.page.locator("[data-pass] .what.chosen").count(), 1)

    def test_a_value_held_still_shows_exactly(self) -> None:
        self.vignette()
        x, y = self.middle(self.page.locator("[data-parameter=amount] .track").first)
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x, y - 15, steps=4)
        self.page.locator("canvas[data-picture=exact]").wait_for()
        self.page.mouse.up()

    def test_numbers_take_their_unit_and_refuse_another_aloud(self) -> None:
        self.vignette()
        self.type_number("amount", "−0.7 EV")
        self.until(lambda: self.number("amount"), "−0.7 EV")
        field = self.page.locator("[data-parameter=amount] input").first
        field.fill("25 px")
        field.press("Enter")
        self.page.get_by_role("alert").filter(has_text="Exposure is in EV").wait_for()
        field.press("Escape")
        self.assertEqual(self.number("amount"), "−0.7 EV")
        self.page.locator("[data-pass] .where").first.click()
        self.type_number("feather_in", "107 px")
        self.until(lambda: self.number("feather_in"), "10.0 %")

    def test_what_is_deleted_says_so_and_comes_back(self) -> None:
        self.vignette()
        self.page.locator("[data-pass] .name").click()
        self.page.keyboard.press("Delete")
        self.page.get_by_role("status").filter(has_text="“Vignette” is deleted.").wait_for()
        self.press("undo")
        self.until(self.page.locator("[data-pass]").count, 1)

    def test_black_point_darkens_downward(self) -> None:
        self.bench("Dusk on the cobbles")
        self.page.keyboard.press("n")
        self.page.get_by_label("Search by purpose").fill("black point")
        self.page.locator(".singles [data-first=true]").wait_for()
        self.page.keyboard.press("Enter")
        self.settled()
        self.says("black point −5 %")
        self.settled()
        self.assertGreater(self.sheet()["passes"][0]["inside"]["black"]["amount"], 0)


class AroundTheBench(Practice):
    def test_to_all_shots_is_one_step_and_undone_whole(self) -> None:
        self.bench("Dusk on the cobbles")
        self.press("vignette")
        self.settled()
        self.press("to all shots")
        common = self.page.get_by_label("Passes of the project")
        common.get_by_text("Vignette").first.wait_for()
        self.until(self.page.locator("[data-pass]").count, 0)
        self.page.keyboard.press("Control+z")
        self.until(self.page.locator("[data-pass]").count, 1)
        self.until(common.count, 0)
        self.page.keyboard.press("Control+Shift+z")
        self.until(self.page.locator("[data-pass]").count, 0)
        common.get_by_text("Vignette").first.wait_for()
        common.get_by_role("button", name="delete").click()
        self.page.get_by_role("status").filter(has_text="no longer runs on the 7 shots").wait_for()
        self.press("undo")
        common.get_by_text("Vignette").first.wait_for()
        common.get_by_role("button", name="delete").click()
        self.until(common.count, 0)

    def test_a_smaller_file_and_a_pair(self) -> None:
        self.bench("Dusk on the cobbles")
        self.press("vignette")
        self.settled()
        small = self.exported("PNG, 8 bit", "1080 px")
        self.assertEqual(small.shape, (721, 1080, 3))
        pair = self.exported("before and after, side by side", "1080 px")
        self.assertEqual(pair.shape, (721, 2 * 1080 + 14, 3))
        self.assertLess(pair[:60, -60:].mean(), pair[:60, 1020:1080].mean())

    def test_a_shot_s_name_opens_it_and_is_renamed(self) -> None:
        self.contact_sheet()
        name = self.page.get_by_role("link", name="In the wood", exact=True)
        name.dblclick()
        field = self.page.get_by_label("Name of In the wood")
        field.fill("In the old wood")
        field.press("Enter")
        renamed = self.page.get_by_role("link", name="In the old wood", exact=True)
        renamed.wait_for()
        renamed.click()
        self.page.get_by_role("heading", name="In the old wood").wait_for()
        self.contact_sheet()
        renamed.focus()
        renamed.press("F2")
        self.page.get_by_label("Name of In the old wood").fill("In the wood")
        self.page.keyboard.press("Enter")
        name.wait_for()
