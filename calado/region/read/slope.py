"""The slope of a range: nothing, rising, whole, falling, nothing. Drawn once, for light, chroma, lightness and hue.

Convention: whole between ``low`` and ``high``; falling to nothing over ``soft_low`` below ``low`` and ``soft_high``
above ``high``. A ``low`` at the bottom of the axis, or a ``high`` at its top, is open: it stays whole beyond.
"""

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte
from calado.compiled import compiled
from calado.region.profile import PROFILES, falling
from calado.strips import for_rows

ROWS = 64
FAR = np.float32(1e30)
#: of float32 light once encoded: white is inside a range that begins at white
ROUNDING = np.float32(2e-6)


@compiled(inline="always")
def _side(beyond, soft, profile):  # type: ignore[no-untyped-def]
    """Return the share at ``beyond`` the whole part, falling over ``soft``."""
    if beyond <= ROUNDING:
        return np.float32(1)
    if beyond >= soft:
        return np.float32(0)
    return falling(np.float32(1) - np.float32(beyond / soft), profile)


@compiled()
def _slope_rows(axis, ends, hue, profile, first, last, out):  # type: ignore[no-untyped-def]
    """Multiply rows by the slope; ``ends`` = (low, soft_low, high, soft_high); a hue has a middle and a half width."""
    low, soft_low, high, soft_high = ends[0], ends[1], ends[2], ends[3]
    for y in range(first, last):
        for x in range(axis.shape[1]):
            value = axis[y, x]
            if hue:
                away = (value - low + np.float32(540)) % np.float32(360) - np.float32(180)
                soft = soft_low if away < 0 else soft_high
                share = _side(abs(away) - high, soft, profile)
            else:
                share = min(_side(low - value, soft_low, profile), _side(value - high, soft_high, profile))
            out[y, x] *= share


def slope_into(
    out: Matte, axis: NDArray[np.float32], ends: tuple[float, float, float, float], profile: str, *, hue: bool = False
) -> None:
    """Multiply a matte, shape (H, W), by the slope of the values of an axis, shape (H, W)."""
    numbers = np.array(ends, np.float32)
    number = PROFILES[profile]
    for_rows(out.shape[0], ROWS, lambda first, last: _slope_rows(axis, numbers, hue, number, first, last, out))


def opened(ends: tuple[float, float, float, float], top: float) -> tuple[float, float, float, float]:
    """Return the ends of a slope, open where they lie at the ends of the axis, 0…``top``."""
    low, soft_low, high, soft_high = ends
    return (-float(FAR) if low <= 0 else low, soft_low, float(FAR) if high >= top else high, soft_high)
