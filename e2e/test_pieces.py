"""Large files that are cut off on their way, and clips of several shots."""

import tempfile
from pathlib import Path

import numpy as np
from django.test import tag
from playwright.sync_api import Request, Route

from calado.media.clips.clip import Clip
from calado.media.clips.tests.made import linear, make, two_scenes
from e2e.clips import FRAMES, SIZE, ClipBench

CUT = 16


def noise(frame: int, size: tuple[int, int]) -> np.ndarray:
    return np.random.default_rng(frame).integers(0, 256, (*size[::-1], 3), np.uint8)


@tag("e2e")
class Pieces(ClipBench):
    def drop(self, file: Path) -> None:
        self.page.locator("input[type=file]").set_input_files(str(file))

    def test_a_large_file_goes_on_where_it_was_cut_off(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        file = make(Path(held.name) / "Much noise.mkv", 60, "ffv1", size=(640, 360), scene=noise)
        self.assertGreater(file.stat().st_size, 17e6)
        sent: list[int] = []

        def passed(route: Route, request: Request) -> None:
            if request.method == "PATCH":
                sent.append(int(request.headers["upload-offset"]))
                if len(sent) > 1:
                    route.abort()
                    return
            route.continue_()

        self.contact_sheet()
        self.page.route("**/uploads/*", passed)
        self.drop(file)
        self.page.get_by_label("Files on their way").get_by_text("%").wait_for()
        self.until(lambda: len(sent) > 1, True)
        # the window is closed in the midst of it
        self.page.reload()
        self.page.locator("[data-shot]").first.wait_for()
        self.page.unroute("**/uploads/*")
        begun: list[int] = []
        self.page.on(
            "request",
            lambda request: begun.append(int(request.headers["upload-offset"])) if request.method == "PATCH" else None,
        )
        self.drop(file)
        self.page.get_by_role("link", name="Open Much noise", exact=True).wait_for()
        self.assertEqual((sent[0], begun[0]), (0, sent[1]))
        self.assertGreater(sent[1], 0)
        shots = self.ask(f"/projects/{self.ask('/projects')[0]['id']}")["shots"]
        (shot,) = [each for each in shots if each["name"] == "Much noise"]
        self.assertEqual(shot["clip"]["frames"], 60)

    def test_cuts_are_found_the_clip_split_exported_as_one_and_joined(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        file = make(Path(held.name) / "Two scenes.mp4", FRAMES, size=SIZE, scene=two_scenes(CUT), sound="aac")
        self.contact_sheet()
        self.drop(file)
        cards = self.page.locator("[data-shot]").filter(has_text="Two scenes")
        cards.first.wait_for()
        dialog = self.page.get_by_role("dialog")
        self.choose("Two scenes")
        self.page.get_by_role("button", name="Cuts…").click()
        dialog.get_by_role("button", name="Look for cuts").click()
        dialog.get_by_text("1 cut was found").wait_for()
        dialog.get_by_role("checkbox", name=f"frame {CUT}").wait_for()
        dialog.get_by_label("Split before frames").fill("99")
        dialog.get_by_text(f"frames from 1 to {FRAMES - 1}").wait_for()
        dialog.get_by_label("Split before frames").fill("30")
        dialog.get_by_role("button", name="Split into 3 shots").click()
        dialog.wait_for(state="detached")
        self.until(cards.count, 3)
        # one of them is worked on, and all are written as one file
        self.page.get_by_role("link", name="Open Two scenes, 2", exact=True).click()
        self.settled()
        self.start("vignette")
        self.contact_sheet()
        for number in (1, 2, 3):
            self.choose(f"Two scenes, {number}")
        self.page.get_by_role("button", name="Export…").click()
        dialog.get_by_role("radio", name="FFV1 in Matroska, lossless").click()
        dialog.get_by_role("radio", name="all in one, in the order of the contact sheet").click()
        out = self.handed_on("Export")
        self.assertEqual(out.read_bytes()[:4], b"\x1aE\xdf\xa3")
        with Clip(out) as clip:
            self.assertEqual((clip.facts.frames, len(clip.facts.sound)), (FRAMES, 1))
        before, after = linear(file), linear(out)
        self.assertEqual((after[:CUT], after[30:]), (before[:CUT], before[30:]))
        self.assertNotEqual(after[20], before[20])
        # what was worked on is not lost by joining
        dialog.get_by_role("button", name="Close", exact=True).click()
        self.contact_sheet()
        self.choose("Two scenes, 1")
        self.page.get_by_role("button", name="Cuts…").click()
        dialog.get_by_role("button", name="Make it one clip again").click()
        dialog.get_by_role("alert").filter(has_text="“Two scenes, 2” has passes or snapshots of its own").wait_for()

    def choose(self, name: str) -> None:
        self.page.locator("[data-shot]").filter(has_text=name).get_by_role("checkbox").click()
