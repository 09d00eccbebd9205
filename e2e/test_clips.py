"""A clip, as a colorist works on it: dropped in, a region that moves, played, a range, handed on."""

from urllib.parse import urlencode

import numpy as np
from django.test import tag

from calado.media.clips.clip import Clip
from calado.media.clips.tests.made import packets
from e2e.clips import FRAMES, SIZE, ClipBench


def lightest(before: np.ndarray, after: np.ndarray) -> float:
    """Return the middle of the columns that a picture was darkened less in than half-way."""
    was, now = (np.convolve(codes.astype(float).sum(axis=0), np.ones(50), "valid") for codes in (before, after))
    left = now / was
    return float(np.flatnonzero(left > (left.min() + left.max()) / 2).mean())


@tag("e2e")
class ClipTest(ClipBench):
    def test_from_a_clip_to_a_clip(self) -> None:
        self.added()
        self.page.get_by_text(f"Clip, 320 × 180 px, {FRAMES} frames, 25 a second").wait_for()
        self.ruler.locator("[data-thumbnails=shown]").wait_for()
        self.ruler.get_by_role("img", name="Loudness of the sound").wait_for()
        self.start("spotlight")
        self.go("0")
        self._let_it_move()
        self._play_and_stop()
        self._mark_a_range()
        self._hand_on()

    def _let_it_move(self) -> None:
        self.region_words.first.click()
        self.page.get_by_role("tab", name="Time").click()
        self.page.get_by_role("button", name="let it move").click()
        self.until(self.keyframes, ["0"])
        self.settled()
        for frame, dx in (("20", -60), ("1 s 14 f", 90)):
            self.go(frame)
            before = self.middle(self.handle("Move"))
            self.drag("Move", dx, 0)
            self.assertAlmostEqual(self.middle(self.handle("Move"))[0], before[0] + dx, delta=4)
        self.until(self.keyframes, ["0", "20", "39"])
        self.assertIn("which moves (3 keyframes)", self.told())
        keys = self.sheet()["regions"][0]["parts"][0]["keys"]["x"]
        self.assertEqual(set(keys), {"0", "20", "39"})
        self.assertLess(keys["20"]["value"], keys["0"]["value"])
        # between two it stands between them
        places = []
        for frame in ("0", "10", "20"):
            self.go(frame)
            places.append(self.middle(self.handle("Move"))[0])
        self.assertTrue(places[0] > places[1] > places[2], places)
        # a key takes away, undo brings back, keys of the keyboard lead from one to the next
        self.page.get_by_role("button", name="remove keyframe").click()
        self.until(self.keyframes, ["0", "39"])
        self.page.get_by_role("button", name="Undo", exact=True).click()
        self.until(self.keyframes, ["0", "20", "39"])
        self.settled()
        self.stage.hover()
        self.page.keyboard.press("Control+Shift+ArrowRight")
        self.until(self.at, "39")
        self.page.keyboard.press("Control+ArrowLeft")
        self.until(self.at, "38")
        self.page.keyboard.press("Home")
        self.until(self.at, "0")
        self.settled()

    def _play_and_stop(self) -> None:
        self.tap_space()
        self.ruler.get_by_role("button", name="Stop").wait_for()
        seen = set()
        while len(seen) < 6:
            seen.add(self.at())
            self.page.wait_for_timeout(30)
        self.tap_space()
        self.ruler.get_by_role("button", name="Play").wait_for()
        self.settled()
        stopped = self.at()
        self.page.wait_for_url(f"**?frame={stopped}")
        self.page.reload()
        self.settled()
        self.assertEqual(self.at(), stopped, "the address keeps the place in time")

    def _mark_a_range(self) -> None:
        for frame, key in (("5", "("), ("29", ")")):
            self.go(frame)
            self.page.keyboard.press(key)
        self.ruler.get_by_role("button", name="5–29").wait_for()

    def _hand_on(self) -> None:
        source = self.exported("the whole length")
        with Clip(self.file) as before, Clip(source) as after:
            self.assertEqual((after.facts.frames, after.facts.rate), (before.facts.frames, before.facts.rate))
            light = [lightest(before.picture(f).planes[0], after.picture(f).planes[0]) for f in (0, 20, 39)]
        self.assertEqual(packets(source), packets(self.file))
        # further left at the second keyframe, further right at the last
        self.assertTrue(light[1] < light[0] < light[2], light)
        with Clip(self.exported("5 to 29, as marked")) as ranged:
            self.assertEqual(ranged.facts.frames, 25)

    def test_a_still_knows_no_time(self) -> None:
        self.bench("Portrait by lamplight")
        self.assertEqual(self.ruler.count(), 0)
        self.region_words.first.click()
        self.assertEqual(self.page.get_by_role("tab", name="Time").count(), 0)
        self.assertNotIn("frame=", self.page.url)

    def test_a_pass_comes_and_goes(self) -> None:
        self.added()
        self.start("vignette")
        self.region_words.first.click()
        self.page.get_by_role("tab", name="Time").click()
        for label, number in (("First frame", "10"), ("Last frame", "30"), ("Frames in which it comes", "4")):
            self.page.get_by_label(label, exact=True).fill(number)
            self.page.get_by_label(label, exact=True).press("Enter")
            self.settled()
        self.assertIn(", from frame 10 to 30, coming over 4: exposure", self.told())
        pictures = {}
        for frame in ("9", "10", "20", "31"):
            self.go(frame)
            asked = {"view": "picture", "rectangle": [0, 0, *SIZE], "scale": 1, "format": "png"}
            pictures[frame] = [self.asked_at(frame, sheet, **asked) for sheet in ({}, self.sheet())]
        changed = {frame: source != done for frame, (source, done) in pictures.items()}
        self.assertEqual(changed, {"9": False, "10": True, "20": True, "31": False})

    def asked_at(self, frame: str, sheet: object, **fields: object) -> bytes:
        """Return a picture of a draft at a frame."""
        api = f"{self.calado.address}/api"
        draft = self.context.request.post(f"{api}/drafts", data=sheet).json()["draft"]
        return self.context.request.get(
            f"{api}{self.where()}/drafts/{draft}@{frame}/preview?{urlencode(fields, doseq=True)}"
        ).body()

    def test_what_cannot_be_read_is_refused_in_a_sentence(self) -> None:
        self.contact_sheet()
        broken = [{"name": "broken.mp4", "mimeType": "video/mp4", "buffer": b"\0\0\0\x18ftypisom" + bytes(300)}]
        self.page.locator("input[type=file]").set_input_files(broken)
        self.page.get_by_text("This is not a clip that can be read here.").wait_for()
