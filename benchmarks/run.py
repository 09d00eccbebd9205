"""``python -m benchmarks.run [PART …]``: all measurements, each part in a process of its own, beside the last kept.

``--keep`` writes them to ``docs/speed.json``, and the table and the plots of growth to ``docs/speed.md``. A part that
does not come to its end in its time is given up and told; those of the core are held to one processor, so that their
CPU time is that of one thread.
"""

import argparse
import json
import os
import subprocess
import sys
from dataclasses import dataclass
from importlib import import_module
from pathlib import Path
from typing import Any

from benchmarks.figure import Figure, number
from benchmarks.plot import plot

DOCS = Path(__file__).parents[1] / "docs"
KEPT, TABLE, PLOTS = DOCS / "speed.json", DOCS / "speed.md", DOCS / "speed-growth.svg"
BEGIN, END = "<!-- figures -->", "<!-- end -->"


@dataclass(frozen=True)
class Measured:
    """A part: its module under ``benchmarks``, which gives ``figures()``, what it is of, and how long it may take."""

    module: str
    title: str
    seconds: int = 240
    one_thread: bool = True


PARTS = (
    Measured("core", "The core, 1600 × 1067, from planes to codes for the screen"),
    Measured("slow", "Adjustments that were slow once, whole picture, 1600 × 1067"),
    Measured("adjustments", "Each adjustment outside an ellipse, 1600 × 1067", 400),
    Measured("mattes", "Mattes, 1600 × 1067"),
    Measured("read", "Regions read from the picture", 400),
    Measured("export", "24 and 100 megapixels, three passes, from file to file", 400),
    Measured("clips", "Clips, 1280 × 720", 400, one_thread=False),
    Measured("screen", "Headless Chromium, 1280 × 800, three passes", 300, one_thread=False),
    Measured("growth", "Growth", 400),
    Measured("cold", "Cold", 900, one_thread=False),
)


def measured(part: Measured) -> list[Figure] | str:
    """Return a part's figures, or why there are none."""
    command = [sys.executable, "-m", "benchmarks.run", "--alone", part.module]
    try:
        done = subprocess.run(command, capture_output=True, text=True, timeout=part.seconds, check=False)
    except subprocess.TimeoutExpired:
        return f"given up after {part.seconds} s"
    if done.returncode:
        return (done.stderr.strip().splitlines() or ["ended without a word"])[-1]
    return [Figure(**each) for each in json.loads(done.stdout.splitlines()[-1])]


def _alone(module: str) -> None:
    """Measure one part here and print its figures as JSON."""
    if next(part for part in PARTS if part.module == module).one_thread:
        os.sched_setaffinity(0, {min(os.sched_getaffinity(0))})
    figures = import_module(f"benchmarks.{module}").figures()
    sys.stdout.write("\n" + json.dumps([each.data() for each in figures]))


def lines(part: Measured, found: list[Figure] | str, before: dict[str, float]) -> list[str]:
    """Return a part's table as lines of Markdown; ``before`` are the values kept last, by what was measured."""
    if isinstance(found, str):
        return ["", f"**{part.title}**: {found}."]
    heads = ["", "now", *(["before"] if before else []), "reach", "stretch", "NumPy + OpenCV"]
    made = ["", f"**{part.title}**", "", _row(heads), _row(["---"] * len(heads))]
    head = ""
    for each in found:
        head = each.what if not each.what.startswith("…") else head
        whole = head + each.what
        last = [number(before[whole]) if whole in before else ""] if before else []
        targets = [number(n) if n is not None else "" for n in (each.reach, each.stretch)]
        met = f" ({each.met})" if each.met else ""
        against = f"{number(each.plain)} × our CPU" if each.plain else ""
        made.append(_row([each.what, f"{each.said}{met}", *last, *targets, against]))
    return made


def _values(kept: list[dict[str, Any]]) -> dict[str, float]:
    """Return values by what they are of; what goes on with “…” belongs to what stands before it."""
    found, head = {}, ""
    for each in kept:
        head = each["what"] if not each["what"].startswith("…") else head
        found[head + each["what"]] = each["value"]
    return found


def _row(cells: list[str]) -> str:
    return f"| {' | '.join(cells)} |"


def main() -> None:
    """Measure and print."""
    parser = argparse.ArgumentParser()
    parser.add_argument("parts", nargs="*")
    parser.add_argument("--alone", default="")
    parser.add_argument("--keep", action="store_true")
    asked = parser.parse_args()
    if asked.alone:
        _alone(asked.alone)
        return
    kept: dict[str, list[dict[str, Any]]] = json.loads(KEPT.read_text()) if KEPT.exists() else {}
    for part in PARTS:
        if asked.parts and part.module not in asked.parts:
            continue
        found = measured(part)
        told = lines(part, found, _values(kept.get(part.module, [])))
        print("\n".join(told), flush=True)
        if not isinstance(found, str):
            kept[part.module] = [each.data() for each in found]
    if asked.keep:
        KEPT.write_text(json.dumps(kept, indent=1, ensure_ascii=False) + "\n")
        _keep_table(kept)


def _keep_table(kept: dict[str, list[dict[str, Any]]]) -> None:
    """Write all that is kept into the page of speeds, in the place of what stood there, and the plots beside it."""
    told: list[str] = []
    for part in PARTS:
        if part.module in kept and part.module != "growth":
            told += lines(part, [Figure(**each) for each in kept[part.module]], {})
    if "growth" in kept:
        plot([Figure(**each) for each in kept["growth"]], PLOTS)
    text = TABLE.read_text()
    first, last = text.index(BEGIN) + len(BEGIN), text.index(END)
    TABLE.write_text(text[:first] + "\n".join(told) + "\n\n" + text[last:])


if __name__ == "__main__":
    main()
