"""Marking where in tests: regions drawn on a shot on which nothing is done yet."""

from typing import Any

from e2e.support import Calado, InBrowser, shared


class OnAFreshShot(InBrowser):
    @classmethod
    def serve(cls) -> Calado:
        return shared()

    def at(self, x: float, y: float) -> tuple[float, float]:
        box = self.stage.bounding_box()
        assert box is not None
        return box["x"] + x, box["y"] + y

    def bench(self, name: str, *, fresh: bool = True) -> None:
        """Open a shot on which nothing is done yet; tests share one server."""
        if not fresh:
            super().bench(name)
            return
        address = self.address_of(name).replace(self.calado.address, f"{self.calado.address}/api")
        head = self.context.request.get(f"{address}/bench").json()["revision"]
        body = {"seen": head, "label": "empty", "step": {"shelf": [], "order": []}}
        self.context.request.post(f"{address}/steps", data=body)
        super().bench(name)
        self.assertEqual(self.sheet()["regions"], [])

    def view(self) -> tuple[float, float, float]:
        """Return the zoom: scale, left, top."""
        stage = self.stage
        scale, left, top = (float(stage.get_attribute(f"data-{name}") or 0) for name in ("scale", "left", "top"))
        return scale, left, top

    def path(self, *points: tuple[float, float], steps: int = 3, end: bool = True) -> None:
        self.page.mouse.move(*self.at(*points[0]))
        self.page.mouse.down()
        for point in points[1:]:
            self.page.mouse.move(*self.at(*point), steps=steps)
        if end:
            self.page.mouse.up()

    def begin(self, kind: str) -> None:
        self.page.keyboard.press("r")
        self.page.get_by_role("radio", name=kind, exact=True).click()

    def regions(self) -> list[Any]:
        return self.sheet()["regions"]

    def drawn(self, count: int) -> Any:
        self.until(lambda: len(self.regions()), count)
        self.handle("Move").wait_for()
        self.settled()
        return self.regions()[-1]

    def join(self, how: str, kind: str, *points: tuple[float, float]) -> None:
        before = len(self.regions()[-1]["parts"])
        self.page.get_by_role("button", name=how, exact=True).click()
        self.page.get_by_role("radio", name=kind, exact=True).click()
        self.path(*points)
        self.until(lambda: len(self.regions()[-1]["parts"]), before + 1)
        self.settled()

    def facet(self, name: str) -> None:
        self.page.get_by_role("tab", name=name, exact=True).click()

    def matte_at(self, x: float, y: float, region: str) -> float:
        """Return a region's matte at a place of the stage, as the server gives it."""
        scale, left, top = self.view()
        answer = self.asked("matte-value", region=region, x=(x - left) / scale, y=(y - top) / scale)
        return float(answer.json()["value"])
