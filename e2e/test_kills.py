"""Processes killed without a warning lose nothing that was answered, and leave nothing half-written."""

import json
import os
import signal
import socket
import subprocess
import sys
import threading
import time
from http.client import HTTPException
from pathlib import Path
from typing import Any
from urllib.error import URLError
from urllib.request import Request, urlopen

import numpy as np
from django.test import SimpleTestCase, tag

from calado.cli import main
from calado.media.stills import read_still
from e2e.support import ROOT, Calado, InBrowser, free_port
from e2e.words import VIGNETTE


def ask(calado: Calado, method: str, path: str, body: Any = None) -> Any:
    data = None if body is None else json.dumps(body).encode()
    request = Request(f"{calado.address}/api{path}", data, {"Content-Type": "application/json"}, method=method)
    with urlopen(request, timeout=20) as answer:
        return json.load(answer)


def kill(calado: Calado, word: str) -> None:
    """Kill every process of this server whose command line holds ``word``, without a warning."""
    victims = calado.processes(word)
    assert victims, f"no process of “{word}” runs"
    for process in victims:
        os.kill(process, signal.SIGKILL)


@tag("e2e")
class KilledTest(SimpleTestCase):
    def setUp(self) -> None:
        self.calado = Calado()
        self.addCleanup(self.calado.close)
        self.calado.start()
        project = ask(self.calado, "GET", "/projects")[0]["id"]
        shot = next(s for s in ask(self.calado, "GET", f"/projects/{project}")["shots"] if s["name"] == "Five pots")
        self.project, self.shot = project, shot["id"]
        self.at = f"/projects/{project}/shots/{self.shot}"

    def restart(self) -> None:
        """Wait until what was killed has been started again."""
        limit = time.monotonic() + 60
        while time.monotonic() < limit:
            try:
                ask(self.calado, "GET", "/projects")
            except (URLError, OSError, HTTPException):
                time.sleep(0.1)
            else:
                return
        self.fail("the web server did not start again")

    def test_the_server_in_mid_edit(self) -> None:
        bench = ask(self.calado, "GET", f"{self.at}/bench")
        answered: list[Any] = [bench]

        def edit() -> None:
            for number in range(2000):
                passes = [{**bench["sheet"]["passes"][0], "name": f"name {number}"}]
                body = {"seen": answered[-1]["revision"], "label": "rename", "step": {"passes": passes}}
                try:
                    answered.append(ask(self.calado, "POST", f"{self.at}/steps", body) | {"name": f"name {number}"})
                except (URLError, OSError, HTTPException):
                    return

        for _ in range(3):
            editor = threading.Thread(target=edit)
            editor.start()
            time.sleep(0.7)
            kill(self.calado, "gunicorn")
            editor.join()
            self.restart()
            found = ask(self.calado, "GET", f"{self.at}/bench")
            self.assertGreater(len(answered), 3)
            # one step may have been saved whose answer never came; none that was answered is missing
            self.assertIn(found["revision"] - answered[-1]["revision"], (0, 1))
            if found["revision"] == answered[-1]["revision"]:
                self.assertEqual(found["sheet"]["passes"][0]["name"], answered[-1]["name"])
            answered.append(found | {"name": found["sheet"]["passes"][0]["name"]})
        for _ in range(3):
            found = ask(self.calado, "POST", f"{self.at}/undo", {"seen": found["revision"]})
        self.assertRegex(found["sheet"]["passes"][0]["name"], r"name \d+")

    def test_the_worker_in_mid_export(self) -> None:
        body = {"shots": [self.shot], "format": "png", "bits": 16, "quality": 92, "keep_metadata": False}
        ordered = ask(self.calado, "POST", f"/projects/{self.project}/exports", body)[0]
        sheet = ask(self.calado, "GET", f"{self.at}/bench")["sheet"]
        self._wait("running")
        kill(self.calado, "manage.py work")
        self.restart()
        self._wait("done")
        folder = self.calado.data / "exports"
        written = [path for path in folder.rglob("*") if path.is_file()]
        self.assertEqual([path.name for path in written], [ordered["file_name"]])
        (self.calado.data / "sheet.json").write_text(json.dumps(sheet))
        out = self.calado.data / "out.png"
        source = ROOT / "demo" / "stills" / "d_shelf.png"
        self.assertEqual(main(["render", str(self.calado.data / "sheet.json"), str(source), "-o", str(out)]), 0)
        np.testing.assert_array_equal(read_still(written[0]).samples, read_still(out).samples)

    def _wait(self, state: str) -> None:
        limit = time.monotonic() + 60
        while time.monotonic() < limit:
            found = ask(self.calado, "GET", f"/projects/{self.project}/exports")[0]
            if found["state"] == state:
                return
            time.sleep(0.01)
        self.fail(f"the export never was {state}, it is {found}")


@tag("e2e")
class UnderTheHandTest(InBrowser):
    def test_a_change_made_while_the_server_is_dead(self) -> None:
        self.bench("Portrait by lamplight")
        self.change_words.first.click()
        self.calado.stop()
        field = self.page.locator("[data-parameter=amount] input").first
        field.fill("-2")
        field.press("Enter")
        self.page.get_by_text("Not saved: the server does not answer").wait_for()
        self.page.get_by_role("alert").wait_for()
        self.calado.start()
        self.settled()
        self.page.get_by_role("alert").wait_for(state="detached")
        self.assertEqual(self.sheet()["passes"][0]["outside"]["exposure"]["amount"], -2)
        self.reads(f"Outside frame oval: {VIGNETTE}".replace("1.2", "2.0"))


@tag("e2e")
class ServeTest(SimpleTestCase):
    def test_a_stop_leaves_nothing_behind(self) -> None:
        calado = Calado()
        self.addCleanup(calado.close)
        calado.start()
        self.assertTrue(calado.processes("gunicorn"))
        self.assertTrue(calado.processes("manage.py work"))
        said = calado.stop()
        self.assertIn(calado.address, said)
        self.assertNotIn("Traceback", said)
        self.assertEqual(calado.processes(""), [])

    def test_a_kill_of_it_and_a_closed_terminal_leave_nothing_behind(self) -> None:
        for number in (signal.SIGKILL, signal.SIGHUP):
            calado = Calado()
            self.addCleanup(calado.close)
            calado.start()
            assert calado.process is not None
            calado.process.send_signal(number)
            calado.process.wait(timeout=30)
            calado.process = None
            limit = time.monotonic() + 15
            while calado.processes("") and time.monotonic() < limit:
                time.sleep(0.1)
            self.assertEqual(calado.processes(""), [], number)

    def test_a_second_one_on_the_same_data_is_refused(self) -> None:
        calado = Calado()
        self.addCleanup(calado.close)
        calado.start()
        command = [sys.executable, "manage.py", "serve", "--port", str(free_port())]
        done = subprocess.run(
            command, cwd=Path(ROOT), env=calado.surroundings, capture_output=True, text=True, timeout=60
        )
        self.assertNotEqual(done.returncode, 0)
        self.assertRegex(done.stderr, r"^CommandError: Another Calado is serving the data in .*\n$")

    def test_a_port_in_use(self) -> None:
        port = free_port()
        with socket.socket() as taken:
            taken.bind(("127.0.0.1", port))
            taken.listen()
            command = [sys.executable, "manage.py", "serve", "--port", str(port)]
            done = subprocess.run(command, cwd=Path(ROOT), capture_output=True, text=True, timeout=60)
        self.assertNotEqual(done.returncode, 0)
        self.assertRegex(done.stderr, rf"^CommandError: Port {port} is in use\. .*PORT={port + 1}\n$")
