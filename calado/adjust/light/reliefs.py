"""Highlights and shadows: exposure on a base that keeps edges, so detail stays as it is.

On the tone t (the cube root of luminance) with its base B and detail t − B: bright and dark parts of the base are
moved, B′ = B · 2^(EV · S(B)/3), and the detail goes along in proportion. EV at the ends is the amount times 2. S is a
line over log₂ B with round ends, for highlights from nothing at tone 0.5 to all at 0.9, for shadows from nothing at 0.6
to all at 0.2 (our choice). Where EV is so large that tones would meet, S begins farther away, so that the slope of
log B′ over log B stays at least ``FLATTEST``: brighter stays brighter.

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
#: the share of the way in which each end of the line is rounded, and how steep it is then between them
ROUND = 1 / 6
STEEPEST = 1 / (1 - ROUND)
#: how flat a tone's own slope may become
FLATTEST = 0.1


def _share(base: Plane, none: float, every: float, stops: float) -> Plane:
    """Return how much of the amount a base tone gets: nothing at tone ``none``, all at ``every``; as much as can be."""
    way = float(np.log2(every / none))
    if stops * way < 0:
        # log B′ falls behind by stops/3 over the way, by the line's slope at most
        least = -stops / 3 * STEEPEST / (1 - FLATTEST)
        way = np.copysign(max(abs(way), abs(least)), way)
    t = np.clip(1 + np.log2(np.maximum(base, np.float32(1e-4)) / np.float32(every)) / np.float32(way), 0, 1)
    low, high = np.minimum(t, ROUND), np.minimum(1 - t, ROUND)
    line = (t - ROUND / 2) * STEEPEST
    ends = np.float32(STEEPEST / (2 * ROUND))
    return np.asarray(
        np.where(t < ROUND, ends * low * low, np.where(t > 1 - ROUND, 1 - ends * high * high, line)), np.float32
    )


def highlights_share(base: Plane, stops: float) -> Plane:
    """Return how much of ``stops`` a base tone gets."""
    return _share(base, 0.5, 0.9, stops)


def shadows_share(base: Plane, stops: float) -> Plane:
    """Return how much of ``stops`` a base tone gets."""
    return _share(base, 0.6, 0.2, stops)


def _plan_of(share: Callable[[Plane, float], Plane]) -> Callable[[Values, ColourSpace], SpatialPlan]:
    def plan(values: Values, space: ColourSpace) -> SpatialPlan:
        stops = STOPS * float(values["amount"])  # type: ignore[arg-type]

        def run(planes: Planes, at: SpatialContext, part: float) -> Rows:
            old = tone(planes, at.space)
            base = base_of(old, RADIUS / at.window.pixel, EPS, at.window)
            new = old * np.exp2(np.float32(stops / 3) * share(base, stops))
            return Composited(with_tone(planes, old, new))

        return SpatialPlan(run, lambda window: reach_px(RADIUS / window.pixel))

    return plan


def _relief(id: str, name: str, synonyms: tuple[str, ...], share: Callable[[Plane, float], Plane]) -> SpatialAdjustment:
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
