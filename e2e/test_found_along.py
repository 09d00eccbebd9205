"""All faces of a clip: looked for, seen in a list, concealed at a press, each followed."""

import io

import numpy as np
from django.test import tag
from PIL import Image
from playwright.sync_api import Locator

from calado.follow.tests.passing import BY_TALL, by_at, going_by
from e2e.clips import SIZE, ClipBench


@tag("e2e")
class FoundAlongTest(ClipBench):
    scene = staticmethod(going_by)
    frames = 19

    def test_all_faces_of_a_clip_are_concealed_at_a_press(self) -> None:
        self.added()
        self.page.keyboard.press("r")
        self.page.get_by_role("button", name="find along the clip").click()
        dialog = self.page.get_by_role("dialog", name="Along the clip")
        dialog.get_by_role("button", name="Look along the clip").click()
        dialog.get_by_text("Found: 1 face, no line of text.").wait_for(timeout=120_000)
        card = dialog.get_by_role("checkbox", name="face")
        picture = dialog.get_by_role("group", name="Found along the clip").locator("img").first
        self.until(lambda: picture.evaluate("picture => picture.complete && picture.naturalWidth"), 208)
        dialog.get_by_text("frames 0–18").wait_for()
        conceal = dialog.get_by_role("button", name="Conceal")
        self.assertTrue(conceal.is_disabled())
        dialog.get_by_role("button", name="choose all faces").click()
        self.assertTrue(card.is_checked())
        conceal.click()
        self.page.get_by_text("which follows").wait_for(timeout=120_000)
        self.settled()
        sheet = self.sheet()
        self.assertEqual([each["name"] for each in sheet["regions"]], ["concealed face"])
        self.assertEqual([each["name"] for each in sheet["passes"]], ["Conceal face"])
        for frame in (0, 9, 18):
            self._is_covered(frame)
        self._says_that_it_is_covered(dialog)
        # the list stays, and one press of undo each takes back what was begun
        for _ in range(2):
            self.page.keyboard.press("Control+z")
            self.settled()
        self.until(lambda: self.sheet()["regions"], [])
        self.page.keyboard.press("r")
        self.page.get_by_role("button", name="find along the clip").click()
        dialog.get_by_text("Found: 1 face").wait_for()

    def _says_that_it_is_covered(self, dialog: Locator) -> None:
        """See that the list marks what is concealed, and that all faces are now none."""
        self.page.keyboard.press("r")
        self.page.get_by_role("button", name="find along the clip").click()
        dialog.get_by_text("covered in frame").wait_for()
        dialog.get_by_role("button", name="choose all faces").click()
        self.assertFalse(dialog.get_by_role("checkbox", name="face").is_checked())
        self.page.keyboard.press("Escape")

    def _is_covered(self, frame: int) -> None:
        """See that a face lies under one flat colour in a frame."""
        answer = self.asked("preview", frame=frame, format="png", view="picture", rectangle=[0, 0, *SIZE], scale=1)
        shown = np.asarray(Image.open(io.BytesIO(answer.body())).convert("RGB"), float)
        x, y = (round(at) for at in by_at(frame))
        half = round(0.35 * BY_TALL)
        self.assertLess(float(shown[y - half : y + half, x - half : x + half].std(axis=(0, 1)).max()), 0.5, frame)
