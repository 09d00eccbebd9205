"""How well figures are found, and how good a rough-in is from the find alone, against the mattes of the demo."""

import json
from collections.abc import Iterator
from pathlib import Path
from time import process_time

import cv2
import numpy as np

from calado.arrays import Codes, Matte
from calado.colour.spaces import SRGB
from calado.detect.subjects import Subject, find_subjects
from calado.detect.tests.written import STILLS, still
from calado.media.clips.clip import Clip
from calado.media.clips.frames import Frames
from calado.region.solve.rough import ROUGH
from calado.render.encode import screen_codes
from calado.render.engine import Engine
from calado.render.resolve import resolve
from calado.render.source import source_of
from calado.sheet.models import Part, Region, Sheet

TRUTH = STILLS.parent / "truth"
#: every so many frames of the clip have a true matte
EVERY = 4

HEAD = f"""
**Figures** (`calado/detect/figures.py`): the subject that is found and the true matte of the puppet, the common area
over that of either; the rough-in is what one press makes of the find, without a further mark. Of the walking puppet
every {EVERY}th frame in which at least 0.9 of her face shows.

| | found | rough-in from it, shared, median · worst | CPU s a find |
|---|---|---|---|
"""


def _shared(one: Matte, other: Matte) -> float:
    return float(np.minimum(one, other).sum() / np.maximum(one, other).sum())


def _rough(codes: Codes, subject: Subject) -> Matte:
    part = Part(id="o", kind=ROUGH.id, points=subject.outline, strokes=subject.marks)
    where = resolve(Sheet(regions=(Region(id="r", name="r", parts=(part,)),)), "r")
    assert where is not None  # it is on the sheet
    source = source_of(np.ascontiguousarray(np.moveaxis(codes, -1, 0)), SRGB, "")
    return Engine().matte(source, where, source.full())


def _true(path: Path) -> Matte:
    return np.asarray(cv2.imread(str(path), cv2.IMREAD_GRAYSCALE), np.float32) / np.float32(255)


def walking() -> Iterator[tuple[Codes, Matte]]:
    """Yield frames of the walking puppet whose face shows, each with her true matte."""
    told = json.loads((TRUTH / "truth.json").read_text())["clips"]["walk"]["frames"]
    with Clip(TRUTH.parent / "clips" / "walk.mp4") as clip:
        frames = Frames(clip, "walk")
        for frame in range(0, len(told), EVERY):
            path = TRUTH / "walk" / f"puppet_{frame:03d}.png"
            face = told[frame].get("face")
            if path.exists() and face and min(face.get("visible") or 0, face.get("inside") or 0) >= 0.9:
                source = frames.source(frame)
                yield screen_codes(source.planes(source.full()), source.space), _true(path)


def _row(name: str, pictures: list[tuple[Codes, Matte]]) -> str:
    found, agree, took = 0, [], []
    for codes, true in pictures:
        began = process_time()
        subjects = find_subjects(codes)
        took.append(process_time() - began)
        best = max((_shared(_rough(codes, each), true) for each in subjects), default=0.0)
        found += best > 0.5
        agree.append(best)
    told = f"{np.median(agree):.2f} · {min(agree):.2f}"
    return f"| {name} | {found} of {len(pictures)} | {told} | {np.median(took):.1f} |"


def table() -> str:
    """Return the table, with its head."""
    rows = [_row(name, [(still(name), _true(TRUTH / f"{name}_puppet.png"))]) for name in ("a_bench", "f_night")]
    return HEAD + "\n".join([*rows, _row("walk", list(walking()))]) + "\n"


if __name__ == "__main__":
    print(table())
