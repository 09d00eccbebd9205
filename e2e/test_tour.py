"""Three things to try on the demo: each leads to its shot, and put away they stay away."""

from django.test import tag

from e2e.support import InBrowser


@tag("e2e")
class Tour(InBrowser):
    def test_each_leads_to_its_shot_and_put_away_they_stay_away(self) -> None:
        self.projects()
        tour = self.page.get_by_label("Three things to try", exact=True)
        for title, shot in (
            ("Cut her from the bench", "The bench by the window"),
            ("Keep one pot in colour", "Five pots"),
            ("Let the light walk along", "The walker"),
        ):
            tour.get_by_role("link", name=title).click()
            self.page.get_by_role("heading", name=shot).wait_for()
            self.settled()
            self.projects()
        tour.get_by_role("button", name="hide for good").click()
        self.until(tour.count, 0)
        self.projects()
        self.page.get_by_role("link", name="Lanternmoth").last.wait_for()
        self.assertEqual(tour.count(), 0)

    def test_without_the_demo_there_is_no_tour(self) -> None:
        self.context.route("**/api/projects", lambda route: route.fulfill(json=[]))
        self.projects()
        self.page.get_by_text("There is no project yet.").wait_for()
        self.assertEqual(self.page.get_by_label("Three things to try", exact=True).count(), 0)
