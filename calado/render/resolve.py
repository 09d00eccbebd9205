"""Regions of a sheet as passes use them, and the covers over them."""

from collections.abc import Iterator
from dataclasses import replace

from calado.adjust.registry import ADJUSTMENTS, Adjustment
from calado.lifelong import Lifelong
from calado.region.resolved import ResolvedRegion, resolve_on_shelf
from calado.sheet.models import Pass, Sheet, Treatment
from calado.sheet.sentence import SIDES, Side

CONCEALING = tuple(adjustment for adjustment in ADJUSTMENTS.values() if adjustment.holds is not None)


def resolve(
    sheet: Sheet,
    id: str | None,
    user: str | None = None,
    below: tuple[Sheet, ...] = (),
    above: tuple[Sheet, ...] = (),
) -> ResolvedRegion | None:
    """Return the region called ``id`` of a checked sheet, or None for the whole picture.

    ``user`` is the pass that uses it, by default the first that does; ``below`` are sheets that run before this one,
    ``above`` those that run after it.
    """
    region = sheet.region(id)
    if region is None:
        return None
    first = user or next((each.id for each in sheet.passes if each.region == id), None)
    number = next((k for k, each in enumerate(sheet.passes) if each.id == first), len(sheet.passes))
    covers = dict(covers_on(sheet))
    for each in sheet.passes[number : number + 1]:  # the pass that uses the region decides
        for side in sides_covered(each)[:1]:
            covers[each.region or ""] = side
    made = resolve_on_shelf({each.id: each for each in sheet.regions}, region)
    return replace(made, sheets=(*below, sheet, *above), stop=(len(below), number), covers=covers)


def _covers_on(sheet: Sheet) -> dict[str, Side]:
    found: dict[str, Side] = {}
    for each in sheet.passes:
        for side in sides_covered(each):
            found.setdefault(each.region or "", side)
    return found


#: which regions lie under covers that must hold, by the first of these, and on which side
covers_on: Lifelong[Sheet, dict[str, Side]] = Lifelong(_covers_on)


def concealing(treatment: Treatment) -> Iterator[Adjustment]:
    """Yield the adjustments of a treatment that conceal, in the order of their work."""
    for adjustment in CONCEALING:
        if adjustment.id in treatment and not adjustment.is_neutral(treatment[adjustment.id]):
            yield adjustment


def sides_concealed(each: Pass) -> list[Side]:
    """Return the sides on which a pass that is on conceals, whether or not it must."""
    if not each.on or not (each.inside or each.outside):
        return []
    treatments = {"inside": each.inside, "outside": each.outside if each.region is not None else {}}
    return [side for side in SIDES if any(concealing(treatments[side]))]


def sides_covered(each: Pass) -> list[Side]:
    """Return the sides on which a pass must cover."""
    return sides_concealed(each) if each.must_cover else []
