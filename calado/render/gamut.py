"""Light beyond what codes hold: rolled off towards white with its hue kept, where clipping each channel turns it.

A pixel whose largest channel m is beyond 1 is scaled by 1/√m, half the way back in stops; what is still beyond is led
to the border of the colours that codes hold by its chroma in OKLab, lightness and hue kept (CSSColor4's way; the half
is our choice: brighter and paler, as film and eye have it). All others stay as they are, bit for bit: what no pass
touched is never changed, so there is no shoulder below white. Channels below 0 are left to clip.

References
----------
CSSColor4, Ottosson2020
"""

from functools import lru_cache

import numba as nb
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Planes
from calado.colour.oklab import LMS_TO_LAB, lms_to_rgb, rgb_to_lms
from calado.colour.spaces import ColourSpace
from calado.compiled import compiled
from calado.numeric import cbrt
from calado.strips import for_rows

#: nothing nearer to 1 is beyond it
BEYOND = 1.0001
#: halvings in the search for the border: a thousandth of the chroma
STEPS = 10


@compiled("boolean(float32[::1], float32[::1], float32[::1])")
def any_beyond(red, green, blue):  # type: ignore[no-untyped-def]
    """Return whether any channel of any pixel of a row is beyond white."""
    # counted and not only noticed, which is vectors; a comparison with NaN is false
    limit, count = nb.float32(BEYOND), 0
    for x in range(red.size):
        count += nb.int32(red[x] >= limit) + nb.int32(green[x] >= limit) + nb.int32(blue[x] >= limit)
    return count > 0


@compiled("boolean(float32[:, :, ::1])")
def _any_beyond(planes):  # type: ignore[no-untyped-def]
    rows = 0
    for y in range(planes.shape[1]):
        rows += any_beyond(planes[0, y], planes[1, y], planes[2, y])
    return rows > 0


@compiled("void(float32[::1], float32[::1], float32[::1], float32[:, :, ::1])")
def lead_row(red, green, blue, matrices):  # type: ignore[no-untyped-def]
    """Lead a row, in place; matrices: RGB→LMS, LMS′→OKLab, OKLab→LMS′, LMS→RGB."""
    one = nb.float32(1)
    lms, lab, made = np.empty(3, np.float32), np.empty(3, np.float32), np.empty(3, np.float32)
    for x in range(red.size):
        r, g, b = red[x], green[x], blue[x]
        most = max(r, max(g, b))
        if not most > BEYOND:
            continue
        scale = one / np.sqrt(most)
        for k in range(3):
            lms[k] = cbrt(scale * (matrices[0, k, 0] * r + matrices[0, k, 1] * g + matrices[0, k, 2] * b))
        for k in range(3):
            lab[k] = matrices[1, k, 0] * lms[0] + matrices[1, k, 1] * lms[1] + matrices[1, k, 2] * lms[2]
        low, high, share = nb.float32(0), one, one
        if lab[0] >= one or not np.isfinite(lab[0]):
            share = nb.float32(-1)
        step = 0
        while share >= 0 and step <= STEPS:
            for k in range(3):
                root = (
                    matrices[2, k, 0] * lab[0] + share * matrices[2, k, 1] * lab[1] + share * matrices[2, k, 2] * lab[2]
                )
                lms[k] = root * root * root
            for k in range(3):
                made[k] = matrices[3, k, 0] * lms[0] + matrices[3, k, 1] * lms[1] + matrices[3, k, 2] * lms[2]
            if max(made[0], max(made[1], made[2])) <= one:
                low = share
                if step == 0:
                    break
            else:
                high = share
            share = nb.float32(0.5) * (low + high) if step < STEPS - 1 else low
            step += 1
        red[x] = min(made[0], one) if share >= 0 else one
        green[x] = min(made[1], one) if share >= 0 else one
        blue[x] = min(made[2], one) if share >= 0 else one


@compiled("void(float32[:, :, ::1], float32[:, :, ::1], int64, int64)")
def _led_rows(planes, matrices, first, last):  # type: ignore[no-untyped-def]
    for y in range(first, last):
        lead_row(planes[0, y], planes[1, y], planes[2, y], matrices)


def led_to_gamut(planes: Planes, space: ColourSpace) -> Planes:
    """Return planes, shape (3, H, W), none of whose finite values is beyond 1; the same array where none was."""
    planes = np.ascontiguousarray(planes, np.float32)
    if not _any_beyond(planes):
        return planes
    made = planes.copy()
    matrices = leading_matrices(space)
    for_rows(planes.shape[1], 32, lambda first, last: _led_rows(made, matrices, first, last))
    return made


@lru_cache(maxsize=8)
def leading_matrices(space: ColourSpace) -> NDArray[np.float32]:
    """Return the matrices of :func:`lead_row`, shape (4, 3, 3)."""
    every = rgb_to_lms(space), LMS_TO_LAB, np.linalg.inv(LMS_TO_LAB), lms_to_rgb(space)
    return np.ascontiguousarray(np.stack(every), np.float32)
