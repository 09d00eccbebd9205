"""Cut away: a side becomes one colour, black unless said otherwise, or transparent in what is exported."""

from calado.adjust.colour.paint import light_of, paint
from calado.adjust.cover.solid import solid_into
from calado.adjust.kind import ClearAdjustment, PointAdjustment, numbers
from calado.arrays import Settings
from calado.colour.spaces import ColourSpace
from calado.sheet.declare import Number, Unit, Values


def _settings(values: Values, space: ColourSpace) -> Settings:
    number = CUT.all_numbers(values)
    return numbers(number["amount"], light_of(number, space))


CUT = PointAdjustment(
    roles=("gone", "stark"),
    id="cut",
    name="Blank out",
    group="Lens",
    side="outside",
    parameters=(Number("amount", "Blank out", Unit.SHARE, 0.0, 0.0, 1.0, 0.0, 1.0, 0.01), *paint(0.0)),
    synonyms=("black", "crop to shape", "mask out", "isolate", "peephole", "frame"),
    says="The side becomes one colour: black, unless another is set.",
    begins={"amount": 1.0},
    settings=_settings,
    into=solid_into,
)

CLEAR = ClearAdjustment(
    roles=("gone", "clear", "stark"),
    id="clear",
    name="Make transparent",
    group="Lens",
    side="outside",
    parameters=(Number("amount", "Transparent", Unit.SHARE, 0.0, 0.0, 1.0, 0.0, 1.0, 0.01, word="transparent"),),
    synonyms=(
        "transparent background",
        "remove background",
        "transparent",
        "alpha",
        "cut out",
        "isolate",
        "png",
        "sticker",
    ),
    says="The side becomes transparent, in exports that can say so.",
    begins={"amount": 1.0},
    share=lambda values: float(values["amount"]),  # type: ignore[arg-type]
)
