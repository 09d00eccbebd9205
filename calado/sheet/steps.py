"""A change as data: a JSON Patch (RFC 6902) from one sheet to the next, and its inverse."""

from typing import Any

import jsonpatch

from calado.errors import SheetError
from calado.sheet.check import read_sheet
from calado.sheet.declare import Catalogue
from calado.sheet.models import Sheet

Patch = list[dict[str, Any]]
MAX_OPERATIONS = 5000


def sheet_data(sheet: Sheet) -> dict[str, Any]:
    """Return the sheet as plain JSON data."""
    return sheet.model_dump(mode="json")


def apply_step(sheet: Sheet, patch: Patch, catalogue: Catalogue) -> Sheet:
    """Return the sheet after a step.

    Raises
    ------
    SheetError
        when the patch does not fit the sheet, or leads to a sheet that cannot be obeyed.
    """
    if len(patch) > MAX_OPERATIONS:
        raise SheetError(f"A step may hold {MAX_OPERATIONS} operations, got {len(patch)}.", code="sheet.step")
    try:
        data = jsonpatch.JsonPatch(patch).apply(sheet_data(sheet))
    except (jsonpatch.JsonPatchException, jsonpatch.JsonPointerException, TypeError, KeyError, ValueError) as error:
        raise SheetError(f"This step does not fit the sheet: {error}.", code="sheet.step") from error
    if not isinstance(data, dict):
        raise SheetError("This step leaves no sheet behind.", code="sheet.step")
    return read_sheet(data, catalogue)


def step_between(before: Sheet, after: Sheet) -> Patch:
    """Return the step that leads from one sheet to another; swapped, it is the inverse."""
    patch: Patch = jsonpatch.make_patch(sheet_data(before), sheet_data(after)).patch
    return patch
