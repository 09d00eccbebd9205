"""Findings about edges: too hard, with a halo, with the subject's colour in its surround."""

from collections.abc import Iterator

import numpy as np

from calado.adjust.registry import ADJUSTMENTS, used
from calado.catalogue import CATALOGUE
from calado.inspect.edge.softness import edge_softness
from calado.inspect.look.finding import Finding, Looked, sides_of
from calado.inspect.spill import spill_of
from calado.render.resolve import resolve
from calado.sheet.models import Pass

#: mean ΔE₀₀ from which a correction counts as strong
STRONG = 5.0
SPILT = 0.35
GROWN_ENOUGH = 0.6


def hard_edges(looked: Looked) -> Iterator[Finding]:
    """Yield passes of a strong correction that ends at an edge without a feather."""
    for each in looked.passes:
        region, matte = looked.sheet.region(each.region), looked.matte(each.region)
        if region is None or matte is None or _meant_hard(each):
            continue
        soft, half = (matte > 0.03) & (matte < 0.97), matte > 0.5
        rim = half[:-1, :-1] != half[1:, 1:]
        # at most one soft pixel on each side of the outline is no feather
        if not rim.any() or soft.sum() > 2.2 * rim.sum():
            continue
        difference = looked.change(each.id).difference
        near = np.zeros_like(half)
        near[1:, 1:] = rim
        if float(difference[half].mean() if each.inside else difference[~half].mean()) < STRONG:
            continue
        yield Finding(
            "hard-edge",
            f"“{each.name}” is strong and “{region.name}” has no feather: its edge will show.",
            each.id,
            region.id,
            looked.rectangle(near),
            "soften the region by 1.0\u00a0%",
            looked.with_region(region.model_copy(update={"refine": {**region.refine, "blur": 0.01}})),
        )


def _meant_hard(each: Pass) -> bool:
    """Covers, cut edges and greys are often meant to end hard."""
    of = [ADJUSTMENTS[id] for id in {*each.inside, *each.outside}]
    covers = [one for one in of if one.holds is not None or one.group == "Cover"]
    return bool(covers) or all({"stark", "blur", "gone"} & {*one.roles} for one in of)


def halos(looked: Looked) -> Iterator[Finding]:
    """Yield blurs beside a region whose edge is softer than the region was grown."""
    for each in looked.passes:
        region, where = looked.sheet.region(each.region), resolve(looked.sheet, each.region)
        for side, treatment in sides_of(each):
            grade_free = any(treatment[id].get("grade", "mix") == "mix" for id in used(treatment, "blur"))
            if region is None or where is None or where.solved or not grade_free:
                continue
            matte = looked.matte(each.region)
            if matte is None or ((matte > 0.03) & (matte < 0.97)).mean() > 0.1:
                continue  # a wide feather cross-fades and has no edge for a halo
            softness = edge_softness(looked.engine, looked.source, where)
            grown = CATALOGUE.refine.number(region.refine, "grow") * (1 if side == "outside" else -1)
            if softness.sigma is None or grown >= GROWN_ENOUGH * softness.grow:
                continue
            target = round(softness.grow * (1 if side == "outside" else -1), 5)
            px = softness.sigma * looked.source.height
            yield Finding(
                "halo",
                f"“{each.name}” blurs beside an edge that is {px:.1f} px soft; “{region.name}” is not grown for it,"
                " so a halo is likely.",
                each.id,
                region.id,
                looked.rectangle(matte > 0.5),
                f"grow by twice its softness, {abs(target) * 100:.2f}\u00a0%",
                looked.with_region(region.model_copy(update={"refine": {**region.refine, "grow": target}})),
            )


def spills(looked: Looked) -> Iterator[Finding]:
    """Yield blurred surrounds in which the subject's colour is found."""
    for each in looked.passes:
        region = looked.sheet.region(each.region)
        if region is None or not used(each.outside, "blur"):
            continue
        matte = looked.matte(each.region)
        found = None if matte is None else spill_of(looked.change(each.id).after, matte)
        if found is None or found.share < SPILT:
            continue
        size, reach = 1 / looked.window.scale, 24.0
        place = (found.x * size - reach * size, found.y * size - reach * size, 2 * reach * size, 2 * reach * size)
        grow = CATALOGUE.refine.number(region.refine, "grow") + 0.004
        yield Finding(
            "spill",
            f"The subject's colour stands in the surround of “{region.name}”, at worst {found.share * 100:.0f}\u00a0%.",
            each.id,
            region.id,
            place,
            "grow the region by 0.4\u00a0%",
            looked.with_region(region.model_copy(update={"refine": {**region.refine, "grow": round(grow, 5)}})),
        )
