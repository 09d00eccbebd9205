"""Every test, in three lanes: ``python -m tools.lanes``; ``quick``: without a browser, and without what takes long.

Tests with a browser wait a good half of their time, so they go in two lanes; those without fill in what is left, and
give way whenever a page is at work. A lane that is done goes on with what still waits. The first command is heard while
it runs; what the others said stands whole after it, and what failed at the end.
"""

import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from contextlib import ExitStack
from pathlib import Path
from queue import Empty, SimpleQueue
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
#: tests of the core that wait until a lane is done; the server's are one command, as they have one database
LATER = ("calado.detect", "calado.follow")
FAILED = "failed: "


def lanes(commands: list[list[str]], later: list[list[str]]) -> int:
    """Run the commands at the same time, a lane each; a lane that is done takes what still waits, in its order.

    Return 0 when all ended well, after all was told.
    """
    waiting: SimpleQueue[list[str]] = SimpleQueue()
    for each in later:
        waiting.put(each)
    heard, *beside = commands
    with ExitStack() as held:
        quiet = [held.enter_context(tempfile.TemporaryFile("w+")) for _ in commands]
        pool = held.enter_context(ThreadPoolExecutor(len(commands)))
        ends = [pool.submit(_in_turn, each, waiting, said) for each, said in zip(beside, quiet[1:], strict=True)]
        worst, failed = _heard(heard)
        ends.append(pool.submit(_in_turn, None, waiting, quiet[0]))
        worst = max([worst, *(each.result() for each in ends)], key=abs)
        for said in quiet:
            said.seek(0)
            sys.stdout.write(said.read())
        sys.stdout.write(failed)
    sys.stdout.flush()
    return worst


def _in_turn(command: list[str] | None, waiting: SimpleQueue[list[str]], said: IO[str]) -> int:
    """Run a command, then what waits, whatever became of those before; return how the worst ended."""
    worst = 0
    while command is not None or not waiting.empty():
        try:
            command = command or waiting.get_nowait()
        except Empty:  # another lane was first
            break
        ended = subprocess.run(command, cwd=ROOT, stdout=said, stderr=subprocess.STDOUT, check=False)
        worst, command = max(worst, ended.returncode, key=abs), None
    return worst


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
            [
                [*short, *(each for each in _core() if each not in beside)],
                [*GIVES_WAY, *short, *beside, "server", "demo", "tools"],
            ],
            [],
        )
    browsed = {f"e2e.{each.stem}" for each in (ROOT / "e2e").glob("test_*.py")}
    second = {f"e2e.test_{each}" for each in SECOND} & browsed
    return lanes(
        [
            [*TEST, *sorted(browsed - second)],
            [*TEST, *sorted(second)],
            [*GIVES_WAY, *TEST, *(each for each in _core() if each not in LATER), "demo", "tools"],
        ],
        [[*GIVES_WAY, *TEST, each] for each in ("server", *LATER)],
    )


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
