"""How much of each pixel is left: what a picture brought along, blurred with it, less what passes make transparent."""

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from calado.adjust.kind import SpatialPlan
from calado.adjust.side import SidePlan
from calado.arrays import Matte
from calado.region.resolved import ResolvedRegion
from calado.render.passes import RenderContext, run_passes
from calado.render.plan import PassPlan
from calado.render.source import Source
from calado.window import Window

HALF = np.float32(0.5)


def left_of(
    there: Matte | None, plans: tuple[PassPlan, ...], window: Window, matte: Callable[[ResolvedRegion], Matte]
) -> Matte | None:
    """Return what passes leave, shape (H, W), of what was ``there`` (None: all), or None where all of all is left."""
    left = there
    for plan in plans:
        if not (plan.inside.clear or plan.outside.clear):
            continue
        inside = matte(plan.where) if plan.where else np.ones((window.height, window.width), np.float32)
        for side, weight in ((plan.inside, inside), (plan.outside, np.float32(1) - inside)):
            if side.clear:
                kept = np.float32(1) - np.float32(plan.mix * side.clear) * weight
                left = kept if left is None else left * kept
    return left


def blurred_share(
    share: Source, plans: tuple[PassPlan, ...], window: Window, openings: Callable[[Window], RenderContext]
) -> Matte:
    """Return how much of each pixel is there, shape (H, W), 0…1, after a picture was blurred by passes.

    ``openings(window)`` gives what passes ask for in a wider window.
    """
    blurs = tuple(made for made in map(_blurs_of, plans) if made.inside.acts or made.outside.acts)
    if not blurs:
        made: Matte = share.planes(window)[0]
        return made
    wide = window.grown(sum(each.reach(window) for each in blurs))
    # as of no light that is cut off, which a lens would draw larger
    there = np.repeat(share.planes(wide) * HALF, 3, axis=0)
    context = replace(openings(wide), own=lambda plan, planes, at: planes)
    blurred = run_passes(there, blurs, wide, context)[0][window.inside(wide)]
    return np.ascontiguousarray(np.clip(blurred / HALF, 0, 1))


def _blurs_of(plan: PassPlan) -> PassPlan:
    """Return of a pass what blurs."""
    inside, outside = (
        SidePlan(tuple(each for each in side.stages if isinstance(each, SpatialPlan) and each.parted))
        for side in (plan.inside, plan.outside)
    )
    return replace(plan, inside=inside, outside=outside)
