"""Every screen, in both rooms, by the rules of WCAG 2.2 AA as axe-core checks them."""

from typing import Any

from django.test import tag

from e2e.support import ROOT, InBrowser
from e2e.words import VIGNETTE

AXE = ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js"
RULES = {"type": "tag", "values": ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]}
#: the other room has the same elements in other colours
COLOURS = {"type": "rule", "values": ["color-contrast", "link-in-text-block"]}
#: goes to a room and looks; what is still fading in has not its colours yet
LOOK = """async ([room, rules]) => {
  document.documentElement.dataset.theme = room;
  for (let frames = 0; frames < 3; frames += 1) await new Promise(requestAnimationFrame);
  await Promise.allSettled(document.getAnimations().map((each) => each.finished));
  return (await axe.run({ runOnly: rules, resultTypes: ["violations"] })).violations;
}"""


@tag("e2e")
class AccessTest(InBrowser):
    def _check(self, screen: str) -> None:
        if not self.page.evaluate("'axe' in window"):
            self.page.evaluate(AXE.read_text() + "; 0")
        for room, rules in (("dim", RULES), ("day", COLOURS)):
            violations: Any = self.page.evaluate(LOOK, [room, rules])
            faults = [
                f"{each['id']}: {node['target']} {node['failureSummary'][:200]}"
                for each in violations
                for node in each["nodes"]
            ]
            with self.subTest(screen=screen, room=room):
                self.assertEqual(faults, [])

    def test_screens(self) -> None:
        self.projects()
        self._check("projects")
        self.contact_sheet()
        self._check("contact sheet")
        self.bench("Portrait by lamplight")
        self._check("bench")
        self.region_words.first.click()
        self.page.get_by_role("radio", name="Lattice", exact=True).click()
        self.settled()
        self._check("bench, a region in hand")
        for facet in ("Refine", "Islands", "Parts"):
            self.page.get_by_role("tab", name=facet, exact=True).click()
            self._check(f"bench, {facet} of a region")
        self.page.keyboard.press("g")
        self.page.get_by_role("button", name="The edge as a strip").locator("img").wait_for()
        self._check("bench, an edge ribbon")
        self.page.keyboard.press("g")
        self.page.get_by_role("button", name="Compare").click()
        self._check("bench, ways to compare")
        self.page.keyboard.press("Escape")
        for way in ("w", "u"):
            self.page.keyboard.press(way)
            self.settled()
            self._check(f"bench, compared by {way}")
            self.page.keyboard.press(way)
        self.page.get_by_role("region", name="Shelf").get_by_role("button", name="delete").click()
        self.page.get_by_role("dialog").wait_for()
        self._check("before a region is deleted")
        self.page.keyboard.press("Escape")
        self.page.keyboard.press("r")
        self.page.get_by_text("A new region").wait_for()
        self._check("bench, drawing")
        self.page.keyboard.press("Escape")
        self.region_words.first.click()
        self.change_words.first.click()
        self.settled()
        self._check("bench, a value in hand")
        self._wide_controls_and_strips()
        self.page.keyboard.press("n")
        self.page.locator("[data-starter]").first.wait_for()
        self._check("starting a pass")
        self.page.keyboard.press("Escape")
        for key, name in (("?", "keys"), ("e", "export")):
            self.page.keyboard.press(key)
            self.page.get_by_role("dialog").wait_for()
            self._check(name)
            self.page.keyboard.press("Escape")
            self.page.get_by_role("dialog").wait_for(state="detached")

    def test_a_clip(self) -> None:
        self.bench("The walker")
        ruler = self.page.get_by_role("region", name="Time", exact=True)
        ruler.locator("[data-thumbnails=shown]").wait_for()
        ruler.get_by_role("img", name="Loudness of the sound").wait_for()
        self._check("a clip")
        self.region_words.first.click()
        self.page.get_by_role("tab", name="Time", exact=True).click()
        self._check("a clip, a region that moves")
        ruler.get_by_role("button", name="loop all").click()
        self.page.get_by_role("menu").wait_for()
        self._check("a clip, its range")
        self.page.keyboard.press("Escape")
        self.page.get_by_role("menu").wait_for(state="detached")
        self.page.keyboard.press("e")
        self.page.get_by_role("dialog").wait_for()
        self._check("export of a clip")

    def _wide_controls_and_strips(self) -> None:
        for group, wide in (
            ("Light", "Curve"),
            ("Light", "Tone"),
            ("Light", "CDL"),
            ("Colour", "Wash"),
            ("Colour", "Table"),
        ):
            self.page.get_by_role("tab", name=group, exact=True).click()
            self.page.get_by_role("button", name=f"{wide}…").click()
            self._check(f"bench, {wide}")
        for key, strip in (("y", "Variants"), ("q", "Scopes")):
            self.page.keyboard.press(key)
            self.page.get_by_label(strip, exact=True).locator("img").first.wait_for()
            self._check(f"bench, {strip}")
            self.page.keyboard.press(key)
        self.page.get_by_role("button", name="Second look").click()
        look = self.page.get_by_role("dialog", name="Second look")
        look.wait_for()
        self._check("bench, second look")
        self.page.keyboard.press("Escape")
        # a key that is pressed before it is gone would be its own
        look.wait_for(state="detached")

    def test_by_the_keyboard_alone(self) -> None:
        """From the projects to a pass that is pulled and exported, without a pointer."""
        self.projects()
        self._tab_to("link", "Lanternmoth")
        self.page.keyboard.press("Enter")
        self.page.locator("[data-shot]").first.wait_for()
        self._tab_to("link", "Open The bench by the window")
        self.page.keyboard.press("Enter")
        self.settled()
        self.page.keyboard.press("n")
        self.page.get_by_label("Search by purpose").wait_for()
        self.page.keyboard.type("darken corners")
        self.page.locator("[data-first=true]").wait_for()
        self.page.keyboard.press("Enter")
        self.reads(f"Outside frame oval: {VIGNETTE}")
        self._tab_to("button", "exposure −1.2 EV")
        self.page.keyboard.press("Enter")
        # Enter on a word goes on to its fader, and Escape comes back
        self.until(lambda: self._is(self.page.locator(":focus"), "slider", "Exposure"), True)
        self.page.keyboard.press("ArrowDown")
        self.reads(f"Outside frame oval: {VIGNETTE}".replace("1.2", "1.3"))
        self.page.keyboard.press("Escape")
        self.until(lambda: self._is(self.page.locator(":focus"), "button", "exposure −1.3 EV"), True)

    def _tab_to(self, role: str, name: str) -> None:
        for _ in range(120):
            held = self.page.locator(":focus")
            if held.count() and self._is(held, role, name):
                return
            self.page.keyboard.press("Tab")
        self.fail(f"Tab never comes to {role} “{name}”")

    def _is(self, held: Any, role: str, name: str) -> bool:
        at = self.page.get_by_role(role, name=name).and_(held)  # type: ignore[arg-type]
        return bool(at.count())
