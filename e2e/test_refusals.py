"""What cannot be done is said in one sentence, and nothing is lost by it."""

from django.test import tag

from e2e.support import InBrowser
from e2e.test_story import own_picture


@tag("e2e")
class RefusalTest(InBrowser):
    def test_files_that_are_no_pictures(self) -> None:
        self.contact_sheet()
        whole = own_picture()
        files = {
            "letter.png": (b"Dear audience, the show is at eight.", "not a picture"),
            "half.png": (whole[: len(whole) // 2], "half.png"),
            "empty.jpg": (b"", "empty"),
        }
        given = [{"name": name, "mimeType": "image/png", "buffer": data} for name, (data, _) in files.items()]
        self.page.locator("input[type=file]").set_input_files(given)
        for name in files:
            said = self.page.get_by_role("alert").filter(has_text=name)
            said.wait_for()
            sentence = said.inner_text()
            self.assertRegex(sentence, r"[a-z].*\.", name)
            self.assertNotIn("Traceback", sentence)
            said.get_by_role("button", name="dismiss").click()
        self.until(lambda: self.page.get_by_role("alert").count(), 0)
        self.assertEqual(self.page.locator("[data-shot]").count(), 13)

    def test_two_windows_on_one_shot(self) -> None:
        self.bench("Dusk on the cobbles")
        other = self.context.new_page()
        other.goto(self.page.url)
        other.locator("canvas[data-picture=exact]").wait_for()
        self.start("vignette")
        other.keyboard.press("r")
        other.get_by_text("A new region").wait_for()
        other.keyboard.press("Enter")
        other.get_by_text("Not saved: changed elsewhere").wait_for()
        other.get_by_role("button", name="look at the newest").click()
        other.get_by_text("Outside frame oval").or_(other.locator("[data-pass]")).first.wait_for()
        self.assertEqual(len(self.sheet()["regions"]), 1)
        self.page.keyboard.press("r")
        self.page.get_by_text("A new region").wait_for()
        self.page.keyboard.press("Enter")
        self.until(lambda: len(self.sheet()["regions"]), 2)
        other.keyboard.press("o")
        other.locator("[data-pass] [data-name]").first.click()
        other.keyboard.press("o")
        other.get_by_role("button", name="keep mine").click()
        other.locator("[data-saving=saved]").wait_for()
        self.until(lambda: (self.sheet()["passes"][0]["on"], len(self.sheet()["regions"])), (False, 1))
        # mine is one step: what the other window did comes back by undoing it
        other.get_by_role("button", name="Undo", exact=True).click()
        self.until(lambda: len(self.sheet()["regions"]), 2)

    def test_places_that_are_not_there(self) -> None:
        self.page.goto(f"{self.calado.address}/projects/nowhere")
        self.page.get_by_text("There is no such project").wait_for()
        self.contact_sheet()
        self.page.goto(f"{self.page.url}/shots/nothing")
        self.page.get_by_text("There is no such shot.").wait_for()
        self.page.goto(f"{self.calado.address}/a/place/of/no/screen")
        self.page.get_by_role("link", name="Projects").wait_for()

    def test_an_empty_project_and_its_end(self) -> None:
        self.projects()
        self.page.get_by_label("Name of a new project").fill("Winter tour")
        self.page.get_by_role("button", name="Begin").click()
        self.page.get_by_role("heading", name="Winter tour").wait_for()
        self.page.get_by_text("Drop stills or clips anywhere").wait_for()
        self.assertTrue(self.page.get_by_role("button", name="Export…").is_disabled())
        files = [{"name": "waves.png", "mimeType": "image/png", "buffer": own_picture()}]
        self.page.locator("input[type=file]").set_input_files(files)
        self.page.get_by_role("checkbox", name="Choose waves").click()
        self.page.get_by_role("button", name="Remove…").click()
        self.page.get_by_role("button", name="Yes, remove 1").click()
        self.until(lambda: self.page.locator("[data-shot]").count(), 0)
        self.page.get_by_role("link", name="Projects").click()
        row = self.page.locator("article", has_text="Winter tour")
        row.get_by_role("button", name="Delete…").click()
        row.get_by_role("button", name="delete", exact=True).click()
        row.wait_for(state="detached")

    def test_a_search_that_finds_nothing(self) -> None:
        self.bench("The bench by the window")
        self.page.keyboard.press("n")
        self.page.get_by_label("Search by purpose").fill("qqqqq")
        self.page.get_by_text("Nothing fits “qqqqq”.").wait_for()
