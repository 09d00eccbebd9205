"""Temperature and tint: which light the picture is balanced for.

What is white in that light is adapted by CAT16 to the white of 6504 K; so a larger number makes it warmer, as cameras
have it, and the kelvin of the lamps make a picture that they lit neutral. The light lies on the CIE daylight locus,
which is defined from 4000 to 25000 K, and below on the Planckian locus, as lamps do; between 4000 and 3450 K it goes
from the one to the other (ours). Tint leaves the locus at a right angle in the CIE 1960 diagram. Temperature is kept in
mired (10⁶ / K), in which equal steps look alike, warmer above 0, and said in kelvin.

References
----------
CIE015: the daylight locus; Krystek1985: the Planckian locus; Li2017: CAT16.
"""

from math import hypot

import numpy as np

from calado.adjust.kind import PointAdjustment, numbers
from calado.arrays import Matrix, Planes, Settings
from calado.colour.spaces import ColourSpace, xyz_of
from calado.compiled import compiled
from calado.sheet.declare import MIRED_OF_WHITE, Number, Unit, Values

CAT16 = np.array([[0.401288, 0.650173, -0.051461], [-0.250268, 1.204414, 0.045854], [-0.002079, 0.048952, 0.953127]])
#: a small step along the locus, in mired, for its direction
STEP = 0.5
#: mired from which on lights leave daylight's locus, and from which on they are on that of lamps: 4000 and 3450 K
LAMPS = 250.0, 290.0

XY = tuple[float, float]


def daylight(mired: float) -> XY:
    """Return the chromaticity (x, y) of CIE daylight."""
    t = 1e6 / mired
    if t <= 7000:
        x = -4.6070e9 / t**3 + 2.9678e6 / t**2 + 0.09911e3 / t + 0.244063
    else:
        x = -2.0064e9 / t**3 + 1.9018e6 / t**2 + 0.24748e3 / t + 0.237040
    return x, -3.000 * x * x + 2.870 * x - 0.275


def planckian(mired: float) -> XY:
    """Return the chromaticity (u, v) of CIE 1960 of a lamp's light, 1000 to 15000 K."""
    t = 1e6 / mired
    u = (0.860117757 + 1.54118254e-4 * t + 1.28641212e-7 * t * t) / (1 + 8.42420235e-4 * t + 7.08145163e-7 * t * t)
    v = (0.317398726 + 4.22806245e-5 * t + 4.20481691e-8 * t * t) / (1 - 2.89741816e-5 * t + 1.61456053e-7 * t * t)
    return u, v


def light_at(mired: float) -> XY:
    """Return the chromaticity (x, y) of a light, 2000 to 25000 K."""
    if mired <= LAMPS[0]:
        return daylight(mired)
    (u, v), share = planckian(mired), min((mired - LAMPS[0]) / (LAMPS[1] - LAMPS[0]), 1.0)
    if share < 1:
        a, b = _uv(daylight(mired))
        u, v = a + share * (u - a), b + share * (v - b)
    return _xy(u, v)


def off_locus(mired: float, duv: float) -> XY:
    """Return the chromaticity at a distance ``duv`` from the locus in (u, v) of CIE 1960, greener above 0."""
    u, v = _uv(daylight(mired))
    before, after = _uv(daylight(mired - STEP)), _uv(daylight(mired + STEP))
    along = (after[0] - before[0], after[1] - before[1])
    length = hypot(*along)
    # a quarter turn from the way toward warmer light leads up, to greener
    u, v = u - duv * along[1] / length, v + duv * along[0] / length
    return _xy(u, v)


def _xy(u: float, v: float) -> XY:
    return 3 * u / (2 * u - 8 * v + 4), 2 * v / (2 * u - 8 * v + 4)


def _uv(xy: XY) -> XY:
    x, y = xy
    below = -2 * x + 12 * y + 3
    return 4 * x / below, 6 * y / below


def adaptation(white: XY, other: XY, space: ColourSpace) -> Matrix:
    """Return the matrix, shape (3, 3), on linear RGB that takes one white to another."""
    ratio = (CAT16 @ xyz_of(other)) / (CAT16 @ xyz_of(white))
    xyz = np.linalg.inv(CAT16) @ np.diag(ratio) @ CAT16
    return np.asarray(space.from_xyz @ xyz @ space.to_xyz, np.float64)


@compiled("void(float32[:, :, ::1], float32[::1])", fastmath=True)
def _into(planes: Planes, s: Settings) -> None:
    a0, a1, a2, a3, a4, a5, a6, a7, a8 = s[0], s[1], s[2], s[3], s[4], s[5], s[6], s[7], s[8]
    for y in range(planes.shape[1]):
        red, green, blue = planes[0, y], planes[1, y], planes[2, y]
        for x in range(red.size):
            r, g, b = red[x], green[x], blue[x]
            red[x] = a0 * r + a1 * g + a2 * b
            green[x] = a3 * r + a4 * g + a5 * b
            blue[x] = a6 * r + a7 * g + a8 * b


def temperature_matrix(shift: float, space: ColourSpace) -> Matrix:
    """Return the matrix, shape (3, 3), on linear RGB of a temperature, a shift in mired."""
    return adaptation(light_at(MIRED_OF_WHITE - shift), daylight(MIRED_OF_WHITE), space)


def tint_matrix(duv: float, space: ColourSpace) -> Matrix:
    """Return the matrix, shape (3, 3), on linear RGB of a tint."""
    return adaptation(daylight(MIRED_OF_WHITE), off_locus(MIRED_OF_WHITE, duv), space)


def _temperature(values: Values, space: ColourSpace) -> Settings:
    return numbers(temperature_matrix(TEMPERATURE.number(values, "shift"), space))


def _tint(values: Values, space: ColourSpace) -> Settings:
    return numbers(tint_matrix(TINT.number(values, "duv"), space))


TEMPERATURE = PointAdjustment(
    id="temperature",
    name="Temperature",
    group="Colour",
    space="linear",
    parameters=(
        Number("shift", "Temperature", Unit.MIRED, 0.0, -200.0, 100.0, -346.0, 113.0, 2.0, word="balanced for"),
    ),
    synonyms=(
        "warm up",
        "too yellow",
        "too blue",
        "warm",
        "warmer",
        "cold",
        "cooler",
        "white balance",
        "kelvin",
        "candle",
        "tungsten",
        "daylight",
        "yellow",
        "blue",
    ),
    says="Balanced for another light: warmer above, cooler below; the lamps' own kelvin make it neutral.",
    settings=_temperature,
    into=_into,
)
TINT = PointAdjustment(
    id="tint",
    name="Tint",
    group="Colour",
    space="linear",
    parameters=(Number("duv", "Tint", Unit.DUV, 0.0, -0.02, 0.02, -0.05, 0.05, 0.0005),),
    synonyms=("green", "magenta", "white balance", "fluorescent", "colour cast"),
    says="The light greener, or below 0 more magenta.",
    settings=_tint,
    into=_into,
)
