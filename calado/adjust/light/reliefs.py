"""Highlights and shadows: exposure on a base that keeps edges, so detail stays as it is.

On the tone t (the cube root of luminance) with its base B and detail t − B: bright and dark parts of the base are
moved,
B′ = B · 2^(EV · S(B)/3), and the detail goes along in proportion. S for highlights is smoothstep from tone 0.5 to 0.9,
for shadows from 0.6 down to 0.2 (our choice). EV at the ends is the amount times 2.

References
----------
He2013
"""

from collections.abc import Callable

import numpy as np

from calado.adjust.detail.guided import Plane, base_of, reach_px, tone, with_tone
from calado.adjust.kind import Composited, Rows, SpatialAdjustment, SpatialContext, SpatialPlan
from calado.arrays import Planes
from calado.colour.spaces import ColourSpace
from calado.sheet.declare import Number, Unit, Values

RADIUS = 0.04
EPS = 0.01
STOPS = 2.0


def _smooth(t: Plane) -> Plane:
    held = np.clip(t, 0, 1)
    return held * held * (3 - 2 * held)


def highlights_share(base: Plane) -> Plane:
    """Return how much of the amount a base tone gets."""
    return _smooth((base - np.float32(0.5)) / np.float32(0.4))


def shadows_share(base: Plane) -> Plane:
    """Return how much of the amount a base tone gets."""
    return _smooth((np.float32(0.6) - base) / np.float32(0.4))


def _plan_of(share: Callable[[Plane], Plane]) -> Callable[[Values, ColourSpace], SpatialPlan]:
    def plan(values: Values, space: ColourSpace) -> SpatialPlan:
        stops = STOPS * float(values["amount"])  # type: ignore[arg-type]

        def run(planes: Planes, at: SpatialContext, part: float) -> Rows:
            old = tone(planes, at.space)
            base = base_of(old, RADIUS / at.window.pixel, EPS, at.window)
            new = old * np.exp2(np.float32(stops / 3) * share(base))
            return Composited(with_tone(planes, old, new))

        return SpatialPlan(run, lambda window: reach_px(RADIUS / window.pixel))

    return plan


def _relief(id: str, name: str, synonyms: tuple[str, ...], share: Callable[[Plane], Plane]) -> SpatialAdjustment:
    return SpatialAdjustment(
        id=id,
        name=name,
        group="Light",
        parameters=(Number("amount", name, Unit.SHARE, 0.0, -1.0, 1.0, -2.0, 2.0, 0.01),),
        synonyms=synonyms,
        says=f"The {name.lower()} up or down; edges and detail stay.",
        plan=_plan_of(share),
    )


HIGHLIGHTS = _relief(
    "highlights",
    "Highlights",
    ("burnt", "recover", "bring back highlights", "bright parts", "hot spot", "sky"),
    highlights_share,
)
SHADOWS = _relief("shadows", "Shadows", ("fill light", "open up", "dark parts", "lift shadows"), shadows_share)
