"""The web's own units, and that what it draws lies where the core's matte says."""

import json
import os
import subprocess
import tempfile
from pathlib import Path
from unittest import TestCase

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from calado.region.context import ALONE
from calado.region.kinds import PARTS
from calado.sheet.models import Part
from calado.window import full_window

ROOT = Path(__file__).resolve().parents[2]
HIGH, WIDE = 900, 1350
#: in the middle of a feather of this width on both sides a straight profile is a half, and falls evenly
FEATHER = 0.06
#: of the matte: an outline is drawn through few enough points to follow a pointer
NEAR = 0.02
KINDS = {"ellipse": "box", "rectangle": "box", "gradient": "axis"}


def parts(seed: int, count: int) -> list[Part]:
    """Return drawn parts of every kind whose outline is computed in the browser, anywhere near the frame."""
    random = np.random.default_rng(seed)
    made = []
    for k in range(count):
        kind = PARTS[list(KINDS)[k % len(KINDS)]]
        values: dict[str, float | str] = {**kind.place(1.5)}
        for number in kind.numbers:
            low, high = max(number.low, number.floor), min(number.high, number.ceiling)
            values[number.id] = float(random.uniform(low, high))
        values |= {"profile": "straight", "feather_in": FEATHER, "feather_out": FEATHER}
        for id in ("width", "height"):  # so that the feather does not reach over the middle
            if id in values and kind.id != "gradient":
                values[id] = float(random.uniform(0.25, 1.1))
        made.append(Part(id="p", kind=kind.id, values=values))
    return made


class WebTest(TestCase):
    def vitest(self, *files: str, **surroundings: str) -> None:
        done = subprocess.run(
            ["../tools/with-node", "npx", "--no-install", "vitest", "run", *files],
            cwd=ROOT / "web",
            env={**os.environ, **surroundings, "NO_COLOR": "1"},
            capture_output=True,
            text=True,
            timeout=300,
        )
        self.assertEqual(done.returncode, 0, (done.stdout + done.stderr)[-4000:])

    def test_units(self) -> None:
        self.vitest()

    def test_outlines_lie_where_the_matte_says(self) -> None:
        wanted, distances = parts(seed=20, count=90), (0.0, FEATHER / 2, -FEATHER / 2)
        orders = [
            {"beads": KINDS[part.kind], "values": PARTS[part.kind].complete(part.values), "distances": distances}
            for part in wanted
        ]
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "outlines.json"
            file.write_text(json.dumps(orders))
            self.vitest("outlines", CALADO_OUTLINES=str(file))
            drawn = json.loads(file.read_text())
        worst, seen = 0.0, 0
        for part, paths in zip(wanted, drawn, strict=True):
            matte = PARTS[part.kind].matte(part, full_window(WIDE, HIGH), ALONE)
            for distance, path in zip(distances, paths, strict=True):
                values = self._along(matte, np.array(path))
                seen += values.size
                off = np.abs(values - (0.5 - distance / (2 * FEATHER)))
                worst = max(worst, float(off.max(initial=0)))
                self.assertLess(float(off.max(initial=0)), NEAR, f"{part.kind} {part.values} at {distance}")
        self.assertGreater(seen, 2000)

    @staticmethod
    def _along(matte: NDArray[np.float32], path: NDArray[np.float64]) -> NDArray[np.float32]:
        """Return the matte at places in picture heights, of those that lie in the frame."""
        x, y = path[:, 0] * HIGH - 0.5, path[:, 1] * HIGH - 0.5
        within = (x > 1) & (y > 1) & (x < WIDE - 2) & (y < HIGH - 2)
        return ndimage.map_coordinates(matte, [y[within], x[within]], order=1)
