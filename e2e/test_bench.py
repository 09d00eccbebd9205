"""The bench under hand: pointer, keyboard, pen, zoom, refusals."""

from django.test import tag

from e2e.support import InBrowser
from e2e.words import VIGNETTE


@tag("e2e")
class BenchTest(InBrowser):
    def test_every_key_of_the_sheet_of_keys(self) -> None:
        self.bench("Five pots")
        press = self.page.keyboard.press
        press("n")
        self.page.get_by_label("Search by purpose").wait_for()
        press("Escape")
        self.page.get_by_label("Search by purpose").wait_for(state="detached")
        press("r")
        self.page.get_by_text("A new region").wait_for()
        press("Enter")
        self.handle("Move").wait_for()
        self.settled()
        for key, view in (("l", "lattice"), ("m", "matte"), ("c", "cutout"), ("v", "picture")):
            press(key)
            self.page.locator(f"canvas[data-view={view}]").wait_for()
        self._nudge()
        self.page.get_by_role("button", name="Colour accent", exact=True).click()
        for key, look, expected in (
            ("o", lambda: self.sheet()["passes"][0]["on"], False),
            ("o", lambda: self.sheet()["passes"][0]["on"], True),
            ("d", lambda: len(self.sheet()["passes"]), 2),
            ("Delete", lambda: len(self.sheet()["passes"]), 1),
            ("Control+z", lambda: len(self.sheet()["passes"]), 2),
            ("Control+Shift+z", lambda: len(self.sheet()["passes"]), 1),
        ):
            press(key)
            self.until(look, expected)
        press("h")
        self.page.get_by_label("The sheet").wait_for(state="detached")
        press("Escape")
        self.page.get_by_label("The sheet").wait_for()
        for key, name in (("?", "Keys"), ("e", "Export Five pots")):
            press(key)
            dialog = self.page.get_by_role("dialog", name=name)
            dialog.wait_for()
            press("Escape")
            dialog.wait_for(state="detached")
        press("t")
        self.page.locator("html[data-theme=day]").wait_for()
        press("t")
        press("]")
        self.page.get_by_role("heading", name="Ticket booth").wait_for()
        press("[")
        self.page.get_by_role("heading", name="Five pots").wait_for()

    def test_a_key_is_given_another_letter_or_none_and_the_sheet_of_keys_says_so(self) -> None:
        self.bench("Five pots")
        press = self.page.keyboard.press
        press("?")
        dialog = self.page.get_by_role("dialog", name="Keys")
        dialog.get_by_role("button", name="lattice view: L").click()
        press("m")
        dialog.get_by_role("status").filter(has_text="M is taken: matte view.").wait_for()
        dialog.get_by_role("button", name="lattice view: L").click()
        press("z")
        dialog.get_by_role("switch", name="key for scopes").click()
        dialog.get_by_role("button", name="scopes: no key").wait_for()
        press("Escape")
        dialog.wait_for(state="detached")
        for _ in range(2):
            press("z")
            self.page.locator("canvas[data-view=lattice]").wait_for()
            press("l")
            press("q")
            press("v")
            self.page.locator("canvas[data-view=picture]").wait_for()
            self.assertEqual(self.page.get_by_role("region", name="Scopes").count(), 0)
            # it is kept in this browser
            self.page.reload()
            self.page.get_by_role("heading", name="Five pots").wait_for()
        press("?")
        dialog.get_by_role("button", name="all as they came").click()
        dialog.get_by_role("button", name="scopes: Q").wait_for()
        press("Escape")
        press("q")
        self.page.get_by_role("region", name="Scopes").wait_for()

    def test_one_of_a_few_is_chosen_by_arrows_and_no_region_moves_meanwhile(self) -> None:
        self.bench("Five pots")
        self.page.keyboard.press("r")
        self.page.get_by_text("A new region").wait_for()
        self.page.keyboard.press("Enter")
        self.handle("Move").wait_for()
        self.settled()
        before = self.sheet()
        self.page.get_by_role("radio", name="Picture").focus()
        self.page.keyboard.press("ArrowRight")
        self.page.locator("canvas[data-view=lattice]").wait_for()
        self.page.get_by_role("tab", name="Parts").focus()
        self.page.keyboard.press("ArrowRight")
        self.page.get_by_role("tab", name="Fringe", selected=True).wait_for()
        self.page.get_by_role("button", name="Compare").focus()
        self.page.keyboard.press("Enter")
        self.page.get_by_role("menuitemradio", name="Wipe line").wait_for()
        self.page.keyboard.press("ArrowDown")
        self.page.keyboard.press("Enter")
        self.page.get_by_role("slider", name="Wipe").wait_for()
        # the keyboard is where it was
        self.assertTrue(
            self.page.get_by_role("button", name="Compare").evaluate("each => each === document.activeElement")
        )
        self.assertEqual(self.sheet(), before)

    def _nudge(self) -> None:
        before = self.sheet()["regions"][-1]["parts"][0]["values"]["x"]
        self.page.keyboard.press("ArrowRight")
        self.page.keyboard.press("Shift+ArrowRight")
        self.until(lambda: round(self.sheet()["regions"][-1]["parts"][0]["values"]["x"] - before, 4), 0.011)

    def test_zoom_and_pan_leave_the_sheet_alone(self) -> None:
        self.bench("Ticket booth")
        before = self.sheet()
        stage = self.stage
        scale = lambda: float(stage.get_attribute("data-scale") or 0)  # noqa: E731
        left = lambda: float(stage.get_attribute("data-left") or 0)  # noqa: E731
        fit = scale()
        x, y = self.middle(stage)
        self.page.mouse.move(x, y)
        self.page.mouse.wheel(0, -600)
        self.until(lambda: scale() > 2 * fit, True)
        at = left()
        self.page.mouse.down()
        self.page.mouse.move(x - 60, y, steps=3)
        self.page.mouse.up()
        self.until(lambda: round(left() - at), -60)
        self.page.keyboard.press("1")
        self.until(scale, 1.0)
        self.settled()
        self.page.keyboard.press("f")
        self.until(scale, fit)
        self.settled()
        self.assertEqual(self.sheet(), before)

    def test_numbers_by_keys_wheel_and_double_press(self) -> None:
        self.bench("Night rehearsal")
        self.change_words.first.click()
        fader = self.page.get_by_role("slider", name="Exposure")
        value = lambda: self.sheet()["passes"][0]["inside"].get("exposure", {}).get("amount", 0)  # noqa: E731
        self.assertEqual(value(), 0.5)
        fader.focus()
        for key, expected in (("ArrowUp", 0.6), ("Shift+ArrowUp", 0.61), ("PageDown", -0.39), ("Backspace", 0)):
            fader.press(key)
            self.until(value, expected)
        x, y = self.middle(fader)
        self.page.mouse.move(x, y)
        self.page.mouse.wheel(0, -100)
        self.until(value, 0.1)
        self.page.mouse.dblclick(x, y)
        self.until(value, 0)
        self.type_number("amount", "+4,5 EV")
        self.until(value, 4.5)
        self.type_number("amount", "99")
        self.until(value, 12)
        field = self.page.locator("[data-parameter=amount] input").first
        field.fill("as bright as can be")
        field.press("Enter")
        self.page.get_by_role("alert").filter(has_text="is no number").wait_for()
        field.press("Escape")
        self.assertEqual(self.number("amount"), "+12.0 EV")

    def test_a_part_joins_and_a_side_is_chosen(self) -> None:
        self.bench("Portrait by lamplight")
        self.region_words.first.click()
        self.page.get_by_role("button", name="subtract", exact=True).click()
        self.page.get_by_text("Subtract from frame oval").wait_for()
        self.page.keyboard.press("Enter")
        self.until(lambda: [p["join"] for p in self.sheet()["regions"][0]["parts"]], ["add", "subtract"])
        self.page.get_by_text("less", exact=False).first.wait_for()
        self.change_words.first.click()
        self.page.get_by_role("radio", name="Inside").click()
        self.type_number("amount", "0.5")
        self.reads(f"Inside frame oval: exposure +0.5 EV. Outside frame oval: {VIGNETTE}")

    def test_the_shelf_keeps_a_region_and_says_who_uses_it(self) -> None:
        self.bench("Portrait by lamplight")
        card = self.cards.first
        card.locator("small", has_text="pass 1").wait_for()
        card.click()
        shelf = self.page.get_by_label("Shelf")
        shelf.get_by_role("button", name="duplicate").click()
        self.until(
            lambda: [region["name"] for region in self.sheet()["regions"]], ["frame oval", "frame oval 2", "skin"]
        )
        shelf.get_by_role("button", name="delete").click()
        self.until(lambda: len(self.sheet()["regions"]), 2)
        self.page.get_by_role("button", name="Vignette", exact=True).click()
        self.page.get_by_role("button", name="delete", exact=True).click()
        self.until(lambda: (len(self.sheet()["passes"]), len(self.sheet()["regions"])), (1, 2))
        self.page.get_by_role("button", name="Undo", exact=True).click()
        self.until(lambda: len(self.sheet()["passes"]), 2)

    def test_snapshots(self) -> None:
        self.bench("Night rehearsal")
        was = self.sheet()
        self.page.get_by_role("button", name="Snapshots").click()
        dialog = self.page.get_by_role("dialog", name="Snapshots")
        dialog.get_by_text("No snapshot is kept yet.").wait_for()
        dialog.get_by_label("Name of the snapshot").fill("before the premiere")
        dialog.get_by_role("button", name="Keep", exact=True).click()
        dialog.get_by_text("before the premiere").wait_for()
        self.page.keyboard.press("Escape")
        self.start("vignette")
        self.assertNotEqual(self.sheet(), was)
        self.page.get_by_role("button", name="Snapshots").click()
        dialog.get_by_role("button", name="return to it").click()
        self.until(self.sheet, was)

    def test_a_finger_moves_a_bead(self) -> None:
        """A touch through the protocol of the browser: pan with one, zoom with two."""
        self.bench("Dusk on the cobbles")
        self.page.keyboard.press("r")
        self.page.get_by_text("A new region").wait_for()
        self.page.keyboard.press("Enter")
        self.handle("Move").wait_for()
        self.settled()
        before = self.sheet()["regions"][0]["parts"][0]["values"]["x"]
        touch = self.context.new_cdp_session(self.page)
        x, y = self.middle(self.handle("Move"))

        def send(kind: str, *points: tuple[float, float]) -> None:
            given = [{"x": px, "y": py, "id": k} for k, (px, py) in enumerate(points)]
            touch.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": given})

        send("touchStart", (x, y))
        for step in range(1, 6):
            send("touchMove", (x + 12 * step, y))
        send("touchEnd")
        self.until(lambda: self.sheet()["regions"][0]["parts"][0]["values"]["x"] > before + 0.05, True)
        stage = self.stage
        fit = float(stage.get_attribute("data-scale") or 0)
        box = stage.bounding_box()
        assert box is not None
        left, top = box["x"] + 40, box["y"] + 40
        send("touchStart", (left, top), (left + 60, top))
        for step in range(1, 8):
            send("touchMove", (left, top), (left + 60 + 20 * step, top))
        send("touchEnd")
        self.until(lambda: float(stage.get_attribute("data-scale") or 0) > 1.8 * fit, True)

    def test_a_narrow_window_keeps_everything_in_reach(self) -> None:
        self.page.set_viewport_size({"width": 1024, "height": 700})
        self.bench("Portrait by lamplight")
        self.region_words.first.click()
        for out in (
            self.page.locator("[data-parameter=opacity] input[inputmode]"),
            self.page.get_by_role("button", name="Export…"),
        ):
            out.scroll_into_view_if_needed()
            x, _ = self.middle(out)
            self.assertLess(x, 1024)
        self.page.get_by_role("button", name="Export…").click()
        self.page.get_by_role("dialog").wait_for()
