"""How well a rough-in finds its subject: marks drawn at random, and put where it is most wrong, on every true matte."""

from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field
from functools import lru_cache
from pathlib import Path
from time import process_time

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.media.stills import read_still
from calado.region.context import PartContext
from calado.region.resolved import alone
from calado.region.solve.rough import rough_solving
from calado.region.solve.tests.drawn import drawn_marks, loose_outline, next_mark
from calado.render.engine import Engine
from calado.render.source import Source, source_of
from calado.sheet.models import Part, Region, Stroke

DEMO = Path(__file__).parent.parent / "demo"
SEEDS, CORRECTIONS = range(1, 6), 10
#: of the truth's mattes: things as a whole; several things, each for itself from so many pixels on; parts of things
WHOLE = {
    "a_bench": ("puppet",),
    "c_dusk": ("cart", "lamp", "sun"),
    "e_booth": ("board",),
    "f_night": ("puppet",),
}
SEVERAL = {
    "d_shelf": ("ochre", "red", "teal", "violet"),
    "e_booth": ("lanterns",),
    "f_night": ("lanterns",),
    "g_wood": ("front", "lanterns", "trunks"),
}
PARTS = {
    "a_bench": ("face", "hair"),
    "b_portrait": ("hair", "lips", "skin"),
    "e_booth": ("face", "plate"),
    "f_night": ("face",),
}
LEAST = 5000

HEAD = f"""
**Rough-ins** (`calado/region/solve/`): every true matte of the demo's stills, several things of one kind each for
itself; marks drawn at random on the subject and in a ring round it, seeds {SEEDS[0]} to {SEEDS[-1]}; each further mark
in the deepest of the largest error (`calado/region/solve/tests/drawn.py`). Intersection over union of what shows at
once, median and worst. Spoilt: corrections that lower it by more than 0.005, and by how much at most.

| | 3 + 2 | 3 + 4 | and 4 corrections | and 10 | an outline and 2 | spoilt | CPU s an answer |
|---|---|---|---|---|---|---|---|
"""


def _grey(name: str) -> NDArray[np.float32]:
    grey = cv2.imread(str(DEMO / "truth" / f"{name}.png"), cv2.IMREAD_UNCHANGED)
    grey = grey if grey.ndim == 2 else grey[..., 0]
    return np.asarray(grey / np.float32(np.iinfo(grey.dtype).max), np.float32)


@dataclass(frozen=True)
class Subject:
    """A thing in a still: of which matte, which patch of it (0: all), and whether it is a thing as a whole."""

    scene: str
    name: str
    patch: int
    whole: bool

    def mask(self) -> NDArray[np.bool_]:
        """Return where it is, shape (H, W)."""
        if self.name == "all":
            return np.asarray(sum(_grey(f"{self.scene}_{each}") for each in ("skin", "hair", "eyes")) > 0.5)
        true = _grey(f"{self.scene}_{self.name}") > 0.5
        return true if self.patch == 0 else cv2.connectedComponents(true.astype(np.uint8))[1] == self.patch


def subjects() -> Iterator[Subject]:
    """Yield all things with truth."""
    yield from (Subject(scene, name, 0, True) for scene, names in WHOLE.items() for name in names)
    yield Subject("b_portrait", "all", 0, True)
    for scene, names in SEVERAL.items():
        for name in names:
            stats = cv2.connectedComponentsWithStats((_grey(f"{scene}_{name}") > 0.5).astype(np.uint8))[2]
            large = (k for k in range(1, len(stats)) if stats[k, cv2.CC_STAT_AREA] >= LEAST)
            yield from (Subject(scene, name, patch, True) for patch in large)
    yield from (Subject(scene, name, 0, False) for scene, names in PARTS.items() for name in names)


@lru_cache(maxsize=1)
def _source(scene: str) -> Source:
    still = read_still(DEMO / "stills" / f"{scene}.png")
    return source_of(still.samples, still.space, scene)


def answer(
    source: Source, marks: tuple[Stroke, ...], outline: tuple[tuple[float, float], ...] = ()
) -> NDArray[np.bool_]:
    """Return what a rough-in of these marks shows at once, at full size."""
    part = Part(id="p", kind="rough", points=outline, strokes=marks)
    seen = Engine().seen(source, alone(Region(id="r", name="r", parts=(part,))))
    found = rough_solving(part, source.full(), PartContext(seen=seen)).coarse()
    return np.asarray(cv2.resize(found, (source.width, source.height), interpolation=cv2.INTER_LINEAR) > 0.5)


def shared(one: NDArray[np.bool_], other: NDArray[np.bool_]) -> float:
    """Return the intersection over the union."""
    return float((one & other).sum() / max(1, (one | other).sum()))


@dataclass
class Figures:
    """Of one subject and seed: after each number of corrections, with two marks more, with an outline; seconds each."""

    whole: bool
    name: str
    corrected: list[float] = field(default_factory=list)
    four: float = 0.0
    outlined: float = 0.0
    seconds: float = 0.0


def figures(job: tuple[Subject, int]) -> Figures:
    """Return the figures of a subject for one seed."""
    subject, seed = job
    cv2.setNumThreads(1)
    source, true = _source(subject.scene), subject.mask()
    made = Figures(subject.whole, f"{subject.scene} {subject.name}{subject.patch or ''}")
    made.four = shared(answer(source, drawn_marks(true, seed, 3, 4)), true)
    made.outlined = shared(answer(source, drawn_marks(true, seed, 2, 0), loose_outline(true, seed)), true)
    marks, taken = list(drawn_marks(true, seed, 3, 2)), []
    for _ in range(CORRECTIONS + 1):
        began = process_time()
        found = answer(source, tuple(marks))
        taken.append(process_time() - began)
        made.corrected.append(shared(found, true))
        mark = next_mark(found, true)
        if mark is None:
            break
        marks.append(mark)
    made.corrected += made.corrected[-1:] * (CORRECTIONS + 1 - len(made.corrected))
    made.seconds = float(np.mean(taken))
    return made


def _row(name: str, all: list[Figures]) -> str:
    said = lambda values: f"{np.median(values):.2f} · {np.min(values):.2f}"  # noqa: E731
    steps = np.array([each.corrected for each in all])
    spoilt = np.diff(steps, axis=1)
    cells = [
        said(steps[:, 0]),
        said([each.four for each in all]),
        said(steps[:, 4]),
        said(steps[:, 10]),
        said([each.outlined for each in all]),
        f"{100 * (spoilt < -0.005).mean():.1f} % · {max(-spoilt.min(), 0):.2f}",
        f"{np.mean([each.seconds for each in all]):.2f}",
    ]
    return f"| {name} | {' | '.join(cells)} |\n"


def table(workers: int = 2) -> str:
    """Return the table."""
    jobs = [(subject, seed) for subject in subjects() for seed in SEEDS]
    with ProcessPoolExecutor(workers) as pool:
        every = list(pool.map(figures, jobs))
    whole, parts = ([each for each in every if each.whole is is_whole] for is_whole in (True, False))
    return (
        HEAD
        + _row(f"{len(whole) // len(SEEDS)} whole things", whole)
        + _row(f"{len(parts) // len(SEEDS)} parts of things", parts)
    )


if __name__ == "__main__":
    print(table())
