"""Fast float32 building blocks for kernels, each with its error stated and tested."""

import numba as nb
from llvmlite import ir
from numba import types
from numba.extending import intrinsic

from calado.compiled import compiled


@intrinsic
def bits_of(typingctx, value):  # type: ignore[no-untyped-def]
    """Return the 32 bits of a float32 as int32."""

    def generate(context, builder, signature, arguments):  # type: ignore[no-untyped-def]
        return builder.bitcast(arguments[0], ir.IntType(32))

    return types.int32(types.float32), generate


@intrinsic
def _float(typingctx, value):  # type: ignore[no-untyped-def]
    """Return the float32 whose 32 bits are an int32."""

    def generate(context, builder, signature, arguments):  # type: ignore[no-untyped-def]
        return builder.bitcast(arguments[0], ir.FloatType())

    return types.float32(types.int32), generate


@compiled("float32(float32)", inline="always")
def cbrt(x: float) -> float:
    """Return the cube root of a float32 of either sign; relative error below 5e-7 above 1e-30, and 0 gives 0.

    x^(−1/3) by a guess from the bits and three Newton steps y ← y (4 − x y³)/3, which need no division; then x·y².
    """
    magnitude = abs(x)
    third = nb.float32(magnitude * nb.float32(1 / 3))
    y = _float(nb.int32(1419967000) - nb.int32(nb.float32(bits_of(magnitude)) * nb.float32(1 / 3)))
    for _ in range(3):
        y = y * (nb.float32(4 / 3) - third * y * y * y)
    return x * y * y


@compiled("float32(float32)", inline="always")
def log2(x: float) -> float:
    """Return the base-2 logarithm of a float32 above 1e-37; absolute error below 1e-6 within 2⁻¹⁶…2¹⁶.

    Exponent from the bits; mantissa m in √½…√2 by log₂ m = (2/ln 2)(t + t³/3 + t⁵/5 + t⁷/7), t = (m − 1)/(m + 1).
    """
    bits = bits_of(x)
    # half the mantissa's range is moved down, so that m stands around 1
    exponent = (bits - nb.int32(0x3F3504F3)) >> nb.int32(23)
    m = _float(bits - (exponent << nb.int32(23)))
    t = (m - nb.float32(1)) / (m + nb.float32(1))
    s = t * t
    series = nb.float32(1) + s * (nb.float32(1 / 3) + s * (nb.float32(1 / 5) + s * nb.float32(1 / 7)))
    return nb.float32(exponent) + nb.float32(2.8853900817779268) * t * series


@compiled("float32(float32)", inline="always")
def exp2(x: float) -> float:
    """Return 2^x of a float32 within −126…127, held there; relative error below 4e-7.

    2^n from the bits, the rest within ±½ by the exponential series to the sixth power.
    """
    held = min(max(x, nb.float32(-126)), nb.float32(127))
    whole = nb.int32(held + nb.float32(1000.5)) - nb.int32(1000)
    f = (held - nb.float32(whole)) * nb.float32(0.6931471805599453)
    series = nb.float32(1 / 24) + f * (nb.float32(1 / 120) + f * nb.float32(1 / 720))
    series = nb.float32(1) + f * (nb.float32(1) + f * (nb.float32(1 / 2) + f * (nb.float32(1 / 6) + f * series)))
    return series * _float((whole + nb.int32(127)) << nb.int32(23))


@compiled("float32(float32, float32)", inline="always")
def power(x: float, exponent: float) -> float:
    """Return |x|^exponent with the sign of x; 0 gives 0."""
    magnitude = abs(x)
    made = exp2(exponent * log2(max(magnitude, nb.float32(1e-30))))
    made = made if magnitude > nb.float32(1e-30) else nb.float32(0)
    return made if x >= 0 else -made
