"""The encoded luminance of planes, and planes without what is no number."""

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Planes
from calado.colour import transfer
from calado.colour.spaces import ColourSpace
from calado.compiled import KEEPS_NAN, compiled
from calado.numeric import power
from calado.strips import for_rows

#: brighter than any picture
BRIGHTEST = 1e6
_ROWS = 64
#: where the curve's straight line ends, its slope, the factor of the power above it, and that power
_CURVES = {
    transfer.SRGB: (
        transfer.SRGB_LINEAR_BREAK,
        transfer.SRGB_SLOPE,
        1 + transfer.SRGB_OFFSET,
        1 / transfer.SRGB_POWER,
    ),
    transfer.BT2020: (
        transfer.BT2020_BETA,
        transfer.BT2020_SLOPE,
        transfer.BT2020_ALPHA,
        transfer.BT2020_POWER,
    ),
}


@compiled(fastmath=KEEPS_NAN)
def _signal_rows(planes, weights, curve, first, last, out):  # type: ignore[no-untyped-def]
    red_by, green_by, blue_by = weights[0], weights[1], weights[2]
    border, slope, factor, exponent = curve[0], curve[1], curve[2], curve[3]
    for y in range(first, last):
        red, green, blue, row = planes[0, y], planes[1, y], planes[2, y], out[y]
        for x in range(row.size):
            light = red_by * red[x] + green_by * green[x] + blue_by * blue[x]
            # a comparison with NaN is false
            held = light if light > 0 else np.float32(0)
            bent = factor * power(held, exponent) - (factor - np.float32(1))
            row[x] = bent if held > border else held * slope


def signal_of(planes: Planes, space: ColourSpace) -> NDArray[np.float32]:
    """Return the encoded luminance, shape (H, W), of planes, shape (3, H, W); light below 0 counts as 0."""
    weights = np.asarray(space.luminance_weights, np.float32)
    curve = _CURVES.get(space.transfer)
    if curve is None:
        light = np.maximum(np.tensordot(weights, planes, 1), 0)
        return np.asarray(space.transfer.encode(light), np.float32)
    planes = np.ascontiguousarray(planes)
    numbers, out = np.array(curve, np.float32), np.empty(planes.shape[1:], np.float32)
    for_rows(planes.shape[1], _ROWS, lambda first, last: _signal_rows(planes, weights, numbers, first, last, out))
    return out


@compiled()
def _odd_ones(planes):  # type: ignore[no-untyped-def]
    """Return how many values are infinite or no number."""
    found = np.int32(0)
    flat = planes.reshape(-1)
    for i in range(flat.size):
        found += np.int32(not abs(flat[i]) < np.float32(np.inf))
    return found


def finite(planes: Planes) -> Planes:
    """Return planes in which what is no number is black, and what is infinite very bright, or black.

    They are the very same where all is finite.
    """
    if planes.flags.c_contiguous and not _odd_ones(planes):
        return planes
    return np.asarray(np.nan_to_num(planes, nan=0.0, posinf=BRIGHTEST, neginf=0.0))
