"""``make starters``: every starter on every still of the demo, in one picture, to be judged at one look."""

import sys
from functools import partial
from pathlib import Path

import cv2
import numpy as np

from calado.colour.spaces import SRGB
from calado.detect.tests.written import STILLS, still
from calado.edit.create import start_pass
from calado.render.encode import screen_codes
from calado.render.engine import Engine, Order
from calado.render.source import Source, source_of
from calado.sheet.models import Sheet
from calado.start.analysis import analyse
from calado.start.starters import STARTERS

ROOT = Path(__file__).resolve().parents[1]
OUT = ROOT / "var" / "starters.jpg"
#: width of each picture in pixels, height of the line that names it
WIDE, NAMED = 400, 22


def sheet_of(names: list[str]) -> np.ndarray:
    """Return the pictures, a row for each still: as it is, then with each starter; shape (H, W, 3)."""
    rows = []
    for name in names:
        rgb = still(name)
        source = source_of(np.ascontiguousarray(rgb.transpose(2, 0, 1)), SRGB, name)
        engine = Engine()
        scale = WIDE / source.width
        reading = analyse(engine, source)
        cells = [("as it is", Sheet())]
        cells += [(each.name, start_pass(Sheet(), each.id, reading)[0]) for each in STARTERS]
        made = partial(_cell, engine, source, scale)
        rows.append(np.hstack([made(f"{name[2:]}: {title}", sheet) for title, sheet in cells]))
    return np.vstack(rows)


def _cell(engine: Engine, source: Source, scale: float, title: str, sheet: Sheet) -> np.ndarray:
    picture = screen_codes(engine.picture(source, Order(sheet), source.full(scale)), source.space)
    head = np.full((NAMED, picture.shape[1], 3), 40, np.uint8)
    cv2.putText(head, title, (4, 16), cv2.FONT_HERSHEY_SIMPLEX, 0.45, (235, 235, 235), 1, cv2.LINE_AA)
    return np.vstack([head, picture])


if __name__ == "__main__":
    asked = sys.argv[1:] or sorted(path.stem for path in STILLS.glob("*.png"))
    OUT.parent.mkdir(exist_ok=True)
    cv2.imwrite(str(OUT), cv2.cvtColor(sheet_of(asked), cv2.COLOR_RGB2BGR))
    print(OUT.relative_to(ROOT))
