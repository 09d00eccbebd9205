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


def _called(things: tuple[T, ...], id: str, said: str, code: str) -> T:
    found = next((each for each in things if each.id == id), None)
    if found is None:
        raise SheetError(said, code=code)
    return found


def region_called(sheet: Sheet, id: str) -> Region:
    """Return a region of the shelf; one that is not there raises SheetError."""
    return _called(sheet.regions, id, f"There is no region “{id}” on the shelf.", "sheet.region")


def part_called(region: Region, id: str) -> Part:
    """Return a part of a region; one that is not there raises SheetError."""
    return _called(region.parts, id, f"Region “{region.name}” has no part “{id}”.", "sheet.part")


def pass_called(sheet: Sheet, id: str) -> Pass:
    """Return a pass of the sheet; one that is not there raises SheetError."""
    return _called(sheet.passes, id, f"There is no pass “{id}” on the sheet.", "sheet.pass")
