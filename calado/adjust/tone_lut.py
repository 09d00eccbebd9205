"""Functions of one channel as tables, so that a kernel pays one look-up instead of powers.

A table of linear light is read at u = √x, where transfer functions are nearly straight: 2048 steps a unit of u up to
x = 16; the encoded signal is read evenly up to 4. Beyond the end a table goes on straight; below 0 it is odd, or,
where a function of 0 is not 0, straight as well. Linear interpolation between entries; its error is stated in a test.
"""

from collections.abc import Callable
from functools import lru_cache

import numba as nb
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Planes, Settings
from calado.colour.spaces import ColourSpace
from calado.compiled import compiled

STEPS = 2048
TOP = 4.0
SIZE = int(STEPS * TOP) + 1

Channel = Callable[[NDArray[np.float64]], NDArray[np.float64]]


@compiled("float32(float32[::1], float32)", inline="always")
def look_up(table, u):  # type: ignore[no-untyped-def]
    """Return a table's value at ``u``; beyond both ends it goes on straight."""
    place = u * nb.float32(STEPS)
    at = min(max(nb.int32(place), nb.int32(0)), nb.int32(SIZE - 2))
    return table[at] + (place - nb.float32(at)) * (table[at + 1] - table[at])


@compiled("float32(float32[::1], float32)", inline="always")
def to_signal(encoding, x):  # type: ignore[no-untyped-def]
    """Return the encoded signal of linear light of either sign."""
    made = look_up(encoding, np.sqrt(abs(x)))
    return made if x >= 0 else -made


@compiled("float32(float32[::1], float32)", inline="always")
def to_light(decoding, signal):  # type: ignore[no-untyped-def]
    """Return the linear light of an encoded signal of either sign."""
    made = look_up(decoding, abs(signal))
    return made if signal >= 0 else -made


@compiled("void(float32[:, :, ::1], float32[::1])", fastmath=True)
def channels_into(planes: Planes, s: Settings) -> None:
    """s: three tables of linear light over √x, for red, green and blue; beyond both ends they go on straight in x.

    Places in the table are found for a whole row first, which the processor does eight at a time; then they are read.
    """
    top = nb.float32(TOP * TOP)
    places, ways = np.empty(planes.shape[2], np.int32), np.empty(planes.shape[2], np.float32)
    for c in range(3):
        table = s[c * SIZE : (c + 1) * SIZE]
        # k steps of the table from 0 are (k/STEPS)² of linear light
        below = (table[8] - table[0]) * nb.float32(STEPS * STEPS / 64)
        above = (table[SIZE - 1] - table[SIZE - 2]) * nb.float32(STEPS / (2 * TOP))
        for y in range(planes.shape[1]):
            row = planes[c, y]
            for x in range(row.size):
                held = min(max(row[x], nb.float32(0)), top)
                place = np.sqrt(held) * nb.float32(STEPS)
                # both ends are held: what is not a number would point anywhere
                at = min(max(nb.int32(place), nb.int32(0)), nb.int32(SIZE - 2))
                places[x] = at
                ways[x] = place - nb.float32(at)
            for x in range(row.size):
                at, value = places[x], row[x]
                # nothing of it is left where the value lies within the table
                beyond = below * min(value, nb.float32(0)) + above * max(value - top, nb.float32(0))
                row[x] = table[at] + ways[x] * (table[at + 1] - table[at]) + beyond


def channel_settings(functions: tuple[Channel, Channel, Channel], space: ColourSpace) -> Settings:
    """Return the kernel's numbers for three functions of the encoded signal, for one space."""
    signal = _signals(space)
    return _three(functions, lambda function: np.asarray(space.transfer.decode(function(signal)), np.float32))


def light_settings(functions: tuple[Channel, Channel, Channel]) -> Settings:
    """Return the kernel's numbers for three functions of linear light."""
    return _three(functions, lambda function: function(_LIGHTS).astype(np.float32))


def is_table(settings: Settings) -> bool:
    """Whether settings are three tables of linear light, one a channel."""
    return settings.size == 3 * SIZE


def joined_settings(first: Settings, then: Settings) -> Settings:
    """Return the numbers that do in one go what two tables of linear light do one after the other."""
    # the tables of the first are a strip of the picture to the second
    strip = first.reshape(3, 1, SIZE).copy()
    channels_into(strip, then)
    return strip.ravel()


def _three(functions: tuple[Channel, Channel, Channel], table: Callable[[Channel], NDArray[np.float32]]) -> Settings:
    made = {function: table(function) for function in set(functions)}
    return np.concatenate([made[function] for function in functions])


_LIGHTS = (np.arange(SIZE) / STEPS) ** 2


@lru_cache(maxsize=8)
def _signals(space: ColourSpace) -> NDArray[np.float64]:
    return np.asarray(space.transfer.encode(_LIGHTS), np.float64)


def encode_table(space: ColourSpace) -> Settings:
    """Return the encoded signal over √(linear light)."""
    return _signals(space).astype(np.float32)


def decode_table(space: ColourSpace) -> Settings:
    """Return linear light over the encoded signal."""
    return np.asarray(space.transfer.decode(np.arange(SIZE) / STEPS), np.float32)
