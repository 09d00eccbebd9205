"""How high the letters in a region are, whichever way they are turned.

Marks that stand out from what is round them, darker or lighter, are letters where several of about one size stand in a
row; of a mark the longer side of its upright box counts, so that a turned letter is as high as it was, or a little
higher.
"""

import cv2
import numpy as np
import scipy
from numpy.typing import NDArray

from calado.arrays import Planes

#: a mark is this high, in pixels, at least, and at most so much of the region's shorter side: of a long region, and
#: of one about as high as wide, which holds no row of letters as high as itself
LEAST, MOST, MOST_OF_SQUARE, LONG = 5, 0.95, 0.35, 2.0
#: letters of a line differ so much from their middle height, small ones from capitals
ALIKE = 1.7
#: fewer marks in a row are no lettering, in a long region and in one about as high as wide
FEWEST, FEWEST_OF_SQUARE = 4, 6
#: more marks are not looked at
MARKS = 400
#: of its height: how far a letter's middle lies from the next one's, and from the middle of its row
NEXT, ROW = 1.4, 0.35
#: a mark fills so much of its box
FILLS = (0.1, 0.9)
#: of 255: how much a mark stands out; less is the grain of a surface
STANDS_OUT = 12


def letter_height(planes: Planes, inside: NDArray[np.bool_]) -> float | None:
    """Return the height in pixels of the letters in a picture, shape (3, H, W), within a mask, or None for none."""
    rows, columns = np.flatnonzero(inside.any(axis=1)), np.flatnonzero(inside.any(axis=0))
    if len(rows) < LEAST or len(columns) < LEAST:
        return None
    box = (slice(rows[0], rows[-1] + 1), slice(columns[0], columns[-1] + 1))
    tone = np.cbrt(np.clip(np.nan_to_num(planes[:, box[0], box[1]]), 0, 1)).mean(axis=0)
    grey = np.rint(255 * tone).astype(np.uint8)
    count, height = max(_longest(_marks(each, inside[box])) for each in (grey, 255 - grey))
    return height if count >= (FEWEST if _is_long(grey) else FEWEST_OF_SQUARE) else None


def _is_long(grey: NDArray[np.uint8]) -> bool:
    short, long = sorted(grey.shape)
    return long >= LONG * short


def _marks(grey: NDArray[np.uint8], inside: NDArray[np.bool_]) -> NDArray[np.float64]:
    """Return the marks darker than what is round them, shape (N, 3): centre (x, y), longer side."""
    short = min(grey.shape)
    most = (MOST if _is_long(grey) else MOST_OF_SQUARE) * short
    side = max(int(0.8 * short) | 1, 7)
    dark = cv2.adaptiveThreshold(grey, 255, cv2.ADAPTIVE_THRESH_MEAN_C, cv2.THRESH_BINARY_INV, side, STANDS_OUT)
    _, _, found, centres = cv2.connectedComponentsWithStats(dark * inside, connectivity=8)
    wide, tall = found[:, cv2.CC_STAT_WIDTH], found[:, cv2.CC_STAT_HEIGHT]
    longer, full = np.maximum(wide, tall), found[:, cv2.CC_STAT_AREA] / np.maximum(wide * tall, 1)
    fits = (longer >= LEAST) & (longer <= most) & (full > FILLS[0]) & (full < FILLS[1])
    fits[0] = False  # the ground
    made = np.column_stack([centres[fits], longer[fits]])
    return made[np.argsort(-made[:, 2])][:MARKS]


def _longest(marks: NDArray[np.float64]) -> tuple[int, float]:
    """Return how many marks of one size stand closest in a row, and how high nearly all of these are."""
    if len(marks) < FEWEST:
        return 0, 0.0
    away = np.hypot(*(marks[:, None, :2] - marks[None, :, :2]).transpose(2, 0, 1))
    larger = np.maximum(marks[:, None, 2], marks[None, :, 2])
    beside = (away < NEXT * larger) & (larger < ALIKE * np.minimum(marks[:, None, 2], marks[None, :, 2]))
    count, labels = scipy.sparse.csgraph.connected_components(scipy.sparse.csr_array(beside), directed=False)
    rows = [marks[labels == k] for k in range(count)]
    return max((_in_a_row(each), float(np.quantile(each[:, 2], 0.9))) for each in rows)


def _in_a_row(marks: NDArray[np.float64]) -> int:
    """Return how many of some marks stand in the row of the one that has most of them on its level or column."""
    away = marks[:, None, :2] - marks[None, :, :2]
    best = 0
    for turn in np.radians(np.arange(0, 180, 7.5)):
        off = np.abs(away @ np.array([-np.sin(turn), np.cos(turn)]))
        best = max(best, int((off < ROW * marks[:, 2]).sum(axis=1).max()))
    return best
