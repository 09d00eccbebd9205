"""A clip of one's own, and what one does with clips at the bench."""

import atexit
import re
import tempfile
import time
from functools import cache
from pathlib import Path

from playwright.sync_api import Locator

from calado.media.clips.tests.made import drawing, make
from e2e.support import Calado, InBrowser

FRAMES = 40
SIZE = (320, 180)


@cache
def with_clips() -> Calado:
    """Return the server of a run for all that bring clips of their own."""
    calado = Calado()
    atexit.register(calado.close)
    calado.start()
    return calado


class ClipBench(InBrowser):
    """Has a clip of its own in a file, named after the test; ``scene`` draws its frames."""

    scene = staticmethod(drawing)
    frames = FRAMES

    def setUp(self) -> None:
        super().setUp()
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        # a name of its own for each test: all share one server, and a link leads to the shot of its name
        self.name = self.id().rpartition(".test_")[2].replace("_", " ").capitalize()
        self.file = make(Path(held.name) / f"{self.name}.mp4", self.frames, size=SIZE, sound="aac", scene=self.scene)
        # and bytes of its own, in a box that readers pass over: a project takes the same file once
        with self.file.open("ab") as file:
            file.write((8 + len(self.name)).to_bytes(4, "big") + b"free" + self.name.encode())

    @classmethod
    def serve(cls) -> Calado:
        """Return one server for all that work on clips of their own."""
        return with_clips()

    @property
    def ruler(self) -> Locator:
        return self.page.get_by_role("region", name="Time", exact=True)

    @property
    def frame(self) -> Locator:
        return self.page.get_by_label("Frame, number or time")

    def at(self) -> str:
        return self.frame.input_value()

    def go(self, to: str) -> None:
        self.frame.fill(to)
        self.frame.press("Enter")
        self.settled()
        # the outline follows what the server told
        self.page.wait_for_timeout(400)

    def tap_space(self) -> None:
        """Tap Space over the picture, 50 ms as the page counts them, however long it is busy between."""
        # the keys of time come with the ruler
        self.ruler.get_by_role("button", name=re.compile("^(Play|Stop)$")).wait_for()
        self.stage.hover()
        hand = self.page.context.new_cdp_session(self.page)
        now = time.time()
        for kind, at in (("rawKeyDown", now), ("keyUp", now + 0.05)):
            space = {"type": kind, "timestamp": at, "key": " ", "code": "Space", "windowsVirtualKeyCode": 32}
            hand.send("Input.dispatchKeyEvent", space)
        hand.detach()

    def keyframes(self) -> list[str]:
        found = self.ruler.get_by_role("button", name="Keyframe")
        return [(each.get_attribute("aria-label") or "").removeprefix("Keyframe ") for each in found.all()]

    def added(self) -> None:
        self.contact_sheet()
        files = [{"name": self.file.name, "mimeType": "video/mp4", "buffer": self.file.read_bytes()}]
        self.page.locator("input[type=file]").set_input_files(files)
        self.page.get_by_role("link", name=f"Open {self.name}", exact=True).click()
        self.settled()

    def exported(self, frames: str = "") -> Path:
        """Hand the clip on, its whole length or as the choice says that is offered once a range is marked."""
        self.page.get_by_role("button", name="Export…").click()
        dialog = self.page.get_by_role("dialog")
        dialog.get_by_role("radio", name="the picture", exact=True).wait_for()
        if frames:
            dialog.get_by_role("radio", name=frames).click()
        file = self.handed_on("Export")
        dialog.get_by_role("button", name="Close", exact=True).click()
        return file
