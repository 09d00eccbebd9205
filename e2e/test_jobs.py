"""Five things that a user comes for, each from the first press to what the server makes of it."""

from django.test import tag

from e2e.marking import OnAFreshShot
from e2e.words import VIGNETTE


@tag("e2e")
class JobsTest(OnAFreshShot):
    def test_an_arched_opening_is_one_region(self) -> None:
        """A half ellipse over a rectangle."""
        self.bench("Ticket booth")
        with self.acts_of(6):
            self.begin("rectangle")
            self.path((380, 260), (560, 460))
            self.drawn(1)
            self.join("add", "ellipse", (380, 170), (560, 350))
        self.page.get_by_text("Rectangle: rectangle, add ellipse.").wait_for()
        for (x, y), expected in (((470, 200), 1), ((470, 440), 1), ((390, 180), 0), ((470, 150), 0)):
            self.assertAlmostEqual(self.matte_at(x, y, "region-1"), expected, delta=0.02)

    def test_a_hole_that_can_be_seen_through(self) -> None:
        self.bench("Portrait by lamplight")
        with self.acts_of(6):
            self.begin("curve")
            self.path((300, 120), (560, 100), (700, 300), (560, 500), (330, 460), (300, 130), steps=8)
            self.drawn(1)
            self.join("subtract", "curve", (440, 240), (520, 240), (520, 320), (440, 320), (440, 245))
        self.assertAlmostEqual(self.matte_at(480, 280, "region-1"), 0, delta=0.01)
        self.assertAlmostEqual(self.matte_at(400, 200, "region-1"), 1, delta=0.01)
        self.facet("Islands")
        self.page.get_by_text("hole,").wait_for()

    def test_two_stacked_vignettes_of_different_hardness(self) -> None:
        self.bench("Dusk on the cobbles")
        with self.acts_of(9):
            for _ in range(2):
                self.start("vignette")
            self.region_words.last.click()
            self.type_number("feather_in", "4")
            self.type_number("feather_out", "4")
        soft, hard = (region["id"] for region in self.regions())
        scale, left, top = self.view()
        # just outside of the ellipse the hard one is done, the soft one still on its way
        x, y = left + scale * 800, top + scale * 1067 * 0.008
        self.assertLess(self.matte_at(x, y, hard), 0.05)
        self.assertGreater(self.matte_at(x, y, soft), 0.3)
        self.reads(
            f"Outside frame oval 2: {VIGNETTE}",
            1,
        )

    def test_one_region_in_three_passes(self) -> None:
        self.bench("Portrait by lamplight")
        with self.acts_of(10):
            self.begin("ellipse")
            self.path((330, 130), (640, 470))
            self.drawn(1)
            for starter in ("vignette", "soft-edge", "call-out"):
                self.page.get_by_role("button", name="+ start a pass…").click()
                self.starts_on.get_by_role("radio", name="oval", exact=True).click()
                self.page.locator(f"[data-starter={starter}]").click()
        # whoever presses the next before the last has been begun loses neither
        self.until(lambda: [each["region"] for each in self.sheet()["passes"]], ["region-1"] * 3)
        self.page.get_by_text("passes 1, 2, 3").wait_for()
        self.reads("Outside oval: exposure −0.4 EV, ring 0.60 % at +2.0 %.", 2)
        self.region_words.first.click()
        before = self.page.locator("canvas").first.get_attribute("data-drawn")
        self.drag("Move", 40, 10)
        self.until(lambda: self.page.locator("canvas").first.get_attribute("data-drawn") != before, True)

    def test_a_bad_edge_is_found_and_mended_by_the_ribbon_alone(self) -> None:
        self.bench("Portrait by lamplight")
        self.begin("polygon")
        # one corner sticks out by mistake
        for x, y in ((360, 160), (600, 150), (690, 300), (820, 420), (560, 470), (380, 440)):
            self.page.mouse.click(*self.at(x, y))
        self.page.keyboard.press("Enter")
        self.drawn(1)
        self.page.keyboard.press("g")
        self.page.get_by_role("button", name="The edge as a strip").locator("img").wait_for()
        self.page.get_by_role("radio", name="100 %").click()
        self.settled()
        strip = self.page.get_by_role("button", name="The edge as a strip").bounding_box()
        assert strip is not None
        # the corner is where the strip goes that far; a press leads there
        bad = ("Corner 4",)
        reached = False
        for share in (0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9):
            self.page.wait_for_timeout(150)
            self.page.mouse.click(strip["x"] + share * strip["width"], strip["y"] + 40)
            self.settled()
            box = self.handle(bad[0]).bounding_box()
            stage = self.stage.bounding_box()
            assert box is not None and stage is not None
            reached = (
                abs(box["x"] - stage["x"] - stage["width"] / 2) < 260
                and abs(box["y"] - stage["y"] - stage["height"] / 2) < 150
            )
            if reached:
                break
        self.assertTrue(reached)
        before = self.regions()[0]["parts"][0]["points"][3]
        self.drag(bad[0], -150, -40)
        after = self.regions()[0]["parts"][0]["points"][3]
        self.assertLess(after[0], before[0] - 0.05)
