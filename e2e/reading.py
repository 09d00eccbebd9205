"""Reading regions from the picture in tests: begun by hand on the stage, looked at as the server renders them."""

import io
from typing import Any

import numpy as np
from PIL import Image

from e2e.test_ten import OnTheStills

HEIGHT = 1067


class Reading(OnTheStills):
    """Places are in pixels of the full-size still."""

    def press(self, *places: tuple[float, float]) -> None:
        for place in places:
            self.path(*self.on(place))

    def begun(self, kind: str, *places: tuple[float, float], steps: int = 4) -> Any:
        before = len(self.regions())
        self.begin(kind)
        self.path(*self.on(*places), steps=steps)
        self.until(lambda: len(self.regions()), before + 1)
        self.settled()
        return self.part()

    def part(self) -> Any:
        return self.regions()[-1]["parts"][-1]

    def matte(self) -> np.ndarray:
        """Return the newest region's matte at half size, 0…255."""
        return self.codes_of("matte", self.regions()[-1]["id"])[..., 0]

    def codes_of(self, view: str, region: str) -> np.ndarray:
        fields = {"view": view, "rectangle": [0, 0, 1600, HEIGHT], "scale": 0.5, "region": region, "format": "png"}
        while True:
            answer = self.asked("preview", **fields)
            if answer.headers.get("x-refining") != "yes":
                return np.asarray(Image.open(io.BytesIO(answer.body())).convert("RGB")).astype(float)
            self.page.wait_for_timeout(200)

    def refined(self) -> None:
        self.page.locator("[data-refining]").wait_for(state="detached")
        self.settled()

    def phrase(self) -> str:
        return self.page.locator("[data-tray] [data-told]").last.inner_text().strip()
