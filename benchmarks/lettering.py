"""How well lettering is found: the demo's booth however it is turned, and what is found where nothing is written."""

from time import process_time

import numpy as np

from calado.detect.lettering import find_lettering
from calado.detect.tests.written import LINES, PLAIN, Trial, covered, drawn_at, shown, still, true_lines

TURNS, SEEDS = (0, 8, 20, 45, 90, 180), range(1, 13)
#: a line is covered when so much of its true outline is: what was marked reaches a little beyond the letters
MOSTLY = 0.8

HEAD = f"""
**Lettering** (`calado/detect/lettering.py`): the booth's {LINES} lines, of which five have true outlines: four private
lines and the plate, whose outline is the whole plate. Covered: {MOSTLY:.0%} of an outline. Random: any turn, half size
to whole, noise of up to 8 codes, seeds {SEEDS[0]} to {SEEDS[-1]}. Nothing is written in the six other stills.

| shown | sure lines, median | fewest | doubtful | private lines covered | a line's covered share, worst | CPU s |
|---|---|---|---|---|---|---|
"""


def row(name: str, trials: list[Trial]) -> str:
    """Return a line of the table."""
    booth, *truths = still("e_booth"), *true_lines()
    sure, doubtful, shares, took = [], 0, [], []
    for trial in trials:
        seen, matrix = shown(booth, trial)
        began = process_time()
        lines = find_lettering(seen)
        took.append(process_time() - began)
        sure.append(sum(line.sure for line in lines))
        doubtful += len(lines) - sure[-1]
        shares += [covered(lines, places @ matrix[:, :2].T + matrix[:, 2], seen.shape[0]) for places in truths[:4]]
    return (
        f"| {name} | {np.median(sure):.0f} | {min(sure)} | {doubtful} |"
        f" {sum(share > MOSTLY for share in shares)} of {len(shares)} | {min(shares):.2f} | {np.median(took):.1f} |"
    )


def elsewhere(name: str, trials: list[Trial]) -> str:
    """Return a line of the table for the stills in which nothing is written."""
    found = [find_lettering(shown(still(each), trial)[0]) for each in PLAIN for trial in trials]
    sure = [sum(line.sure for line in lines) for lines in found]
    doubtful = sum(len(lines) for lines in found) - sum(sure)
    return f"| other stills, {name} | {sum(sure)} in {len(found)} | – | {doubtful} | – | – | – |"


def table() -> str:
    """Return the table, with its head."""
    random = [drawn_at(np.random.default_rng(seed)) for seed in SEEDS]
    rows = [
        *(row(f"turned by {turn}°", [Trial(turn)]) for turn in TURNS),
        *(row(f"half size, by {turn}°", [Trial(turn, 0.5)]) for turn in TURNS),
        row("random", random),
        elsewhere("as they are", [Trial()]),
        elsewhere("random, seeds 1 to 4", random[:4]),
    ]
    return HEAD + "\n".join(rows) + "\n"
