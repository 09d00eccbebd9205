"""Where things stand on the screen, by what they are and are called."""

from pathlib import Path

from playwright.sync_api import Locator, Page, Response

# an export of some frames while other tests run
EXPORT_MS = 90_000


class Screen:
    """The parts of the bench that tests look at or press."""

    page: Page

    @property
    def stage(self) -> Locator:
        return self.page.get_by_role("group", name="Stage", exact=True)

    @property
    def outlines(self) -> Locator:
        return self.page.get_by_role("group", name="Outlines and handles")

    @property
    def weakness(self) -> Locator:
        """What the readings say of a cover that can be undone."""
        return self.page.locator("[data-stale] b[data-weak=true]")

    @property
    def region_words(self) -> Locator:
        """The words of the sheet that name where a pass works."""
        return self.page.locator("[data-pass] [data-token=where]")

    @property
    def change_words(self) -> Locator:
        """The words of the sheet that name what a pass does."""
        return self.page.locator("[data-pass] [data-token=what]")

    @property
    def cards(self) -> Locator:
        """The regions on the shelf."""
        return self.page.get_by_role("region", name="Shelf").locator("[data-region]")

    @property
    def starts_on(self) -> Locator:
        """Where a pass is to start: the regions of the shelf, and one of its own."""
        return self.page.get_by_role("radiogroup", name="Where it starts")

    def handle(self, name: str) -> Locator:
        return self.page.locator(f'[data-handle="{name}"]')

    def number(self, parameter: str) -> str:
        """Return what a fader's number field says."""
        return self.page.locator(f"[data-parameter={parameter}] input").first.input_value().replace("\u00a0", " ")

    def told(self, nth: int = 0) -> str:
        """Return a pass's sentence as it reads."""
        return self.page.locator("[data-pass] [data-told]").nth(nth).inner_text().replace("\u00a0", " ")

    @staticmethod
    def middle(of: Locator) -> tuple[float, float]:
        box = of.bounding_box()
        assert box is not None, "it is not on the screen"
        return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2

    def place(self, x: float, y: float) -> tuple[float, float]:
        """Return where a pixel of the picture is on the screen."""
        stage = self.stage
        scale, left, top = (float(stage.get_attribute(f"data-{key}") or 0) for key in ("scale", "left", "top"))
        box = stage.bounding_box()
        assert box is not None
        return box["x"] + left + scale * x, box["y"] + top + scale * y

    def handed_on(self, *presses: str) -> Path:
        """Press what orders an export in the dialog, and return the file that comes of that order."""
        with self.page.expect_response(_ordered) as told:
            for name in presses:
                self.page.get_by_role("button", name=name, exact=True).click()
        made = told.value.json()[0]["id"]
        with self.page.expect_download(timeout=EXPORT_MS) as got:
            # of the list beside the contact sheet and the one in the dialog the one in front
            self.page.locator(f"a[href*='{made}']").last.click(timeout=EXPORT_MS)
        return Path(got.value.path())


def _ordered(answer: Response) -> bool:
    return answer.ok and answer.request.method == "POST" and answer.url.endswith("/exports")
