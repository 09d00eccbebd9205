"""``make screenshots``: one current picture of each main view, from the demo, into ``docs/screenshots``."""

from math import cos, sin
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from e2e.place import BROWSER, ROOT, Calado

FOLDER = ROOT / "docs" / "screenshots"
PORTRAIT = "Portrait by lamplight"


def _settled(page: Page) -> None:
    page.locator("canvas[data-picture=exact]").wait_for()
    page.locator("[data-saving=saved]").wait_for()
    page.wait_for_timeout(400)


def _keep(page: Page, name: str) -> None:
    page.wait_for_timeout(300)
    page.screenshot(path=FOLDER / f"{name}.png")


def _loaded(page: Page) -> None:
    """Wait until every picture on the screen has come."""
    page.wait_for_function("[...document.images].every((image) => image.complete && image.naturalWidth > 0)")


def _open(page: Page, shot: str) -> None:
    page.get_by_role("link", name=f"Open {shot}").click()
    _settled(page)


def _start(page: Page, starter: str) -> None:
    passes = page.locator("[data-pass]")
    before = passes.count()
    page.keyboard.press("n")
    page.locator(f"[data-starter={starter}]").click()
    passes.nth(before).wait_for()
    page.locator("[data-handle=Move]").wait_for()
    _settled(page)


def _bench(page: Page) -> None:
    """Keep the bench in the dim room: a value, a region with the lattice, a matte, starting a pass."""
    _open(page, PORTRAIT)
    _start(page, "soft-edge")
    page.locator("[data-pass] .told .what").first.click()
    page.mouse.move(700, 740)
    _settled(page)
    _keep(page, "bench-picture-dim")
    page.locator("[data-pass] .told .where").first.click()
    page.keyboard.press("l")
    _settled(page)
    page.mouse.move(800, 560)
    _settled(page)
    _keep(page, "bench-lattice-dim")
    page.keyboard.press("m")
    _settled(page)
    _keep(page, "bench-matte-dim")
    page.keyboard.press("v")
    page.keyboard.press("n")
    page.locator(".pair img").nth(7).wait_for()
    _keep(page, "start-pass-dim")
    page.keyboard.press("Escape")


def _drawing(page: Page) -> None:
    """Keep a curve drawn by hand and a band of focus."""
    page.get_by_role("button", name="Shot after").click()
    page.get_by_role("heading", name="Dusk on the cobbles").wait_for()
    for _ in range(2):
        page.keyboard.press("]")
        page.wait_for_timeout(300)
    page.get_by_role("heading", name="Ticket booth").wait_for()
    _settled(page)
    _start(page, "tilt-focus")
    page.mouse.move(760, 500)
    _settled(page)
    _keep(page, "bench-gradient-dim")
    page.keyboard.press("r")
    page.get_by_role("radio", name="curve").click()
    path = [(1090 + 96 * cos(k / 9), 370 + 118 * sin(k / 9)) for k in range(50)]
    page.mouse.move(*path[0])
    page.mouse.down()
    for point in path[1:]:
        page.mouse.move(*point)
    _keep(page, "bench-drawing-dim")
    page.mouse.up()
    page.locator("[data-handle='Corner 1']").wait_for()
    _settled(page)


def _export(page: Page) -> None:
    page.keyboard.press("e")
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("button", name="Export", exact=True).click()
    dialog.locator("[data-export]").first.wait_for()
    _keep(page, "export-dim")
    dialog.locator("[data-export=done]").first.wait_for()
    page.keyboard.press("Escape")
    dialog.wait_for(state="detached")


def _day(page: Page) -> None:
    """Keep the same places in the day room."""
    page.keyboard.press("t")
    page.locator("[data-pass] .told .what").first.click()
    _settled(page)
    page.mouse.move(700, 740)
    _keep(page, "bench-picture-day")
    page.get_by_role("link", name="Lanternmoth").click()
    page.locator("[data-shot]").nth(5).wait_for()
    _loaded(page)
    _keep(page, "contact-sheet-day")
    page.get_by_role("link", name="Projects").click()
    page.get_by_role("heading", name="Projects").wait_for()
    _loaded(page)
    _keep(page, "projects-day")


def main() -> None:
    """Make all of them anew."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    for old in Path(FOLDER).glob("*.png"):
        old.unlink()
    calado = Calado()
    try:
        calado.start()
        with sync_playwright() as play:
            browser = play.chromium.launch(executable_path="/usr/bin/chromium", args=BROWSER)
            # the pages' own policy forbids the driver to wait on an expression
            page = browser.new_page(viewport={"width": 1280, "height": 800}, bypass_csp=True)
            page.goto(calado.address)
            page.get_by_role("heading", name="Lanternmoth").wait_for()
            _loaded(page)
            _keep(page, "projects-dim")
            page.get_by_role("heading", name="Lanternmoth").get_by_role("link").click()
            page.locator("[data-shot]").nth(5).wait_for()
            _loaded(page)
            _keep(page, "contact-sheet-dim")
            _bench(page)
            _drawing(page)
            _export(page)
            _day(page)
            browser.close()
    finally:
        calado.close()


if __name__ == "__main__":
    main()
