"""A region that follows what moves: begun, watched, corrected, begun anew, handed on."""

import io
from typing import Any

import numpy as np
from django.test import tag
from PIL import Image
from pypdf import PdfReader

from calado.follow.tests import dancing
from calado.media.clips.clip import Clip
from calado.media.clips.tests.made import card_at, going_card, two_scenes
from calado.media.clips.tests.test_following_faces import told
from e2e.clips import FRAMES, SIZE, ClipBench
from e2e.support import InBrowser


@tag("e2e")
class FollowingTest(ClipBench):
    scene = staticmethod(going_card)

    def test_a_spotlight_goes_with_a_card(self) -> None:
        self.added()
        self.go("0")
        self.start("spotlight")
        self._put_on_the_card()
        self.page.get_by_role("tab", name="Time").click()
        self.page.get_by_role("button", name="both ways").click()
        self.page.get_by_text("It follows, sure in every frame.").wait_for()
        self.ruler.get_by_role("img", name=f"{FRAMES} of {FRAMES} frames are sure").wait_for()
        self.settled()
        self.until(lambda: "which follows" in self.told(), True)
        marked = self.sheet()["regions"][0]["parts"]
        start = self.middle(self.handle("Move"))
        for frame in (12, 30):
            self.go(str(frame))
            now, was = (np.array(self.place(*self._card(each))) for each in (frame, 0))
            np.testing.assert_allclose(np.subtract(self.middle(self.handle("Move")), start), now - was, atol=1.5)
        self._look_along()
        self._correct_and_take_back(marked)
        self._begin_anew()
        self._hand_on()

    def _card(self, frame: int) -> tuple[float, float]:
        """Return the pixel at which the card's middle is."""
        x, y = card_at(frame, 1)
        return x, y

    def _put_on_the_card(self) -> None:
        self.region_words.first.click()
        before = self.middle(self.handle("Move"))
        to = np.array(self.place(*self._card(0)))
        self.drag("Move", *(to - before))
        self.settled()

    def _look_along(self) -> None:
        """Put one frame right among twenty, by the pointer and by a key, and take that back."""
        self.page.get_by_role("button", name="look along it").click()
        dialog = self.page.get_by_role("dialog", name="Along")
        last = dialog.get_by_role("img", name=f"Frame {FRAMES - 1}")
        self.until(lambda: last.evaluate("picture => picture.complete && picture.naturalWidth"), 208)
        ring = dialog.get_by_role("button", name=f"Place in frame {FRAMES - 1}")
        x, y = self.middle(ring)
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x + 20, y - 8, steps=4)
        self.page.mouse.up()
        self.settled()
        fixes = self.sheet()["regions"][0]["track"]["fixes"]
        self.assertEqual(set(fixes), {str(FRAMES - 1)})
        fix = fixes[str(FRAMES - 1)]
        self.assertAlmostEqual(fix["dx"] / fix["dy"], -20 / 8, delta=0.01)
        ring.press("ArrowDown")
        self.settled()
        moved = self.sheet()["regions"][0]["track"]["fixes"][str(FRAMES - 1)]["dy"]
        self.assertAlmostEqual(moved, fix["dy"] * 7 / 8, delta=1e-4)
        dialog.get_by_role("button", name="play it as a loop").click()
        loop = dialog.get_by_role("img", name="Loop round")
        self.until(lambda: int(loop.get_attribute("data-frame") or 0) > 3, True)
        dialog.get_by_role("button", name="stop the loop").click()
        dialog.get_by_role("button", name="Go to frame 0").click()
        self.until(self.at, "0")
        for _ in range(2):
            self.page.keyboard.press("Control+z")
            self.settled()
        self.until(lambda: self.sheet()["regions"][0]["track"]["fixes"], {})
        self.go("30")

    def _correct_and_take_back(self, marked: object) -> None:
        before = self.middle(self.handle("Move"))
        self.drag("Move", 40, 0)
        self.settled()
        self.ruler.get_by_role("button", name="Correction 30").wait_for()
        region = self.sheet()["regions"][0]
        self.assertEqual(set(region["track"]["fixes"]), {"30"})
        # how it was marked stays as it was
        self.assertEqual(region["parts"], marked)
        self.until(lambda: "corrected once" in self.told(), True)
        self.go("31")
        self.go("30")
        self.assertAlmostEqual(self.middle(self.handle("Move"))[0], before[0] + 40, delta=2)
        self.page.get_by_role("button", name="remove correction").click()
        self.settled()
        self.until(lambda: self.sheet()["regions"][0]["track"]["fixes"], {})
        self.page.wait_for_timeout(400)
        self.assertAlmostEqual(self.middle(self.handle("Move"))[0], before[0], delta=2)

    def _begin_anew(self) -> None:
        first = self.sheet()["regions"][0]["track"]["motion"]
        self.drag("Move", 6, 0)
        self.settled()
        self.page.get_by_role("button", name="again from here").click()
        self.until(lambda: self.sheet()["regions"][0]["track"]["motion"] != first, True)
        self.settled()
        self.until(lambda: self.sheet()["regions"][0]["track"]["fixes"], {})

    def _hand_on(self) -> None:
        written = self.exported()
        with Clip(written) as after, Clip(self.file) as before:
            for frame in (0, 12, 35):
                was, now = (clip.picture(frame).planes[0].astype(float) for clip in (before, after))
                x, y = (round(at * SIZE[1]) for at in card_at(frame, SIZE[1]))
                # light on the card, dark at the far side of the picture
                near = np.s_[y - 12 : y + 12, x - 12 : x + 12]
                far = np.s_[:, :14] if x > SIZE[0] / 2 else np.s_[:, -14:]
                self.assertGreater(now[near].mean() / was[near].mean(), now[far].mean() / was[far].mean() + 0.1)

    def test_a_card_is_concealed_and_answered_for(self) -> None:
        self.added()
        self.go("4")
        self.start("conceal")
        self._put_on_the_card()
        self.page.get_by_role("tab", name="Time").click()
        self.page.get_by_role("button", name="onwards").click()
        covered = f"covers {FRAMES - 4}, 4 open"
        self.ruler.get_by_role("img", name=f"Coverage: {covered}").wait_for()
        self.until(lambda: f"which must cover ({covered})" in self.told(), True)
        self._waits()
        self.page.get_by_role("button", name="next open frame").click()
        self.page.get_by_text("Frames 0 to 3 are open").wait_for()
        self.page.get_by_label("Your name, for the report").fill("Odile")
        self.page.get_by_role("button", name="absent in frames 0 to 3").click()
        self.page.get_by_text("declared absent by Odile").wait_for()
        self.settled()
        self.until(lambda: f"(covers {FRAMES - 4}, absent in 4)" in self.told(), True)
        self._taken_back_and_done_again()
        written = self.exported()
        with Clip(written) as after, Clip(self.file) as before:
            for frame, absent in ((0, True), (3, True), (4, False), (30, False)):
                x, y = (round(at * SIZE[1]) for at in card_at(frame, SIZE[1]))
                near = np.s_[y - 8 : y + 8, x - 8 : x + 8]
                was, now = (clip.picture(frame).planes[0][near].astype(float) for clip in (before, after))
                self.assertEqual(float(np.abs(was - now).mean()) < 4, absent, frame)
        self._report()

    def _waits(self) -> None:
        """See that an export is kept waiting by the frames that nobody looked at."""
        self.page.get_by_role("button", name="Export…").click()
        dialog = self.page.get_by_role("dialog")
        dialog.get_by_role("button", name="Export", exact=True).click()
        dialog.get_by_text("4 frames are open, the first is 0").wait_for()
        dialog.get_by_role("button", name="Close", exact=True).click()

    def _taken_back_and_done_again(self) -> None:
        self.page.keyboard.press("Control+z")
        self.page.get_by_text("Frames 0 to 3 are open").wait_for()
        self.page.get_by_role("button", name="it lies right").click()
        self.page.get_by_text("looked at by Odile").wait_for()
        self.page.get_by_role("button", name="take that back").click()
        self.page.get_by_role("button", name="absent in frames 0 to 3").click()
        self.page.get_by_text("declared absent by Odile").wait_for()
        self.settled()

    def _report(self) -> None:
        self.page.get_by_role("button", name="Export…").click()
        self.page.get_by_text(f"Read back, all {FRAMES} frames.").wait_for()
        self.page.get_by_role("button", name="Concealment report of").click()
        report = self.page.get_by_role("dialog", name="Concealment report")
        report.get_by_text("declared absent").first.wait_for()
        report.get_by_text("Odile").first.wait_for()
        shown = report.get_by_role("img").first
        self.until(lambda: shown.evaluate("picture => picture.complete && picture.naturalWidth > 0"), True)
        with self.page.expect_download() as paper:
            report.get_by_role("link", name="PDF").click()
        text = " ".join(page.extract_text() for page in PdfReader(paper.value.path()).pages)
        self.assertIn("Odile", text)
        self.assertIn("frames 0 to 3", " ".join(text.split()))


@tag("e2e")
class SetTest(ClipBench):
    scene = staticmethod(two_scenes(FRAMES))

    def test_a_window_stays_on_the_set_while_the_camera_goes_on(self) -> None:
        self.added()
        self.go("0")
        self.start("spotlight")
        self.page.get_by_role("tab", name="Time").click()
        self.page.get_by_label("What may happen to it").select_option("nothing: it stays on the set")
        start = self.middle(self.handle("Move"))
        self.page.get_by_role("button", name="both ways").click()
        self.page.get_by_text("It follows the camera, fixed to the set, sure in every frame.").wait_for()
        for frame in (11, 34):
            self.go(str(frame))
            # the set goes up and to the left by a pixel a frame
            gone = np.subtract(self.place(-frame, -frame), self.place(0, 0))
            np.testing.assert_allclose(np.subtract(self.middle(self.handle("Move")), start), gone, atol=1.0)


@tag("e2e")
class ShapeTest(ClipBench):
    scene = staticmethod(dancing.scene)
    frames = 13

    def test_a_figure_that_walks_is_cut_out_corrected_and_cut_anew(self) -> None:
        self.added()
        self.go("0")
        self.page.keyboard.press("r")
        self.page.get_by_role("radio", name="rough-in").click()
        self._path((-26, -76), (26, -76), (30, 76), (-30, 76), (-26, -76))
        self.until(lambda: len(self.sheet()["regions"]), 1)
        self.page.get_by_role("radio", name="the subject").click()
        self._path((-1, -44), (0, 20))
        self.until(lambda: len(self._part()["strokes"]), 1)
        self.settled()
        self.page.get_by_role("tab", name="Time").click()
        self.page.get_by_role("button", name="both ways").click()
        self.page.get_by_text("It follows, cut out in each frame").wait_for(timeout=120_000)
        self.go("8")
        # it lies where the figure is
        self.assertGreater(self._inside(8)[:, 96:116].mean(), self._inside(8)[:, 40:60].mean() + 0.2)
        before = self._inside(8)[50:60, 103:109].mean()
        self.page.get_by_role("tab", name="Parts").click()
        self.page.get_by_role("button", name="rough-in").first.click()
        self.page.get_by_role("radio", name="the surround").click()
        self._path((-1 + 7 * 8, -44), (1 + 7 * 8, -34))
        self.until(lambda: [*self.sheet()["regions"][0]["track"]["marks"]], ["8"])
        self.until(lambda: len(self._part()["strokes"]), 1)
        self.settled()
        self.assertLess(self._inside(8)[50:60, 103:109].mean(), before - 0.2)
        self.page.get_by_role("tab", name="Time").click()
        self.page.get_by_text("is not carried on yet: cut it anew").wait_for()
        self.page.get_by_role("button", name="cut anew").click()
        self.until(self.page.get_by_text("is not carried on yet: cut it anew").count, 0)
        self.page.get_by_role("button", name="remove correction").click()
        self.until(lambda: [*self.sheet()["regions"][0]["track"]["marks"]], [])

    def _part(self) -> Any:
        return self.sheet()["regions"][0]["parts"][0]

    def _path(self, *ways: tuple[float, float]) -> None:
        """Draw along places beside where the figure's middle is in frame 0, in pixels."""
        x, y = dancing.middle(0)
        places = [self.place(x + dx, y + dy) for dx, dy in ways]
        self.page.mouse.move(*places[0])
        self.page.mouse.down()
        for place in places[1:]:
            self.page.mouse.move(*place, steps=4)
        self.page.mouse.up()

    def _inside(self, frame: int) -> np.ndarray:
        """Return the region's matte at a frame, 0…1."""
        fields = {"view": "matte", "rectangle": [0, 0, *SIZE], "scale": 1, "region": self.sheet()["regions"][0]["id"]}
        answer = self.asked("preview", frame=frame, format="png", **fields)
        return np.asarray(Image.open(io.BytesIO(answer.body())).convert("L")) / 255


@tag("e2e")
class FaceTest(InBrowser):
    def test_a_concealed_face_goes_along_by_itself(self) -> None:
        self.bench("The walker")
        time = self.page.get_by_label("Frame, number or time")
        time.fill("24")
        time.press("Enter")
        self.settled()
        self.start("conceal")
        self.page.get_by_text("which follows").wait_for(timeout=120_000)
        self.page.get_by_text("must cover (covers 1").wait_for()
        for frame in (6, 60, 108):
            time.fill(str(frame))
            time.press("Enter")
            self.settled()
            self.page.wait_for_timeout(400)
            left, top, right, bottom = told()[frame]["face"]["box"]
            x, y = self.middle(self.handle("Move"))
            (west, north), (east, south) = self.place(left, top), self.place(right, bottom)
            self.assertTrue(west < x < east and north < y < south, (frame, x, y))
