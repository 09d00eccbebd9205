"""What the declarations of adjustments and of parts have in common."""

from dataclasses import dataclass

from calado.sheet.declare.parameters import Curve, CurvePoints, Number, Parameter, Value, Values


@dataclass(frozen=True)
class Declaration:
    """What adjustments and parts have in common."""

    id: str
    name: str
    parameters: tuple[Parameter, ...]

    def parameter(self, id: str) -> Parameter | None:
        """Return the parameter called ``id``, or None."""
        return next((parameter for parameter in self.parameters if parameter.id == id), None)

    @property
    def numbers(self) -> tuple[Number, ...]:
        """The numeric parameters, in order."""
        return tuple(parameter for parameter in self.parameters if isinstance(parameter, Number))

    def complete(self, values: Values) -> dict[str, Value]:
        """Return ``values`` with the neutral value wherever nothing is said."""
        return {p.id: values.get(p.id, p.neutral) for p in self.parameters}

    def number(self, values: Values, id: str) -> float:
        """Return the number called ``id`` from ``values``, or its neutral value."""
        parameter = self.parameter(id)
        assert isinstance(parameter, Number)  # a mistake in a declaration, never in a sheet
        value = values.get(id, parameter.neutral)
        assert isinstance(value, int | float)  # checked when the sheet was read
        return float(value)

    def all_numbers(self, values: Values) -> dict[str, float]:
        """Return every number of ``values`` by its id, the neutral one where nothing is said."""
        return {number.id: self.number(values, number.id) for number in self.numbers}

    def curve(self, values: Values, id: str) -> CurvePoints:
        """Return the points of the curve called ``id``."""
        parameter = self.parameter(id)
        assert isinstance(parameter, Curve)
        return parameter.points(values.get(id, ()))
