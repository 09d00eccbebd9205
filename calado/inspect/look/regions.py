"""Findings about regions: empty, full, noisy, in pieces."""

from collections.abc import Iterator

import numpy as np
import scipy

from calado.inspect.distribution import steep_slopes
from calado.inspect.look.finding import Finding, Looked
from calado.render.resolve import resolve
from calado.sheet.models import Region
from calado.sheet.within import with_part

FULL, EMPTY = 0.985, 0.015
#: share of the region's pixels that stand alone among their neighbours
NOISY = 0.02
#: pieces smaller than this share of the frame are specks
SPECK = 0.001
MANY = 2
#: a slope so soft does not band
SOFTER = 0.06


def _used(looked: Looked) -> Iterator[tuple[Region, str]]:
    """Yield each region that passes use, with the first of them."""
    seen: set[str] = set()
    for each in looked.passes:
        region = looked.sheet.region(each.region)
        if region is not None and region.id not in seen:
            seen.add(region.id)
            yield region, each.id


def empty_or_full(looked: Looked) -> Iterator[Finding]:
    """Yield regions that hold nothing, or all of the picture."""
    for region, pass_id in _used(looked):
        matte = looked.matte(region.id)
        if matte is None or (float(matte.max()) > EMPTY and float(matte.min()) < FULL):
            continue
        holds = "nothing of the picture" if matte.max() <= EMPTY else "the whole picture"
        yield Finding("empty-or-full", f"“{region.name}” holds {holds}.", pass_id, region.id)


def noisy(looked: Looked) -> Iterator[Finding]:
    """Yield regions whose matte is peppered with single pixels."""
    for region, pass_id in _used(looked):
        matte = looked.matte(region.id)
        if matte is None or not (matte > 0.5).any():
            continue
        alone = np.abs(matte - scipy.ndimage.median_filter(matte, 3)) > 0.4
        if alone.sum() < NOISY * (matte > 0.5).sum():
            continue
        smoothed = region.model_copy(update={"refine": {**region.refine, "smooth": 0.006}})
        yield Finding(
            "noisy",
            f"The matte of “{region.name}” is noisy: single pixels stand in it like salt and pepper.",
            pass_id,
            region.id,
            looked.rectangle(alone),
            "smooth it by 0.6\u00a0%",
            looked.with_region(smoothed),
        )


def steep_ranges(looked: Looked) -> Iterator[Finding]:
    """Yield regions with a range whose slope is so steep that it bands."""
    for region, pass_id in _used(looked):
        for part in region.parts:
            steep = steep_slopes(part)
            if not steep:
                continue
            softer = part.model_copy(update={"values": {**part.values, **dict.fromkeys(steep, SOFTER)}})
            yield Finding(
                "steep-range",
                f"A slope of “{region.name}” is so steep that it shows as bands.",
                pass_id,
                region.id,
                None,
                "make it softer",
                looked.with_region(with_part(region, softer)),
            )


def pieces(looked: Looked) -> Iterator[Finding]:
    """Yield regions with specks and pinholes."""
    for region, pass_id in _used(looked):
        where = resolve(looked.sheet, region.id)
        if where is None:
            continue
        found = looked.engine.mattes(looked.source).pieces(where, looked.source.full())
        specks = [each for each in found if each.area < SPECK and not each.removed]
        if len(specks) < MANY:
            continue
        removed = (*region.removed, *(each.piece for each in specks))[:500]
        first, height = specks[0].box, looked.source.height
        box = (first[0] * height, first[1] * height, (first[2] - first[0]) * height, (first[3] - first[1]) * height)
        yield Finding(
            "pieces",
            f"“{region.name}” has {len(specks)} specks and pinholes.",
            pass_id,
            region.id,
            box,
            "drop them all",
            looked.with_region(region.model_copy(update={"removed": removed})),
        )
