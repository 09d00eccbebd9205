"""The browser of a run of tests, and the one context in which all their pages stand."""

import atexit
import shutil
from functools import cache

from playwright.sync_api import Browser, BrowserContext, sync_playwright

#: the browser without its window, where it is there, asks half of the time of the whole one
EXECUTABLE = shutil.which("chromium-headless-shell") or shutil.which("chromium") or "chromium"
FLAGS = ["--no-sandbox", "--disable-gpu", "--force-color-profile=srgb", "--disable-background-networking"]

#: counts what a hand does on a page: presses, keys, a turn of the wheel, a field that is typed into
COUNTS = """(() => {
  window.acts = 0;
  let turned = 0;
  let typed = null;
  const act = (event) => {
    if (event.isTrusted && !event.repeat) window.acts += 1;
    typed = null;
  };
  const wheel = (event) => {
    if (event.timeStamp - turned > 300) act(event);
    turned = event.timeStamp;
  };
  const input = (event) => {
    // what is chosen by a press was counted as one
    if (event.target !== typed && !/radio|checkbox/.test(event.target.type)) window.acts += 1;
    typed = event.target;
  };
  for (const kind of ["pointerdown", "keydown"]) window.addEventListener(kind, act, true);
  window.addEventListener("wheel", wheel, true);
  window.addEventListener("input", input, true);
})()"""


@cache
def chromium() -> Browser:
    """Return the browser of a run."""
    play = sync_playwright().start()
    browser = play.chromium.launch(executable_path=EXECUTABLE, args=FLAGS)
    # the last to be begun is the first to be ended
    atexit.register(play.stop)
    atexit.register(browser.close)
    return browser


@cache
def context() -> BrowserContext:
    """Return the context of a run, its cache warm as a user's is: what a server sent once is not asked for again."""
    made = chromium().new_context(viewport={"width": 1280, "height": 800}, accept_downloads=True)
    made.add_init_script(COUNTS)
    return made


def emptied(address: str) -> None:
    """Close all pages, and forget what those of a server at an address have kept."""
    held = context()
    held.unroute_all()
    for page in held.pages[1:]:
        page.close()
    for page in held.pages:
        wire = held.new_cdp_session(page)
        wire.send("Storage.clearDataForOrigin", {"origin": address, "storageTypes": "local_storage"})
        page.close()
