"""A person's marks, modelled: first strokes on a subject and its surround, drawn at random from its exact matte.

A loose outline too, and the next stroke, put where an answer is most wrong.
"""

from itertools import pairwise

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.sheet.models import Does, Stroke

#: of a stroke: its points, their distance and its width in picture heights
STEPS, STEP, SIZE = 16, 12 / 1067, 0.02
#: how far around the subject the surround is marked, in picture heights
NEAR, FAR = 0.02, 0.15
#: a next mark: how long it is at most, in picture heights, how thin and how thick, and the error that is worth one
LONGEST, THIN, LEAST_ERROR = 0.1, 0.004, 80
#: a loose outline: how far from the subject, how uneven, in picture heights, and how many points it has
LOOSE, UNEVEN, POINTS = 0.03, 0.008, 40
Mask = NDArray[np.bool_]


def drawn_marks(subject: Mask, seed: int, inside: int, outside: int) -> tuple[Stroke, ...]:
    """Return strokes on a subject, one in each equal slice of its height, and around it, one in each equal sector."""
    random = np.random.default_rng(seed)
    height = subject.shape[0]
    within, beyond = (cv2.distanceTransform(m.astype(np.uint8), cv2.DIST_L2, 5) / height for m in (subject, ~subject))
    rows, columns = np.nonzero(subject)
    slices = np.quantile(rows, np.linspace(0, 1, inside + 1))
    row = np.arange(height)[:, None]
    core = within > min(8 / 1067, within.max() / 2)
    made = [
        _stroke(random, core & (row >= low) & (row <= high), within > 3 / 1067, "add") for low, high in pairwise(slices)
    ]
    y, x = np.mgrid[:height, : subject.shape[1]]
    turn = (np.arctan2(y - rows.mean(), x - columns.mean()) + random.uniform(0, 2 * np.pi)) % (2 * np.pi)
    ring, sector = (beyond > NEAR) & (beyond < FAR), 2 * np.pi / max(outside, 1)
    for k in range(outside):
        there = ring & (turn >= sector * k) & (turn < sector * (k + 1))
        made.append(_stroke(random, there, beyond > 0.015, "erase"))
    return tuple(made)


def _stroke(random: np.random.Generator, starts: Mask, allowed: Mask, does: Does) -> Stroke:
    """Return a stroke that wanders where it may, and turns back where it may not."""
    height, width = allowed.shape
    rows, columns = np.nonzero(starts if starts.any() else allowed)
    chosen = random.integers(len(rows))
    way, angle = [np.array([columns[chosen], rows[chosen]], float)], random.uniform(0, 2 * np.pi)
    for _ in range(STEPS):
        there = way[-1] + STEP * height * np.array([np.cos(angle), np.sin(angle)])
        x, y = there.round().astype(int)
        free = 0 <= x < width and 0 <= y < height and allowed[y, x]
        if free:
            way.append(there)
        angle += random.normal(0, 0.25) if free else random.uniform(1.5, 4.5)
    flat = tuple(float(value) for x, y in way for value in (x / height, y / height, 1.0))
    return Stroke(points=flat, does=does, size=SIZE, hardness=1.0)


def next_mark(found: Mask, subject: Mask) -> Stroke | None:
    """Return a stroke in the deepest of the largest error, along it; None where hardly anything is wrong."""
    height = subject.shape[0]
    best: tuple[int, Does, NDArray[np.float32]] | None = None
    wrongs: tuple[tuple[Does, Mask], ...] = ("add", subject & ~found), ("erase", found & ~subject)
    for does, wrong in wrongs:
        count, labels, stats, _ = cv2.connectedComponentsWithStats(wrong.astype(np.uint8))
        if count > 1 and (best is None or stats[1:, cv2.CC_STAT_AREA].max() > best[0]):
            largest = 1 + int(stats[1:, cv2.CC_STAT_AREA].argmax())
            depth = cv2.distanceTransform(np.pad(wrong, 1).astype(np.uint8), cv2.DIST_L2, 3)[1:-1, 1:-1]
            best = int(stats[largest, cv2.CC_STAT_AREA]), does, np.where(labels == largest, depth, 0)
    if best is None or best[0] < LEAST_ERROR:
        return None
    _, does, depth = best
    y, x = np.unravel_index(int(depth.argmax()), depth.shape)
    rows, columns = np.nonzero(depth)
    spread = np.cov(np.stack([columns, rows])) if len(rows) > 1 else np.eye(2)
    along = np.linalg.eigh(spread)[1][:, -1]
    steps = np.arange(-LONGEST / 2, LONGEST / 2 + 0.001, LONGEST / 10) * height
    places = np.rint([x, y] + steps[:, None] * along).astype(int)
    places = np.array([(a, b) for a, b in places if 0 <= b < height and 0 <= a < depth.shape[1] and depth[b, a] > 0])
    places = places if len(places) else np.array([(x, y)])
    flat = tuple(float(value) for a, b in places for value in ((a + 0.5) / height, (b + 0.5) / height, 1.0))
    size = float(np.clip(depth.max() / height, THIN, SIZE))
    return Stroke(points=flat, does=does, size=size, hardness=1.0)


def loose_outline(subject: Mask, seed: int) -> tuple[tuple[float, float], ...]:
    """Return an uneven outline round the largest patch of a subject, in picture heights."""
    random = np.random.default_rng(seed)
    height = subject.shape[0]
    grown = cv2.distanceTransform((~np.pad(subject, height // 10)).astype(np.uint8), cv2.DIST_L2, 5) < LOOSE * height
    outlines, _ = cv2.findContours(grown.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    way = max(outlines, key=cv2.contourArea)[:, 0].astype(float) - height // 10
    places = way[np.linspace(0, len(way), POINTS, endpoint=False).astype(int)] / height
    places += random.normal(0, UNEVEN, places.shape)
    return tuple((float(x), float(y)) for x, y in places)
