"""The visible difference of two colours: CIE L*a*b* and ΔE₀₀.

References
----------
CIE015 for L*a*b*, Sharma2005 for ΔE₀₀ and the pairs it is tested with.
"""

import numpy as np

from calado.arrays import Floats
from calado.colour.spaces import SRGB, ColourSpace


def linear_to_lab(linear: Floats, space: ColourSpace = SRGB) -> Floats:
    """Return L*a*b* about the space's own white, shape (…, 3), of linear RGB, shape (…, 3)."""
    white = space.to_xyz.sum(axis=1)
    relative = np.maximum(linear @ space.to_xyz.T / white, 0)
    cut = (6 / 29) ** 3
    f = np.where(relative > cut, np.cbrt(relative), relative / (3 * (6 / 29) ** 2) + 4 / 29)
    return np.stack([116 * f[..., 1] - 16, 500 * (f[..., 0] - f[..., 1]), 200 * (f[..., 1] - f[..., 2])], axis=-1)


def delta_e_2000(one: Floats, other: Floats) -> Floats:
    """Return ΔE₀₀, shape (…), between two arrays of L*a*b*, shape (…, 3)."""
    l1, a1, b1 = np.moveaxis(np.asarray(one, np.float64), -1, 0)
    l2, a2, b2 = np.moveaxis(np.asarray(other, np.float64), -1, 0)
    mean_c = (np.hypot(a1, b1) + np.hypot(a2, b2)) / 2
    g = 0.5 * (1 - np.sqrt(mean_c**7 / (mean_c**7 + 25.0**7)))
    c1, c2 = np.hypot((1 + g) * a1, b1), np.hypot((1 + g) * a2, b2)
    h1 = np.degrees(np.arctan2(b1, (1 + g) * a1)) % 360
    h2 = np.degrees(np.arctan2(b2, (1 + g) * a2)) % 360
    coloured = c1 * c2 > 0
    dh = np.where(coloured, (h2 - h1 + 180) % 360 - 180, 0)
    dl, dc = l2 - l1, c2 - c1
    dh_term = 2 * np.sqrt(c1 * c2) * np.sin(np.radians(dh / 2))
    mean_l, mean_c = (l1 + l2) / 2, (c1 + c2) / 2
    mean_h = _mean_hue(h1, h2, coloured)
    t = (
        1
        - 0.17 * np.cos(np.radians(mean_h - 30))
        + 0.24 * np.cos(np.radians(2 * mean_h))
        + 0.32 * np.cos(np.radians(3 * mean_h + 6))
        - 0.20 * np.cos(np.radians(4 * mean_h - 63))
    )
    turn = 30 * np.exp(-(((mean_h - 275) / 25) ** 2))
    rotation = -np.sin(np.radians(2 * turn)) * 2 * np.sqrt(mean_c**7 / (mean_c**7 + 25.0**7))
    sl = 1 + 0.015 * (mean_l - 50) ** 2 / np.sqrt(20 + (mean_l - 50) ** 2)
    sc, sh = 1 + 0.045 * mean_c, 1 + 0.015 * mean_c * t
    x, y, z = dl / sl, dc / sc, dh_term / sh
    return np.sqrt(np.maximum(x**2 + y**2 + z**2 + rotation * y * z, 0))


def _mean_hue(h1: Floats, h2: Floats, coloured: Floats) -> Floats:
    total, far = h1 + h2, np.abs(h1 - h2) > 180
    mean = np.where(far, np.where(total < 360, total + 360, total - 360), total) / 2
    return np.where(coloured, mean, total)
