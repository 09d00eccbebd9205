"""What the handles draw is what the server computes: the outline shown lies where the matte is a half."""

import re

from django.test import tag

from e2e.support import InBrowser

#: half a pixel of the screen, beside the narrowest feather drawn here, in shares of the matte
NEAR = 0.08


@tag("e2e")
class OutlineTest(InBrowser):
    def test_the_outline_of_every_kind_lies_on_the_half(self) -> None:
        self.bench("Ticket booth")
        for kind, numbers in (
            ("ellipse", {"turn": "25", "roundness": "40"}),
            ("rectangle", {"turn": "-18", "corner": "50"}),
            ("polygon", {}),
            ("curve", {}),
            ("gradient", {"turn": "12"}),
        ):
            self.page.keyboard.press("r")
            self.page.get_by_role("radio", name=kind).click()
            regions = len(self.sheet()["regions"])
            self.page.keyboard.press("Enter")
            self.until(lambda before=regions: len(self.sheet()["regions"]), regions + 1)
            self.handle("Move").wait_for()
            for id, text in {**numbers, "feather_in": "4", "feather_out": "7"}.items():
                self.type_number(id, text)
            self.page.mouse.move(*self.middle(self.stage))
            values = self._along_the_outline()
            self.assertGreater(len(values), 8, kind)
            for at, value in values:
                self.assertAlmostEqual(value, 0.5, delta=NEAR, msg=f"{kind} at {at}")

    def _along_the_outline(self) -> list[tuple[tuple[float, float], float]]:
        """Return the matte at some places of the 50 % line, as the server gives it."""
        stage = self.stage
        scale, left, top = (float(stage.get_attribute(f"data-{name}") or 0) for name in ("scale", "left", "top"))
        path = self.outlines.locator('path[stroke-width="1.75"]').last.get_attribute("d") or ""
        points = [(float(x), float(y)) for x, y in re.findall(r"(-?[\d.]+) (-?[\d.]+)", path)]
        if len(points) < 8:  # a straight line, or the few corners of a polygon: look along its sides as well
            ends = zip(points, points[1:] + points[:1], strict=True)
            points = [
                (a[0] + t / 90 * (b[0] - a[0]), a[1] + t / 90 * (b[1] - a[1])) for a, b in ends for t in range(90)
            ]
        sheet = self.sheet()
        found = []
        for x, y in points[:: max(1, len(points) // 90)]:
            at = (x - left) / scale, (y - top) / scale
            if not (0 < at[0] < 1600 and 0 < at[1] < 1067):
                continue
            answer = self.asked("matte-value", sheet, region=sheet["regions"][-1]["id"], x=at[0], y=at[1])
            found.append((at, answer.json()["value"]))
        return found
