"""Luma and chroma to light and back, a row at a time, with chroma at fewer places than luma."""

import numba as nb
import numpy as np

from calado.compiled import KEEPS_NAN, compiled
from calado.media.clips.curves import light_row, signal_row

#: how many pixels around a changed one its chroma can change
CHROMA_REACH = 4


@compiled()
def _between(plane, y, offset, over, out):  # type: ignore[no-untyped-def]
    """Read one row of a plane between two of its own, as a share of chroma's range; beyond the border it goes on."""
    high, wide = plane.shape
    y = min(max(y, nb.float32(0)), nb.float32(high - 1))
    i = nb.int64(y)
    fy = y - nb.float32(i)
    above, below = plane[i], plane[min(i + 1, high - 1)]
    for j in range(wide):
        first = nb.float32(above[j])
        out[j] = (first + (nb.float32(below[j]) - first) * fy - offset) * over
    out[wide] = out[wide - 1]


@compiled()
def _spread(row, across, out):  # type: ignore[no-untyped-def]
    """Read a row of chroma at every pixel; it stands on the left one of its own."""
    wide = row.size - 1
    if across == 1:
        out[: out.size] = row[: out.size]
        return
    if across == 2:
        for k in range(out.size // 2):
            out[2 * k], out[2 * k + 1] = row[k], (row[k] + row[k + 1]) * nb.float32(0.5)
        if out.size % 2:
            out[out.size - 1] = row[wide - 1]
        return
    for x in range(out.size):
        k = x // across
        share = nb.float32(x - k * across) / nb.float32(across)
        out[x] = row[k] + (row[k + 1] - row[k]) * share


@compiled()
def light_rows(  # type: ignore[no-untyped-def]
    y, u, v, across, down, siting, scales, weights, table, polynomial, first, last, out
):
    """Fill rows with the light of luma and chroma."""
    red_by = nb.float32(2) * (nb.float32(1) - weights[0])
    blue_by = nb.float32(2) * (nb.float32(1) - weights[1])
    over_green = nb.float32(1) / (nb.float32(1) - weights[0] - weights[1])
    green_by_red, green_by_blue = weights[0] * red_by * over_green, weights[1] * blue_by * over_green
    offset, over_y, over_c = scales[0], nb.float32(1) / scales[1], nb.float32(1) / scales[3]
    few = np.empty((2, u.shape[1] + 1), np.float32)
    full = np.empty((2, y.shape[1]), np.float32)
    signal = np.empty((3, y.shape[1]), np.float32)
    for i in range(first, last):
        at = (nb.float32(i) - siting) / nb.float32(down)
        _between(u, at, scales[2], over_c, few[0])
        _between(v, at, scales[2], over_c, few[1])
        _spread(few[0], across, full[0])
        _spread(few[1], across, full[1])
        row, b, r = y[i], full[0], full[1]
        red, green, blue = signal[0], signal[1], signal[2]
        for j in range(row.size):
            luma = (nb.float32(row[j]) - offset) * over_y
            red[j] = luma + red_by * r[j]
            green[j] = luma - green_by_red * r[j] - green_by_blue * b[j]
            blue[j] = luma + blue_by * b[j]
        for c in range(3):
            light_row(signal[c], table, polynomial, out[c, i])


@compiled(fastmath=KEEPS_NAN)
def _luma_row(signal, scales, weights, top, luma, chroma):  # type: ignore[no-untyped-def]
    """Fill a row of luma's codes and, not yet laid down, of chroma's."""
    red, green, blue = signal[0], signal[1], signal[2]
    by_red, by_blue = weights[0], weights[1]
    by_green = nb.float32(1) - by_red - by_blue
    to_blue = scales[3] / (nb.float32(2) * (nb.float32(1) - by_blue))
    to_red = scales[3] / (nb.float32(2) * (nb.float32(1) - by_red))
    offset, reach, middle = scales[0] + nb.float32(0.5), scales[1], scales[2]
    cb, cr = chroma[0], chroma[1]
    for j in range(luma.size):
        y = by_red * red[j] + by_green * green[j] + by_blue * blue[j]
        luma[j] = nb.int32(min(max(offset + reach * y, nb.float32(0)), nb.float32(top)))
        cb[j] = middle + to_blue * (blue[j] - y)
        cr[j] = middle + to_red * (red[j] - y)


@compiled(inline="always")
def _share(count, at):  # type: ignore[no-untyped-def]
    """Return the weight of one of ``count`` rows: 1, (1, 1)/2 or (1, 2, 1)/4."""
    if count == 1:
        return nb.float32(1)
    return nb.float32(0.5) if count == 2 or at == 1 else nb.float32(0.25)


@compiled()
def _thinned(row, across, out):  # type: ignore[no-untyped-def]
    """Lay a row down by (1, 2, 1)/4; ``row`` has one more place at each end, which is filled here."""
    row[0], row[row.size - 1] = row[1], row[row.size - 2]
    if across == 1:
        out[:] = row[1 : row.size - 1]
        return
    if across == 2:
        for j in range(out.size):
            out[j] = nb.float32(0.25) * (row[2 * j] + row[2 * j + 2]) + nb.float32(0.5) * row[2 * j + 1]
        return
    for j in range(out.size):
        x = j * across
        out[j] = nb.float32(0.25) * (row[x] + row[x + 2]) + nb.float32(0.5) * row[x + 1]


@compiled()
def _again(plane, i, across, down, split, row, out):  # type: ignore[no-untyped-def]
    """Fill a row with what a row of chroma's codes becomes when it is spread and laid down again.

    Both ways that is (s, 1 − 2s, s) of its neighbours with s = 1/(4 · pixels on a sample). ``split``: the row stands
    for a single row of pixels, at the lower border, and between two rows.
    """
    high, wide = plane.shape
    above, here, below = plane[max(i - 1, 0)], plane[i], plane[min(i + 1, high - 1)]
    side = nb.float32(0) if down == 1 else nb.float32(0.25) / nb.float32(down)
    before, after = (side * nb.float32(2), nb.float32(0)) if split else (side, side)
    middle = nb.float32(1) - before - after
    for j in range(wide):
        row[j + 1] = before * nb.float32(above[j]) + middle * nb.float32(here[j]) + after * nb.float32(below[j])
    row[0], row[wide + 1] = row[1], row[wide]
    side = nb.float32(0) if across == 1 else nb.float32(0.25) / nb.float32(across)
    middle = nb.float32(1) - side - side
    for j in range(wide):
        out[j] = side * (row[j] + row[j + 2]) + middle * row[j + 1]


@compiled()
def hidden_samples(hidden, across, down, carry):  # type: ignore[no-untyped-def]
    """Set to 0 what stands for a pixel within the filters' reach of one that is concealed; ``hidden`` is (H, W)."""
    high, wide = hidden.shape
    any_in = np.empty(wide, np.uint8)
    for i in range(carry.shape[0]):
        any_in[:] = 0
        for y in range(max(i * down - CHROMA_REACH, 0), min((i + 1) * down + CHROMA_REACH, high)):
            row = hidden[y]
            for x in range(wide):
                any_in[x] |= np.uint8(row[x] > 0)
        x = 0
        while x < wide:
            end = x
            while end < wide and any_in[end]:
                end += 1
            if end > x:
                _clear(carry[i], across, x, end - 1)
            x = end + 1


@compiled()
def _clear(row, across, first, last):  # type: ignore[no-untyped-def]
    """Clear the samples that a run of pixels is within reach of."""
    for j in range(max((first - CHROMA_REACH) // across, 0), min((last + CHROMA_REACH) // across + 1, row.size)):
        row[j] = 0


@compiled()
def laid_rows(  # type: ignore[no-untyped-def]
    planes, carried, carry, across, down, siting, scales, weights, table, polynomial, top, first, last, luma, out
):
    """Fill rows of chroma, and the rows of luma that they stand for, with the codes of light.

    ``carried`` are the two planes of chroma that it was made from, ``carry`` is 1 where their difference is.
    """
    high, wide = planes.shape[1], planes.shape[2]
    rows = 1 if down == 1 else (2 if siting > 0 else 3)
    signal, chroma = np.empty((3, wide), np.float32), np.empty((2, wide), np.float32)
    mixed = np.empty((2, wide + 2), np.float32)
    spare = np.empty(wide, luma.dtype)
    narrow = out.shape[2]
    laid, again, row = np.empty(narrow, np.float32), np.empty(narrow, np.float32), np.empty(narrow + 2, np.float32)
    for i in range(first, last):
        mixed[:] = nb.float32(0)
        for a in range(rows):
            at = i * down - rows // 3 + a
            y = min(max(at, 0), high - 1)
            for c in range(3):
                signal_row(planes[c, y], table, polynomial, signal[c])
            own = at == y and i * down <= y
            _luma_row(signal, scales, weights, top, luma[y] if own else spare, chroma)
            share = _share(rows, a)
            for k in range(2):
                _add(chroma[k], share, mixed[k])
        for k in range(2 if narrow else 0):
            _thinned(mixed[k], across, laid)
            if carry[i].any():
                _again(carried[k], i, across, down, rows == 2 and (i + 1) * down > high, row, again)
                _carry(laid, carried[k][i], again, carry[i])
            _codes(laid, top, out[k, i])


@compiled()
def _add(row, share, mixed):  # type: ignore[no-untyped-def]
    for x in range(row.size):
        mixed[x + 1] += share * row[x]


@compiled()
def _carry(laid, codes, again, carry):  # type: ignore[no-untyped-def]
    for j in range(laid.size):
        laid[j] += (nb.float32(codes[j]) - again[j]) * nb.float32(carry[j])


@compiled()
def _codes(laid, top, out):  # type: ignore[no-untyped-def]
    for j in range(laid.size):
        out[j] = nb.int32(min(max(laid[j] + nb.float32(0.5), nb.float32(0)), nb.float32(top)))
