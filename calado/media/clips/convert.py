"""A clip's codes to linear light and back, by its tags.

Chroma is read linearly at each pixel and laid down again by (1, 2, 1)/4 where it stands on a pixel's column or row,
by (1, 1)/2 where it stands between two; it stands on the left column always, on the upper row where the layout says so.
Signal outside of 0…1 is kept through, by the odd extension of the curve.

Laid down so, chroma that nobody touched would not come back as it was. So it carries its difference:
U = down(u) + k · (U₀ − down(up(U₀))), with U₀ the codes that came and k = 1: codes are equal where nothing changed.
Under what conceals k must be 0, or what is hidden would come through in its chroma.

References
----------
ITU-H273 for the equations of codes (its 8.3); BT709 and BT601 for the matrices.
"""

import cv2
import numba as nb
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte, Planes
from calado.compiled import compiled
from calado.media.clips.facts import Tags
from calado.media.clips.planes import CodePlane, Layout, Picture
from calado.media.clips.tables import light_of, light_table, signal_of, signal_table
from calado.media.clips.tags import WEIGHTS, curve_of
from calado.strips import for_rows

#: how many pixels around a changed one its chroma can change
CHROMA_REACH = 4
_ROWS = 16


def _scales(layout: Layout, tags: Tags) -> NDArray[np.float32]:
    """Return luma's offset and range, chroma's offset and range, in codes."""
    step = float(1 << (layout.bits - 8))
    if tags.full_range:
        luma = (0.0, float(layout.top))
        chroma = (128 * step, float(layout.top))
    else:
        luma = (16 * step, 219 * step)
        chroma = (128 * step, 224 * step)
    return np.array([*luma, *chroma], np.float32)


def _weights(tags: Tags) -> NDArray[np.float32]:
    """Return luma's weights of red and of blue."""
    return np.array(WEIGHTS.get(tags.matrix, WEIGHTS[1]), np.float32)


def to_linear(picture: Picture, tags: Tags) -> Planes:
    """Return a picture in linear light, shape (3, H, W), as stored."""
    layout = picture.layout
    out = np.empty((3, picture.height, picture.width), np.float32)
    scales, curve = _scales(layout, tags), light_table(curve_of(tags))
    if layout.kind == "yuv":
        y, u, v = picture.colour
        weights = _weights(tags)
        siting = np.float32(0 if layout.sited_top or layout.down == 1 else 0.5)

        def work(first: int, last: int) -> None:
            _yuv_rows(y, u, v, layout.across, layout.down, siting, scales, weights, curve, first, last, out)
    else:
        planes = picture.colour if layout.kind == "rgb" else picture.colour * 3

        def work(first: int, last: int) -> None:
            for c in range(3):
                _code_rows(planes[c], scales, curve, first, last, out[c])

    for_rows(picture.height, _ROWS, work)
    return out


def to_linear_sized(picture: Picture, tags: Tags, size: tuple[int, int]) -> Planes:
    """Return a picture in linear light at a smaller size (width, height), shape (3, H, W), as stored.

    Its codes are averaged before they become light, which costs a fraction and is near enough for playing.
    """
    layout = picture.layout
    small = tuple(cv2.resize(plane, size, interpolation=_way(plane, size)) for plane in picture.colour)
    return to_linear(Picture(Layout(layout.kind, layout.bits), small), tags)  # type: ignore[arg-type]


def _way(plane: CodePlane, size: tuple[int, int]) -> int:
    return cv2.INTER_AREA if plane.shape[1] > size[0] else cv2.INTER_LINEAR


def to_codes(
    planes: Planes, tags: Tags, layout: Layout, before: Picture | None = None, hidden: Matte | None = None
) -> Picture:
    """Return the codes of linear light, shape (3, H, W), in a layout without alpha.

    ``before`` is the picture it was made from, in the same layout: its chroma carries its difference. ``hidden`` is
    what is concealed, shape (H, W), 1 where it is: there nothing is carried.
    """
    height, width = planes.shape[1:]
    scales, curve = _scales(layout, tags), signal_table(curve_of(tags))
    kind = np.uint8 if layout.bits == 8 else np.uint16
    planes = np.ascontiguousarray(planes)
    if layout.kind == "rgb":
        codes = np.empty((3, height, width), kind)
        for_rows(height, _ROWS, lambda first, last: _signal_rows(planes, scales, curve, layout.top, first, last, codes))
        return Picture(layout, tuple(codes))
    luma = np.empty((height, width), kind)
    chroma = np.empty((2, height, width), np.float32)
    weights = _weights(tags)
    for_rows(
        height,
        _ROWS,
        lambda first, last: _luma_rows(planes, scales, weights, curve, layout.top, first, last, luma, chroma),
    )
    if layout.kind == "grey":
        return Picture(layout, (luma,))
    wide, high = layout.chroma_size(width, height)
    out = np.empty((2, high, wide), kind)
    carried: tuple[CodePlane, ...] = before.colour[1:] if before else (out[0], out[1])
    free = np.zeros((0, 0), np.float32) if hidden is None else hidden
    carry = before is not None
    siting = np.float32(0 if layout.sited_top or layout.down == 1 else 0.5)
    for k in range(2):

        def work(first: int, last: int, k: int = k) -> None:
            _chroma_rows(
                chroma[k], carried[k], free, carry, layout.across, layout.down, siting, layout.top, first, last, out[k]
            )

        for_rows(high, _ROWS, work)
    return Picture(layout, (luma, out[0], out[1]))


@compiled(inline="always")
def _chroma_at(plane, x, y):  # type: ignore[no-untyped-def]
    """Return a plane read linearly at a place in its own samples; beyond its border it goes on."""
    high, wide = plane.shape
    x = min(max(x, nb.float32(0)), nb.float32(wide - 1))
    y = min(max(y, nb.float32(0)), nb.float32(high - 1))
    j, i = nb.int64(x), nb.int64(y)
    j1, i1 = min(j + 1, wide - 1), min(i + 1, high - 1)
    fx, fy = x - nb.float32(j), y - nb.float32(i)
    above = nb.float32(plane[i, j]) * (nb.float32(1) - fx) + nb.float32(plane[i, j1]) * fx
    below = nb.float32(plane[i1, j]) * (nb.float32(1) - fx) + nb.float32(plane[i1, j1]) * fx
    return above * (nb.float32(1) - fy) + below * fy


@compiled()
def _between_rows(plane, y, offset, over, out):  # type: ignore[no-untyped-def]
    """Read one row of a plane between two of its own, as a share of chroma's range."""
    high = plane.shape[0]
    y = min(max(y, nb.float32(0)), nb.float32(high - 1))
    i = nb.int64(y)
    fy = y - nb.float32(i)
    above, below = plane[i], plane[min(i + 1, high - 1)]
    for j in range(plane.shape[1]):
        first = nb.float32(above[j])
        out[j] = (first + (nb.float32(below[j]) - first) * fy - offset) * over


@compiled()
def _yuv_rows(y, u, v, across, down, siting, scales, weights, table, first, last, out):  # type: ignore[no-untyped-def]
    red_by = nb.float32(2) * (nb.float32(1) - weights[0])
    blue_by = nb.float32(2) * (nb.float32(1) - weights[1])
    over_green = nb.float32(1) / (nb.float32(1) - weights[0] - weights[1])
    green_by_red, green_by_blue = weights[0] * red_by * over_green, weights[1] * blue_by * over_green
    over_y, over_c = nb.float32(1) / scales[1], nb.float32(1) / scales[3]
    wide = u.shape[1]
    cb, cr = np.empty(wide + 1, np.float32), np.empty(wide + 1, np.float32)
    for i in range(first, last):
        cy = (nb.float32(i) - siting) / nb.float32(down)
        _between_rows(u, cy, scales[2], over_c, cb)
        _between_rows(v, cy, scales[2], over_c, cr)
        # beyond the border it goes on
        cb[wide], cr[wide] = cb[wide - 1], cr[wide - 1]
        row = y[i]
        for j in range(y.shape[1]):
            k = j // across
            between = nb.float32(0.5) if j - k * across else nb.float32(0)
            b = cb[k] + (cb[k + 1] - cb[k]) * between
            r = cr[k] + (cr[k + 1] - cr[k]) * between
            luma = (nb.float32(row[j]) - scales[0]) * over_y
            out[0, i, j] = light_of(luma + red_by * r, table)
            out[1, i, j] = light_of(luma - green_by_red * r - green_by_blue * b, table)
            out[2, i, j] = light_of(luma + blue_by * b, table)


@compiled()
def _code_rows(plane, scales, curve, first, last, out):  # type: ignore[no-untyped-def]
    over = nb.float32(1) / scales[1]
    for i in range(first, last):
        for j in range(plane.shape[1]):
            out[i, j] = light_of((nb.float32(plane[i, j]) - scales[0]) * over, curve)


@compiled()
def _signal_rows(planes, scales, curve, top, first, last, out):  # type: ignore[no-untyped-def]
    for c in range(3):
        for i in range(first, last):
            for j in range(planes.shape[2]):
                code = scales[0] + scales[1] * signal_of(planes[c, i, j], curve) + nb.float32(0.5)
                out[c, i, j] = nb.int64(min(max(code, nb.float32(0)), nb.float32(top)))


@compiled()
def _luma_rows(planes, scales, weights, curve, top, first, last, luma, chroma):  # type: ignore[no-untyped-def]
    green = nb.float32(1) - weights[0] - weights[1]
    by_blue = scales[3] / (nb.float32(2) * (nb.float32(1) - weights[1]))
    by_red = scales[3] / (nb.float32(2) * (nb.float32(1) - weights[0]))
    for i in range(first, last):
        for j in range(planes.shape[2]):
            r, g, b = (
                signal_of(planes[0, i, j], curve),
                signal_of(planes[1, i, j], curve),
                signal_of(planes[2, i, j], curve),
            )
            y = weights[0] * r + green * g + weights[1] * b
            code = scales[0] + scales[1] * y + nb.float32(0.5)
            luma[i, j] = nb.int64(min(max(code, nb.float32(0)), nb.float32(top)))
            chroma[0, i, j] = scales[2] + by_blue * (b - y)
            chroma[1, i, j] = scales[2] + by_red * (r - y)


@compiled(inline="always")
def _share(count, at):  # type: ignore[no-untyped-def]
    """Return the weight of one of ``count`` samples in a row: 1, (1, 1)/2 or (1, 2, 1)/4."""
    if count == 1:
        return nb.float32(1)
    return nb.float32(0.5) if count == 2 or at == 1 else nb.float32(0.25)


@compiled(inline="always")
def _any_hidden(hidden, first, last, left, right):  # type: ignore[no-untyped-def]
    for y in range(max(first, 0), min(last, hidden.shape[0])):
        for x in range(max(left, 0), min(right, hidden.shape[1])):
            if hidden[y, x] > 0:
                return True
    return False


@compiled()
def _chroma_rows(full, carried, hidden, carry, across, down, siting, top, first, last, out):  # type: ignore[no-untyped-def]
    """Lay chroma down, with the difference carried where nothing is hidden within the filters' reach."""
    high, wide = full.shape
    step_x, step_y = nb.float32(1.0 / across), nb.float32(1.0 / down)
    rows = 1 if down == 1 else (2 if siting > 0 else 3)
    columns = 1 if across == 1 else 3
    for i in range(first, last):
        for j in range(out.shape[1]):
            total, again = nb.float32(0), nb.float32(0)
            for a in range(rows):
                y = min(max(i * down - rows // 3 + a, 0), high - 1)
                for b in range(columns):
                    x = min(max(j * across - columns // 3 + b, 0), wide - 1)
                    share = _share(rows, a) * _share(columns, b)
                    total += share * full[y, x]
                    if carry:
                        again += share * _chroma_at(carried, nb.float32(x) * step_x, (nb.float32(y) - siting) * step_y)
            r = CHROMA_REACH
            free = carry and not _any_hidden(
                hidden, i * down - r, (i + 1) * down + r, j * across - r, (j + 1) * across + r
            )
            code = total + (nb.float32(carried[i, j]) - again if free else nb.float32(0))
            out[i, j] = nb.int64(min(max(code + nb.float32(0.5), nb.float32(0)), nb.float32(top)))
