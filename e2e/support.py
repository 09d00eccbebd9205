"""The real thing for tests: the server and its worker as processes of their own, and a browser at its address."""

import atexit
import os
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import cache
from pathlib import Path
from typing import Any, ClassVar
from urllib.error import HTTPError, URLError
from urllib.parse import urlencode
from urllib.request import urlopen

from django.test import SimpleTestCase
from playwright.sync_api import APIResponse, BrowserContext

from e2e.browser import context, emptied
from e2e.screen import Screen

ROOT = Path(__file__).resolve().parents[1]
#: how long a test waits for what it expects, in ms; a slow machine is slow, not wrong
PATIENCE = 60_000


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@cache
def _demo() -> tempfile.TemporaryDirectory[str]:
    """Return a folder into which the demo was loaded, once for all tests of a run; each works on a copy."""
    made = tempfile.TemporaryDirectory()
    for command in (["migrate", "--verbosity", "0"], ["load_demo"]):
        surroundings = {**os.environ, "CALADO_DATA": made.name}
        run = [sys.executable, "manage.py", *command]
        subprocess.run(run, check=True, cwd=ROOT, env=surroundings, capture_output=True, text=True)
    return made


class Calado:
    """``manage.py serve`` on a folder of its own, with the demo in it."""

    def __init__(self) -> None:
        self._held = tempfile.TemporaryDirectory()
        self.data = Path(self._held.name)
        shutil.copytree(_demo().name, self.data, dirs_exist_ok=True)
        self.port = free_port()
        self.address = f"http://127.0.0.1:{self.port}"
        self.surroundings = {**os.environ, "CALADO_DATA": str(self.data)}
        self.process: subprocess.Popen[str] | None = None

    def start(self) -> None:
        command = [sys.executable, "manage.py", "serve", "--port", str(self.port)]
        # a pipe that nobody reads would fill up and hold the server
        with (self.data / "said").open("a") as said:
            self.process = subprocess.Popen(
                command, cwd=ROOT, env=self.surroundings, stdout=said, stderr=subprocess.STDOUT, text=True
            )
        limit = time.monotonic() + 60
        while time.monotonic() < limit:
            try:
                with urlopen(f"{self.address}/api/projects", timeout=5):
                    return
            except HTTPError:  # it answers, be it that its data are damaged
                return
            except (URLError, OSError):
                time.sleep(0.1)
        raise AssertionError("the server did not start")

    def stop(self) -> str:
        """Stop as Ctrl-C does, and return what was printed."""
        if self.process is None:
            return ""
        self.process.send_signal(signal.SIGINT)
        self.process.wait(timeout=30)
        self.process = None
        return (self.data / "said").read_text()

    def close(self) -> None:
        self.stop()
        # what was found in the demo's pictures need not be looked for again by the next
        for found in self.data.glob("cache/*/found-*.json"):
            there = Path(_demo().name) / found.relative_to(self.data)
            if there.parent.is_dir():
                shutil.copy(found, there)
        self._held.cleanup()

    def processes(self, word: str) -> list[int]:
        """Return the processes of this server whose command line holds ``word``."""
        found = []
        for folder in Path("/proc").iterdir():
            if not folder.name.isdigit():
                continue
            try:
                command = (folder / "cmdline").read_bytes().replace(b"\0", b" ").decode()
                surroundings = (folder / "environ").read_bytes().decode(errors="replace")
            except OSError:
                continue
            if word in command and f"CALADO_DATA={self.data}\0" in surroundings:
                found.append(int(folder.name))
        return found


@cache
def shared() -> Calado:
    """Return the server of a run for all classes that begin each test on a shot of which nothing is left."""
    calado = Calado()
    atexit.register(calado.close)
    calado.start()
    return calado


#: the benches that were opened, by the server's address and the shot's name
_addresses: dict[tuple[str, str], str] = {}

#: so many times the acts of who knows what to do a job may take
SLACK = 1.3


class InBrowser(Screen, SimpleTestCase):
    """Gives each test a fresh page at 1280 × 800 and fails on any error in the page's console."""

    calado: ClassVar[Calado]
    context: ClassVar[BrowserContext]

    @classmethod
    def setUpClass(cls) -> None:
        # the browser brings a loop along, in which the databases would be others than before
        cls.context = context()
        super().setUpClass()
        cls.calado = cls.serve()

    @classmethod
    def serve(cls) -> Calado:
        """Return a server of the class's own, on the demo as it is loaded."""
        calado = Calado()
        cls.addClassCleanup(calado.close)
        calado.start()
        return calado

    def setUp(self) -> None:
        super().setUp()
        self.addCleanup(emptied, self.calado.address)
        self.page = self.context.new_page()
        self.page.set_default_timeout(PATIENCE)
        self.errors: list[str] = []
        self.page.on("pageerror", lambda error: self.errors.append(str(error)))
        self.page.on("console", self._hear)

    def _hear(self, message: Any) -> None:
        # a refusal of the server is shown to the user by the page; the browser logs it as well
        if message.type == "error" and "Failed to load resource" not in message.text:
            self.errors.append(message.text)

    def tearDown(self) -> None:
        self.assertEqual(self.errors, [])
        super().tearDown()

    @contextmanager
    def acts_of(self, expert: int) -> Iterator[None]:
        """Fail when what is done within takes more than it may, for ``expert`` acts of who knows what is wanted."""
        before = self.page.evaluate("window.acts")
        yield
        took = self.page.evaluate("window.acts") - before
        self.assertGreater(took, 0)
        self.assertLessEqual(took, SLACK * expert)

    def projects(self) -> None:
        self.page.goto(self.calado.address)
        self.page.get_by_role("heading", name="Projects").wait_for()

    def contact_sheet(self) -> None:
        self.projects()
        self.page.get_by_role("heading", name="Lanternmoth").get_by_role("link").click()
        self.page.locator("[data-shot]").first.wait_for()

    def bench(self, name: str) -> None:
        """Open a shot by its address."""
        self.page.goto(self.address_of(name))
        self.settled()

    def address_of(self, name: str) -> str:
        """Return the address of the bench of a shot of the demo."""
        key = self.calado.address, name
        if key not in _addresses:
            (demo,) = (each["id"] for each in self.ask("/projects") if "Lanternmoth" in each["name"])
            (shot,) = (each["id"] for each in self.ask(f"/projects/{demo}")["shots"] if each["name"] == name)
            _addresses[key] = f"{key[0]}/projects/{demo}/shots/{shot}"
        return _addresses[key]

    def settled(self) -> None:
        """Wait until the exact picture shows and all is saved."""
        self.page.locator("canvas[data-picture=exact]").wait_for()
        self.page.locator("[data-saving=saved]").wait_for()

    def start(self, starter: str) -> None:
        passes = self.page.locator("[data-pass]")
        before = passes.count()
        self.page.get_by_role("button", name="+ start a pass…").click()
        self.page.locator(f"[data-starter={starter}]").click()
        self.until(passes.count, before + 1)
        self.settled()

    def drag(self, handle: str, dx: float, dy: float, steps: int = 6) -> None:
        """Drag a handle by so many screen pixels and let it go."""
        x, y = self.middle(self.handle(handle))
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x + dx, y + dy, steps=steps)
        self.page.mouse.up()
        self.settled()

    def type_number(self, parameter: str, text: str, nth: int = 0) -> None:
        field = self.page.locator(f"[data-parameter={parameter}] input[inputmode]").nth(nth)
        field.fill(text)
        field.press("Enter")
        self.settled()

    def reads(self, sentence: str, nth: int = 0) -> None:
        """Wait until a pass reads so."""
        self.until(lambda: self.told(nth), sentence)

    def until(self, look: Callable[[], Any], expected: Any) -> None:
        """Wait until ``look`` gives what is expected; fail with what it gives instead."""
        limit = time.monotonic() + PATIENCE / 1000
        while (found := look()) != expected and time.monotonic() < limit:
            self.page.wait_for_timeout(50)
        self.assertEqual(found, expected, self.circumstances() if found != expected else None)

    def circumstances(self) -> str:
        """Return what else the screen says when it doesn't say what it should."""
        saving = self.page.locator("[data-saving]")
        notices = self.page.get_by_role("alert")
        held = self.page.evaluate("document.activeElement?.outerHTML.slice(0, 160)")
        said = saving.first.get_attribute("data-saving") if saving.count() else None
        return f"saving: {said}; told: {notices.all_inner_texts()}; in hand: {held}; errors: {self.errors}"

    def ask(self, path: str) -> Any:
        """Return what the API says of something."""
        # a connection that stood idle may be closed in this very moment: asked anew, as browsers do
        return self.context.request.get(f"{self.calado.address}/api{path}", max_retries=2).json()

    def where(self) -> str:
        """Return the API's address of the shot on the bench."""
        return self.page.url.removeprefix(self.calado.address).partition("?")[0]

    def asked(self, what: str, sheet: Any = None, frame: int | None = None, **fields: Any) -> APIResponse:
        """Return what the API answers to something read of a draft, by default of the sheet on the bench."""
        api = f"{self.calado.address}/api"
        sent = self.context.request.post(f"{api}/drafts", data=sheet or self.sheet()).json()
        at = "" if frame is None else f"@{frame}"
        said = {name: str(value).lower() if isinstance(value, bool) else value for name, value in fields.items()}
        return self.context.request.get(
            f"{api}{self.where()}/drafts/{sent['draft']}{at}/{what}?{urlencode(said, doseq=True)}", max_retries=2
        )

    def sheet(self) -> Any:
        """Return the sheet of the shot on the bench, as it stands on disk."""
        return self.ask(f"{self.where()}/bench")["sheet"]
