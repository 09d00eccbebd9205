"""From the pointer to the picture, in headless Chromium, against the floor of a constant picture."""

import os
import socket
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from urllib.request import urlopen

from playwright.sync_api import Page, sync_playwright

from benchmarks.figure import Figure
from e2e.browser import EXECUTABLE, FLAGS

MOVES, DRAG_SECONDS, HERTZ = 40, 3.0, 60.0

#: notes when the pointer moved and when the frame after a new picture came
WATCH = """
window.moved = 0; window.pictures = 0; window.came = () => {};
addEventListener('pointermove', (event) => { window.moved = event.timeStamp; }, true);
addEventListener('DOMContentLoaded', () => new MutationObserver(() => {
  window.pictures += 1;
  const from = window.moved;
  requestAnimationFrame(() => setTimeout(() => window.came(performance.now() - from), 0));
}).observe(document.documentElement, { subtree: true, attributeFilter: ['data-drawn'] }));
"""


@dataclass(frozen=True)
class Seen:
    """Milliseconds from moves of the pointer to the new pictures, rising, and pictures a second during a drag."""

    latencies: list[float]
    pictures: float

    @property
    def late(self) -> float:
        """The 95th percentile."""
        return self.latencies[round(0.95 * (len(self.latencies) - 1))]


@contextmanager
def _served(application: str) -> Iterator[str]:
    """Serve the demo from a folder of its own and give its address."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    with tempfile.TemporaryDirectory() as held:
        surroundings = {**os.environ, "CALADO_DATA": held}
        for command in ("migrate", "load_demo"):
            subprocess.run(
                [sys.executable, "manage.py", command], check=True, env=surroundings, stdout=subprocess.DEVNULL
            )
        bind = ["--bind", f"127.0.0.1:{port}", "--worker-class", "gthread", "--threads", "8", "--log-level", "error"]
        server = subprocess.Popen([sys.executable, "-m", "gunicorn", application, *bind], env=surroundings)
        try:
            _wait(f"http://127.0.0.1:{port}/api/projects")
            yield f"http://127.0.0.1:{port}"
        finally:
            server.terminate()
            server.wait()


def _wait(address: str) -> None:
    for _ in range(100):
        try:
            with urlopen(address, timeout=5):  # our own server
                return
        except OSError:
            time.sleep(0.1)
    raise RuntimeError("the server did not start")


def _bench(page: Page, address: str) -> None:
    """Open the first still with three passes: two vignettes of light, and a blur on the ellipse that is dragged."""
    page.goto(address)
    page.get_by_text("Lanternmoth").first.click()
    page.locator("[data-shot]").first.click()
    page.locator("canvas[data-picture=exact]").wait_for()
    for starter in ("vignette", "spotlight", "soft-edge"):
        page.get_by_text("start a pass").click()
        page.locator(f"[data-starter={starter}]").click()
        page.locator("canvas[data-picture=exact]").wait_for()
    page.locator("[data-handle=Move]").wait_for()


def _latencies(page: Page) -> list[float]:
    """Return the times from moves to the frames that show their pictures, rising."""
    box = page.locator("[data-handle=Move]").bounding_box()
    assert box is not None  # the handle was waited for
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    taken = []
    for number in range(MOVES):
        # waited for inside of the page: a driver that keeps asking takes the time it measures
        page.evaluate("window.next = new Promise((resolve) => { window.came = resolve; }); 0")
        page.mouse.move(x + 3 * (number % 20 + 1), y + 2 * (number % 15 + 1))
        taken.append(page.evaluate("window.next"))
        time.sleep(0.15)
    page.mouse.up()
    return sorted(taken[3:])


def _drag(page: Page) -> float:
    """Return pictures a second while the pointer moves at 60 Hz."""
    page.locator("canvas[data-picture=exact]").wait_for()
    box = page.locator("[data-handle=Move]").bounding_box()
    assert box is not None  # the handle was waited for
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    before, began, number = page.evaluate("window.pictures"), time.perf_counter(), 0
    while time.perf_counter() - began < DRAG_SECONDS:
        number += 1
        page.mouse.move(x + 60 - abs(number % 120 - 60), y + 40 - abs(number % 80 - 40))
        time.sleep(max(0.0, began + number / HERTZ - time.perf_counter()))
    pictures = (page.evaluate("window.pictures") - before) / (time.perf_counter() - began)
    page.mouse.up()
    return float(pictures)


def seen(application: str) -> Seen:
    """Return what a user of ``application`` sees at 1280 × 800."""
    with _served(application) as address, sync_playwright() as play:
        browser = play.chromium.launch(executable_path=EXECUTABLE, args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.add_init_script(WATCH)
        _bench(page, address)
        latencies = _latencies(page)
        pictures = _drag(page)
        browser.close()
    return Seen(latencies, pictures)


def figures() -> list[Figure]:
    """Return how much later than a constant picture's ours come."""
    real, floor = seen("server.config.wsgi:application"), seen("benchmarks.constant:application")
    middle, least = statistics.median(real.latencies), statistics.median(floor.latencies)
    return [
        Figure("pointer event to new picture, median", middle, "ms"),
        Figure("… of a constant picture", least, "ms"),
        Figure("… ratio, median", middle / least, ""),
        Figure("… ratio, 95th percentile", real.late / floor.late, "", 1.3, 1.15),
        Figure("pictures a second in a drag at 60 Hz", real.pictures, "", rises=True),
        Figure("… of a constant picture in the same drag", floor.pictures, "", rises=True),
    ]
