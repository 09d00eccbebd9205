"""Every test, in three lanes: ``python -m tools.lanes``; ``quick``: without a browser, and without what takes long.

Tests with a browser wait a good half of their time, so they go in two lanes; those without fill in what is left, and
give way whenever a page is at work. A lane whose pages are done goes on with tests that need none. The first command is
heard while it runs; what the others said stands whole after it, and what failed at the end.
"""

import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from contextlib import ExitStack
from pathlib import Path
from typing import IO

ROOT = Path(__file__).resolve().parents[1]
TEST = [sys.executable, "manage.py", "test", "--noinput"]
#: less urgent than a page that somebody waits for, and not so much that it would be alone in the end
GIVES_WAY = ["nice", "-n", "4"]
#: tests with a browser that go in the second lane: half of the time that all take
SECOND = {
    *("clips", "following", "watching", "found_along", "pieces"),
    *("campaigns", "kills", "practice", "read", "subjects"),
}
#: tests of the core that wait until the second lane's pages are done
LATER = ("calado.detect", "calado.follow")
FAILED = "failed: "


def lanes(first: list[list[str]], *beside: list[list[str]]) -> int:
    """Run the lanes at the same time, each its commands in turn; return 0 when all ended well, after all was told."""
    heard, *later = first
    with ExitStack() as held:
        quiet = [held.enter_context(tempfile.TemporaryFile("w+")) for _ in range(len(beside) + 1)]
        pool = held.enter_context(ThreadPoolExecutor(len(beside) + 1))
        ends = [pool.submit(_in_turn, each, said) for each, said in zip(beside, quiet[1:], strict=True)]
        worst, failed = _heard(heard)
        ends.append(pool.submit(_in_turn, later, quiet[0]))
        worst = max([worst, *(each.result() for each in ends)], key=abs)
        for said in quiet:
            said.seek(0)
            sys.stdout.write(said.read())
        sys.stdout.write(failed)
    sys.stdout.flush()
    return worst


def _in_turn(commands: list[list[str]], said: IO[str]) -> int:
    """Run each command, whatever became of those before it, and return how the worst ended."""
    ended = (subprocess.run(each, cwd=ROOT, stdout=said, stderr=subprocess.STDOUT, check=False) for each in commands)
    return max((each.returncode for each in ended), key=abs, default=0)


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


def _core() -> list[str]:
    """Return the packages of the core, its own tests among them."""
    return sorted(f"calado.{each.parent.name}" for each in (ROOT / "calado").glob("*/__init__.py"))


def main(asked: list[str]) -> int:
    """Run what is asked for, and return how it ended."""
    if asked == ["quick"]:
        short = [*TEST, "--quick"]
        beside = ["calado.tests"]
        return lanes(
            [[*short, *(each for each in _core() if each not in beside)]],
            [[*GIVES_WAY, *short, *beside, "server", "demo", "tools"]],
        )
    browsed = {f"e2e.{each.stem}" for each in (ROOT / "e2e").glob("test_*.py")}
    second = {f"e2e.test_{each}" for each in SECOND} & browsed
    return lanes(
        [[*TEST, *sorted(browsed - second)], [*GIVES_WAY, *TEST, "server"]],
        [[*TEST, *sorted(second)], [*GIVES_WAY, *TEST, *LATER]],
        [[*GIVES_WAY, *TEST, *(each for each in _core() if each not in LATER), "demo", "tools"]],
    )


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
