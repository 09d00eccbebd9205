"""Every test, in two lanes: ``python -m tools.lanes``; ``quick``: without a browser, and without what takes long.

Tests with a browser wait a good half of their time; those without fill that in, and give way whenever a page is at
work. The first lane is heard while it runs; what the other said stands whole after it, and what failed at the end.
"""

import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
TEST = [sys.executable, "manage.py", "test", "--noinput"]
#: by far less urgent than a page that somebody waits for
GIVES_WAY = ["nice", "-n", "15"]
FAILED = "failed: "


def lanes(first: list[str], beside: list[str]) -> int:
    """Run ``first`` here and ``beside`` at the same time; return 0 when both ended well, after all was told."""
    with tempfile.TemporaryFile("w+") as said:
        quiet = subprocess.Popen([*GIVES_WAY, *beside], cwd=ROOT, stdout=said, stderr=subprocess.STDOUT)
        try:
            loud, failed = _heard(first)
            ended = quiet.wait()
        finally:
            quiet.kill()
        said.seek(0)
        sys.stdout.write(said.read() + failed)
    sys.stdout.flush()
    return loud or ended


def _heard(command: list[str]) -> tuple[int, str]:
    """Run a command and say what it says; return how it ended, and the lines that tell what failed."""
    failed = ""
    with subprocess.Popen(
        command, cwd=ROOT, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True, errors="replace"
    ) as run:
        assert run.stdout is not None  # as asked for
        # a dot at a time, as tests end
        line = ""
        while each := run.stdout.read(1):
            sys.stdout.write(each)
            sys.stdout.flush()
            line += each
            if each == "\n":
                failed += line if line.startswith(FAILED) else ""
                line = ""
    return run.returncode, failed


def main(asked: list[str]) -> int:
    """Run what is asked for, and return how it ended."""
    if asked == ["quick"]:
        short = [*TEST, "--quick"]
        beside = ["calado.media", "calado.tests"]
        core = sorted(f"calado.{each.parent.name}" for each in (ROOT / "calado").glob("*/__init__.py"))
        return lanes(
            [*short, *(each for each in core if each not in beside)], [*short, *beside, "server", "demo", "tools"]
        )
    return lanes([*TEST, "e2e"], [*TEST, "calado", "server", "demo", "tools"])


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
