"""What a cover leaves: cells across the region, a letter's height in cells, the detail that is left.

A face with fewer than about eight cells across, and letters lower than two cells, are not recognised (common practice,
no
source; our thresholds). Detail left is the mean slope of the tone inside after, over before. A letter's height is read
from the region's rows: the median run of rows that hold more detail than half the busiest.
"""

from dataclasses import dataclass

import numpy as np
from scipy import ndimage

from calado.arrays import Matte, Planes
from calado.sheet.declare import Values

FACE_CELLS = 8.0
LETTER_CELLS = 2.0
DETAIL = 0.12
#: fewer rows of detail are no letters
LEAST_ROWS = 5


@dataclass(frozen=True)
class Concealed:
    """Readings of a cover; None where one means nothing. ``weak``: too weak to conceal; ``says`` tells it in words."""

    cells_across: float | None
    letter_cells: float | None
    detail_left: float
    weak: bool
    says: str


def read_concealed(
    before: Planes, after: Planes, matte: Matte, pixel: float, mosaic: Values | None
) -> Concealed | None:
    """Return the readings inside a region; pictures of shape (3, H, W), ``pixel`` in picture heights."""
    inside = matte > 0.5
    # of several pieces the largest is read
    labels, count = ndimage.label(inside)
    if count > 1:
        inside = labels == 1 + np.bincount(labels.ravel())[1:].argmax()
    rows, columns = np.flatnonzero(inside.any(axis=1)), np.flatnonzero(inside.any(axis=0))
    if len(rows) < 3 or len(columns) < 3:
        return None
    slopes = [_slope(each) for each in (before, after)]
    # a slope reads its neighbours, so the rim is left out
    deep = ndimage.binary_erosion(matte >= 0.999, iterations=2)
    detail = float(slopes[1][deep].mean() / max(slopes[0][deep].mean(), 1e-6)) if deep.any() else 0.0
    size = float(mosaic["size"]) if mosaic and mosaic.get("size") else 0.0  # type: ignore[arg-type]
    across = (columns[-1] - columns[0] + 1) * pixel / size if size else None
    letter = _letter_rows(slopes[0], inside, rows)
    letter_cells = letter * pixel / (size * float(mosaic.get("tall", 1.0))) if size and letter and mosaic else None  # type: ignore[arg-type]
    return _judged(across, letter_cells, min(detail, 9.99))


def _judged(across: float | None, letters: float | None, detail: float) -> Concealed:
    said, weak = [], False
    if across is not None:
        said.append(f"{across:.1f} cells across")
        weak = across > FACE_CELLS
    if letters is not None:
        said.append(f"a letter is {letters:.1f} cells high")
        weak = weak or letters > LETTER_CELLS
    if across is None:
        weak = detail > DETAIL
    said.append(f"{detail * 100:.0f}\u00a0% of the detail left")
    verdict = "too weak to conceal" if weak else "concealed"
    return Concealed(across, letters, detail, weak, f"{', '.join(said)}: {verdict}.".capitalize())


def _slope(planes: Planes) -> np.ndarray:
    tone = np.cbrt(np.maximum(planes, 0)).mean(axis=0)
    gy, gx = np.gradient(tone)
    return np.hypot(gx, gy)


def _letter_rows(slope: np.ndarray, inside: np.ndarray, rows: np.ndarray) -> float | None:
    """Return the height of a line of letters in pixels, or None where no lines stand out."""
    busy = np.array([slope[y][inside[y]].mean() if inside[y].any() else 0.0 for y in range(rows[0], rows[-1] + 1)])
    if busy.max() < 1e-4 or busy.min() > 0.5 * busy.max():
        return None
    line = busy > 0.5 * busy.max()
    edges = np.flatnonzero(np.diff(np.concatenate([[False], line, [False]]).astype(int)))
    runs = edges[1::2] - edges[::2]
    return float(np.median(runs[runs >= LEAST_ROWS])) if (runs >= LEAST_ROWS).any() else None
