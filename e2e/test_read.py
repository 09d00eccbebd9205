"""Regions read from the picture, through the real interface: ranges, samples, brush, starters, files."""

import numpy as np
from django.test import tag
from PIL import Image

from e2e.reading import HEIGHT, Reading


@tag("e2e")
class Ranges(Reading):
    def test_a_press_on_the_lamp_opens_the_top_and_a_bead_narrows_the_slope(self) -> None:
        self.bench("Dusk on the cobbles")
        self.begun("luminance range", (1250, 366))
        self.until(lambda: self.part()["values"].get("high"), 1.0)
        self.settled()
        part = self.part()
        self.until(lambda: self.phrase()[:4], "from")
        inside = (self.matte() > 128).mean()
        self.page.get_by_text("place 1.00").or_(self.page.get_by_text("Matte at the")).first.wait_for()
        bead = self.page.get_by_role("slider", name="Whole from")
        x, y = self.middle(bead)
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x - 90, y, steps=6)
        self.page.mouse.up()
        self.until(lambda: self.part()["values"]["low"] < part["values"]["low"] - 0.15, True)
        self.settled()
        self.assertGreater((self.matte() > 128).mean(), 1.3 * inside)

    def test_a_colour_range_finds_jars_and_its_slopes_are_switched(self) -> None:
        self.bench("Five pots")
        self.begun("colour range", (1040, 620))
        self.until(lambda: self.part()["values"].get("by_lightness"), "on")
        self.settled()
        teal, red = self.box(self.matte(), 900, 550, 1080, 750), self.box(self.matte(), 1400, 500, 1540, 700)
        self.assertGreater(teal.mean(), 20)
        self.assertLess(red.max(), 20)
        self.page.get_by_role("button", name="Lightness counts").click()
        self.until(lambda: self.part()["values"].get("by_lightness"), "off")
        self.settled()
        self.assertGreater(self.box(self.matte(), 900, 550, 1080, 750).mean(), teal.mean())

    def test_enter_begins_a_range_without_a_sample(self) -> None:
        self.bench("Five pots")
        self.begin("luminance range")
        self.page.keyboard.press("Enter")
        self.until(lambda: len(self.regions()), 1)
        self.until(self.phrase, "from 60\u00a0% up")

    def test_samples_are_taken_and_taken_away(self) -> None:
        self.bench("Five pots")
        self.begun("sampled colour", (1040, 620))
        self.press((1080, 760))
        self.until(lambda: len(self.part()["samples"]), 2)
        self.settled()
        self.page.get_by_role("radio", name="out", exact=True).click()
        self.press((700, 250))
        self.until(lambda: [each["does"] for each in self.part()["samples"]], ["add", "add", "erase"])
        self.until(self.phrase, "2 samples, 1 kept out")
        self.page.locator("[data-handle^='Sample 2']").click()
        self.until(lambda: len(self.part()["samples"]), 2)
        self.until(self.phrase, "1 sample, 1 kept out")


@tag("e2e")
class Brushes(Reading):
    def test_strokes_put_in_take_out_and_are_undone_one_by_one(self) -> None:
        self.bench("Five pots")
        self.begun("brush", (900, 500), (1100, 500))
        self.assertEqual(self.page.locator("canvas[data-view=lattice]").count(), 1)
        self.page.get_by_role("radio", name="take out").click()
        self.path(*self.on((1000, 420), (1000, 580)))
        self.until(lambda: [each["does"] for each in self.part()["strokes"]], ["add", "erase"])
        self.settled()
        matte = self.matte()
        self.assertEqual((matte[250, 460], matte[250, 500]), (255, 0))
        self.page.keyboard.press("Control+z")
        self.until(lambda: len(self.part()["strokes"]), 1)
        self.assertEqual(self.matte()[250, 500], 255)

    def test_size_and_hardness_by_keys_and_by_dragging_and_straight_lines(self) -> None:
        self.bench("Five pots")
        self.begun("brush", (900, 500), (950, 500))
        self.page.keyboard.press(".")
        self.until(lambda: self.part()["values"].get("size"), 0.075)
        self.page.keyboard.press("Shift+<")
        self.until(lambda: self.part()["values"].get("hardness"), 0.6)
        self.page.keyboard.down("a")
        self.path(*self.on((900, 700), (980, 700)))
        self.page.keyboard.up("a")
        self.until(lambda: self.part()["values"]["size"] > 0.08, True)
        self.assertEqual(len(self.part()["strokes"]), 1)
        self.page.keyboard.down("Shift")
        self.press((1100, 700))
        self.page.keyboard.up("Shift")
        self.until(lambda: len(self.part()["strokes"]), 2)
        way = self.part()["strokes"][1]["points"]
        self.assertEqual(len(way), 6)
        self.assertAlmostEqual(way[0] * HEIGHT, 950, delta=8)

    def test_the_brush_is_set_by_hand_before_its_first_stroke(self) -> None:
        self.bench("Five pots")
        self.begin("brush")
        self.page.keyboard.down("a")
        self.path(*self.on((900, 700), (1000, 700)))
        self.page.keyboard.up("a")
        self.assertEqual(self.regions(), [])
        self.path(*self.on((900, 500), (1000, 500)))
        self.until(lambda: len(self.regions()), 1)
        part = self.part()
        self.assertGreater(part["values"]["size"], 0.07)
        self.assertEqual(part["strokes"][0]["size"], part["values"]["size"])

    def test_the_pens_pressure_is_kept_and_scales_the_flow(self) -> None:
        self.bench("Five pots")
        self.begun("brush", (900, 300), (910, 300))
        self.page.get_by_role("radio", name="flow", exact=True).click()
        self.until(lambda: self.part()["values"].get("pen"), "flow")
        pen = self.context.new_cdp_session(self.page)
        places = self.on((900, 600), (1000, 600), (1100, 600))
        box = self.stage.bounding_box()
        assert box is not None
        for kind, (x, y), force in zip(
            ("mousePressed", "mouseMoved", "mouseReleased"), places, (0.4, 0.4, 0.0), strict=True
        ):
            pen.send(
                "Input.dispatchMouseEvent",
                {"type": kind, "x": box["x"] + x, "y": box["y"] + y, "button": "left", "buttons": 1, "clickCount": 1}
                | {"force": force, "pointerType": "pen"},
            )
        self.until(lambda: len(self.part()["strokes"]), 2)
        stroke = self.part()["strokes"][1]
        self.assertEqual(stroke["pen"], "flow")
        self.assertAlmostEqual(stroke["points"][2], 0.4, delta=0.01)


@tag("e2e")
class Starting(Reading):
    def test_only_the_lamps_carry_grain(self) -> None:
        self.bench("Night rehearsal")
        self.start_on("grain-in-light")
        changed = abs(self.codes() - self.codes("source")).max(axis=2)
        self.assertGreater(self.box(changed, 240, 130, 350, 230).mean(), 1)
        self.assertLess(self.box(changed, 240, 600, 420, 1000).mean(), 0.2)

    def test_one_jar_keeps_its_colour(self) -> None:
        self.bench("Five pots")
        self.start_on("colour-accent")
        picture = self.codes()
        chroma = picture.max(axis=2) - picture.min(axis=2)
        # the large red jar, the small one of like hue, the teal one
        self.assertGreater(self.box(chroma, 1400, 520, 1520, 700).mean(), 60)
        self.assertLess(self.box(chroma, 220, 800, 310, 900).mean(), 8)
        self.assertLess(self.box(chroma, 900, 550, 1080, 750).mean(), 8)


@tag("e2e")
class Files(Reading):
    def test_a_regions_matte_and_cutout_are_exported(self) -> None:
        self.bench("Five pots")
        self.begun("brush", (900, 500), (1100, 500))
        live = self.matte()
        for what, mode in (("the matte of a region", "I;16"), ("a region cut out, with alpha", "RGBA")):
            self.page.get_by_role("button", name="Export…").click()
            self.page.get_by_role("radio", name=what).click()
            if mode == "RGBA":
                self.page.get_by_role("radio", name="PNG, 8 bit").click()
            self.page.get_by_role("button", name="Export", exact=True).click()
            word = "cutout" if mode == "RGBA" else "matte"
            newest = self.page.locator("dialog [data-export]").filter(has_text=word).filter(has_text=".png").first
            with self.page.expect_download() as waited:
                newest.get_by_role("link").click()
            picture = Image.open(waited.value.path())
            self.assertEqual(picture.mode, mode)
            pixels = np.asarray(picture).astype(float)
            alpha = pixels[..., 3] if mode == "RGBA" else pixels / 257
            half = alpha[:1066].reshape(533, 2, 800, 2).mean(axis=(1, 3))
            self.assertLess(abs(half - live[:533]).mean(), 0.5)
            self.page.keyboard.press("Escape")

    def test_a_matte_goes_out_in_floating_point_and_comes_in_again(self) -> None:
        self.bench("Five pots")
        self.begun("brush", (900, 500), (1100, 500))
        live = self.matte()
        self.page.get_by_role("button", name="Export…").click()
        self.page.get_by_role("radio", name="the matte of a region").click()
        self.page.get_by_role("radio", name="OpenEXR, 16 bit").click()
        self.page.get_by_role("button", name="Export", exact=True).click()
        newest = self.page.locator("dialog [data-export]").filter(has_text=".exr").first
        with self.page.expect_download() as waited:
            newest.get_by_role("link").click()
        self.page.keyboard.press("Escape")
        self.page.keyboard.press("Escape")
        self.page.keyboard.press("r")
        file = {"name": "brushed.exr", "mimeType": "image/x-exr", "buffer": waited.value.path().read_bytes()}
        self.page.locator("input[aria-label='a picture as matte…']").set_input_files(file)
        self.until(lambda: len(self.regions()), 2)
        self.settled()
        self.assertEqual(self.part()["kind"], "matte")
        again = self.matte()
        # one is painted at half the size, the other reduced to it
        self.assertLess(float(abs(again - live).mean()), 0.1)
        self.assertLess(float(abs(again - live).max()), 4)
