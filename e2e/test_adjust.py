"""Adjustments with controls of their own, and what tells how much they do, through the real interface."""

import json

from django.test import tag

from e2e.marking import OnAFreshShot

CUBE = "LUT_3D_SIZE 2\n" + "\n".join(f"{r * 0.8} {g} {b * 0.6}" for b in (0, 1) for g in (0, 1) for r in (0, 1))
LIST = "<ColorCorrection id='stage'><SOPNode><Slope>1.2 1 0.9</Slope></SOPNode></ColorCorrection>"


class OnAPass(OnAFreshShot):
    def group(self, name: str) -> None:
        self.page.get_by_role("tab", name=name, exact=True).click()

    def wide(self, group: str, name: str) -> None:
        """Open an adjustment that takes the whole tray."""
        self.group(group)
        self.page.get_by_role("button", name=f"{name}…").click()

    def begin_on(self, shot: str) -> None:
        self.bench(shot)
        self.start("empty")
        self.page.get_by_role("tab", name="Light", exact=True).wait_for()

    def inside(self, nth: int = -1) -> dict[str, dict[str, object]]:
        return self.sheet()["passes"][nth]["inside"]


@tag("e2e")
class AdjustTest(OnAPass):
    def test_a_curve_is_drawn_moved_and_taken_away(self) -> None:
        self.begin_on("Dusk on the cobbles")
        self.wide("Light", "Curve")
        field = self.page.get_by_role("group", name="press to add a point")
        box = field.bounding_box()
        assert box is not None
        self.page.locator("[data-levels][d^=M]").wait_for()
        self.page.mouse.click(box["x"] + 0.5 * box["width"], box["y"] + 0.3 * box["height"])
        self.settled()
        self.until(lambda: len(self.inside()["curve"]["all"]), 3)  # type: ignore[arg-type]
        self.reads("Inside whole picture: curve 100 % all channels through 3 points.")
        point = self.page.get_by_role("slider", name="Point 2 of All channels")
        point.focus()
        self.page.keyboard.press("ArrowDown")
        self.settled()
        self.until(lambda: round(self.inside()["curve"]["all"][1][1], 2), 0.68)  # type: ignore[index]
        self.page.get_by_role("radio", name="Red").click()
        self.page.mouse.click(box["x"] + 0.4 * box["width"], box["y"] + 0.8 * box["height"])
        self.settled()
        self.reads("Inside whole picture: curve 100 % all channels through 3 points, red through 3 points.")
        self.page.get_by_role("button", name="straighten").click()
        self.settled()
        self.until(lambda: self.inside()["curve"]["red"], [])

    def test_one_hue_is_calmed_turned_and_lightened_and_the_others_are_not(self) -> None:
        self.begin_on("Five pots")
        told = []
        for name, of, key, word, percent in (
            ("Saturation by hue", "Saturation", "ArrowDown", "saturation by hue", "−5"),
            ("Hue by hue", "Turn", "ArrowUp", "hue by hue", "+5"),
            ("Lightness by hue", "Lightness", "ArrowUp", "lightness by hue", "+5"),
        ):
            self.wide("Colour", name)
            self.page.get_by_role("group", name=f"{of} by hue").wait_for()
            self.page.get_by_role("slider", name=f"{of} of the reds").focus()
            # what stands at nothing acts whole as soon as one hue is moved
            self.page.keyboard.press(key)
            self.settled()
            told.append(f"{word} 100 % reds {percent} %")
            self.page.get_by_role("button", name="Colour", exact=True).click()
        for each in told:
            self.until(lambda each=each: each in " ".join(self.told().split()), True)
        self.page.get_by_role("button", name="Colour", exact=True).wait_for(state="detached")

    def test_what_lies_beyond_white_is_marked(self) -> None:
        self.begin_on("Ticket booth")
        self.group("Light")
        self.type_number("amount", "2")
        self.page.keyboard.press("!")
        self.page.get_by_text("Solid: beyond white.").wait_for()
        self.settled()
        self.page.keyboard.press("v")
        self.until(self.page.get_by_text("Solid: beyond white.").count, 0)
        self.page.get_by_role("button", name="Compare", exact=True).click()
        self.page.get_by_role("menuitemcheckbox", name="Beyond white").click()
        self.page.get_by_text("Solid: beyond white.").wait_for()

    def test_a_press_on_a_grey_balances_the_light(self) -> None:
        self.begin_on("The bench by the window")
        self.group("Colour")
        button = self.page.get_by_role("button", name="balance by a grey…")
        button.click()
        self.page.keyboard.press("Escape")
        button.click()
        # the paper on the bench, in the lamp's light
        self.page.mouse.click(*self.place(0.3, 0.9))
        self.until(lambda: set(self.inside()), {"temperature", "tint"})
        self.settled()
        self.assertIn("balanced for", self.told())
        self.page.get_by_role("button", name="Undo").click()
        self.until(lambda: self.inside(), {})

    def test_a_puck_of_the_tone_pad_is_dragged(self) -> None:
        self.begin_on("The bench by the window")
        self.wide("Light", "Tone")
        x, y = self.middle(self.page.get_by_label("Colour of the highlights"))
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x + 30, y - 15, steps=3)
        self.page.mouse.up()
        self.settled()
        self.type_number("shadows_level", "-10")
        self.reads("Inside whole picture: tone (shadows −10 %, highlights to red +50 %, highlights to yellow +25 %).")

    def test_a_table_and_a_list_are_read_from_files(self) -> None:
        self.begin_on("Five pots")
        self.wide("Colour", "Table")
        files = self.page.locator("input[type=file]")
        files.first.set_input_files({"name": "warm.cube", "mimeType": "text/plain", "buffer": CUBE.encode()})
        self.reads("Inside whole picture: table 100 % “warm”.")
        files.first.set_input_files({"name": "bad.cube", "mimeType": "text/plain", "buffer": b"hello"})
        self.page.get_by_text("This is not a .cube table").wait_for()
        self.wide("Light", "CDL")
        files.first.set_input_files({"name": "stage.cc", "mimeType": "text/xml", "buffer": LIST.encode()})
        self.settled()
        self.until(lambda: self.inside().get("cdl", {}).get("slope_r"), 1.2)
        with self.page.expect_download() as waiting:
            self.page.get_by_role("button", name=".ccc").click()
        self.assertIn("<Slope>1.2 1 0.9</Slope>", waiting.value.path().read_text())

    def test_variants_are_seen_and_one_is_taken(self) -> None:
        self.bench("Portrait by lamplight", fresh=False)
        self.change_words.first.click()
        self.page.keyboard.press("y")
        variants = self.page.get_by_label("Variants", exact=True)
        self.until(variants.locator("img").count, 5)
        before = self.sheet()["passes"][0]["outside"]["exposure"]["amount"]
        variants.get_by_role("button").nth(3).click()
        self.settled()
        self.until(lambda: self.sheet()["passes"][0]["outside"]["exposure"]["amount"], before / 2)

    def test_the_meter_says_what_cannot_be_seen(self) -> None:
        self.begin_on("The bench by the window")
        self.type_number("amount", "0.01")
        self.page.get_by_text("Below visibility.").wait_for()
        self.type_number("amount", "1")
        self.page.get_by_text("Changes 100 % of the picture").wait_for()

    def test_scopes_of_the_picture_and_of_a_region(self) -> None:
        self.bench("Portrait by lamplight", fresh=False)
        self.region_words.first.click()
        self.page.keyboard.press("q")
        scopes = self.page.get_by_label("Scopes", exact=True)
        self.until(scopes.locator("img").count, 3)
        scopes.locator("path[data-of=luma]").wait_for()
        self.page.wait_for_timeout(800)
        for part in (scopes, self.page.get_by_label("Tray", exact=True), self.stage):
            box = part.bounding_box()
            assert box is not None
            # what follows the stage's width must never widen it
            self.assertLessEqual(box["x"] + box["width"], 1280.5)
        first = scopes.locator("img").first
        source = first.get_attribute("src")
        scopes.get_by_role("radio", name="inside frame oval").click()
        self.until(lambda: first.get_attribute("src") != source, True)
        self.page.keyboard.press("q")
        self.until(scopes.count, 0)

    def test_a_second_look_points_out_shows_and_mends(self) -> None:
        self.begin_on("Five pots")
        self.type_number("amount", "-9")
        look = self.page.get_by_role("button", name="Second look")
        look.locator("[data-count]").wait_for()
        look.click()
        crushed = self.page.locator("[data-kind=crushed]")
        crushed.wait_for()
        crushed.get_by_role("button", name="keep it legible").click()
        self.settled()
        self.until(lambda: self.inside()["legible"]["floor"], 0.1)
        self.until(crushed.count, 0)


@tag("e2e")
class LooksTest(OnAPass):
    def test_a_pass_is_kept_as_a_look_and_laid_on_other_shots(self) -> None:
        self.bench("Portrait by lamplight", fresh=False)
        self.page.locator("[data-pass] [data-name]").first.click()
        self.page.get_by_role("button", name="keep as a look").click()
        self.page.get_by_role("button", name="kept as a look").wait_for()
        self.page.get_by_role("button", name="copy", exact=True).click()
        self.page.get_by_role("button", name="copied").wait_for()
        self.bench("Ticket booth")
        self.page.get_by_role("button", name="+ start a pass…").click()
        look = self.page.get_by_label("Look Vignette")
        with self.page.expect_download() as waiting:
            look.get_by_role("button", name="to a file").click()
        self.assertEqual(json.loads(waiting.value.path().read_text())["name"], "Vignette")
        look.get_by_role("button", name="Vignette", exact=True).click()
        self.settled()
        self.until(lambda: [each["name"] for each in self.sheet()["passes"]], ["Vignette"])
        self.contact_sheet()
        for name in ("The bench by the window", "Ticket booth"):
            self.page.get_by_role("checkbox", name=f"Choose {name}").click()
        self.page.get_by_label("Lay passes on the chosen shots").select_option(label="copied: Vignette")
        self.page.locator("[data-shot]", has_text="Ticket booth").get_by_text("Vignette, Vignette 2").wait_for()
        self.page.locator("[data-shot]", has_text="The bench by the window").get_by_text("Vignette").wait_for()

    def test_a_pass_goes_to_all_shots_and_back(self) -> None:
        self.bench("Night rehearsal", fresh=False)
        self.page.locator("[data-pass] [data-name]").first.click()
        self.page.get_by_role("button", name="to all shots").click()
        common = self.page.get_by_label("Project pass Spotlight")
        common.wait_for()
        self.assertNotIn("Spotlight", [each["name"] for each in self.sheet()["passes"]])
        self.bench("Dusk on the cobbles")
        canvas = self.page.locator("canvas")
        shown = canvas.screenshot()
        common.get_by_role("switch").click()
        self.until(lambda: canvas.screenshot() != shown, True)
        field = common.get_by_label("Mix")
        field.fill("50")
        field.press("Enter")
        project = self.where().split("/shots/")[0]
        self.until(lambda: self.ask(f"{project}/sheet")["sheet"]["passes"][0]["mix"], 0.5)
        common.get_by_role("button", name="to this shot alone").click()
        self.until(lambda: [each["name"] for each in self.sheet()["passes"]], ["Spotlight"])
        self.until(common.count, 0)
