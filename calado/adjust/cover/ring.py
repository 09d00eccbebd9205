"""A ring: the region's outline drawn at a distance, whole or dashed."""

from calado.adjust.colour.paint import light_of, paint
from calado.adjust.kind import RingAdjustment, RingPlan
from calado.colour.spaces import ColourSpace
from calado.sheet.declare import Number, Unit, Values


def _plan(values: Values, space: ColourSpace) -> RingPlan:
    number = RING.all_numbers(values)
    return RingPlan(number["offset"], number["width"], number["dash"], light_of(number, space))


RING = RingAdjustment(
    roles=("stark",),
    id="ring",
    name="Ring",
    group="Cover",
    space="linear",
    parameters=(
        Number("width", "Ring", Unit.LENGTH, 0.0, 0.0, 0.03, 0.0, 0.2, 0.001, curve="square"),
        Number("offset", "Distance", Unit.LENGTH, 0.0, -0.1, 0.1, -0.5, 0.5, 0.002, word="at", scales=False),
        Number("dash", "Dashes", Unit.LENGTH, 0.0, 0.0, 0.1, 0.0, 1.0, 0.002, scales=False),
        *paint(),
    ),
    synonyms=("red outline", "outline", "circle", "border", "mark", "point out", "callout", "frame", "stroke"),
    says="The region's outline as a line at a distance, whole or dashed.",
    of_a_region=True,
    plan=_plan,
)
