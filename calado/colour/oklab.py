"""OKLab and OKLCh from linear RGB of any space.

Convention
----------
Arrays end in an axis of 3. OKLab is (L, a, b) with L in 0…1 for the white of the space; OKLCh is
(L, C, h) with h in degrees, 0…360, and 0 for greys.

References
----------
Ottosson2020, CSSColor4
"""

from functools import lru_cache

import numpy as np

from calado.arrays import Floats, Matrix
from calado.colour.spaces import SRGB, ColourSpace

# Matrices as printed in CSS Color 4, section 10.1 (XYZ D65 -> LMS, LMS' -> OKLab), to full precision.
XYZ_TO_LMS = np.array(
    [
        [0.8190224379967030, 0.3619062600528904, -0.1288737815209879],
        [0.0329836539323885, 0.9292868615863434, 0.0361446663506424],
        [0.0481771893596242, 0.2642395317527308, 0.6335478284694309],
    ]
)
LMS_TO_LAB = np.array(
    [
        [0.2104542683093140, 0.7936177747023054, -0.0040720430116193],
        [1.9779985324311684, -2.4285922420485799, 0.4505937096174110],
        [0.0259040424655478, 0.7827717124575296, -0.8086757549230774],
    ]
)


@lru_cache(maxsize=16)
def rgb_to_lms(space: ColourSpace) -> Matrix:
    """Return the matrix, shape (3, 3), from linear RGB of ``space`` to the cone responses of OKLab."""
    return XYZ_TO_LMS @ space.to_xyz


@lru_cache(maxsize=16)
def lms_to_rgb(space: ColourSpace) -> Matrix:
    """Return the inverse of :func:`rgb_to_lms`."""
    return np.asarray(np.linalg.inv(rgb_to_lms(space)), np.float64)


def linear_to_oklab(linear: Floats, space: ColourSpace = SRGB) -> Floats:
    """Return OKLab, shape (…, 3), of linear RGB, shape (…, 3)."""
    return np.cbrt(linear @ rgb_to_lms(space).T) @ LMS_TO_LAB.T


def oklab_to_linear(lab: Floats, space: ColourSpace = SRGB) -> Floats:
    """Return linear RGB, shape (…, 3), of OKLab, shape (…, 3)."""
    return (lab @ np.linalg.inv(LMS_TO_LAB).T) ** 3 @ lms_to_rgb(space).T


def oklab_to_oklch(lab: Floats) -> Floats:
    """Return OKLCh, shape (…, 3), of OKLab; the hue of a grey is 0."""
    chroma = np.hypot(lab[..., 1], lab[..., 2])
    hue_deg = np.where(chroma > 1e-6, np.degrees(np.arctan2(lab[..., 2], lab[..., 1])) % 360, 0.0)
    return np.stack([lab[..., 0], chroma, hue_deg], axis=-1)


def oklch_to_oklab(lch: Floats) -> Floats:
    """Return OKLab, shape (…, 3), of OKLCh."""
    hue = np.radians(lch[..., 2])
    return np.stack([lch[..., 0], lch[..., 1] * np.cos(hue), lch[..., 1] * np.sin(hue)], axis=-1)
