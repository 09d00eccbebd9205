"""What a photo editor and a press officer do all day, through the real interface, in no more presses than it takes."""

import contextlib

import cv2
import numpy as np
from playwright.sync_api import Error, Route

from demo.truths import TRUTH, truth
from e2e.practice import Practice

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


class Concealing(Practice):
    def test_a_face_is_gone_from_the_file_in_one_press_on_every_still_that_has_one(self) -> None:
        for name, shot in STILLS.items():
            with self.subTest(shot):
                self.bench(shot)
                with self.acts_of(1):
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
        self.page.get_by_role("group", name="drag a bead").wait_for()
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
        self.page.get_by_role("button", name="Second look").locator("[data-count]").wait_for()
        self.page.get_by_role("button", name="Second look").click()
        self.press("let it cover")
        self.settled()
        self.says("which must cover")

    def test_a_mosaic_over_lettering_is_said_to_be_undone(self) -> None:
        self.bench("Ticket booth")
        self.draw((110, 725), (320, 800), kind="rectangle")
        self.page.keyboard.press("n")
        self.page.get_by_label("Search by purpose").fill("mosaic")
        self.page.locator("[data-singles] [data-first=true]").wait_for()
        self.page.keyboard.press("Enter")
        self.settled()
        self.begins("Inside rectangle, which must cover: mosaic")
        self.weakness.filter(has_text="lettering under it can be undone").wait_for()


class DrawFirst(Practice):
    def test_a_region_drawn_first_begins_its_own_sentence(self) -> None:
        self.bench("Dusk on the cobbles")
        with self.acts_of(4):
            self.draw((500, 500), (1000, 900))
            self.press("darker")
        self.settled()
        self.begins("Outside oval: exposure −")
        self.assertEqual(len(self.sheet()["regions"]), 1)
        # pressed the wrong side: the italic word swaps it
        self.page.locator("[data-token=side]").click()
        self.settled()
        self.begins("Inside oval: exposure −")

    def test_a_curve_is_pressed_point_by_point(self) -> None:
        self.bench("Dusk on the cobbles")
        with self.acts_of(7):
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
        with self.acts_of(5):
            self.draw((500, 500), (1000, 900))
            self.page.keyboard.press("n")
            self.assertTrue(self.starts_on.get_by_role("radio", name="oval", exact=True).is_checked())
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
        self.page.locator("[data-token=what][aria-pressed=true]").filter(has_text="exposure").wait_for()
        scale = self.stage.get_attribute("data-scale")
        self.page.wait_for_timeout(500)
        self.page.mouse.dblclick(*self.place(1200, 300))
        self.until(lambda: round(float(self.stage.get_attribute("data-scale") or 0), 6), 1.0)
        self.page.wait_for_timeout(500)
        self.page.mouse.dblclick(*self.place(1200, 300))
        self.until(lambda: self.stage.get_attribute("data-scale"), scale)

    def test_resting_on_a_starter_shows_it_on_the_stage_and_changes_nothing(self) -> None:
        self.bench("Dusk on the cobbles")
        self.page.mouse.move(600, 400)
        self.page.keyboard.press("n")
        self.page.locator("[data-starter]:hover [data-pair] img").first.wait_for()
        # what comes up beneath a pointer that stands still is not rested on
        self.page.wait_for_timeout(1200)
        self.assertEqual(self.page.locator("[data-peeking]").count(), 0)
        self.page.locator("[data-starter=vignette]").hover()
        self.page.locator("[data-peeking]").wait_for()
        self.page.mouse.move(700, 60)
        self.page.locator("section[aria-label='Start a pass']:not([data-peeking])").wait_for()
        self.page.keyboard.press("Escape")
        self.settled()
        self.assertEqual(self.sheet()["passes"], [])

    def test_what_is_pressed_does_not_wait_for_what_other_starters_would_show(self) -> None:
        self.bench("Dusk on the cobbles")
        # small pictures that never come, as on a machine that is busy
        held: list[Route] = []
        given_up: list[str] = []
        self.page.route("**/preview*", lambda route: held.append(route))
        self.page.on("requestfailed", lambda request: given_up.append(request.url))
        self.page.keyboard.press("n")
        self.until(lambda: bool(held), True)
        asked = len(held)
        self.page.locator("[data-starter=vignette]").click()
        self.page.locator("[data-pass]").wait_for()
        self.until(lambda: sum("/preview" in url for url in given_up) >= asked, True)
        self.page.unroute_all()
        for each in held:
            with contextlib.suppress(Error):  # nobody waits for it any more
                each.continue_()
        self.settled()
