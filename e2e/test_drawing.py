"""Parts drawn on the picture with the pointer, and changed by their beads afterwards."""

from math import cos, pi, sin
from typing import Any

from django.test import tag

from e2e.support import InBrowser


@tag("e2e")
class DrawingTest(InBrowser):
    def draw(self, kind: str, *path: tuple[float, float]) -> None:
        """Begin a region of a kind and drag along a path, in screen pixels from the stage's corner."""
        self.before = len(self.sheet()["regions"])
        self.page.keyboard.press("r")
        self.page.get_by_role("radio", name=kind).click()
        if path:
            self.page.mouse.move(*self.at(path[0]))
            self.page.mouse.down()
            for point in path[1:]:
                self.page.mouse.move(*self.at(point), steps=4)
            self.page.mouse.up()

    def at(self, point: tuple[float, float]) -> tuple[float, float]:
        box = self.stage.bounding_box()
        assert box is not None
        return box["x"] + point[0], box["y"] + point[1]

    def heights(self, point: tuple[float, float]) -> tuple[float, float]:
        """Return a place on the stage in picture heights."""
        stage = self.stage
        scale, left, top = (float(stage.get_attribute(f"data-{name}") or 0) for name in ("scale", "left", "top"))
        return (point[0] - left) / scale / 1067, (point[1] - top) / scale / 1067

    def region(self) -> Any:
        return self.sheet()["regions"][-1]

    def part(self) -> Any:
        return self.region()["parts"][-1]

    def drawn(self) -> None:
        self.until(lambda: len(self.sheet()["regions"]), self.before + 1)
        self.handle("Move").wait_for()
        self.settled()

    def test_rectangle_corner_to_corner_square_and_from_the_centre(self) -> None:
        self.bench("Ticket booth")
        first, second = (300.0, 140.0), (520.0, 300.0)
        self.draw("rectangle", first, second)
        self.drawn()
        values = self.part()["values"]
        (x0, y0), (x1, y1) = self.heights(first), self.heights(second)
        for name, expected in (("x", (x0 + x1) / 2), ("y", (y0 + y1) / 2), ("width", x1 - x0), ("height", y1 - y0)):
            self.assertAlmostEqual(values[name], expected, delta=0.003, msg=name)
        self.draw("ellipse")
        self.page.keyboard.down("Shift")
        self.page.keyboard.down("Alt")
        self.page.mouse.move(*self.at((400, 300)))
        self.page.mouse.down()
        self.page.mouse.move(*self.at((500, 330)), steps=4)
        self.page.mouse.up()
        self.page.keyboard.up("Alt")
        self.page.keyboard.up("Shift")
        self.drawn()
        values = self.part()["values"]
        self.assertEqual(values["width"], values["height"])
        self.assertAlmostEqual(values["x"], self.heights((400, 300))[0], delta=0.003)

    def test_a_shape_may_begin_on_the_grey_and_escape_leaves_nothing(self) -> None:
        self.bench("Ticket booth")
        self.draw("ellipse", (12, 12), (500, 300))
        self.drawn()
        self.assertLess(self.part()["values"]["x"] - self.part()["values"]["width"] / 2, 0)
        before = self.sheet()
        self.draw("polygon")
        self.page.mouse.click(*self.at((200, 100)))
        self.page.mouse.click(*self.at((300, 100)))
        self.page.keyboard.press("Escape")
        self.page.get_by_text("A new region").wait_for(state="detached")
        self.assertEqual(self.sheet(), before)

    def test_polygon_by_corners(self) -> None:
        self.bench("Ticket booth")
        self.draw("polygon")
        corners = ((250.0, 100.0), (420.0, 80.0), (480.0, 260.0), (260.0, 300.0))
        for corner in corners:
            self.page.mouse.click(*self.at(corner))
        self.page.mouse.click(*self.at((600, 400)))
        self.page.keyboard.press("Backspace")
        self.page.mouse.click(*self.at((corners[0][0] + 3, corners[0][1] + 2)))
        self.drawn()
        points = self.part()["points"]
        self.assertEqual(len(points), 4)
        for point, corner in zip(points, corners, strict=True):
            x, y = self.heights(corner)
            self.assertAlmostEqual(point[0], x, delta=0.002)
            self.assertAlmostEqual(point[1], y, delta=0.002)
        self.drag("Corner 2", 20, 30)
        moved = self.part()["points"]
        self.assertNotEqual(moved[1], points[1])
        self.assertEqual([moved[0], *moved[2:]], [points[0], *points[2:]])
        self.drag("New corner after 3", 0, 40)
        self.assertEqual(len(self.part()["points"]), 5)
        x, y = self.middle(self.handle("Corner 5"))
        self.page.keyboard.down("Alt")
        self.page.mouse.click(x, y)
        self.page.keyboard.up("Alt")
        self.until(lambda: len(self.part()["points"]), 4)
        before = self.part()["points"]
        self.page.keyboard.press("ArrowRight")
        self.until(lambda: round(self.part()["points"][0][0] - before[0][0], 5), 0.001)
        self.drag("Feather out", 0, -20)
        self.assertNotEqual(self.part()["values"]["feather_out"], 0.01)

    def test_gradient_from_full_to_none_and_its_band(self) -> None:
        self.bench("Dusk on the cobbles")
        self.draw("gradient", (400, 100), (400, 300))
        self.drawn()
        values = self.part()["values"]
        (_, y0), (_, y1) = self.heights((400, 100)), self.heights((400, 300))
        self.assertAlmostEqual(values["y"], (y0 + y1) / 2, delta=0.003)
        self.assertAlmostEqual(values["feather_in"], (y1 - y0) / 2, delta=0.003)
        self.assertEqual(values["turn"], 0)
        self.assertEqual(self.page.locator("[data-parameter=width]").count(), 0)
        self.page.get_by_role("radio", name="two-sided").click()
        self.page.locator("[data-parameter=width]").wait_for()
        self.settled()
        self.drag("Band, far", 0, 30)
        self.assertGreater(self.part()["values"]["width"], 0.3)
        self.drag("Turn", 0, 60)
        self.assertGreater(self.part()["values"]["turn"], 3)
        self.drag("Feather in", 0, 15)
        self.assertNotEqual(self.part()["values"]["feather_in"], values["feather_in"])

    def test_a_rectangle_taken_out_of_an_ellipse(self) -> None:
        self.bench("Ticket booth")
        self.draw("ellipse", (200, 80), (640, 460))
        self.drawn()
        self.page.get_by_role("button", name="subtract", exact=True).click()
        self.page.get_by_role("radio", name="rectangle").click()
        self.page.mouse.move(*self.at((340, 200)))
        self.page.mouse.down()
        self.page.mouse.move(*self.at((480, 340)), steps=4)
        self.page.mouse.up()
        self.until(lambda: [(p["kind"], p["join"]) for p in self.region()["parts"]],
                   [("ellipse", "add"), ("rectangle", "subtract")])  # fmt: skip
        self.settled()
        x, y = self.heights((410, 270))
        answer = self.asked("matte-value", region=self.region()["id"], x=x * 1067, y=y * 1067)
        self.assertEqual(answer.json()["value"], 0)

    def test_tilt_focus(self) -> None:
        self.bench("Ticket booth")
        self.start("tilt-focus")
        self.reads("Outside focus band: blur 1.4 % growing by radius.")
        self.handle("Band, far").wait_for()

    def test_a_curve_by_hand_and_its_handles(self) -> None:
        self.bench("Night rehearsal")
        turn = [2 * pi * k / 60 for k in range(61)]
        self.draw("curve", *((420 + 120 * cos(a), 280 + 150 * sin(a)) for a in turn))
        self.drawn()
        points = self.part()["points"]
        self.assertLess(len(points), 13, "few points follow the hand")
        self.assertTrue(all(len(point) == 6 for point in points))
        self.drag("Corner 2", 25, 0)
        moved = self.part()["points"]
        self.assertEqual(moved[1][2:], points[1][2:], "its handles go with a point")
        self.drag("Handle out", 30, -10)
        shaped = self.part()["points"]
        self.assertNotEqual(shaped[1][4:], moved[1][4:])
        # the other handle keeps in line
        self.assertAlmostEqual(shaped[1][2] * shaped[1][5], shaped[1][3] * shaped[1][4], places=4)
        x, y = self.middle(self.handle("Corner 3"))
        self.page.mouse.dblclick(x, y)
        self.until(lambda: len(self.part()["points"][2]), 2)
        self.drag("New corner after 1", 0, 10)
        self.assertEqual(len(self.part()["points"]), len(points) + 1)

    def test_parts_in_another_order_and_off(self) -> None:
        self.bench("Five pots")
        self.draw("ellipse", (200, 80), (640, 460))
        self.drawn()
        self.page.get_by_role("button", name="intersect", exact=True).click()
        self.page.get_by_role("radio", name="rectangle").click()
        self.page.mouse.move(*self.at((340, 200)))
        self.page.mouse.down()
        self.page.mouse.move(*self.at((480, 340)), steps=4)
        self.page.mouse.up()
        self.until(lambda: len(self.region()["parts"]), 2)
        self.settled()
        self.page.get_by_role("button", name="earlier", exact=True).click()
        self.until(lambda: [part["kind"] for part in self.region()["parts"]], ["rectangle", "ellipse"])
        self.page.get_by_role("button", name="switch off", exact=True).click()
        self.until(lambda: [part["on"] for part in self.region()["parts"]], [False, True])
        self.page.get_by_role("button", name="switch on", exact=True).click()
        self.until(lambda: [part["on"] for part in self.region()["parts"]], [True, True])
        self.page.get_by_role("button", name="within; make it add").click()
        self.until(lambda: [part["join"] for part in self.region()["parts"]], ["add", "add"])

    def test_ways_of_looking(self) -> None:
        self.bench("Portrait by lamplight")
        self.region_words.first.click()
        canvas = self.page.locator("canvas")
        seen = set()
        self.page.get_by_role("radio", name="Cutout", exact=True).click()
        for ground in ("grey", "black", "white", "checker"):
            self.page.get_by_role("radio", name=ground, exact=True).click()
            self.settled()
            seen.add(canvas.screenshot())
        self.page.keyboard.press("k")
        self.page.locator("canvas[data-view=difference]").wait_for()
        self.settled()
        seen.add(canvas.screenshot())
        self.assertEqual(len(seen), 5)
