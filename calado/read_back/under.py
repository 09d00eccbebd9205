"""How much of what a cover hides came through to a finished frame.

Under a cover the file must not vary with the source. With e = file − what was ordered, and t = source − what was
ordered, over all codes of luma and chroma under the cover, the least-squares share b = Σet/Σt² is how much of what was
there came through: 0 where nothing did, 1 where it was not covered at all; an encoder's own error depends on what it
was given, not on the source. How far b may be off by chance follows from how both hang together in space: with what is
left over, r = e − bt, and the autocorrelations A of r and t, the variance of Σet over n samples is ΣA_r·A_t / n
(Bartlett1946, there of series in time). Where the cover is noise that cannot be made again, e and t are the file and
the source without all that is coarser than a few pixels.
"""

from dataclasses import dataclass
from functools import cached_property
from typing import Any

import cv2
import numpy as np
import scipy
from numpy.typing import NDArray

from calado.media.clips.planes import Layout, Picture

#: True under a cover, shape (H, W)
Hidden = NDArray[np.bool_]
Floats = NDArray[np.float64]
Samples = NDArray[Any]
#: so many standard errors lie between what was found and what is said at most
ERRORS = 4.0
#: pixels above which detail is left out where a cover's noise cannot be made again
FINE = 7
#: contrast under a cover, of white, below which there is nothing that could come through
FLAT = 0.002


def left_under(
    written: Picture, ordered: Picture, before: Picture, hidden: Hidden, *, noisy: bool
) -> tuple[float, float]:
    """Return which share of the contrast under a cover came through, at least and at most; 0 where there was none.

    ``hidden`` is True under the cover, shape (H, W), as stored.
    """
    planes: list[_Under] = []
    for came, wanted, was in zip(written.colour, ordered.colour, before.colour, strict=True):
        under = _on(hidden, came.shape, written.layout)
        if under.any():
            planes.append(_under(came, wanted, was, under, written.layout.top, noisy=noisy))
    count, contrast = sum(each.count for each in planes), sum(each.contrast for each in planes)
    if count == 0 or contrast < count * FLAT**2:
        return 0.0, 0.0
    share = sum(each.along for each in planes) / contrast
    return _bounds(share, sum(each.by_chance(share) for each in planes), contrast)


class LeftInBands:
    """The same of a picture that comes a band at a time; what is left over is told from each band's own share."""

    def __init__(self, *, noisy: bool) -> None:
        self._noisy = noisy
        self._count, self._along, self._contrast, self._chance = 0, 0.0, 0.0, 0.0

    def add(self, came: Samples, wanted: Samples, was: Samples, hidden: Hidden, top: float) -> None:
        """Take a band: the file, what was ordered and the source, each (H, W, C), and what is hidden, (H, W)."""
        if not hidden.any():
            return
        for channel in range(came.shape[2]):
            each = _under(came[..., channel], wanted[..., channel], was[..., channel], hidden, top, noisy=self._noisy)
            self._count += each.count
            self._along += each.along
            self._contrast += each.contrast
            self._chance += each.by_chance(each.along / each.contrast) if each.contrast > 0 else 0.0

    @property
    def covers(self) -> bool:
        """Whether anything lies under the cover."""
        return self._count > 0

    def shares(self) -> tuple[float, float]:
        """Return which share of the contrast came through, at least and at most."""
        if self._count == 0 or self._contrast < self._count * FLAT**2:
            return 0.0, 0.0
        return _bounds(self._along / self._contrast, self._chance, self._contrast)


def _bounds(share: float, variance: float, contrast: float) -> tuple[float, float]:
    spread = float(np.sqrt(variance)) / contrast
    return min(max(abs(share) - ERRORS * spread, 0.0), 1.0), min(abs(share) + ERRORS * spread, 1.0)


@dataclass(frozen=True, eq=False)
class _Under:
    """How file and source differ from what was ordered under a cover, 0 elsewhere, over so many samples."""

    file: Floats
    source: Floats
    count: int

    @cached_property
    def along(self) -> float:
        return float((self.file * self.source).sum())

    @cached_property
    def contrast(self) -> float:
        return float((self.source * self.source).sum())

    def by_chance(self, share: float) -> float:
        """Return the variance of ``along`` if no more than a share came through."""
        return _by_chance(self.file - share * self.source, self.source) / self.count


def _under(came: Samples, wanted: Samples, was: Samples, under: Hidden, top: float, *, noisy: bool) -> _Under:
    box = _box(under)
    under = under[box]
    file, ask, source = (each[box].astype(np.float64) / top for each in (came, wanted, was))
    e, t = (_fine(file), _fine(source)) if noisy else (file - ask, source - ask)
    return _Under(e * under, t * under, int(under.sum()))


def _by_chance(rest: Floats, t: Floats) -> float:
    """Return the sum over all shifts of the product of two planes' autocorrelations."""
    size = [scipy.fft.next_fast_len(2 * side, real=True) for side in t.shape]
    powers = [np.abs(scipy.fft.rfft2(each.astype(np.float32), s=size)).astype(np.float64) ** 2 for each in (rest, t)]
    both = powers[0] * powers[1]
    # but for the first column, and the last of an even number, each stands for two
    once = both[:, 0].sum() + (both[:, -1].sum() if size[1] % 2 == 0 else 0.0)
    return float(2 * both.sum() - once) / (size[0] * size[1])


def _fine(plane: Floats) -> Floats:
    """Return a plane without what is coarser than a few pixels."""
    return np.asarray(plane - cv2.blur(plane, (FINE, FINE)))


def _on(hidden: Hidden, shape: tuple[int, ...], layout: Layout) -> Hidden:
    """Return which samples of a plane stand on hidden pixels alone."""
    if hidden.shape == shape:
        return hidden
    whole = np.ones((shape[0] * layout.down, shape[1] * layout.across), bool)
    whole[: hidden.shape[0], : hidden.shape[1]] = hidden
    on = np.ones(shape, bool)
    for row in range(layout.down):
        for column in range(layout.across):
            on &= whole[row :: layout.down, column :: layout.across]
    return on


def _box(under: Hidden) -> tuple[slice, slice]:
    """Return the rows and columns round what is under a cover, with room for what is fine."""
    bounds = []
    for axis in (1, 0):
        at = np.flatnonzero(under.any(axis=axis))
        bounds.append(slice(max(int(at[0]) - FINE, 0), int(at[-1]) + FINE + 1))
    return bounds[0], bounds[1]
