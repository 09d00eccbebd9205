"""From linear planes to codes: for the screen (8 bits, sRGB) and for files (8 or 16 bits, the source's space)."""

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes, Planes
from calado.colour.spaces import SRGB, ColourSpace
from calado.colour.transfer import Transfer, linear_to_srgb
from calado.compiled import KEEPS_NAN, compiled
from calado.render.dither import dithered
from calado.render.gamut import any_beyond, lead_row, leading_matrices, led_to_gamut
from calado.strips import for_rows

#: table entries for linear 0…1; between two entries sRGB changes by at most 0.05 of an 8-bit code
ENTRIES = 65536
#: light of a high range from which on it is rolled off on the screen
KNEE = 0.75
#: light below which sRGB is a straight line
STRAIGHT = 0.0031308
#: pixels that are looked at together, whether any is beyond white
FEW = 64


@lru_cache(maxsize=4)
def _eight_bit(transfer: Transfer) -> Codes:
    encoded = transfer.encode(_lights(np.arange(ENTRIES) / (ENTRIES - 1), transfer))
    return np.rint(encoded * 255).astype(np.uint8)


def _lights(places: NDArray[np.float64], transfer: Transfer) -> NDArray[np.float64]:
    return places * places if transfer.steep else places


def _places(planes: Planes, transfer: Transfer) -> Planes:
    """Return where in a table the light of planes stands: at its root where the signal is steep at black."""
    return np.sqrt(np.clip(planes, 0, 1)) if transfer.steep else planes


@compiled("void(float32[:, :, ::1], float32[:, ::1], uint8[::1], int64, int64, uint8[:, :, ::1])")
def _screen_rows(planes, matrix, table, first, last, out):  # type: ignore[no-untyped-def]
    top = np.float32(table.size - 1)
    turned = matrix[0, 1] != 0
    for y in range(first, last):
        red, green, blue, row = planes[0, y], planes[1, y], planes[2, y], out[y]
        for x in range(red.size):
            r, g, b = red[x], green[x], blue[x]
            if turned:
                r, g, b = (
                    matrix[0, 0] * r + matrix[0, 1] * g + matrix[0, 2] * b,
                    matrix[1, 0] * r + matrix[1, 1] * g + matrix[1, 2] * b,
                    matrix[2, 0] * r + matrix[2, 1] * g + matrix[2, 2] * b,
                )
            # a comparison with NaN is false: NaN becomes black
            r = min(r, np.float32(1)) if r > 0 else np.float32(0)
            g = min(g, np.float32(1)) if g > 0 else np.float32(0)
            b = min(b, np.float32(1)) if b > 0 else np.float32(0)
            row[x, 0] = table[np.uint32(r * top + np.float32(0.5))]
            row[x, 1] = table[np.uint32(g * top + np.float32(0.5))]
            row[x, 2] = table[np.uint32(b * top + np.float32(0.5))]


@lru_cache(maxsize=4)
def _sixteen_bit(transfer: Transfer) -> NDArray[np.float32]:
    """Return 16-bit codes, not rounded; between two entries a straight line misses the curve by 0.005 of a code.

    (h²/8)·|f″| with h = 1/65535 and |f″| < 2400, its value where sRGB's power begins; BT.2020 bends less.
    """
    encoded = transfer.encode(_lights(np.arange(ENTRIES + 1) / (ENTRIES - 1), transfer))
    return (encoded * 65535).astype(np.float32)


@compiled("void(float32[:, :, ::1], float32[::1], int64, int64, uint16[:, :, ::1])", fastmath=False)
def _deep_rows(planes, table, first, last, out):  # type: ignore[no-untyped-def]
    top = np.float32(table.size - 2)
    for y in range(first, last):
        for c in range(3):
            line = planes[c, y]
            for x in range(line.size):
                # a comparison with NaN is false: NaN becomes black
                at = min(line[x], np.float32(1)) * top if line[x] > 0 else np.float32(0)
                below = np.uint32(at)
                low, high = table[below], table[below + 1]
                out[y, x, c] = np.uint16(low + (at - np.float32(below)) * (high - low) + np.float32(0.5))


def rolled_off(planes: Planes) -> Planes:
    """Return planes, shape (3, H, W), whose light beyond ``KNEE`` goes towards white and never reaches it.

    The largest of the three goes k + (1 − k)(1 − e^−(x − k)/(1 − k)), the others with it, so that no hue shifts (our
    own, plain one; no standard has any for a screen of sRGB).
    """
    planes = np.nan_to_num(planes, posinf=float(np.finfo(np.float32).max))
    most = np.maximum(planes.max(axis=0), np.float32(1e-6))
    way = np.float32(1 - KNEE)
    over = KNEE + way * -np.expm1(-np.maximum(most - np.float32(KNEE), 0) / way)
    return np.ascontiguousarray(planes * np.where(most > KNEE, over / most, np.float32(1)))


def _root_polynomial() -> NDArray[np.float32]:
    """Return sRGB's codes × 255 above its straight beginning as a polynomial in the root of light, lowest power first.

    Of degree 8, by Chebyshev's places: it misses the curve (IEC 61966-2-1) by less than 0.02 of a code.
    """
    low = np.sqrt(STRAIGHT)
    places = low + (1 - low) * (1 - np.cos(np.linspace(0, np.pi, 2001))) / 2
    fitted = np.polynomial.Chebyshev.fit(places, 255 * linear_to_srgb(places * places), 8)
    return np.asarray(fitted.convert(kind=np.polynomial.Polynomial).coef, np.float32)


@compiled(fastmath=KEEPS_NAN, inline="always")
def _code(light, p):  # type: ignore[no-untyped-def]
    # a comparison with NaN is false: NaN becomes black
    held = light if light > np.float32(0) else np.float32(0)
    held = min(held, np.float32(1))
    s = np.sqrt(held)
    curve = p[4] + s * (p[5] + s * (p[6] + s * (p[7] + s * p[8])))
    curve = p[0] + s * (p[1] + s * (p[2] + s * (p[3] + s * curve)))
    made = curve if held > np.float32(STRAIGHT) else held * np.float32(12.92 * 255)
    return np.uint8(np.int32(made + np.float32(0.5)))


@compiled(fastmath=KEEPS_NAN)
def _code_row(red, green, blue, polynomial, row):  # type: ignore[no-untyped-def]
    """Fill a row of codes, red, green and blue in turn."""
    q = polynomial
    # read once, so that the row is vectors
    p = (q[0], q[1], q[2], q[3], q[4], q[5], q[6], q[7], q[8])
    for x in range(red.size):
        row[3 * x], row[3 * x + 1], row[3 * x + 2] = _code(red[x], p), _code(green[x], p), _code(blue[x], p)


@compiled(fastmath=KEEPS_NAN)
def _turn_row(light, m):  # type: ignore[no-untyped-def]
    for x in range(light.shape[1]):
        r, g, b = light[0, x], light[1, x], light[2, x]
        light[0, x] = m[0, 0] * r + m[0, 1] * g + m[0, 2] * b
        light[1, x] = m[1, 0] * r + m[1, 1] * g + m[1, 2] * b
        light[2, x] = m[2, 0] * r + m[2, 1] * g + m[2, 2] * b


@compiled("void(float32[:, :, ::1], float32[:, :, ::1], float32[:, ::1], float32[::1], int64, int64, uint8[:, ::1])")
def _shown_rows(planes, leading, matrix, polynomial, first, last, out):  # type: ignore[no-untyped-def]
    """Lead what is beyond white to it, turn to sRGB's primaries and encode, a row at a time."""
    wide, turned = planes.shape[2], matrix[0, 1] != 0
    light = np.empty((3, wide), np.float32)
    for y in range(first, last):
        for c in range(3):
            for x in range(wide):
                light[c, x] = planes[c, y, x]
        for left in range(0, wide, FEW):
            end = min(left + FEW, wide)
            if any_beyond(light[0, left:end], light[1, left:end], light[2, left:end]):
                lead_row(light[0, left:end], light[1, left:end], light[2, left:end], leading)
        if turned:
            _turn_row(light, matrix)
        _code_row(light[0], light[1], light[2], polynomial, out[y])


_POLYNOMIAL = _root_polynomial()


def _within(planes: Planes, space: ColourSpace) -> Planes:
    """Return planes that end at white. A clip's own codes go beyond it, and are written so: they are left."""
    if space.high:
        return rolled_off(planes)
    return planes if space.as_coded else led_to_gamut(planes, space)


def screen_codes(planes: Planes, space: ColourSpace) -> Codes:
    """Return 8-bit codes for an sRGB screen, shape (H, W, 3), of linear planes; what sRGB does not hold is clipped."""
    matrix = np.ascontiguousarray(np.eye(3) if space is SRGB else space.matrix_to(SRGB).round(9), np.float32)
    if space.as_coded:
        return _rows(_within(planes, space), matrix, _eight_bit(space.transfer))
    planes = np.ascontiguousarray(rolled_off(planes) if space.high else planes, np.float32)
    leading, out = leading_matrices(space), np.empty((*planes.shape[1:], 3), np.uint8)
    flat = out.reshape(len(out), -1)
    for_rows(
        planes.shape[1],
        32,
        lambda first, last: _shown_rows(planes, leading, matrix, _POLYNOMIAL, first, last, flat),
    )
    return out


def file_codes(
    planes: Planes, space: ColourSpace, bits: int, from_top: int = 0, *, cuts_off: bool = False
) -> NDArray[np.uint8] | NDArray[np.uint16]:
    """Return codes of 8 or 16 bits, shape (H, W, 3), in the space's own transfer function; NaN becomes black.

    Light beyond white is led to it with its hue kept, that of a high range rolled off towards it, unless ``cuts_off``
    ends each channel there. Where 8 bits are
    fewer than a still has, they are dithered by a pattern that stands in the picture: ``from_top`` is the first row's.
    """
    planes = _places(planes if cuts_off else _within(planes, space), space.transfer)
    if bits == 8 and not (space.as_coded or space.high):
        return dithered(planes, space.transfer, ENTRIES, from_top)
    if bits == 8:
        return _rows(planes, np.eye(3, dtype=np.float32), _eight_bit(space.transfer))
    out = np.empty((*planes.shape[1:], 3), np.uint16)
    planes, table = np.ascontiguousarray(planes), _sixteen_bit(space.transfer)
    for_rows(planes.shape[1], 32, lambda first, last: _deep_rows(planes, table, first, last, out))
    return out


def _rows(planes: Planes, matrix: NDArray[np.float32], table: Codes) -> Codes:
    out = np.empty((*planes.shape[1:], 3), np.uint8)
    planes = np.ascontiguousarray(planes)
    for_rows(planes.shape[1], 32, lambda first, last: _screen_rows(planes, matrix, table, first, last, out))
    return out


def share_codes(shares: NDArray[np.float32], bits: int) -> NDArray[np.unsignedinteger]:
    """Return shares 0…1 as codes of 8 or 16 bits, 1 the highest."""
    kind = np.uint8 if bits == 8 else np.uint16
    return np.rint(np.clip(shares, 0, 1) * np.iinfo(kind).max).astype(kind)


def with_alpha(codes: NDArray[np.unsignedinteger], left: NDArray[np.float32]) -> NDArray[np.unsignedinteger]:
    """Return codes, shape (H, W, 4), with straight alpha; what is quite gone has no colour either."""
    top = np.iinfo(codes.dtype).max
    alpha = np.rint(np.clip(left, 0, 1) * top).astype(codes.dtype)[..., None]
    return np.concatenate([np.where(alpha > 0, codes, 0).astype(codes.dtype), alpha], axis=2)
