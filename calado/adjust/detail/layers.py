"""Local contrast and fine detail: what stands above a base that keeps edges, made more or less.

On the tone t with base B: t′ = B + (1 + amount) · (t − B). Local contrast takes a wide base, fine detail a narrow one;
below 0 the detail goes and edges stay, which is how skin is calmed.

References
----------
He2013
"""

from calado.adjust.detail.guided import base_of, reach_px, tone, with_tone
from calado.adjust.kind import Composited, Rows, SpatialAdjustment, SpatialContext, SpatialPlan
from calado.arrays import Planes
from calado.colour.spaces import ColourSpace
from calado.sheet.declare import Number, Unit, Values


def _plan(values: Values, space: ColourSpace, eps: float) -> SpatialPlan:
    amount, radius = float(values["amount"]), float(values["radius"])  # type: ignore[arg-type]

    def run(planes: Planes, at: SpatialContext, share: float) -> Rows:
        old = tone(planes, at.space)
        base = base_of(old, max(radius / at.window.pixel, 1.0), eps, at.window)
        return Composited(with_tone(planes, old, old + amount * (old - base)))

    return SpatialPlan(run, lambda window: reach_px(max(radius / window.pixel, 1.0)))


LOCAL = SpatialAdjustment(
    id="local",
    name="Local contrast",
    group="Detail",
    parameters=(
        Number("amount", "Local contrast", Unit.SHARE, 0.0, -1.0, 1.0, -1.0, 3.0, 0.01),
        Number("radius", "Radius", Unit.LENGTH, 0.04, 0.01, 0.12, 0.004, 0.3, 0.002, scales=False),
    ),
    synonyms=("clarity of form", "structure", "punch", "relief", "definition"),
    says="Contrast between neighbouring parts; strong edges get no halo.",
    plan=lambda values, space: _plan(values, space, 0.02),
)

FINE = SpatialAdjustment(
    id="fine",
    name="Fine detail",
    group="Detail",
    parameters=(
        Number("amount", "Fine detail", Unit.SHARE, 0.0, -1.0, 1.0, -1.0, 3.0, 0.01),
        Number("radius", "Radius", Unit.LENGTH, 0.008, 0.002, 0.03, 0.001, 0.1, 0.001, scales=False),
    ),
    synonyms=("skin", "smooth skin", "soften skin", "calm", "texture", "crisp", "wrinkles", "pores"),
    says="The finest detail, more or less; below 0 it calms skin and keeps edges.",
    plan=lambda values, space: _plan(values, space, 0.004),
)
