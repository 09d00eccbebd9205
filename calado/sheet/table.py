"""The table of all adjustments, from their declarations, in Markdown."""

from calado.sheet.declare import AdjustmentDeclaration, Catalogue, Choice, Curve, Number, Parameter
from calado.sheet.numbers import say_number


def adjustments_table(catalogue: Catalogue) -> str:
    """Return one row for each parameter, grouped as the tray groups them."""
    lines = ["| group | adjustment | parameter | neutral | fader | may be typed |", "|---|---|---|---|---|---|"]
    for adjustment in sorted(catalogue.adjustments.values(), key=lambda each: each.group):
        lines += [_row(adjustment, parameter) for parameter in adjustment.parameters]
    return "\n".join(lines)


def _row(adjustment: AdjustmentDeclaration, parameter: Parameter) -> str:
    name = f"`{adjustment.id}`" if parameter is adjustment.parameters[0] else ""
    cells = [adjustment.group if name else "", name, f"{parameter.name} (`{parameter.id}`)", *_values(parameter)]
    return f"| {' | '.join(cells)} |"


def _values(parameter: Parameter) -> tuple[str, str, str]:
    if isinstance(parameter, Number):
        neutral, low, high, floor, ceiling = (
            say_number(value, parameter)
            for value in (parameter.neutral, parameter.low, parameter.high, parameter.floor, parameter.ceiling)
        )
        return neutral, f"{low} … {high}", f"{floor} … {ceiling}"
    if isinstance(parameter, Choice):
        return parameter.neutral, ", ".join(option.id for option in parameter.options), ""
    if isinstance(parameter, Curve):
        return "straight" if len(parameter.usual) == 2 else "the usual curve", "points, 0 … 1", ""
    return "none", "a name", ""
