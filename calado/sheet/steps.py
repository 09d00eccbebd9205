"""A change as data: what is put whole, known by its id, and in which order all stands afterwards.

A step names only what changes, so that its size follows the change and not the sheet: a region or a pass put whole, a
part of a region, or the strokes that a part gains after those it keeps.
"""

from collections.abc import Iterable, Mapping
from typing import Annotated, Any, Protocol, TypeVar

from pydantic import Field, ValidationError

from calado.errors import SheetError
from calado.sheet.check import check_part, check_sheet, fault_of
from calado.sheet.declare import Catalogue
from calado.sheet.models import MAX_STROKES, Frozen, Id, Part, Pass, Region, Sheet, Stroke

#: so many numbers of strokes and outlines a sheet may hold, about 12 MB of JSON: more than a hand draws in a week
MAX_NUMBERS = 1_500_000


class RegionStep(Frozen):
    """A region to be put; with ``parts_stay`` it has the parts of the one that stands there, and brings none."""

    region: Region
    parts_stay: bool = False


class PartStep(Frozen):
    """A part to be put whole into the region called ``region``."""

    region: Id
    part: Part


class StrokesStep(Frozen):
    """Strokes that a part has after the first ``keep`` of those that it had."""

    region: Id
    part: Id
    keep: Annotated[int, Field(ge=0, le=MAX_STROKES)]
    add: Annotated[tuple[Stroke, ...], Field(max_length=MAX_STROKES)] = ()


class Step(Frozen):
    """A change of a sheet.

    What is put takes the place of what has its id, or comes last. ``shelf``, ``order`` and ``joined`` are the ids of
    all regions, all passes, and all parts of some regions, in their order afterwards: what they leave out goes.
    """

    regions: Annotated[tuple[RegionStep, ...], Field(max_length=200)] = ()
    parts: Annotated[tuple[PartStep, ...], Field(max_length=500)] = ()
    strokes: Annotated[tuple[StrokesStep, ...], Field(max_length=500)] = ()
    passes: Annotated[tuple[Pass, ...], Field(max_length=200)] = ()
    joined: dict[Id, tuple[Id, ...]] = Field(default_factory=dict)
    shelf: tuple[Id, ...] | None = None
    order: tuple[Id, ...] | None = None

    @property
    def anew(self) -> set[str]:
        """The ids of the regions of which more than strokes changes."""
        return {*(each.region.id for each in self.regions), *(each.region for each in self.parts), *self.joined}

    @property
    def touched(self) -> set[str]:
        """The ids of the regions of which something changes."""
        return {*self.anew, *(each.region for each in self.strokes)}


#: nothing changes
NO_STEP = Step()


def sheet_data(sheet: Sheet) -> dict[str, Any]:
    """Return the sheet as plain JSON data."""
    return sheet.model_dump(mode="json")


def step_data(step: Step) -> dict[str, Any]:
    """Return the step as plain JSON data, without what it leaves as it is."""
    return step.model_dump(mode="json", exclude_defaults=True)


def read_step(data: Mapping[str, Any]) -> Step:
    """Return the step in JSON data.

    Raises
    ------
    SheetError
        naming the place and the fault.
    """
    try:
        return Step.model_validate(data)
    except ValidationError as error:
        raise SheetError(f"The step cannot be read at {fault_of(error)}", code="sheet.step") from error


def apply_step(sheet: Sheet, step: Step, catalogue: Catalogue | None) -> Sheet:
    """Return the sheet after a step; what the step leaves alone is shared with the sheet before.

    ``catalogue`` None: the step was checked on this sheet before.

    Raises
    ------
    SheetError
        when the step does not fit the sheet, or leads to a sheet that cannot be obeyed.
    """
    regions = {region.id: region for region in sheet.regions}
    for put in step.regions:
        parts = _known(regions, put.region.id, "region").parts if put.parts_stay else put.region.parts
        regions[put.region.id] = put.region if not put.parts_stay else put.region.model_copy(update={"parts": parts})
    try:
        for id in step.touched:
            regions[id] = _region(_known(regions, id, "region"), step, checked=catalogue is not None)
        passes = {each.id: each for each in (*sheet.passes, *step.passes)}
        after = Sheet(regions=_ordered(regions, step.shelf, "region"), passes=_ordered(passes, step.order, "pass"))
    except ValidationError as error:
        raise SheetError(f"This step leads nowhere: {fault_of(error)}", code="sheet.step") from error
    if catalogue is not None:
        _must_be_small(after)
        check_sheet(after, catalogue, step.anew)
        for more in step.strokes:  # those that stay were checked when they came
            _check_more(after, more, catalogue)
    return after


def _check_more(sheet: Sheet, more: StrokesStep, catalogue: Catalogue) -> None:
    region = sheet.region(more.region)
    part = next((part for part in region.parts if part.id == more.part), None) if region else None
    if part is not None and region is not None:
        check_part(f"Region “{region.name}”", part.model_copy(update={"strokes": more.add}), catalogue)


def _region(region: Region, step: Step, *, checked: bool) -> Region:
    parts = {part.id: part for part in region.parts}
    for put in step.parts:
        if put.region == region.id:
            parts[put.part.id] = put.part
    for more in step.strokes:
        if more.region == region.id:
            part = _known(parts, more.part, "part")
            if more.keep > len(part.strokes):
                raise SheetError(
                    f"This step keeps {more.keep} strokes of a part that has {len(part.strokes)}.", code="sheet.step"
                )
            strokes = (*part.strokes[: more.keep], *more.add)
            # made anew, so that there are never too many
            made = (
                Part(**{**vars(part), "strokes": strokes}) if checked else part.model_copy(update={"strokes": strokes})
            )
            parts[part.id] = made
    joined = _ordered(parts, step.joined.get(region.id), "part")
    return Region(**{**vars(region), "parts": joined}) if checked else region.model_copy(update={"parts": joined})


class _Named(Protocol):
    @property
    def id(self) -> str: ...


T = TypeVar("T", bound=_Named)


def _known(things: Mapping[str, T], id: str, what: str) -> T:
    if id not in things:
        raise SheetError(f"This step does not fit the sheet: there is no {what} “{id}”.", code="sheet.step")
    return things[id]


def _ordered(things: Mapping[str, T], ids: tuple[str, ...] | None, what: str) -> tuple[T, ...]:
    if ids is None:
        return tuple(things.values())
    if len(set(ids)) < len(ids):
        raise SheetError(f"This step names a {what} twice.", code="sheet.step")
    return tuple(_known(things, id, what) for id in ids)


def _must_be_small(sheet: Sheet) -> None:
    numbers = sum(
        sum(len(stroke.points) for stroke in part.strokes) + sum(len(point) for point in (*part.points, *part.path))
        for region in sheet.regions
        for part in region.parts
    )
    if numbers > MAX_NUMBERS:
        raise SheetError(
            "This sheet would hold more strokes and outlines than Calado keeps. Take away some that no longer show.",
            code="sheet.large",
        )


def step_between(before: Sheet, after: Sheet) -> Step:
    """Return the step that leads from one sheet to another; swapped, it is the inverse."""
    old, new = {r.id: r for r in before.regions}, {r.id: r for r in after.regions}
    made = [_region_step(old.get(region.id), region) for region in after.regions]
    passes = {each.id: each for each in before.passes}
    return Step(
        regions=tuple(put for each in made for put in each.regions),
        parts=tuple(put for each in made for put in each.parts),
        strokes=tuple(more for each in made for more in each.strokes),
        passes=tuple(each for each in after.passes if passes.get(each.id) != each),
        joined={id: ids for each in made for id, ids in each.joined.items()},
        shelf=_order_of(old, new),
        order=_order_of(passes, {each.id: each for each in after.passes}),
    )


def _order_of(before: Iterable[str], after: Iterable[str]) -> tuple[str, ...] | None:
    """Return the ids as they stand afterwards, or None where they do so by themselves."""
    ids, known = tuple(after), dict.fromkeys(before)
    return None if tuple(known | dict.fromkeys(ids)) == ids else ids


def _region_step(before: Region | None, after: Region) -> Step:
    if before is None:
        return Step(regions=(RegionStep(region=after),))
    if before == after:
        return NO_STEP
    bare = after.model_copy(update={"parts": ()})
    old = {part.id: part for part in before.parts}
    changed = [part for part in after.parts if old.get(part.id) != part]
    strokes = [_strokes_step(after.id, old.get(part.id), part) for part in changed]
    order = _order_of(old, {part.id: part for part in after.parts})
    return Step(
        regions=() if before.model_copy(update={"parts": ()}) == bare else (RegionStep(region=bare, parts_stay=True),),
        parts=tuple(
            PartStep(region=after.id, part=part) for part, more in zip(changed, strokes, strict=True) if more is None
        ),
        strokes=tuple(more for more in strokes if more is not None),
        joined={} if order is None else {after.id: order},
    )


def _strokes_step(region: str, before: Part | None, after: Part) -> StrokesStep | None:
    """Return how a part's strokes change, where nothing else of it does and some of them stay; else None."""
    if before is None or before.model_copy(update={"strokes": after.strokes}) != after:
        return None
    pairs = list(zip(before.strokes, after.strokes, strict=False))
    keep = next((k for k, (one, other) in enumerate(pairs) if one != other), len(pairs))
    return StrokesStep(region=region, part=after.id, keep=keep, add=after.strokes[keep:]) if keep else None
