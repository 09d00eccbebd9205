"""Numbers as they are said: signs, decimals and units.

U+2212 is the minus, U+00A0 stands before the unit (LOOK: sentence grammar).
"""

from decimal import ROUND_HALF_UP, Decimal

from calado.sheet.declare import MIRED_OF_WHITE, Number, Unit

#: decimals of what is said without a unit
_PLACES = {Unit.COUNT: 0, Unit.DELTA: 1, Unit.CHROMA: 3}
MINUS, SPACE = "\u2212", "\u00a0"


def _fixed(value: float, places: int) -> str:
    """Return ``value`` ≥ 0 with ``places`` decimals, ties away from zero, as the number fields of the web round."""
    return str(Decimal(value).quantize(Decimal(1).scaleb(-places), ROUND_HALF_UP))


def _decimals(value: float, least: int, most: int) -> str:
    """Return ``value`` with as many decimals as it needs between ``least`` and ``most``."""
    for places in range(least, most):
        if abs(round(value, places) - value) < 1e-9:
            return _fixed(value, places)
    return _fixed(value, most)


def _magnitude(value: float, unit: Unit) -> tuple[str, str]:
    if unit is Unit.STOPS:
        return _decimals(value, 1, 2), SPACE + "EV"
    if unit is Unit.DUV:
        return _fixed(value, 4), SPACE + "Duv"
    if unit is Unit.FACTOR:
        return _decimals(value, 2, 3), ""
    if unit in _PLACES:
        return _fixed(value, _PLACES[unit]), ""
    if unit is Unit.ANGLE:
        return _fixed(value, 1), "°"
    percent = value * 100
    if unit is Unit.SHARE:
        return _decimals(percent, 0, 1), SPACE + "%"
    return _fixed(percent, 2 if 0 < percent < 0.995 else 1), SPACE + "%"


def say_number(value: float, number: Number) -> str:
    """Return a value as the sentence says it: ``−1.2 EV``, ``+35 %``, ``0.45 %``, ``5600 K``."""
    if number.unit is Unit.MIRED:
        return f"{50 * round(1e6 / (MIRED_OF_WHITE - value) / 50)}{SPACE}K"
    digits, unit = _magnitude(abs(value), number.unit)
    value = -value if number.turned else value
    negative = value < 0 and float(digits) != 0
    sign = MINUS if negative else "+" if number.signed and float(digits) != 0 else ""
    return f"{sign}{digits}{unit}"
