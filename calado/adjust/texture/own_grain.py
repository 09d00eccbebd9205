"""The picture's own grain, given back where a blur took it.

What a lens leaves sharp keeps the noise of the camera, what is blurred afterwards has none, and looks cut out. So the
noise of the untouched picture is measured, by light, and as much is laid on again.

Measured on a few places of the full picture: Immerkaer1996's mask takes everything smooth away and leaves white noise
of unit gain; of its blocks at one light the flattest tell the noise, since what has texture has more (the share that
is taken, and the correction for taking it, are ours).

References
----------
Immerkaer1996
"""

import numpy as np
import scipy
from numpy.typing import NDArray

from calado.adjust.kind import Composited, Rows, SpatialAdjustment, SpatialContext, SpatialPlan
from calado.adjust.texture.grain import grained
from calado.adjust.texture.noise import field
from calado.adjust.tone_lut import encode_table
from calado.arrays import Planes
from calado.colour.spaces import ColourSpace
from calado.sheet.declare import Number, Unit, Values

#: the noise is told at so many lights, evenly spaced over the signal
LIGHTS = 8
#: blocks of so many pixels; of those at one light the flattest tenth, and at least so many, tell the noise
BLOCK, FLATTEST, FEWEST = 8, 0.1, 6
#: light so near to black or white may have been clipped, and its noise with it
ENDS = (0.015, 0.985)
MASK = np.array([[1, -2, 1], [-2, 4, -2], [1, -2, 1]]) / 6
#: independent values in a block after the mask, of BLOCK²: neighbours share some (measured on white noise)
FREEDOM = 24


def grain_of(tiles: Planes, space: ColourSpace) -> NDArray[np.float32]:
    """Return the standard deviation of a picture's noise in its signal, at LIGHTS signals from 0 to 1.

    ``tiles`` are places of the full picture beside each other, shape (3, H, W), linear light, each as wide as H.
    """
    light = np.tensordot(space.luminance_weights, np.nan_to_num(tiles), axes=1)
    signal = np.asarray(space.transfer.encode(np.clip(light, 0, 1)), np.float64)
    side = tiles.shape[1]
    means, noises = [], []
    for left in range(0, tiles.shape[2] - side + 1, side):
        tile = signal[:, left : left + side]
        rest = scipy.ndimage.convolve(tile, MASK)[1:-1, 1:-1]
        means.append(_blocks(tile[1:-1, 1:-1]).mean(axis=(1, 3)).ravel())
        noises.append(np.sqrt((_blocks(rest) ** 2).mean(axis=(1, 3))).ravel())
    return _by_light(np.concatenate(means), np.concatenate(noises))


def _blocks(tile: NDArray[np.float64]) -> NDArray[np.float64]:
    high, wide = (size // BLOCK for size in tile.shape)
    return tile[: high * BLOCK, : wide * BLOCK].reshape(high, BLOCK, wide, BLOCK)


def _by_light(means: NDArray[np.float64], noises: NDArray[np.float64]) -> NDArray[np.float32]:
    """Return the noise at each light; between and beyond those that blocks tell it is interpolated."""
    sure = (means > ENDS[0]) & (means < ENDS[1])
    at = np.linspace(0, 1, LIGHTS)
    places, found = [], []
    # of white noise the flattest blocks have less than their share, by the quantile of χ²
    low = np.sqrt(2 * scipy.special.gammaincinv(FREEDOM / 2, FLATTEST / 2) / FREEDOM)
    for light in at:
        near = noises[sure & (np.abs(means - light) < 0.5 / (LIGHTS - 1))]
        count = max(round(FLATTEST * near.size), FEWEST)
        if near.size >= 2 * FEWEST:
            places.append(light)
            found.append(float(np.median(np.partition(near, count - 1)[:count])) / low)
    if not found:
        return np.zeros(LIGHTS, np.float32)
    return np.interp(at, places, found).astype(np.float32)


def _plan(values: Values, space: ColourSpace) -> SpatialPlan:
    number = OWN_GRAIN.all_numbers(values)
    signal = np.clip(encode_table(space).astype(np.float64), 0, 1)

    def run(planes: Planes, at: SpatialContext, share: float) -> Rows:
        own = at.stats.grain()
        if not own.any():
            return Composited(planes)
        strength = number["amount"] * np.interp(signal, np.linspace(0, 1, own.size), own)
        # a grain a pixel of the full picture; where the picture is shown smaller it averages out as the picture's does
        noise = field(at.window, 1 / at.window.picture_height, int(number["seed"]))
        return Composited(grained(planes, noise, strength, space))

    return SpatialPlan(run, lambda window: 0)


OWN_GRAIN = SpatialAdjustment(
    roles=("regrain",),
    id="own-grain",
    name="Own grain",
    group="Texture",
    space="encoded",
    parameters=(
        Number("amount", "Own grain", Unit.SHARE, 0.0, 0.0, 2.0, 0.0, 8.0, 0.05),
        Number("seed", "Seed", Unit.COUNT, 1.0, 1.0, 99.0, 0.0, 9999.0, 1.0, scales=False),
    ),
    synonyms=("regrain", "match grain", "match noise", "grain back", "plastic", "noise"),
    says="As much grain as the untouched picture has, by light: given back where a blur took it.",
    begins={"amount": 1.0},
    per_frame="seed",
    plan=_plan,
)
