"""``make screenshots``: one current picture of each main view, from the demo, into ``docs/screenshots``."""

from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from e2e.browser import EXECUTABLE, FLAGS
from e2e.support import ROOT, Calado

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
    page.locator("[data-pass] [data-token=what]").first.click()
    page.mouse.move(700, 740)
    _settled(page)
    _keep(page, "bench-picture-dim")
    page.locator("[data-pass] [data-token=where]").first.click()
    page.keyboard.press("l")
    _settled(page)
    page.mouse.move(800, 560)
    _settled(page)
    _keep(page, "bench-lattice-dim")
    page.keyboard.press("v")
    page.keyboard.press("n")
    page.locator("[data-pair] img").nth(27).wait_for()
    _keep(page, "start-pass-dim")
    page.keyboard.press("Escape")
    _start(page, "calm-skin")
    page.keyboard.press("m")
    _settled(page)
    page.mouse.move(800, 700)
    _keep(page, "bench-matte-dim")
    page.keyboard.press("v")


def _read(page: Page) -> None:
    """Keep a range over its distribution with its matte, and a found subject cut out."""
    page.get_by_role("link", name="Lanternmoth").click()
    _open(page, "Dusk on the cobbles")
    page.keyboard.press("r")
    page.get_by_role("radio", name="luminance range").click()
    page.mouse.click(1033, 241)
    page.locator("[data-whole][d^=M]").wait_for()
    for name, share in (("Nothing below", "16"), ("Whole from", "46")):
        page.get_by_label(f"{name}, number", exact=True).fill(share)
        page.keyboard.press("Enter")
        _settled(page)
    page.keyboard.press("m")
    page.wait_for_timeout(1200)
    _settled(page)
    page.mouse.move(735, 178)
    _keep(page, "bench-range-dim")
    page.keyboard.press("v")
    page.get_by_role("link", name="Lanternmoth").click()
    _open(page, "The bench by the window")
    page.keyboard.press("r")
    page.get_by_role("button", name="find subjects, faces, text").click()
    page.get_by_role("button", name="subject 1").click()
    page.keyboard.press("c")
    page.wait_for_timeout(1500)
    page.locator("[data-refining]").wait_for(state="detached")
    _settled(page)
    page.mouse.move(760, 560)
    _keep(page, "bench-rough-dim")
    page.keyboard.press("v")


def _group(page: Page, group: str, wide: str = "") -> None:
    page.get_by_role("tab", name=group, exact=True).click()
    if wide:
        page.get_by_role("button", name=f"{wide}…").click()


def _controls(page: Page) -> None:
    """Keep the wide controls, variants, scopes, and a second look at a cover that is too weak."""
    page.get_by_role("link", name="Lanternmoth").click()
    _open(page, "Night rehearsal")
    page.locator("[data-pass] [data-token=what]").first.click()
    _group(page, "Light", "Curve")
    field = page.get_by_role("group", name="press to add a point")
    field.locator("[data-levels][d^=M]").wait_for()
    box = field.bounding_box() or {"x": 0, "y": 0, "width": 1, "height": 1}
    for x, y in ((0.25, 0.62), (0.6, 0.28)):
        page.mouse.click(box["x"] + x * box["width"], box["y"] + y * box["height"])
        _settled(page)
    page.wait_for_timeout(1200)
    _keep(page, "tray-curve-dim")
    page.locator("[data-pass] [data-token=what]").first.click()
    page.keyboard.press("y")
    page.get_by_role("region", name="Variants").locator("img").nth(4).wait_for()
    _keep(page, "variants-dim")
    page.keyboard.press("q")
    page.get_by_role("region", name="Scopes").locator("img").nth(2).wait_for()
    page.wait_for_timeout(900)
    _keep(page, "scopes-dim")
    page.keyboard.press("q")
    page.get_by_role("link", name="Lanternmoth").click()
    _open(page, "Ticket booth")
    _start(page, "conceal")
    page.locator("[data-pass] [data-token=what]").last.click()
    for field_, value in (("amount", "0"), ("size", "1.2")):
        page.locator(f"[data-parameter={field_}] input").first.fill(value)
        page.keyboard.press("Enter")
        _settled(page)
    page.locator("[data-count]").wait_for()
    page.get_by_role("button", name="Second look").click()
    page.locator("[data-kind=weak-cover]").wait_for()
    _keep(page, "second-look-dim")
    page.keyboard.press("Escape")


def _jobs(page: Page) -> None:
    """Keep two whole jobs: a light that walks along, an edge by its ribbon."""
    page.get_by_role("link", name="Lanternmoth").click()
    _open(page, "The walker")
    page.locator("[data-pass] [data-token=where]").first.click()
    page.get_by_label("Frame, number or time").fill("114")
    page.keyboard.press("Enter")
    page.locator("[data-thumbnails=shown]").wait_for()
    _settled(page)
    page.mouse.move(820, 260)
    _settled(page)
    _keep(page, "bench-clip-dim")
    _follow(page)
    page.get_by_role("link", name="Lanternmoth").click()
    _open(page, PORTRAIT)
    page.keyboard.press("r")
    page.get_by_role("radio", name="polygon").click()
    for x, y in ((640, 190), (900, 150), (1010, 260), (1120, 470), (880, 560), (700, 500)):
        page.mouse.click(x, y)
    page.keyboard.press("Enter")
    page.locator("[data-handle=Move]").wait_for()
    _settled(page)
    page.keyboard.press("g")
    page.get_by_role("button", name="The edge as a strip").locator("img").wait_for()
    page.get_by_role("region", name="Edge ribbon").get_by_role("radio", name="100 %").click()
    page.wait_for_timeout(600)
    page.mouse.move(700, 520)
    page.wait_for_timeout(600)
    _keep(page, "job-ribbon")
    page.keyboard.press("g")


def _follow(page: Page) -> None:
    """Keep a face that is concealed wherever it goes, the frames in which it is behind something declared absent."""
    page.get_by_role("link", name="Lanternmoth").click()
    _open(page, "The walker")
    _go(page, 24)
    page.get_by_role("button", name="+ start a pass…").click()
    page.locator("[data-starter=conceal]").click()
    page.get_by_text("which follows").wait_for(timeout=120_000)
    page.locator("[data-pass]").last.locator("[data-token=where]").click()
    page.get_by_role("tab", name="Time").click()
    _go(page, 80)
    page.get_by_label("Your name, for the report").fill("Odile")
    page.get_by_role("button", name="absent in frames").click()
    page.get_by_text("declared absent").wait_for()
    _go(page, 60)
    page.locator("[data-thumbnails=shown]").wait_for()
    page.wait_for_timeout(900)
    page.mouse.move(660, 440)
    _settled(page)
    _keep(page, "bench-following-dim")


def _go(page: Page, frame: int) -> None:
    page.get_by_label("Frame, number or time").fill(str(frame))
    page.keyboard.press("Enter")
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
    page.locator("[data-pass] [data-token=what]").first.click()
    _settled(page)
    page.mouse.move(700, 740)
    _keep(page, "bench-picture-day")
    _group(page, "Light", "Tone")
    puck = page.get_by_label("Colour of the highlights").bounding_box() or {"x": 0, "y": 0, "width": 0, "height": 0}
    middle = (puck["x"] + puck["width"] / 2, puck["y"] + puck["height"] / 2)
    page.mouse.move(*middle)
    page.mouse.down()
    page.mouse.move(middle[0] + 26, middle[1] - 20, steps=4)
    page.mouse.up()
    _settled(page)
    page.wait_for_timeout(900)
    _keep(page, "tray-tone-day")
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
            # letters stand where a window puts them, not on whole pixels
            flags = [*FLAGS, "--font-render-hinting=none"]
            browser = play.chromium.launch(executable_path=EXECUTABLE, args=flags)
            # the pages' own policy forbids the driver to wait on an expression
            page = browser.new_page(viewport={"width": 1280, "height": 800}, bypass_csp=True)
            page.goto(calado.address)
            page.get_by_role("heading", name="Lanternmoth").wait_for()
            _loaded(page)
            page.get_by_role("heading", name="Lanternmoth").get_by_role("link").click()
            page.locator("[data-shot]").nth(5).wait_for()
            _loaded(page)
            _keep(page, "contact-sheet-dim")
            _bench(page)
            _read(page)
            _controls(page)
            _jobs(page)
            _export(page)
            _day(page)
            browser.close()
    finally:
        calado.close()


if __name__ == "__main__":
    main()
