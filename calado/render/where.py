"""Regions of a sheet as passes use them, and the covers over them."""

from collections.abc import Iterator
from dataclasses import replace

from calado.adjust.registry import ADJUSTMENTS, Adjustment
from calado.region.where import Where, where_in
from calado.sheet.models import Pass, Sheet, Treatment
from calado.sheet.sentence import SIDES, Side


def where_of(
    sheet: Sheet,
    id: str | None,
    user: str | None = None,
    below: tuple[Sheet, ...] = (),
    above: tuple[Sheet, ...] = (),
) -> Where | None:
    """Return the region called ``id`` of a checked sheet, or None for the whole picture.

    ``user`` is the pass that uses it, by default the first that does; ``below`` are sheets that run before this one,
    ``above`` those that run after it.
    """
    region = sheet.region(id)
    if region is None:
        return None
    first = user or next((each.id for each in sheet.passes if each.region == id), None)
    number = next((k for k, each in enumerate(sheet.passes) if each.id == first), len(sheet.passes))
    covers: dict[str, Side] = {}
    # the pass that uses the region decides, then the first pass that covers
    for each in (*sheet.passes[number : number + 1], *sheet.passes):
        for side in sides_covered(each):
            covers.setdefault(each.region or "", side)
    made = where_in({each.id: each for each in sheet.regions}, region)
    return replace(made, sheets=(*below, sheet, *above), stop=(len(below), number), covers=covers)


def concealing(treatment: Treatment) -> Iterator[Adjustment]:
    """Yield the adjustments of a treatment that conceal, in the order of their work."""
    for id, adjustment in ADJUSTMENTS.items():
        if adjustment.holds is not None and id in treatment and not adjustment.is_neutral(treatment[id]):
            yield adjustment


def sides_concealed(each: Pass) -> list[Side]:
    """Return the sides on which a pass that is on conceals, whether or not it must."""
    treatments = {"inside": each.inside, "outside": each.outside if each.region is not None else {}}
    return [side for side in SIDES if each.on and any(concealing(treatments[side]))]


def sides_covered(each: Pass) -> list[Side]:
    """Return the sides on which a pass must cover."""
    return sides_concealed(each) if each.must_cover else []
