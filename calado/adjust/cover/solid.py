"""A solid cover: one colour. Where it is whole, the result does not depend on what it hides."""

from calado.adjust.colour.paint import light_of, paint
from calado.adjust.kind import PointAdjustment, numbers
from calado.arrays import Planes, Settings
from calado.colour.spaces import ColourSpace
from calado.compiled import compiled
from calado.sheet.declare import Number, Unit, Values


@compiled("void(float32[:, :, ::1], float32[::1])")
def solid_into(planes: Planes, s: Settings) -> None:
    """s: amount, light (3). At 1 the picture is not read, so not even a NaN comes through."""
    for c in range(3):
        for y in range(planes.shape[1]):
            row = planes[c, y]
            for x in range(row.size):
                row[x] = s[1 + c] if s[0] >= 1 else row[x] + s[0] * (s[1 + c] - row[x])


def _settings(values: Values, space: ColourSpace) -> Settings:
    number = SOLID.all_numbers(values)
    return numbers(number["amount"], light_of(number, space))


SOLID = PointAdjustment(
    roles=("plain", "gone"),
    id="solid",
    name="Solid",
    group="Cover",
    parameters=(Number("amount", "Solid", Unit.SHARE, 0.0, 0.0, 1.0, 0.0, 1.0, 0.01), *paint(0.25)),
    synonyms=("cover", "bar", "redact", "black bar", "conceal", "hide", "censor", "text", "blank"),
    says="One colour; what it covers is gone.",
    begins={"amount": 1.0},
    holds={"amount": 1.0},
    settings=_settings,
    into=solid_into,
)
