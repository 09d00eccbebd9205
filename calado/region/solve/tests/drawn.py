"""A person's first marks, modelled: strokes on a subject and on its surround, drawn at random from its exact matte."""

from itertools import pairwise

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.sheet.models import Does, Stroke

#: of a stroke: its points, their distance and its width in picture heights
STEPS, STEP, SIZE = 16, 12 / 1067, 0.02
#: how far around the subject the surround is marked, in picture heights
NEAR, FAR = 0.02, 0.15
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
