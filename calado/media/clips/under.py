"""How much of what a cover hides came through to a finished frame.

Under a cover the file must not vary with the source. With e = file − what was ordered, and t = source − what was
ordered, over all codes of luma and chroma under the cover, the least-squares share b = Σet/Σt² is how much of what was
there came through: 0 where nothing did, 1 where it was not covered at all; an encoder's own error depends on what it
was given, not on the source. Where the cover is noise that cannot be made again, e and t are the file and the source
without all that is coarser than a few pixels.
"""

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.media.clips.planes import Layout, Picture

#: True under a cover, shape (H, W)
Hidden = NDArray[np.bool_]
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
    through = contrast = error = 0.0
    count = 0
    top = written.layout.top
    for came, wanted, was in zip(written.colour, ordered.colour, before.colour, strict=True):
        under = _on(hidden, came.shape, written.layout)
        if not under.any():
            continue
        box = _box(under)
        under = under[box]
        file, ask, source = (each[box].astype(np.float64) / top for each in (came, wanted, was))
        e, t = (_fine(file), _fine(source)) if noisy else (file - ask, source - ask)
        e, t = e[under], t[under]
        through += float((e * t).sum())
        contrast += float((t * t).sum())
        error += float((e * e).sum())
        count += e.size
    if count == 0 or contrast < count * FLAT**2:
        return 0.0, 0.0
    share = through / contrast
    spread = float(np.sqrt(max(error - share * through, 0.0) / count / contrast))
    return max(abs(share) - ERRORS * spread, 0.0), min(abs(share) + ERRORS * spread, 1.0)


def _fine(plane: NDArray[np.float64]) -> NDArray[np.float64]:
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
