"""Gaussian blur of one side of a region, which takes no light from the other side.

References
----------
Knutsson1993: B = G∗(w·x) / G∗w with the side's coverage w as certainty (see ``calado.render.gaussian``).
"""

from calado.adjust.kind import Softening, SpatialAdjustment
from calado.sheet.declare import Choice, Number, Option, Unit, Values


def _plan(values: Values) -> Softening:
    return Softening(BLUR.number(values, "radius"), values.get("grade") == "radius")


BLUR = SpatialAdjustment(
    id="blur",
    name="Blur",
    group="Blur",
    space="linear",
    parameters=(
        Number("radius", "Blur", Unit.LENGTH, 0.0, 0.0, 0.05, 0.0, 0.25, 0.001, curve="square"),
        Choice(
            "grade",
            "Grade",
            (Option("mix", "cross-fade"), Option("radius", "by radius", "growing by radius")),
        ),
    ),
    synonyms=("soft", "soften", "defocus", "gaussian", "unsharp", "out of focus", "background"),
    says="A Gaussian; the other side lends it no light, so no halo.",
    plan=_plan,
)
