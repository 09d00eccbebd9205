"""What the set-up says when something is missing: one sentence, and what to do."""

import os
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

from django.test import SimpleTestCase, tag

from e2e.support import ROOT

#: what the script itself needs; everything else is missing
TOOLS = ("bash", "dirname", "mkdir", "id", "env", "node", "cat")


@tag("e2e")
class SetupTest(SimpleTestCase):
    def setUp(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.house = Path(held.name)
        self.path = self.house / "bin"
        self.path.mkdir()
        (self.house / "tools").mkdir()
        (self.house / "web").mkdir()
        for script in ("setup", "with-node"):
            shutil.copy(ROOT / "tools" / script, self.house / "tools" / script)
        for tool in TOOLS:
            (self.path / tool).symlink_to(shutil.which(tool) or tool)
        # the machine's Python, not the one of the virtual environment that runs the tests
        (self.path / "python3").symlink_to(Path(sys.base_prefix) / "bin" / "python3")

    def stub(self, name: str, code: int) -> None:
        file = self.path / name
        file.write_text(f"#!/bin/sh\necho a long complaint >&2\nexit {code}\n")
        file.chmod(0o755)

    def run_part(self, part: str) -> subprocess.CompletedProcess[str]:
        surroundings = {"PATH": str(self.path), "HOME": os.environ.get("HOME", "/")}
        command = [str(self.path / "bash"), "tools/setup", part]
        return subprocess.run(command, cwd=self.house, env=surroundings, capture_output=True, text=True, timeout=60)

    def refused(self, part: str, sentence: str) -> None:
        done = self.run_part(part)
        self.assertEqual(done.returncode, 1, done.stdout + done.stderr)
        self.assertRegex(done.stderr, rf"^Calado: {sentence}.*\n$")
        self.assertNotIn("complaint", done.stdout + done.stderr)

    def test_no_browser_can_be_installed(self) -> None:
        self.refused("browser", "needs chromium-headless-shell; install it with this system's own packages")
        self.stub("apt-get", 100)
        self.refused(
            "browser", "could not install chromium-headless-shell. Is there a network, and the right to install"
        )

    def test_a_browser_is_there(self) -> None:
        for name in ("chromium", "chromium-headless-shell"):
            self.stub(name, 0)
            done = self.run_part("browser")
            self.assertEqual((done.returncode, done.stdout), (0, ""))
            (self.path / name).unlink()

    def test_no_network_for_the_web_packages(self) -> None:
        self.stub("npm", 1)
        self.refused("node", "could not install the web packages. Is there a network")

    def test_no_node_and_no_network_for_it(self) -> None:
        (self.path / "node").unlink()
        (self.path / "python3").unlink()
        self.stub("python3", 0)
        inner = self.house / ".make" / "nodejs" / "bin"
        inner.mkdir(parents=True)
        (inner / "python").write_text("#!/bin/sh\nexit 1\n")
        (inner / "python").chmod(0o755)
        self.refused("node", "could not install Node. Is there a network")

    def test_no_network_for_the_python_packages(self) -> None:
        (self.house / ".venv" / "bin").mkdir(parents=True)
        python = self.house / ".venv" / "bin" / "python"
        python.write_text("#!/bin/sh\nexit 1\n")
        python.chmod(0o755)
        self.refused("run", "could not install the Python packages. Is there a network")
