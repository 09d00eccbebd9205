"""How well features of faces lie on the demo's true mattes, and how many lines of lettering are read as they stand."""

from time import process_time

import numpy as np

from benchmarks.roughs import _grey, _source
from calado.detect.find import find_kind
from calado.detect.lettering import find_lettering
from calado.detect.reading import read_line
from calado.detect.tests.test_reading import OTHERS, PRIVATE
from calado.detect.tests.written import Trial, drawn_at, shown, still
from calado.edit.create import start_feature
from calado.region.resolved import alone
from calado.render.engine import Engine
from calado.sheet.models import Sheet

TRUE = {"a_bench": ("face",), "e_booth": ("face",), "f_night": ("face",), "b_portrait": ("lips", "eyes")}
SEEDS = range(1, 13)

FEATURES = """
**Features** (`calado/detect/face_mesh.py`, `calado/detect/lips.py`, `calado/start/features.py`): the curves that are
begun of the surest face, and the true mattes; of an eye the true one is the whole ball, also below its lid. Covered: of
what is true; spill: what lies beside it, for what is true.

| | shared | covered | spill |
|---|---|---|---|
"""
READING = f"""
**Reading** (`calado/detect/reading.py`): the booth's lines as they are found, read both ways up, from
80 % sure on; half size to whole, any turn, noise of up to 8 codes, seeds {SEEDS[0]} to {SEEDS[-1]}. Read: letter for
letter. Wrong: sure of something else than stands there.

| shown | private lines read | other lines read | wrong | CPU s a picture, found and read |
|---|---|---|---|---|
"""


def _features() -> str:
    rows = []
    for scene, features in TRUE.items():
        source = _source(scene)
        face = next(each for each in find_kind(Engine(), source, "face") if each.closely)
        for feature in features:
            sheet, _ = start_feature(Sheet(), [face], feature)
            made = Engine().matte(source, alone(sheet.regions[0]), source.full()) > 0.5
            true = _grey(f"{scene}_{feature}") > 0.5
            both, size = int((made & true).sum()), int(true.sum())
            spill = int((made & ~true).sum()) / size
            rows.append(f"| {scene}, {feature} | {both / (made | true).sum():.2f} | {both / size:.2f} | {spill:.2f} |")
    return "\n".join(rows) + "\n"


def _reading(name: str, trials: list[Trial]) -> str:
    private, others, wrong, took = 0, 0, 0, []
    for trial in trials:
        seen, _ = shown(still("e_booth"), trial)
        high, began = seen.shape[0], process_time()
        read = [
            read_line(seen, (line.x * high, line.y * high), (line.width * high, line.height * high), line.turn)
            for line in find_lettering(seen)
        ]
        took.append(process_time() - began)
        texts = [each.text for each in read if each.sure]
        private += len({*PRIVATE} & {*texts})
        others += len({*OTHERS} & {*texts})
        wrong += sum(text not in (*PRIVATE, *OTHERS) for text in texts)
    counts = f"{private} of {len(PRIVATE) * len(trials)} | {others} of {len(OTHERS) * len(trials)}"
    return f"| {name} | {counts} | {wrong} | {np.median(took):.1f} |\n"


def table() -> str:
    """Return both tables, with their heads."""
    random = [drawn_at(np.random.default_rng(seed)) for seed in SEEDS]
    read = [_reading("as it is", [Trial()]), _reading("upside down", [Trial(turn=180)]), _reading("random", random)]
    return FEATURES + _features() + READING + "".join(read)


if __name__ == "__main__":
    print(table())
