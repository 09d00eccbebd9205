"""Scopes: waveform, parade, vectorscope and histogram of a picture, or of what lies in a region.

All show the encoded signal, 0…1, as the source's space encodes it. The vectorscope shows Cb and Cr of BT.709 (item 3 of
the recommendation), −½…½ each, Cr upward. How many pixels fall on a place is drawn on a logarithmic scale.
"""

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes, Floats, Matte, Planes
from calado.colour.spaces import ColourSpace

ScopeName = Literal["waveform", "parade", "vectorscope"]
LUMA = np.array([0.2126, 0.7152, 0.0722])
LEVELS = 256
INK = np.array([[255, 120, 110], [130, 235, 140], [125, 165, 255]], np.float64)
PAPER = np.array([226, 226, 226], np.float64)


@dataclass(frozen=True, eq=False)
class Histogram:
    """Shares of pixels by signal, shape (256,), summing to 1; what lies outside of 0…1 counts at the ends."""

    luma: NDArray[np.float64]
    red: NDArray[np.float64]
    green: NDArray[np.float64]
    blue: NDArray[np.float64]


def channels_of(planes: Planes, space: ColourSpace) -> Floats:
    """Return the encoded signal, shape (3, H, W)."""
    return space.transfer.encode(np.nan_to_num(planes).astype(np.float64))


def histogram(planes: Planes, space: ColourSpace, matte: Matte | None = None) -> Histogram:
    """Return the histogram of a picture, each pixel counted by its matte."""
    signal = channels_of(planes, space)
    weight = np.ones(planes.shape[1:]) if matte is None else matte.astype(np.float64)

    def counted(values: Floats) -> NDArray[np.float64]:
        place = np.clip((values * LEVELS).astype(int), 0, LEVELS - 1)
        total = np.bincount(place.ravel(), weight.ravel(), LEVELS)
        return total / max(total.sum(), 1e-9)

    return Histogram(counted(np.tensordot(LUMA, signal, axes=1)), *(counted(each) for each in signal))


def scope(name: ScopeName, planes: Planes, space: ColourSpace, matte: Matte | None, size: tuple[int, int]) -> Codes:
    """Return a scope as a picture on black, shape (height, width, 3), from ``size`` = (width, height)."""
    signal = channels_of(planes, space)
    inside = np.ones(planes.shape[1:], bool) if matte is None else matte > 0.5
    wide, high = size
    if name == "vectorscope":
        return _vectors(signal[:, inside], (high, high))
    columns = np.broadcast_to(np.arange(planes.shape[2]), planes.shape[1:])[inside] / planes.shape[2]
    if name == "waveform":
        luma = np.tensordot(LUMA, signal, axes=1)[inside]
        return _drawn(_density(columns, luma, (wide, high)), PAPER)
    third = wide // 3
    parts = [_drawn(_density(columns, signal[c][inside], (third, high)), INK[c]) for c in range(3)]
    return np.concatenate(parts, axis=1)


def _density(across: Floats, up: Floats, size: tuple[int, int]) -> NDArray[np.float64]:
    """Return how many places fall on each pixel of a field of ``size`` = (width, height), 0…1 each way, y up."""
    wide, high = size
    column = np.clip((across * wide).astype(int), 0, wide - 1)
    # a little room is left beyond 0 and 1
    row = np.clip(((1.04 - up) / 1.08 * high).astype(int), 0, high - 1)
    return np.bincount(row.ravel() * wide + column.ravel(), minlength=wide * high).reshape(high, wide).astype(float)


def _drawn(density: NDArray[np.float64], ink: NDArray[np.float64]) -> Codes:
    most = float(np.log1p(density.max())) if density.max() > 0 else 1.0
    share = np.log1p(density) / most
    return np.rint(share[..., None] * ink).astype(np.uint8)


def _vectors(signal: Floats, size: tuple[int, int]) -> Codes:
    luma = np.tensordot(LUMA, signal, axes=1)
    cb, cr = (signal[2] - luma) / 1.8556, (signal[0] - luma) / 1.5748
    side = size[0]
    column = np.clip(((cb + 0.5) * side).astype(int), 0, side - 1)
    row = np.clip(((0.5 - cr) * side).astype(int), 0, side - 1)
    density = np.bincount(row * side + column, minlength=side * side).reshape(side, side).astype(float)
    most = float(np.log1p(density.max())) if density.max() > 0 else 1.0
    y, x = np.mgrid[:side, :side]
    # each place in its own colour, at an even luma
    b, r = (x + 0.5) / side - 0.5, 0.5 - (y + 0.5) / side
    colour = np.stack([0.7 + 1.5748 * r, 0.7 - 0.1873 * b - 0.4681 * r, 0.7 + 1.8556 * b], axis=-1)
    share = (np.log1p(density) / most)[..., None]
    return np.rint(np.clip(colour, 0.15, 1) * share * 255).astype(np.uint8)
