"""Clips watched: on their cards, against the source, in any view; and what several get at once."""

import io
import zipfile

from django.test import tag
from PIL import Image
from playwright.sync_api import Locator

from e2e.clips import FRAMES, ClipBench


def drawn(canvas: Locator) -> int:
    return int(canvas.get_attribute("data-drawn") or 0)


@tag("e2e")
class Watching(ClipBench):
    def play(self) -> None:
        self.tap_space()
        self.ruler.get_by_role("button", name="Stop").wait_for()

    def stop(self) -> None:
        self.ruler.get_by_role("button", name="Stop").click()
        self.ruler.get_by_role("button", name="Play").wait_for()
        self.settled()

    def goes_on(self, canvas: Locator, by: int = 5) -> None:
        """Wait until more pictures have come."""
        seen = drawn(canvas)
        self.until(lambda: drawn(canvas) >= seen + by, True)

    def test_on_its_card_against_the_source_and_in_other_views(self) -> None:
        self.added()
        self.start("spotlight")
        result, source = (self.page.get_by_role("img", name=f"The {each}") for each in ("picture", "source"))
        self.play()
        self.goes_on(result)
        # the wipe line and two-up work while it plays
        for key in ("w", "u"):
            self.page.keyboard.press(key)
            source.wait_for()
            self.goes_on(source)
            self.goes_on(result)
            self.page.keyboard.press(key)
            self.until(source.count, 0)
        self.ruler.get_by_role("img", name="All frames are rendered").wait_for()
        # another view is rendered anew
        self.region_words.first.click()
        self.page.keyboard.press("m")
        self.goes_on(result)
        self.assertEqual(result.get_attribute("data-view"), "")
        self.stop()
        self.assertEqual(result.get_attribute("data-view"), "matte")
        self.page.get_by_role("button", name="Compare", exact=True).click()
        self.page.get_by_role("menuitemradio", name="In turn").click()
        self.play()
        for said in ("result", "source", "result"):
            self.stage.get_by_text(said, exact=True).wait_for()
        self.stop()
        self.page.get_by_role("link", name="Lanternmoth").click()
        self.page.get_by_role("link", name=f"Open {self.name}", exact=True).hover()
        card = self.page.locator(f"[data-plays='{self.name}']")
        card.wait_for()
        self.goes_on(card)
        self.page.mouse.move(2, 2)
        self.until(card.count, 0)

    def test_a_sound_that_stands_still_does_not_hold_the_picture(self) -> None:
        self.added()
        # a device that is gone: the sound never gets beyond its third frame
        self.page.evaluate(
            "Object.defineProperty(HTMLMediaElement.prototype, 'currentTime', {get: () => 0.1, set: () => undefined})"
        )
        self.play()
        self.page.get_by_text("Without its sound, which stood still").wait_for()
        self.ruler.get_by_role("img", name="All frames are rendered").wait_for()
        self.goes_on(self.page.get_by_role("img", name="The picture"))
        self.stop()

    def test_numbered_pictures_and_what_runs_is_told_in_the_bar(self) -> None:
        self.added()
        self.start("spotlight")
        self.page.get_by_role("button", name="Export…").click()
        dialog = self.page.get_by_role("dialog")
        # what the codec does is seen and said before anything is written
        dialog.get_by_role("button", name="see a second through it").click()
        seen = dialog.get_by_role("img", name="The frame as it is finished, and the same after H.264 in MP4")
        seen.wait_for()
        self.assertEqual(seen.evaluate("each => [each.naturalWidth, each.naturalHeight]"), [432, 180])
        dialog.get_by_text("25 frames at").wait_for()
        dialog.get_by_role("radio", name="a region cut out, with alpha").click()
        self.until(dialog.get_by_role("radio", name="H.264").count, 0)
        dialog.get_by_role("radio", name="PNG, numbered").click()
        with zipfile.ZipFile(self.handed_on("Export")) as packed:
            names = packed.namelist()
            picture = Image.open(io.BytesIO(packed.read(names[0])))
            picture.load()
        self.assertEqual(len(names), FRAMES)
        self.assertEqual((picture.size, picture.mode), ((320, 180), "RGBA"))
        dialog.get_by_role("button", name="Export", exact=True).click()
        dialog.get_by_role("button", name="Close", exact=True).click()
        told = self.page.get_by_role("button", name="Done", exact=True)
        told.wait_for(timeout=90_000)
        told.click()
        self.page.get_by_role("region", name="Exports").get_by_role("link", name="download").first.wait_for()
        self.page.get_by_role("button", name="Close", exact=True).click()
        self.until(told.count, 0)

    def test_a_still_does_not_wait_for_a_clip(self) -> None:
        self.bench("The walker")
        self.page.get_by_role("button", name="Export…").click()
        self.page.get_by_role("radio", name="H.265 in MP4").click()
        self.page.get_by_role("button", name="Export", exact=True).click()
        self.page.get_by_role("button", name="cancel").wait_for()
        self.bench("Ticket booth")
        self.page.get_by_role("button", name="Export…").click()
        self.handed_on("Export")
        # the clip is still being written
        self.page.get_by_role("button", name="cancel").click()
        self.page.get_by_text("called off").first.wait_for()

    def test_several_shots_get_vignettes_of_one_level_and_lose_them_again(self) -> None:
        self.added()
        self.page.get_by_role("link", name="Lanternmoth").click()
        for name in (self.name, "In the wood"):
            self.page.get_by_role("checkbox", name=f"Choose {name}", exact=True).click()
        self.page.get_by_role("button", name="Start…").click()
        dialog = self.page.get_by_role("dialog", name="Start a pass on 2 shots")
        level = dialog.get_by_label("Corners, stops below the middle")
        level.fill("9")
        dialog.get_by_text("Choose between 0.1 and 3 stops.").wait_for()
        level.fill("0,8")
        dialog.get_by_role("button", name="Start", exact=True).click()
        done = dialog.get_by_role("region", name="What was done")
        done.wait_for()
        self.assertEqual(done.inner_text().count("corners at −0.8\u00a0EV"), 2)
        dialog.get_by_role("button", name="undo on all").click()
        self.until(done.count, 0)
        dialog.get_by_role("button", name="Close", exact=True).click()
        self.page.get_by_role("link", name=f"Open {self.name}", exact=True).click()
        self.settled()
        self.assertEqual(self.sheet()["passes"], [])
