"""A made scene with its exact truth: a figure with a fringe that walks behind a pillar, past a camera that pans."""

from functools import cache

import cv2
import numpy as np

from calado.arrays import Codes, Floats

SIZE = (320, 180)
#: pixels a frame by which the figure goes and the camera pans, where the pillar stands in the first frame, how wide
STEP, PAN, PILLAR = 7.0, 1.25, (196, 16)
#: drawn so many times larger, then averaged
FINE = 4


@cache
def _ground() -> Codes:
    rng = np.random.default_rng(7)
    blots = rng.integers(40, 150, (9, 20, 3)).astype(np.float32)
    fine = rng.integers(-14, 14, (SIZE[1], SIZE[0] + 80, 1)).astype(np.float32)
    large = cv2.resize(blots, (SIZE[0] + 80, SIZE[1]), interpolation=cv2.INTER_CUBIC)
    return np.clip(large * [0.7, 1.0, 1.1] + cv2.GaussianBlur(fine, (0, 0), 1)[..., None] * 3, 0, 255).astype(np.uint8)


def middle(frame: int) -> tuple[float, float]:
    """Return where the figure's middle is, in pixels."""
    return 50 + STEP * frame, 92.0


def truth(frame: int) -> Floats:
    """Return the figure's alpha, shape (H, W), hidden parts left out."""
    shape = _drawn(frame)
    left = PILLAR[0] - PAN * frame
    columns = np.arange(SIZE[0] + 1.0)
    hidden = np.clip(np.minimum(columns[1:], left + PILLAR[1]) - np.maximum(columns[:-1], left), 0, 1)
    return np.asarray(shape * (1 - hidden)[None], np.float32)


def _drawn(frame: int) -> Floats:
    made = np.zeros((SIZE[1] * FINE, SIZE[0] * FINE), np.uint8)
    x, y = middle(frame)

    def at(dx: float, dy: float) -> tuple[int, int]:
        return round((x + dx) * FINE), round((y + dy) * FINE)

    swing = np.sin(frame * 0.9)
    for side in (-1, 1):
        cv2.line(made, at(side * 5, 22), at(side * 5 + side * 14 * swing, 62), 255, 7 * FINE)
        cv2.line(made, at(side * 12, -16), at(side * (14 + 8 * swing), 18), 255, 5 * FINE)
    cv2.ellipse(made, at(0, 4), (15 * FINE, 26 * FINE), 0, 0, 360, 255, -1)
    cv2.ellipse(made, at(0, -38), (14 * FINE, 17 * FINE), 0, 0, 360, 255, -1)
    rng = np.random.default_rng(3)
    for turn in rng.uniform(-np.pi, 0, 60):
        tip = 20 + 8 * rng.random()
        cv2.line(made, at(0, -40), at(1.1 * tip * np.cos(turn), -38 + tip * np.sin(turn)), 255, 2)
    return cv2.resize(made, SIZE, interpolation=cv2.INTER_AREA).astype(np.float32) / 255


def frame_of(frame: int) -> Codes:
    """Return a frame's codes, shape (H, W, 3)."""
    pan = np.array([[1, 0, -PAN * frame], [0, 1, 0]])
    ground = cv2.warpAffine(_ground(), pan, SIZE, flags=cv2.INTER_CUBIC).astype(np.float32)
    x, _ = middle(frame)
    rows, columns = np.mgrid[: SIZE[1], : SIZE[0]]
    coat = np.dstack([150 + 40 * np.sin((columns - x) / 4), 60 + 20 * np.cos(rows / 5), 70 + 0 * rows])
    head = np.dstack([210 + 20 * np.sin((columns - x) / 3), 160 + 10 * np.sin(rows / 2), 120 + 0 * rows])
    own = np.where((rows < 72)[..., None], head, coat)
    alpha = truth(frame)[..., None]
    pillar = np.abs(columns - (PILLAR[0] - PAN * frame + PILLAR[1] / 2)) < PILLAR[1] / 2
    ground[pillar] = 0.3 * ground[pillar] + [90, 80, 40]
    noise = np.random.default_rng(frame).normal(0, 1.0, (*SIZE[::-1], 3))
    return np.clip(np.rint(ground * (1 - alpha) + own * alpha + noise), 0, 255).astype(np.uint8)


def scene(frame: int, size: tuple[int, int]) -> Codes:
    """Draw a frame for a made clip."""
    assert size == SIZE
    return frame_of(frame)
