"""A tone curve: a monotone cubic through points, on the encoded signal, for all channels and for each.

References
----------
FritschCarlson1980, by SciPy's PCHIP. The channel's own curve comes after the common one. Beyond 0…1 a curve goes on
straight. ``amount`` fades between the straight line and the curve.
"""

from collections.abc import Callable

import numpy as np
import scipy
from numpy.typing import NDArray

from calado.adjust.kind import PointAdjustment
from calado.adjust.tone_lut import channel_settings, channels_into
from calado.arrays import Settings
from calado.colour.spaces import ColourSpace
from calado.sheet.declare import Curve, CurvePoints, Number, Unit, Values

Line = Callable[[NDArray[np.float64]], NDArray[np.float64]]


def curve_through(points: CurvePoints) -> Line:
    """Return the monotone cubic through points (x, y), flat or steep as their neighbours ask; straight beyond them."""
    x, y = (np.array(axis, np.float64) for axis in zip(*points, strict=True))
    with np.errstate(over="ignore"):  # slopes too small to be divided by are flat
        inner = scipy.interpolate.PchipInterpolator(x, y)
    slopes = inner.derivative()

    def line(signal: NDArray[np.float64]) -> NDArray[np.float64]:
        below = y[0] + (signal - x[0]) * min(max(float(slopes(x[0])), 0.0), 4.0)
        above = y[-1] + (signal - x[-1]) * min(max(float(slopes(x[-1])), 0.0), 4.0)
        within = inner(np.clip(signal, x[0], x[-1]))
        return np.where(signal < x[0], np.maximum(below, min(y[0], 0.0)), np.where(signal > x[-1], above, within))

    return line


def _settings(values: Values, space: ColourSpace) -> Settings:
    amount = CURVE.number(values, "amount")
    common = curve_through(CURVE.curve(values, "all"))

    def channel(name: str) -> Line:
        own = curve_through(CURVE.curve(values, name))
        return lambda signal: signal + amount * (own(common(signal)) - signal)

    return channel_settings((channel("red"), channel("green"), channel("blue")), space)


CURVE = PointAdjustment(
    roles=("curve",),
    id="curve",
    name="Curve",
    group="Light",
    space="encoded",
    parameters=(
        Number("amount", "Curve", Unit.SHARE, 0.0, 0.0, 1.0, 0.0, 2.0, 0.01),
        Curve("all", "All channels"),
        Curve("red", "Red"),
        Curve("green", "Green"),
        Curve("blue", "Blue"),
    ),
    synonyms=("tone curve", "s curve", "gradation curve", "rgb curves", "film"),
    says="A monotone curve on the signal, for all channels and for each.",
    begins={"amount": 1.0, "all": ((0.0, 0.0), (0.25, 0.2), (0.75, 0.8), (1.0, 1.0))},
    control="curve",
    wide=True,
    settings=_settings,
    into=channels_into,
)
