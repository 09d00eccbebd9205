"""Hand and eye at the bench: drags, keys, numbers, what is deleted."""

from e2e.practice import Practice


class HandAndEye(Practice):
    def vignette(self) -> None:
        self.bench("Dusk on the cobbles")
        self.press("vignette")
        self.settled()
        self.change_words.first.click()

    def test_escape_in_a_drag_gives_back_what_stood_there(self) -> None:
        self.vignette()
        before = self.number("amount")
        track = self.page.locator("[data-parameter=amount] [type=range]").first
        x, y = self.middle(track)
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x, y - 25, steps=4)
        self.assertNotEqual(self.number("amount"), before)
        self.page.keyboard.press("Escape")
        self.until(lambda: self.number("amount"), before)
        self.page.mouse.move(x, y - 40, steps=2)
        self.page.mouse.up()
        self.settled()
        self.assertEqual(self.number("amount"), before)
        # and the word in hand stays in hand
        self.assertEqual(self.page.locator("[data-token=what][aria-pressed=true]").count(), 1)

    def test_a_value_held_still_shows_exactly(self) -> None:
        self.vignette()
        x, y = self.middle(self.page.locator("[data-parameter=amount] [type=range]").first)
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x, y - 15, steps=4)
        self.page.locator("canvas[data-picture=exact]").wait_for()
        self.page.mouse.up()

    def test_numbers_take_their_unit_and_refuse_another_aloud(self) -> None:
        self.vignette()
        self.type_number("amount", "−0.7 EV")
        self.until(lambda: self.number("amount"), "−0.7 EV")
        field = self.page.locator("[data-parameter=amount] input").first
        field.fill("25 px")
        field.press("Enter")
        self.page.get_by_role("alert").filter(has_text="Exposure is in EV").wait_for()
        field.press("Escape")
        self.assertEqual(self.number("amount"), "−0.7 EV")
        self.region_words.first.click()
        self.type_number("feather_in", "107 px")
        self.until(lambda: self.number("feather_in"), "10.0 %")

    def test_what_is_deleted_says_so_and_comes_back(self) -> None:
        self.vignette()
        self.page.locator("[data-pass] [data-name]").click()
        self.page.keyboard.press("Delete")
        self.page.get_by_role("status").filter(has_text="“Vignette” is deleted.").wait_for()
        self.press("undo")
        self.until(self.page.locator("[data-pass]").count, 1)

    def test_black_point_darkens_downward(self) -> None:
        self.bench("Dusk on the cobbles")
        self.page.keyboard.press("n")
        self.page.get_by_label("Search by purpose").fill("black point")
        self.page.locator("[data-singles] [data-first=true]").wait_for()
        self.page.keyboard.press("Enter")
        self.settled()
        self.says("black point −5 %")
        self.settled()
        self.assertGreater(self.sheet()["passes"][0]["inside"]["black"]["amount"], 0)

    def test_a_drag_on_the_picture_moves_the_value_in_hand_and_space_the_picture(self) -> None:
        self.vignette()
        x, y = self.place(800, 500)
        self.pull((x, y), (x, y + 100))
        self.settled()
        self.until(lambda: self.number("amount") < "−1.5", False)
        self.assertLess(self.sheet()["passes"][0]["outside"]["exposure"]["amount"], -2)
        stage = self.stage
        before = stage.get_attribute("data-left")
        self.page.mouse.move(x, y)
        self.page.keyboard.down(" ")
        self.pull((x, y), (x + 60, y))
        self.page.keyboard.up(" ")
        self.assertNotEqual(stage.get_attribute("data-left"), before)
        self.assertLess(self.sheet()["passes"][0]["outside"]["exposure"]["amount"], -2)

    def test_handles_go_by_keys_and_say_so(self) -> None:
        self.bench("Dusk on the cobbles")
        self.draw((500, 300), (900, 700))
        values = self.sheet()["regions"][0]["parts"][0]["values"]
        self.handle("Move").focus()
        self.page.keyboard.press("Shift+ArrowRight")
        self.settled()
        moved = self.sheet()["regions"][0]["parts"][0]["values"]
        self.assertGreater(moved["x"], values["x"] + 0.01)
        self.assertEqual(moved["y"], values["y"])
        self.handle("Turn").focus()
        self.page.keyboard.press("ArrowRight")
        self.settled()
        self.assertEqual(self.sheet()["regions"][0]["parts"][0]["values"]["turn"], 1)
        # what resting on a word shows, the focus shows
        self.page.get_by_role("button", name="everywhere else").focus()
        self.page.keyboard.press("Tab")
        self.page.get_by_text("The part stays, and counts for nothing").wait_for()

    def test_one_stroke_on_a_person_takes_the_person(self) -> None:
        self.bench("The bench by the window")
        with self.acts_of(3):
            self.page.keyboard.press("r")
            self.page.get_by_role("radio", name="rough-in").click()
            self.pull(self.place(580, 650), self.place(610, 720))
        self.until(lambda: len(self.sheet()["regions"]), 1)
        part = self.sheet()["regions"][0]["parts"][0]
        self.assertGreater(len(part["points"]), 20)

    def test_an_edge_is_softened_by_the_blur_s_own_amount(self) -> None:
        self.bench("Dusk on the cobbles")
        self.draw((500, 300), (900, 700))
        self.press("softer")
        self.settled()
        self.change_words.first.click()
        self.press("soften the edge as much")
        self.settled()
        (each,), (region,) = self.sheet()["passes"], self.sheet()["regions"]
        self.assertEqual(region["refine"]["blur"], each["outside"]["blur"]["radius"])
        self.press("leave the edge crisp")
        self.until(lambda: self.sheet()["regions"][0]["refine"].get("blur", 0), 0)
