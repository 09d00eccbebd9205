"""Subjects cut out by marks, found and offered, and further places alike, through the real interface."""

import io

import numpy as np
from django.test import tag
from PIL import Image

from calado.region.solve.tests.marks import OUTLINES, STROKES
from e2e.reading import HEIGHT, Reading


@tag("e2e")
class Subjects(Reading):
    def test_the_puppet_is_cut_out_by_five_marks_and_its_fringe_resolved(self) -> None:
        self.bench("The bench by the window")
        outline = OUTLINES["a_bench"]
        self.begun("rough-in", *outline, outline[0], steps=2)
        self.assertGreater(len(self.part()["points"]), 20)
        for count, (does, size, places) in enumerate(STROKES["a_bench"], start=1):
            self.page.get_by_role("radio", name="the subject" if does == "add" else "the surround").click()
            self.type_number("size", f"{size / HEIGHT * 100:.2f}")
            self.path(*self.on(*places), steps=4)
            self.until(lambda count=count: len(self.part()["strokes"]), count)
        self.refined()
        matte = self.matte()
        # coat, face, hair; wood, jar, the gap between the legs
        for (y, x), held in (((700, 600), 255), ((300, 560), 255), ((250, 460), 255), ((600, 900), 0), ((950, 584), 0)):
            self.assertAlmostEqual(matte[y // 2, x // 2], held, delta=30, msg=str((y, x)))
        self.facet("Fringe")
        self.type_number("band", "8")
        self.path(*self.on((390, 420), (395, 320), (420, 240), (490, 170), (590, 150), (700, 175), (760, 260)), steps=4)
        self.until(lambda: len(self.regions()[0].get("band", [])), 1)
        self.refined()
        soft = self.matte()[60:215, 180:400]
        self.assertGreater(((soft > 20) & (soft < 235)).mean(), 0.05)
        self.page.keyboard.press("g")
        self.page.get_by_role("region", name="Edge ribbon").locator("img").wait_for()
        with self.page.expect_response(lambda answer: "/ribbon?" in answer.url) as waited:
            self.page.get_by_role("radio", name="cutout", exact=True).click()
        wanted = waited.value.request
        answer = self.context.request.get(wanted.url)
        strip = np.asarray(Image.open(io.BytesIO(answer.body())).convert("RGB")).astype(float)
        # the wall and the jars behind are gone: below the line all but the fringe is bare grey
        outside = strip[strip.shape[0] * 3 // 4 :]
        self.assertGreater((np.ptp(outside, axis=2) < 8).mean(), 0.85)

    def test_solving_is_called_off_and_taken_up_again(self) -> None:
        # two small marks leave most of the picture to be solved, which takes a while
        self.bench("Portrait by lamplight")
        # on a lamp: a stroke on the person would take the person
        self.begun("rough-in", (90, 330), (110, 350))
        self.page.get_by_role("radio", name="the surround").click()
        self.path(*self.on((60, 900), (120, 960)))
        self.until(lambda: len(self.part()["strokes"]), 2)
        self.page.get_by_role("button", name="leave it coarse").click()
        self.page.get_by_role("button", name="refine it").click()
        # it goes on, and comes to its end: how soon is the machine's matter
        self.page.locator("[data-refining=stopped]").wait_for(state="detached")
        self.page.locator("[data-refining]").wait_for(state="detached", timeout=120_000)
        self.settled()

    def test_a_face_is_found_offered_and_calmed(self) -> None:
        self.bench("Portrait by lamplight")
        self.begin("ellipse")
        self.page.get_by_role("button", name="find subjects, faces, text").click()
        # called off, nothing is offered, and it can be looked for again
        self.page.get_by_role("button", name="call off").click()
        self.page.get_by_role("button", name="find subjects, faces, text").click()
        self.page.locator("[data-offer=face]").wait_for()
        self.assertEqual(self.regions(), [])
        self.page.get_by_role("button", name="face, ").click()
        self.until(lambda: len(self.regions()), 1)
        self.assertEqual(self.part()["kind"], "ellipse")
        self.page.keyboard.press("Control+z")
        self._lips_are_a_curve_of_their_own()
        self.start_on("calm-skin")
        # the face, its skin's colour, and without its eyes and lips
        kinds = [(part["kind"], part["join"]) for part in self.regions()[-1]["parts"]]
        self.assertEqual(kinds, [("curve", "add"), ("colours", "intersect"), *[("curve", "subtract")] * 7])
        self.reads(
            "Inside skin, smoothed 0.40 %, blurred 0.30 %: even colour (all 30 %, redness 30 %, radius 3.0 %),"
            " fine detail −65 % radius 1.2 %."
        )
        before, after = self.codes("source"), self.codes()
        changed = abs(after - before).max(axis=2)
        self.assertGreater(self.box(changed, 780, 440, 960, 600).mean(), 0.5)
        self.assertLess(self.box(changed, 20, 20, 300, 200).max(), 3)

    def _lips_are_a_curve_of_their_own(self) -> None:
        self.begin("ellipse")
        self.page.get_by_role("button", name="find subjects, faces, text").click()
        self.page.get_by_title("The lips, as a curve").click()
        self.until(lambda: [each["name"] for each in self.regions()], ["lips"])
        self.assertEqual(self.part()["kind"], "curve")
        self.handle("Move").wait_for()
        sheet = self.sheet()
        for x, y, inside in ((690, 780, True), (690, 600, False), (460, 430, False)):
            value = self.asked("matte-value", sheet, region=sheet["regions"][-1]["id"], x=x, y=y).json()["value"]
            self.assertEqual(value > 0.9, inside, (x, y, value))
        self.page.keyboard.press("Control+z")

    def test_lines_are_read_and_those_that_look_private_are_concealed_at_a_press(self) -> None:
        self.bench("Ticket booth")
        self.begin("ellipse")
        self.page.get_by_role("button", name="find subjects, faces, text").click()
        self.page.get_by_role("button", name="“tel. 0555 014 2277”").wait_for()
        self.page.get_by_role("button", name="conceal the 6 lines that look private").click()
        self.until(lambda: len(self.regions()[-1]["parts"]) if self.regions() else 0, 6)
        self.settled()
        before, after = self.codes("source"), self.codes()
        # the plate is covered, the large sign is not
        self.assertLess(self.box(after, 115, 740, 310, 760).std(), 12)
        self.assertLess(abs(self.box(after, 620, 90, 980, 130) - self.box(before, 620, 90, 980, 130)).max(), 3)

    def test_no_face_is_said(self) -> None:
        self.bench("Dusk on the cobbles")
        self.begin("ellipse")
        self.page.get_by_role("button", name="find subjects, faces, text").click()
        self.page.get_by_text("no face, no line of text. 2 more may be faces: see for yourself.").wait_for()


@tag("e2e")
class Further(Reading):
    def test_a_lights_reflection_is_proposed_and_added_by_one_press(self) -> None:
        self.bench("Dusk on the cobbles")
        self.begin("ellipse")
        self.path(*self.on((830, 285), (900, 360)))
        self.drawn(1)
        self.facet("Similar")
        self.page.get_by_role("list").get_by_role("listitem").first.wait_for()
        before = self.matte()[350:530, 380:500].mean()
        self.page.get_by_role("list").get_by_role("listitem").first.get_by_role("button", name="add it").click()
        self.until(lambda: len(self.regions()[0]["parts"]), 2)
        self.settled()
        self.assertEqual(before, 0)
        self.assertGreater(self.matte()[350:530, 380:500].mean(), 40)
