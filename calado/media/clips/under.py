"""How much of what a cover hides came through to a finished frame.

Under a cover the file must not vary with the source. With e = file − what was ordered, and t = source − what was
ordered, over all codes of luma and chroma under the cover, the least-squares share b = Σet/Σt² is how much of what was
there came through: 0 where nothing did, 1 where it was not covered at all; an encoder's own error depends on what it
was given, not on the source. How far b may be off by chance follows from how both hang together in space: with what is
left over, r = e − bt, and the autocorrelations A of r and t, the variance of Σet over n samples is ΣA_r·A_t / n
(Bartlett1946, there of series in time). Where the cover is noise that cannot be made again, e and t are the file and
the source without all that is coarser than a few pixels.
"""

import cv2
import numpy as np
import scipy
from numpy.typing import NDArray

from calado.media.clips.planes import Layout, Picture

#: True under a cover, shape (H, W)
Hidden = NDArray[np.bool_]
Floats = NDArray[np.float64]
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
    planes: list[tuple[Floats, Floats, int]] = []
    top = written.layout.top
    for came, wanted, was in zip(written.colour, ordered.colour, before.colour, strict=True):
        under = _on(hidden, came.shape, written.layout)
        if not under.any():
            continue
        box = _box(under)
        under = under[box]
        file, ask, source = (each[box].astype(np.float64) / top for each in (came, wanted, was))
        e, t = (_fine(file), _fine(source)) if noisy else (file - ask, source - ask)
        planes.append((e * under, t * under, int(under.sum())))
    count = sum(each for _, _, each in planes)
    contrast = sum(float((t * t).sum()) for _, t, _ in planes)
    if count == 0 or contrast < count * FLAT**2:
        return 0.0, 0.0
    share = sum(float((e * t).sum()) for e, t, _ in planes) / contrast
    spread = float(np.sqrt(sum(_by_chance(e - share * t, t) / each for e, t, each in planes))) / contrast
    return max(abs(share) - ERRORS * spread, 0.0), min(abs(share) + ERRORS * spread, 1.0)


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
