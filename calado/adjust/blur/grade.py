"""How a blur meets the other side: cross-faded, by a radius that grows with the matte, or by distance from a level.

The distance grade (our choice): a subject stands on the ground at the level ``contact``. What stands there is as near
as the subject and stays sharp; the blur's radius grows with the distance from that level and is whole at ``span``.
"""

from dataclasses import replace
from typing import cast

from calado.adjust.kind import Grade, SpatialPlan
from calado.sheet.declare import Choice, Number, Option, Unit, Values

GRADE = (
    Choice(
        "grade",
        "Grows by",
        (
            Option("mix", "cross-fade"),
            Option("radius", "by radius", "growing by radius"),
            Option("distance", "by distance", "growing with the distance from the ground"),
        ),
    ),
    Number("contact", "Ground", Unit.LENGTH, 0.8, 0.0, 1.0, -1.0, 2.0, 0.01, needs=("grade", "distance"), scales=False),
    Number("span", "Whole at", Unit.LENGTH, 0.5, 0.05, 1.0, 0.01, 4.0, 0.01, needs=("grade", "distance"), scales=False),
)


def graded(plan: SpatialPlan, values: Values) -> SpatialPlan:
    """Return a blur's plan with the grade that its values ask for."""
    contact, span = GRADE[1], GRADE[2]
    assert isinstance(contact, Number) and isinstance(span, Number)  # as declared above
    return replace(
        plan,
        grade=cast(Grade, values.get("grade", "mix")),
        contact=float(cast(float, values.get("contact", contact.neutral))),
        span=float(cast(float, values.get("span", span.neutral))),
    )
