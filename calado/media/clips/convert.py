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
import numpy as np

from calado.arrays import Matte, Planes
from calado.media.clips.chroma import hidden_samples, laid_rows, light_rows
from calado.media.clips.curves import NONE, Curve, Numbers, light_rows_of, signal_rows_of, to_light, to_signal
from calado.media.clips.facts import Tags
from calado.media.clips.planes import CodePlane, Layout, Picture
from calado.media.clips.tags import WEIGHTS, curve_of
from calado.strips import for_rows

#: bits up to which the polynomials are exact enough: beyond, a code is less than what they miss the curve by
MOST_BITS = 12
_ROWS = 16


def _scales(layout: Layout, tags: Tags) -> Numbers:
    """Return luma's offset and range, chroma's offset and range, in codes."""
    step = float(1 << (layout.bits - 8))
    if tags.full_range:
        luma = (0.0, float(layout.top))
        chroma = (128 * step, float(layout.top))
    else:
        luma = (16 * step, 219 * step)
        chroma = (128 * step, 224 * step)
    return np.array([*luma, *chroma], np.float32)


def _weights(tags: Tags) -> Numbers:
    """Return luma's weights of red and of blue."""
    return np.array(WEIGHTS.get(tags.matrix, WEIGHTS[1]), np.float32)


def _polynomial(curve: Curve, layout: Layout) -> Numbers:
    return curve.polynomial if layout.bits <= MOST_BITS else NONE


def to_linear(picture: Picture, tags: Tags) -> Planes:
    """Return a picture in linear light, shape (3, H, W), as stored."""
    layout = picture.layout
    out = np.empty((3, picture.height, picture.width), np.float32)
    scales, curve = _scales(layout, tags), to_light(curve_of(tags))
    polynomial = _polynomial(curve, layout)
    if layout.kind == "yuv":
        y, u, v = picture.colour
        weights, siting = _weights(tags), _siting(layout)

        def work(first: int, last: int) -> None:
            light_rows(
                y, u, v, layout.across, layout.down, siting, scales, weights, curve.table, polynomial, first, last, out
            )
    else:
        planes = picture.colour if layout.kind == "rgb" else picture.colour * 3

        def work(first: int, last: int) -> None:
            for c in range(3):
                light_rows_of(planes[c], scales, curve.table, polynomial, first, last, out[c])

    for_rows(picture.height, _ROWS, work)
    return out


def _siting(layout: Layout) -> np.float32:
    """Return how many rows below its upper pixel's a sample of chroma stands."""
    return np.float32(0 if layout.sited_top or layout.down == 1 else 0.5)


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
    scales, curve = _scales(layout, tags), to_signal(curve_of(tags))
    polynomial = _polynomial(curve, layout)
    kind = np.uint8 if layout.bits == 8 else np.uint16
    planes = np.ascontiguousarray(planes)
    if layout.kind == "rgb":
        codes = np.empty((3, height, width), kind)
        for_rows(
            height,
            _ROWS,
            lambda first, last: signal_rows_of(planes, scales, curve.table, polynomial, layout.top, first, last, codes),
        )
        return Picture(layout, tuple(codes))
    luma = np.empty((height, width), kind)
    grey = layout.kind == "grey"
    wide, high = (0, height) if grey else layout.chroma_size(width, height)
    out = np.empty((2, high, wide), kind)
    u, v = before.colour[1:] if before and not grey else (out[0], out[1])
    # 1 where the difference is carried
    carry = np.full(out.shape[1:], before is not None, np.uint8)
    if before is not None and hidden is not None:
        hidden_samples(hidden, layout.across, layout.down, carry)
    weights, siting = _weights(tags), _siting(layout)

    def work(first: int, last: int) -> None:
        laid_rows(
            planes, (u, v), carry, layout.across, layout.down, siting, scales, weights,
            curve.table, polynomial, layout.top, first, last, luma, out,
        )  # fmt: skip

    for_rows(high, max(_ROWS // layout.down, 1), work)
    return Picture(layout, (luma,) if grey else (luma, out[0], out[1]))
