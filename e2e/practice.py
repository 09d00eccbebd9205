"""What a photo editor does all day, as acts on the real interface."""

import io
from typing import Any

import numpy as np
from PIL import Image

from e2e.marking import OnAFreshShot


class Practice(OnAFreshShot):
    def begins(self, words: str) -> None:
        """Wait until the first pass's sentence begins so."""
        self.until(lambda: self.told()[: len(words)], words)

    def says(self, words: str, nth: int = 0) -> None:
        """Wait until a pass's sentence has these words."""
        self.until(lambda: words in self.told(nth), True)

    def press(self, name: str, **how: Any) -> None:
        self.page.get_by_role("button", name=name, exact=True).click(**how)

    def pull(self, start: tuple[float, float], end: tuple[float, float], steps: int = 8) -> None:
        """Drag from one place of the screen to another."""
        self.page.mouse.move(*start)
        self.page.mouse.down()
        self.page.mouse.move(*end, steps=steps)
        self.page.mouse.up()

    def draw(self, *corners: tuple[float, float], kind: str = "ellipse") -> None:
        """Draw a region from corner to corner, in pixels of the picture."""
        regions = self.cards.count()
        self.page.keyboard.press("r")
        self.page.get_by_role("radio", name=kind).click()
        start, end = (self.place(*corner) for corner in corners)
        self.pull(start, end)
        self.until(self.cards.count, regions + 1)
        self.settled()

    def exported(self, *choices: str, even_so: bool = False) -> np.ndarray:
        """Export with some choices of the dialog, and return the file's codes."""
        self.press("Export…")
        for choice in choices:
            self.page.get_by_role("radio", name=choice).click()
        data = self.handed_on("Export", *(["Export all the same"] if even_so else [])).read_bytes()
        self.press("Close")
        return np.asarray(Image.open(io.BytesIO(data)).convert("RGB"))
