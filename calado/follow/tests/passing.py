"""Clips of three of the demo's heads that pass through a still, behind a post and out of the frame, by seeds."""

import json
from typing import NamedTuple

import cv2
import numpy as np

from calado.arrays import Codes
from calado.detect.tests.small_faces import GROUNDS, HEADS
from calado.detect.tests.written import STILLS, still

SIZE, FRAMES = (1200, 800), 72
#: heights of the faces in pixels, how fast they go in pixels a frame, and the width of the post
TALL, FAST, POST = (70.0, 110.0), (1.0, 7.0), 130


class Head(NamedTuple):
    """A face in a frame: its middle and height in pixels, and the share of it that shows."""

    name: str
    x: float
    y: float
    tall: float
    shows: float


def passing(seed: int) -> list[tuple[Codes, list[Head]]]:
    """Return the frames of a clip, each with the faces in it."""
    rng = np.random.default_rng(seed)
    ground = cv2.resize(still(GROUNDS[seed % len(GROUNDS)]), SIZE, interpolation=cv2.INTER_AREA)
    post = int(rng.uniform(0.2, 0.8) * SIZE[0])
    heads = []
    for row, name in enumerate(rng.permutation(HEADS)[:3]):
        tall = rng.uniform(*TALL)
        small, middle = _cut(str(name), tall)
        going = float(rng.uniform(*FAST) * rng.choice((-1, 1)))
        begin = float(rng.uniform(0, SIZE[0]))
        # each has a lane of its own
        at = (row + 0.5) * SIZE[1] / 3 + float(rng.uniform(-20, 20))
        heads.append((str(name), small, middle, tall, begin, going, at))
    made = []
    for frame in range(FRAMES):
        picture, seen = ground.copy(), []
        for name, small, (mx, my), tall, begin, going, at in heads:
            # out at one side, it comes back at the other
            x = (begin + going * frame + tall) % (SIZE[0] + 2 * tall) - tall
            _lay(picture, small, round(x - mx), round(at - my))
            half = 0.4 * tall
            free = np.ones(SIZE[0], bool)
            free[post : post + POST] = False
            columns = np.arange(int(x - half), int(x + half))
            inside = columns[(columns >= 0) & (columns < SIZE[0])]
            seen.append(Head(name, x, at, tall, float(free[inside].sum()) / max(len(columns), 1)))
        picture[:, post : post + POST] = ground[:, post : post + POST] // 2
        made.append((picture, seen))
    return made


def _cut(name: str, tall: float) -> tuple[Codes, tuple[float, float]]:
    """Return a still's face so many pixels tall, with what is round it, and where its middle is there."""
    truth = json.loads((STILLS.parent / "truth" / "truth.json").read_text())["stills"]
    left, top, right, bottom = truth[name]["faces"][0]["box"]
    scale, room = tall / (bottom - top), 0.85 * (bottom - top)
    x, y = (left + right) / 2, (top + bottom) / 2
    x0, y0 = int(max(x - room, 0)), int(max(y - room, 0))
    cut = still(name)[y0 : int(y + room), x0 : int(x + room)]
    small = np.asarray(cv2.resize(cut, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA), np.uint8)
    return small, ((x - x0) * scale, (y - y0) * scale)


def _lay(picture: Codes, small: Codes, left: int, top: int) -> None:
    high, wide = picture.shape[:2]
    x0, y0 = max(left, 0), max(top, 0)
    x1, y1 = min(left + small.shape[1], wide), min(top + small.shape[0], high)
    if x1 > x0 and y1 > y0:
        picture[y0:y1, x0:x1] = small[y0 - top : y1 - top, x0 - left : x1 - left]


#: the height of the face that goes by, its way in pixels a frame, and where its middle is at first
BY_TALL, BY_STEP, BY_FROM = 64.0, 3, (90, 84)


def going_by(frame: int, size: tuple[int, int]) -> Codes:
    """Draw a frame of one head that goes to the right before the wood."""
    picture = cv2.resize(still("g_wood"), size, interpolation=cv2.INTER_AREA)
    small, (x, y) = _cut("e_booth", BY_TALL)
    _lay(picture, small, round(by_at(frame)[0] - x), round(by_at(frame)[1] - y))
    return np.asarray(picture, np.uint8)


def by_at(frame: int) -> tuple[float, float]:
    """Return where the middle of that face is, in pixels."""
    return BY_FROM[0] + BY_STEP * frame, BY_FROM[1]
