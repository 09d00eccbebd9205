"""Lines of lettering: where names, numbers and plates stand, as boxes, and how sure that is.

No model: marks that are as dark, or as light, against what is round them, of letters' sizes and of an even stroke, are
chained from left to right into lines (ours, after Epshtein2010). So only level lettering of five letters or more is
found.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes

#: heights of letters, in picture heights
SMALLEST, LARGEST = 0.008, 0.055
#: codes by which a mark differs from the mean around it, over a square of so many picture heights
CONTRAST, AROUND = 14, 0.03
#: a mark whose stroke varies more is no letter; a line whose letters' heights vary more is no line
UNEVEN_STROKE, UNEVEN_LINE = 0.6, 0.24
FEWEST = 5
#: letters of a line are of one ink: how much their colour against what is round them varies, over how strong it is
INK = 0.6
#: and stand on a line: how far, in letter heights, half of them are off the straightest of feet, middles and tops
BENT = 0.08
#: in letter heights: how far apart two letters of a line may stand, and how far off its level
APART, OFF = 1.1, 0.32
#: and two words of a line
WORD = 2.4
#: letters that touch are so wide at most
JOINED = 4.0
#: and how far they, or a mark of an uneven stroke, stand off a line's end, how tall they are at least, how many follow
NEAR, ALIKE, MOST_GROWN = 0.5, 0.6, 4
#: pixels round a mark that tell what it stands on
RING = 3
#: from how sure a line is offered
LEAST = 0.7
#: in letter heights: room left round a line
ROOM = 0.35


@dataclass(frozen=True)
class Box:
    """A rectangle of pixels, and the height of the letters in it; ``letters`` tells how many there are."""

    left: float
    top: float
    right: float
    bottom: float
    letter: float
    letters: int = 1
    uneven: float = 0.0


@dataclass(frozen=True)
class Text:
    """A line of lettering, ``box`` = (left, top, width, height) in picture heights; ``certainty`` 0…1."""

    box: tuple[float, float, float, float]
    certainty: float


def find_text(codes: Codes) -> list[Text]:
    """Return the lines of lettering in a picture of 8-bit codes, shape (H, W, 3), the surest first."""
    grey = cv2.cvtColor(codes, cv2.COLOR_RGB2GRAY)
    high = grey.shape[0]
    lines = []
    for plane in (grey, 255 - grey):
        labels, letters, others = _marks(np.asarray(plane, np.uint8))
        written = (line for line in _lines(letters) if _straight(line) and _one_ink(codes, labels, line))
        lines += [_grown(_line(letters), others) for letters in written]
    texts = [_text(line, high) for line in _joined(lines)]
    return sorted((each for each in texts if each.certainty >= LEAST), key=lambda each: -each.certainty)


def _marks(grey: NDArray[np.uint8]) -> tuple[NDArray[np.int32], list[Box], list[Box]]:
    """Return marks darker than what is round them: their labels, those that could be letters, and all the others.

    Letters come from left to right.

    The others are as tall as letters, yet of an uneven stroke, or several that touch: they begin no line, but may
    end one.
    """
    high = grey.shape[0]
    side = max(int(AROUND * high) | 1, 3)
    marks = cv2.adaptiveThreshold(grey, 255, cv2.ADAPTIVE_THRESH_MEAN_C, cv2.THRESH_BINARY_INV, side, CONTRAST)
    count, labels, found, _ = cv2.connectedComponentsWithStats(marks, connectivity=8)
    letters: list[Box] = []
    others: list[Box] = []
    for k in range(1, count):
        x, y, wide, tall, area = (int(each) for each in found[k])
        fits = SMALLEST * high <= tall <= LARGEST * high and 0.1 * tall <= wide <= JOINED * tall
        if fits and 0.12 * wide * tall < area:
            one = wide <= 1.9 * tall and _even(labels[y : y + tall, x : x + wide] == k)
            (letters if one else others).append(Box(x, y, x + wide, y + tall, tall))
    return np.asarray(labels, np.int32), sorted(letters, key=lambda each: each.left), others


def _even(mark: NDArray[np.bool_]) -> bool:
    """Return whether a mark's stroke is about as thick everywhere, measured along its middle."""
    depth = cv2.distanceTransform(np.pad(mark, 1).astype(np.uint8), cv2.DIST_L2, 3)
    ridge = depth[(depth > 0) & (depth == cv2.dilate(depth, np.ones((3, 3), np.uint8)))]
    return len(ridge) > 2 and float(ridge.std() / ridge.mean()) < UNEVEN_STROKE


def _lines(letters: list[Box]) -> Iterator[list[Box]]:
    """Yield lines of letters: each letter's next is the nearest to its right that is as tall and on its level."""
    left = set(range(len(letters)))
    for first in range(len(letters)):
        if first not in left:
            continue
        left.discard(first)
        line = [letters[first]]
        while (following := _next(line[-1], letters, left)) is not None:
            left.discard(following)
            line.append(letters[following])
        made = _line(line)
        level = made.bottom - made.top < 1.9 * made.letter
        if len(line) >= FEWEST and made.uneven < UNEVEN_LINE and level:
            yield line


def _line(letters: list[Box]) -> Box:
    heights = np.array([each.letter for each in letters])
    return _around(letters, float(np.median(heights)), float(heights.std() / heights.mean()))


def _straight(letters: list[Box]) -> bool:
    """Return whether letters stand in a line, as flags on a sagging string and stones do not."""
    across = np.array([each.left + each.right for each in letters])
    tops, feet = (np.array([getattr(each, side) for each in letters]) for side in ("top", "bottom"))
    tall = float(np.median(feet - tops))
    off = []
    for level in (tops, feet, (tops + feet) / 2):
        slope, start = np.polyfit(across, level, 1)
        off.append(float(np.median(np.abs(level - slope * across - start))))
    return min(off) < BENT * tall


def _one_ink(codes: Codes, labels: NDArray[np.int32], letters: list[Box]) -> bool:
    """Return whether all letters differ from what is round them by about the same colour."""
    inks = np.array([_ink(codes, labels, each) for each in letters])
    mean = inks.mean(axis=0)
    spread = np.sqrt(((inks - mean) ** 2).sum(axis=1).mean())
    return bool(spread < INK * np.linalg.norm(mean))


def _ink(codes: Codes, labels: NDArray[np.int32], letter: Box) -> NDArray[np.float64]:
    """Return by how much a mark's middle colour differs from that of the pixels round it that are no mark."""
    top, left = max(int(letter.top) - RING, 0), max(int(letter.left) - RING, 0)
    window = np.s_[top : int(letter.bottom) + RING, left : int(letter.right) + RING]
    inner = labels[int(letter.top) : int(letter.bottom), int(letter.left) : int(letter.right)]
    counts = np.bincount(inner[inner > 0])
    around, lab = labels[window] == 0, cv2.cvtColor(codes[window], cv2.COLOR_RGB2LAB).astype(np.float64)
    if not around.any():
        return np.zeros(3)
    mark = labels[window] == int(counts.argmax())
    return np.asarray(np.median(lab[mark], axis=0) - np.median(lab[around], axis=0))


def _next(letter: Box, letters: list[Box], left: set[int]) -> int | None:
    best, nearest = None, APART
    for k in left:
        other = letters[k]
        taller = max(letter.letter, other.letter)
        gap = (other.left - letter.right) / taller
        if not -0.3 < gap < nearest or min(letter.letter, other.letter) < 0.5 * taller:
            continue
        feet = abs(other.bottom - letter.bottom)
        middles = abs(other.top + other.bottom - letter.top - letter.bottom) / 2
        if min(feet, middles) < OFF * taller:
            best, nearest = k, gap
    return best


def _grown(line: Box, others: list[Box]) -> Box:
    """Return a line with the marks that are no single even letters yet stand at its ends."""
    for _ in range(MOST_GROWN):
        beside = next((each for each in others if _ends(line, each)), None)
        if beside is None:
            break
        line = _around([line, replace(beside, letters=0)], line.letter, line.uneven)
    return line


def _ends(line: Box, mark: Box) -> bool:
    gap = max(mark.left - line.right, line.left - mark.right) / line.letter
    level = line.top - OFF * line.letter < mark.top and mark.bottom < line.bottom + OFF * line.letter
    return -0.3 < gap < NEAR and level and mark.letter > ALIKE * line.letter


def _around(boxes: list[Box], letter: float, uneven: float) -> Box:
    return Box(
        min(each.left for each in boxes),
        min(each.top for each in boxes),
        max(each.right for each in boxes),
        max(each.bottom for each in boxes),
        letter,
        sum(each.letters for each in boxes),
        uneven,
    )


def _joined(lines: list[Box]) -> list[Box]:
    """Return the lines, those on one level that touch or nearly do as one."""
    made: list[Box] = []
    for line in sorted(lines, key=lambda each: each.left):
        for k, other in enumerate(made):
            room = WORD * max(line.letter, other.letter)
            level = min(line.bottom, other.bottom) - max(line.top, other.top)
            near = line.left < other.right + room and other.left < line.right + room
            if near and level > 0.5 * min(line.bottom - line.top, other.bottom - other.top):
                made[k] = _around([line, other], max(line.letter, other.letter), min(line.uneven, other.uneven))
                break
        else:
            made.append(replace(line))
    return made


def _text(line: Box, high: int) -> Text:
    room = ROOM * line.letter
    left, top = (line.left - room) / high, (line.top - room) / high
    box = (left, top, (line.right + room) / high - left, (line.bottom + room) / high - top)
    # more letters, and more alike, are surer (ours)
    return Text(box, round(min(0.6 + 0.03 * line.letters, 0.95) * (1 - line.uneven), 2))
