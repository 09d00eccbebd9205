"""Hard cuts: where a clip goes on with another picture.

From one frame to the next, corners of the picture are looked for again (pyramidal Lucas–Kanade). Where a shot goes on,
however it pans, shakes or changes its light, most are found, and found back from there; across a cut next to none
are. A flash, or a frame that something covers, is no cut: the picture of before is there again after it. Fades and
dissolves are not found.

References
----------
ShiTomasi1994 for the corners; Bouguet2001 for their way.
"""

from collections import deque
from collections.abc import Iterable, Iterator

import cv2
import numpy as np

from calado.arrays import Codes, Floats

#: pixels across in which corners are looked for
SIDE = 240
#: of so many corners a share says something
CORNERS, FEWEST = 160, 12
#: pixels by which a corner that is looked for there and back may miss itself
BACK = 0.7
#: the share of corners found again below which it is a cut; of few corners, the share of the histogram that is the same
FOUND, SAME = 0.2, 0.55
#: the same over a flash, in which the camera goes on
OVER_FLASH = 0.08
#: pixels of blur, and the share of the picture's spread by which it may change besides
SOFT, LITTLE = 2.0, 0.25
#: correlation of the squares around a corner and where it was found
ALIKE = 0.7
#: frames that a flash may last
FLASH = 3
#: so many other breaks nearby tell that it is none
UNREST = 2
HALF = 5


def small_grey(luma: Codes) -> Codes:
    """Return luma, shape (H, W), 8 bits, at the size in which cuts are looked for."""
    scale = SIDE / max(luma.shape)
    if scale >= 1:
        return np.ascontiguousarray(luma)
    size = max(round(luma.shape[1] * scale), 8), max(round(luma.shape[0] * scale), 8)
    return np.asarray(cv2.resize(luma, size, interpolation=cv2.INTER_AREA), np.uint8)


def cuts(frames: Iterable[Codes]) -> Iterator[int]:
    """Yield the number of each frame with which another shot begins, in order, as frames come; shape (H, W), 8 bits.

    A frame is told of as soon as so many after it have come as a flash may last.
    """
    held: deque[Codes] = deque(maxlen=FLASH + 2)
    #: where the picture broke lately, and those of them of which nothing is said yet
    lately: deque[int] = deque(maxlen=8)
    open_ones: list[int] = []
    number = -1
    for number, frame in enumerate(frames):
        held.append(frame)
        if number and not _goes_on(held[-2], frame):
            lately.append(number)
            open_ones.append(number)
        if open_ones and number - open_ones[0] >= FLASH:
            cut, open_ones = _told(open_ones, lately, held, number)
            yield from cut
    while open_ones:
        cut, open_ones = _told(open_ones, lately, held, number)
        yield from cut


def _told(open_ones: list[int], lately: Iterable[int], held: deque[Codes], last: int) -> tuple[list[int], list[int]]:
    """Return the first of some breaks if it is a cut, and those that are left; ``held`` ends with frame ``last``."""
    at, rest = open_ones[0], open_ones[1:]
    known = dict(zip(range(last, last - len(held), -1), reversed(held), strict=True))
    for again in range(at + 1, last + 1):
        if _goes_on(known[at - 1], known[again], OVER_FLASH) and not _goes_on(known[at], known[again]):
            # what came between is a flash, and where it ends is no cut either
            return [], [each for each in rest if each > again]
    # one break after another: something rushes by, or all is blurred
    near = sum(abs(each - at) <= FLASH + 1 for each in lately) - 1
    return ([at] if near < UNREST else []), rest


def _goes_on(first: Codes, second: Codes, found: float = FOUND) -> bool:
    """Return whether the second frame is of the same shot as the first."""
    if first.shape != second.shape:
        return False
    soft = [cv2.GaussianBlur(each, (0, 0), SOFT).astype(np.float32) for each in (first, second)]
    spread = max((float(each.std()) for each in soft), default=0.0)
    # next to nothing changed, as in a picture so soft that its corners are but noise
    if float(np.abs(soft[0] - soft[1]).mean()) <= LITTLE * spread + 0.5:
        return True
    share = _found_again(first, second)
    if 0 <= share <= found:
        share = _found_again(second, first)
    return share > found if share >= 0 else _histogram_shared(first, second) > SAME


def _found_again(first: Codes, second: Codes) -> float:
    """Return the share of a frame's corners that the other has; -1 where it has too few to say."""
    corners = cv2.goodFeaturesToTrack(first, CORNERS, 0.01, 5)
    if corners is None or len(corners) < FEWEST:
        return -1.0
    window = {"winSize": (15, 15), "maxLevel": 4}
    there, found, _ = cv2.calcOpticalFlowPyrLK(first, second, corners, None, **window)  # type: ignore[call-overload]
    back, again, _ = cv2.calcOpticalFlowPyrLK(second, first, there, None, **window)  # type: ignore[call-overload]
    near = np.linalg.norm((back - corners).reshape(-1, 2), axis=1) < BACK
    kept = near & (found.reshape(-1) == 1) & (again.reshape(-1) == 1)
    if not kept.any():
        return 0.0
    a, b = _squares(first, corners.reshape(-1, 2)[kept]), _squares(second, there.reshape(-1, 2)[kept])
    size = np.sqrt((a * a).sum(axis=(1, 2)) * (b * b).sum(axis=(1, 2)))
    alike = (a * b).sum(axis=(1, 2)) > ALIKE * np.maximum(size, 1e-6)
    return float(alike.sum()) / len(corners)


def _squares(picture: Codes, at: Floats) -> Floats:
    """Return the squares around some places, shape (N, side, side), without their mean."""
    reach = np.arange(-HALF, HALF + 1, dtype=np.float32)
    x = at[:, 0, None, None] + reach[None, None, :] + 0 * reach[None, :, None]
    y = at[:, 1, None, None] + reach[None, :, None] + 0 * reach[None, None, :]
    side = 2 * HALF + 1
    flat = cv2.remap(
        picture, x.reshape(-1, side), y.reshape(-1, side), cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
    )
    found = flat.reshape(-1, side, side).astype(np.float32)
    return np.asarray(found - found.mean(axis=(1, 2), keepdims=True), np.float32)


def _histogram_shared(first: Codes, second: Codes) -> float:
    """Return the share of the pixels of two frames that is of the same brightness."""
    a, b = (np.bincount(each.reshape(-1) >> 3, minlength=32) / each.size for each in (first, second))
    return float(np.minimum(a, b).sum())
