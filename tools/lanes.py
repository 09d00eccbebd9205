"""Every test, in two lanes: ``python -m tools.lanes``.

Tests with a browser wait a good half of their time; those without fill that in, and give way whenever a page is at
work. What each lane said stands whole, one after the other.
"""

import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
TEST = [sys.executable, "manage.py", "test", "--noinput"]
#: by far less urgent than a page that somebody waits for
GIVES_WAY = ["nice", "-n", "15"]


def lanes(first: list[str], beside: list[str]) -> int:
    """Run ``first`` here and ``beside`` at the same time; return 0 when both ended well, after all was told."""
    with tempfile.TemporaryFile("w+") as said:
        quiet = subprocess.Popen([*GIVES_WAY, *beside], cwd=ROOT, stdout=said, stderr=subprocess.STDOUT)
        try:
            loud = subprocess.run(first, cwd=ROOT, check=False).returncode
            ended = quiet.wait()
        finally:
            quiet.kill()
        said.seek(0)
        sys.stdout.write(said.read())
    sys.stdout.flush()
    return loud or ended


if __name__ == "__main__":
    sys.exit(lanes([*TEST, "e2e"], [*TEST, "calado", "server", "demo", "tools"]))
