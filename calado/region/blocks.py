"""Filling a block of pixels from a few exact distances, where the distance is smooth enough.

Nine distances, at the corners, the middles of the sides and the middle of a block, give the others by biquadratic
interpolation; four more, at the quarter points, prove that it is good enough. Blocks are anchored at the picture's
corner, so a strip, a crop and the whole agree bit for bit.
"""

import numpy as np

from calado.compiled import compiled
from calado.region.profile import matte_at

#: error allowed to the interpolated distance: in pixels, or in shares of the feathered band, whichever is larger
PIXEL_TOLERANCE, BAND_TOLERANCE = 0.02, 0.0005


@compiled(inline="always")
def allowed_miss(edge, pixel):  # type: ignore[no-untyped-def]
    """Return the error allowed to an interpolated distance, in picture heights."""
    return max(PIXEL_TOLERANCE * pixel, BAND_TOLERANCE * (edge[0] + edge[1]))


@compiled()
def at_quarter(nodes, k):  # type: ignore[no-untyped-def]
    """Return the interpolated distance at the quarter point ``k`` (0…3, row by row) of a block."""
    # there the quadratic weights of the three nodes are 3/8, 6/8, -1/8 from the near end
    i, j = 2 * (k % 2), 6 * (k // 2)
    flat = 0.0
    for row in range(3):
        across = 0.375 * nodes[row * 3 + i] + 0.75 * nodes[row * 3 + 1] - 0.125 * nodes[row * 3 + 2 - i]
        flat += across * (0.75 if row == 1 else 0.375 if row * 3 == j else -0.125)
    return flat


@compiled()
def smooth_block(x0, y0, size, nodes, pixel_size, edge, profile, left, top, out):  # type: ignore[no-untyped-def]
    """Fill a block from its 3 × 3 distances by biquadratic interpolation."""
    first, last = max(x0, left), min(x0 + size, left + out.shape[1])
    inward, outward, pixel = np.float32(edge[0]), np.float32(edge[1]), np.float32(pixel_size)
    wide = profile == 0 and edge[0] + edge[1] >= 2 * pixel_size
    scale = np.float32(1.0 / max(edge[0] + edge[1], pixel_size))
    for y in range(max(y0, top), min(y0 + size, top + out.shape[0])):
        s = 2.0 * (y - y0) / size
        wa, wb, wc = 0.5 * (1 - s) * (2 - s), s * (2 - s), 0.5 * s * (s - 1)
        a = wa * nodes[0] + wb * nodes[3] + wc * nodes[6]
        b = wa * nodes[1] + wb * nodes[4] + wc * nodes[7]
        c = wa * nodes[2] + wb * nodes[5] + wc * nodes[8]
        c0 = np.float32(a)
        c1 = np.float32((2 * b - 1.5 * a - 0.5 * c) * 2 / size)
        c2 = np.float32((0.5 * a - b + 0.5 * c) * 4 / size**2)
        row = out[y - top]
        if wide:
            for x in range(first, last):
                step = np.float32(x - x0)
                t = (outward - (c0 + (c1 + c2 * step) * step)) * scale
                t = min(max(t, np.float32(0)), np.float32(1))
                row[x - left] = t * t * (np.float32(3) - np.float32(2) * t)
        else:
            for x in range(first, last):
                step = np.float32(x - x0)
                row[x - left] = matte_at(c0 + (c1 + c2 * step) * step, inward, outward, pixel, profile)
