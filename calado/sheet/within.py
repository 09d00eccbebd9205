"""Finding and replacing things of a sheet by their ids."""

from typing import Protocol, TypeVar

from calado.errors import SheetError
from calado.sheet.models import Part, Pass, Region, Sheet


class _Named(Protocol):
    @property
    def id(self) -> str: ...


T = TypeVar("T", bound=_Named)


def _put(things: tuple[T, ...], new: T) -> tuple[T, ...]:
    if all(each.id != new.id for each in things):
        return (*things, new)
    return tuple(new if each.id == new.id else each for each in things)


def with_region(sheet: Sheet, region: Region) -> Sheet:
    """Return the sheet with a region in place of the one of its id, or last on the shelf."""
    return sheet.model_copy(update={"regions": _put(sheet.regions, region)})


def with_part(region: Region, part: Part) -> Region:
    """Return the region with a part in place of the one of its id, or last."""
    return region.model_copy(update={"parts": _put(region.parts, part)})


def with_pass(sheet: Sheet, new: Pass) -> Sheet:
    """Return the sheet with a pass in place of the one of its id, or last."""
    return sheet.model_copy(update={"passes": _put(sheet.passes, new)})


def region_called(sheet: Sheet, id: str) -> Region:
    """Return a region of the shelf.

    Raises
    ------
    SheetError
        when there is none of this id.
    """
    region = sheet.region(id)
    if region is None:
        raise SheetError(f"There is no region “{id}” on the shelf.", code="sheet.region")
    return region


def part_called(region: Region, id: str) -> Part:
    """Return a part of a region.

    Raises
    ------
    SheetError
        when there is none of this id.
    """
    part = next((part for part in region.parts if part.id == id), None)
    if part is None:
        raise SheetError(f"Region “{region.name}” has no part “{id}”.", code="sheet.part")
    return part


def pass_called(sheet: Sheet, id: str) -> Pass:
    """Return a pass of the sheet.

    Raises
    ------
    SheetError
        when there is none of this id.
    """
    found = next((each for each in sheet.passes if each.id == id), None)
    if found is None:
        raise SheetError(f"There is no pass “{id}” on the sheet.", code="sheet.pass")
    return found
