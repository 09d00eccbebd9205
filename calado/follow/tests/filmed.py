"""Clips made from a seed, with the exact truth of a camera that turns and zooms before a set: people go in front of it.

Places are in pixels whose centres are whole numbers. Codes are grey, 8 bits.
"""

from collections.abc import Iterator
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes, Floats
from calado.follow.fits import Matrix
from calado.follow.tests.moving import Made, texture

#: of the sphere that the camera looks at, its width in degrees and pixels a degree
WIDE, FINE = 150.0, 16.0


@dataclass(frozen=True)
class Take:
    """What the camera does over the frames: degrees that it turns across, up and about its axis; how far it zooms."""

    pan: float = 20.0
    tilt: float = 0.0
    roll: float = 0.0
    zoom: float = 1.0
    #: degrees by which it shakes, codes of noise, stops by which light changes
    shake: float = 0.0
    noise: float = 1.0
    light: float = 0.0
    #: share of the frame's width that somebody who walks by takes, and whether the camera comes back
    walker: float = 0.0
    back: bool = False
    #: frames in which another shot is shown, and how much the set's texture varies, codes
    elsewhere: range = range(0)
    spread: float = 40.0


#: what is tried, by name
TAKES = {
    "pans by 20°": Take(),
    "pans by 70°, past all it began with": Take(pan=70),
    "… and comes back": Take(pan=70, back=True),
    "zooms × 2.2, rolls by 12°": Take(pan=4, zoom=2.2, roll=12),
    "zooms out, × 0.5": Take(pan=4, zoom=0.5),
    "shakes": Take(pan=6, tilt=4, shake=0.25),
    "somebody walks by, a third of the frame": Take(pan=15, walker=0.33),
    "noise of 12 codes": Take(noise=12),
    "light by 1.2 stops": Take(light=1.2),
    "hardly any texture": Take(spread=6, noise=2),
    "another shot between": Take(elsewhere=range(16, 26)),
    "all of it": Take(pan=40, zoom=1.5, roll=6, shake=0.15, walker=0.25, noise=6, light=0.8, elsewhere=range(20, 26)),
}


class Film:
    """Frames of a take."""

    def __init__(self, take: Take, seed: int, frames: int = 48, size: tuple[int, int] = (640, 360)) -> None:
        self._take, self._count, self.size = take, frames, size
        rng = self._rng = np.random.default_rng(seed)
        self._set = texture(rng, int(WIDE * FINE), int(70 * FINE), 60, take.spread)
        self._other = texture(rng, *size, 40)
        self._walker = texture(rng, max(int(size[0] * take.walker), 8), size[1], 30)
        self._shaken = rng.normal(0, 1, (frames, 2)) * take.shake
        self._first = self._to_sphere(0)

    def frames(self) -> Iterator[Made]:
        """Yield all frames, with the matrix that takes places of frame 0 to each."""
        for number in range(self._count):
            matrix = np.linalg.inv(self._to_sphere(number)) @ self._first
            yield Made(self._drawn(number), matrix / matrix[2, 2])

    def _share(self, number: int) -> float:
        share = number / max(self._count - 1, 1)
        if self._take.back:
            share = 1 - abs(2 * share - 1)
        return share * share * (3 - 2 * share)

    def _to_sphere(self, number: int) -> Matrix:
        """Return the map from a frame's pixels to rays of the set."""
        take, share = self._take, self._share(number)
        wide, high = self.size
        far = wide * 1.1 * take.zoom**share
        across, up = (np.radians(each) for each in (take.pan * (share - 0.5), take.tilt * share))
        across, up = across + np.radians(self._shaken[number, 0]), up + np.radians(self._shaken[number, 1])
        about = np.radians(take.roll * share)
        pinhole = np.linalg.inv([[far, 0, (wide - 1) / 2], [0, far, (high - 1) / 2], [0, 0, 1]])
        c, s = np.cos(about), np.sin(about)
        roll = np.array([[c, -s, 0], [s, c, 0], [0, 0, 1]])
        c, s = np.cos(up), np.sin(up)
        tilt = np.array([[1, 0, 0], [0, c, -s], [0, s, c]])
        c, s = np.cos(across), np.sin(across)
        pan = np.array([[c, 0, s], [0, 1, 0], [-s, 0, c]])
        return np.asarray(pan @ tilt @ roll @ pinhole, np.float64)

    def _drawn(self, number: int) -> Codes:
        wide, high = self.size
        take, share = self._take, self._share(number)
        rows, columns = np.mgrid[0:high, 0:wide]
        rays = np.stack([columns, rows, np.ones_like(rows)], -1) @ self._to_sphere(number).T
        # what is round about, unrolled: degrees across and up
        across = np.degrees(np.arctan2(rays[..., 0], rays[..., 2])) * FINE + self._set.shape[1] / 2
        up = np.degrees(np.arctan2(rays[..., 1], np.hypot(rays[..., 0], rays[..., 2]))) * FINE + self._set.shape[0] / 2
        seen = cv2.remap(self._set, across.astype(np.float32), up.astype(np.float32), cv2.INTER_CUBIC)
        if number in take.elsewhere:
            seen = self._other.copy()
        elif take.walker:
            self._walked(seen, number)
        seen = seen * 2.0 ** (-take.light * np.sin(np.pi * share))
        return np.clip(np.rint(seen + self._rng.normal(0, take.noise, seen.shape)), 0, 255).astype(np.uint8)

    def _walked(self, seen: Floats, number: int) -> None:
        """Lay somebody who walks by over a frame, with edges that are soft."""
        wide = self._walker.shape[1]
        left = (self.size[0] + 2 * wide) * number / max(self._count - 1, 1) - 1.5 * wide
        before: Matrix = np.array([[1.0, 0, left], [0, 1, 0]])
        laid = cv2.warpAffine(self._walker, before, self.size)
        over = cv2.warpAffine(np.ones_like(self._walker), before, self.size)
        seen[...] = seen * (1 - over) + laid


def off_at_corners(found: Matrix, truth: Matrix, size: tuple[int, int]) -> float:
    """Return by how many pixels the worst corner of a frame is off, of what takes places of frame 0 to it."""
    corners: NDArray[np.float64] = np.array([[0.0, 0], [size[0] - 1, 0], [size[0] - 1, size[1] - 1], [0, size[1] - 1]])
    moved = cv2.perspectiveTransform(corners[None], found @ np.linalg.inv(truth))[0]
    return float(np.linalg.norm(moved - corners, axis=1).max())
