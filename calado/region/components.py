"""Islands and holes of a matte, and dropping them.

They are found on a small copy of the whole matte, at most SIDE pixels high, so that a strip knows of the same ones as
the whole; an island is a patch of at least one half, joined at sides and corners; a hole a patch of less than one half,
joined at sides, that does not touch the frame. What is dropped is taken with its soft rim: each place belongs to the
island, or the hole, nearest to it.
"""

from dataclasses import dataclass, replace

import numpy as np
import scipy
from numpy.typing import NDArray

from calado.arrays import Matte
from calado.sheet.models import Component
from calado.window import Window, full_window

SIDE = 512
#: how far, in pixels of the small copy, a place may have slipped off its piece
SLIP = 4
_CORNERS = np.ones((3, 3), bool)

Labels = NDArray[np.int32]


@dataclass(frozen=True)
class Found:
    """A piece with its area as a share of the frame and its box (left, top, right, bottom) in picture heights.

    A piece that is dropped stands as the sheet names it.
    """

    piece: Component
    area: float
    box: tuple[float, float, float, float]
    removed: bool = False


def small_window(window: Window) -> Window:
    """Return the window of the whole picture on which pieces are looked for."""
    scale = min(1.0, SIDE / window.picture_height)
    return full_window(window.picture_width, window.picture_height, scale)


def _labels(matte: Matte) -> tuple[Labels, Labels]:
    """Return the islands and the holes, numbered from 1; the surround is a 'hole' of number -1."""
    islands, _ = scipy.ndimage.label(matte >= 0.5, _CORNERS)
    holes, _ = scipy.ndimage.label(matte < 0.5)
    border = np.concatenate([holes[0], holes[-1], holes[:, 0], holes[:, -1]])
    holes[np.isin(holes, border[border > 0])] = -1
    return islands, holes


def find_pieces(matte: Matte, window: Window, removed: tuple[Component, ...] = ()) -> list[Found]:
    """Return the islands, where there are several, and the holes of a small matte, the largest first."""
    islands, holes = _labels(matte)
    named = {(p.kind, _at(islands if p.kind == "island" else holes, p, window)): p for p in removed}
    found: list[Found] = []
    for kind, labels in (("island", islands), ("hole", holes)):
        boxes = scipy.ndimage.find_objects(np.maximum(labels, 0))
        if kind == "island" and len(boxes) < 2:
            continue
        for number, box in enumerate(boxes, 1):
            if box is not None:
                each = _found(kind, labels, number, box, window)
                name = named.get((each.piece.kind, number))
                found.append(replace(each, piece=name, removed=True) if name else each)
    return sorted(found, key=lambda each: -each.area)


def _found(kind: str, labels: Labels, number: int, box: tuple[slice, slice], window: Window) -> Found:
    here = labels[box] == number
    # the place farthest from the rim: it stays within the piece when that changes a little
    depth = scipy.ndimage.distance_transform_edt(np.pad(here, 1))[1:-1, 1:-1]
    i, j = np.unravel_index(int(depth.argmax()), depth.shape)
    rows, columns = box
    pixel = window.pixel
    place = {
        "x": round((columns.start + float(j) + 0.5) * pixel, 5),
        "y": round((rows.start + float(i) + 0.5) * pixel, 5),
    }
    sides = (columns.start * pixel, rows.start * pixel, columns.stop * pixel, rows.stop * pixel)
    return Found(Component(kind=kind, **place), float(here.sum()) / labels.size, sides)  # type: ignore[arg-type]


def _at(labels: Labels, piece: Component, window: Window) -> int:
    """Return the number of the piece at a place, or nearby; 0 where it is gone."""
    i, j = int(piece.y / window.pixel), int(piece.x / window.pixel)
    around = labels[max(i - SLIP, 0) : i + SLIP + 1, max(j - SLIP, 0) : j + SLIP + 1]
    if 0 <= i < labels.shape[0] and 0 <= j < labels.shape[1] and labels[i, j] > 0:
        return int(labels[i, j])
    near = around[around > 0]
    return int(near[0]) if near.size else 0


def _zone(labels: Labels, numbers: set[int]) -> NDArray[np.bool_]:
    """Return where the nearest labelled place is one of ``numbers``."""
    nearest = scipy.ndimage.distance_transform_edt(labels == 0, return_distances=False, return_indices=True)
    return np.isin(labels[tuple(nearest)], list(numbers))


def drops(matte: Matte, removed: tuple[Component, ...], window: Window) -> tuple[Matte, Matte] | None:
    """Return (kept, filled), shares of a small matte's shape, or None where nothing that is dropped is there."""
    islands, holes = _labels(matte)
    gone = {_at(islands, piece, window) for piece in removed if piece.kind == "island"} - {0}
    full = {_at(holes, piece, window) for piece in removed if piece.kind == "hole"} - {0}
    if not gone and not full:
        return None
    kept, filled = np.ones(matte.shape, np.float32), np.zeros(matte.shape, np.float32)
    if gone:
        kept[_zone(islands, gone)] = 0
    if full:
        filled[_zone(holes, full)] = 1
    return kept, filled


def apply_drops(matte: Matte, shares: tuple[Matte, Matte], small: Window, window: Window) -> Matte:
    """Return the matte of a window, shape (H, W), without what was dropped."""
    kept, filled = (_read(share, small, window) for share in shares)
    matte = matte * kept
    return matte + (np.float32(1) - matte) * filled


def _read(plane: Matte, small: Window, window: Window) -> Matte:
    """Return a small plane read linearly at the pixels of a window."""
    rows = _places(window.top, window.height, window.pixel / small.pixel, plane.shape[0])
    columns = _places(window.left, window.width, window.pixel / small.pixel, plane.shape[1])
    lines: Matte = plane[rows[0]] * (1 - rows[2])[:, None] + plane[rows[1]] * rows[2][:, None]
    made: Matte = lines[:, columns[0]] * (1 - columns[2]) + lines[:, columns[1]] * columns[2]
    return made


def _places(
    start: int, count: int, step: float, size: int
) -> tuple[NDArray[np.intp], NDArray[np.intp], NDArray[np.float32]]:
    at = np.clip((start + np.arange(count) + 0.5) * step - 0.5, 0, size - 1)
    below = np.floor(at).astype(np.intp)
    return below, np.minimum(below + 1, size - 1), (at - below).astype(np.float32)
