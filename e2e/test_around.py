"""Around the bench: the contact sheet, the project's passes, files, shots side by side."""

from e2e.practice import Practice


class AroundTheBench(Practice):
    def test_to_all_shots_is_one_step_and_undone_whole(self) -> None:
        self.bench("Dusk on the cobbles")
        with self.acts_of(2):
            self.press("vignette")
            self.settled()
            self.press("to all shots")
        common = self.page.get_by_label("Passes of the project")
        common.get_by_text("Vignette").first.wait_for()
        self.until(self.page.locator("[data-pass]").count, 0)
        self.page.keyboard.press("Control+z")
        self.until(self.page.locator("[data-pass]").count, 1)
        self.until(common.count, 0)
        self.page.keyboard.press("Control+Shift+z")
        self.until(self.page.locator("[data-pass]").count, 0)
        common.get_by_text("Vignette").first.wait_for()
        common.get_by_role("button", name="delete").click()
        self.page.get_by_role("status").filter(has_text="no longer runs on the 13 shots").wait_for()
        self.press("undo")
        common.get_by_text("Vignette").first.wait_for()
        common.get_by_role("button", name="delete").click()
        self.until(common.count, 0)

    def test_a_smaller_file_and_a_pair(self) -> None:
        self.bench("Dusk on the cobbles")
        self.press("vignette")
        self.settled()
        with self.acts_of(6):
            small = self.exported("PNG, 8 bit", "1080 px")
        self.assertEqual(small.shape, (721, 1080, 3))
        pair = self.exported("before and after, side by side", "1080 px")
        self.assertEqual(pair.shape, (721, 2 * 1080 + 14, 3))
        self.assertLess(pair[:60, -60:].mean(), pair[:60, 1020:1080].mean())

    def test_a_shot_s_name_opens_it_and_is_renamed(self) -> None:
        self.contact_sheet()
        name = self.page.get_by_role("link", name="In the wood", exact=True)
        name.dblclick()
        field = self.page.get_by_label("Name of In the wood")
        field.fill("In the old wood")
        field.press("Enter")
        renamed = self.page.get_by_role("link", name="In the old wood", exact=True)
        renamed.wait_for()
        renamed.click()
        self.page.get_by_role("heading", name="In the old wood").wait_for()
        self.contact_sheet()
        renamed.focus()
        renamed.press("F2")
        self.page.get_by_label("Name of In the old wood").fill("In the wood")
        self.page.keyboard.press("Enter")
        name.wait_for()

    def test_shots_are_put_in_order_by_a_drag_and_sorted(self) -> None:
        self.contact_sheet()
        names = self.page.locator("[data-shot] figcaption a")
        before = names.all_inner_texts()
        first, third = (self.middle(self.page.locator("[data-shot] div > a").nth(k)) for k in (0, 2))
        place = self.page.locator("[data-shot]").first.get_attribute("data-shot")
        with self.acts_of(1):
            self.page.mouse.move(*third)
            self.page.mouse.down()
            self.page.mouse.move(first[0] - 20, first[1], steps=20)
            # a hand lets go when it sees that there is room
            self.page.get_by_text(f"was moved over droppable area {place}").wait_for(state="attached")
            self.page.wait_for_timeout(500)
            self.page.mouse.up()
        moved = [before[2], *before[:2], *before[3:]]
        self.until(names.all_inner_texts, moved)
        # the shot was not opened, and the order stays
        self.contact_sheet()
        self.until(names.all_inner_texts, moved)
        self.page.get_by_label("Order of the shots").select_option("By name")
        self.until(names.all_inner_texts, sorted(before))
        self.page.get_by_label("Order of the shots").select_option("In their order")
        self.page.get_by_role("button", name=f"Move {before[2]}", exact=True).focus()
        for key in (" ", "ArrowRight", "ArrowRight", " "):
            self.page.keyboard.press(key)
            self.page.wait_for_timeout(300)
        self.until(names.all_inner_texts, before)

    def test_a_project_s_pass_is_changed_where_it_stands(self) -> None:
        self.bench("Dusk on the cobbles")
        self.press("vignette")
        self.settled()
        self.press("to all shots")
        common = self.page.get_by_label("Passes of the project")
        common.get_by_role("button", name="exposure −1.2 EV").click()
        field = common.get_by_label("Exposure, number")
        field.fill("-0.4")
        field.press("Enter")
        common.get_by_role("button", name="exposure −0.4 EV").wait_for()
        common.get_by_role("button", name="delete").click()
        self.until(common.count, 0)

    def test_another_shot_stands_beside_at_the_same_zoom(self) -> None:
        self.bench("Dusk on the cobbles")
        self.page.keyboard.press("u")
        here = self.where()
        with self.page.expect_response(lambda said: "/preview?" in said.url and here not in said.url) as waited:
            self.press("The next one, beside")
        self.assertEqual(waited.value.status, 200)
        self.press("The one before, beside")
        self.page.get_by_text("source", exact=True).wait_for()
        self.page.keyboard.press("u")
