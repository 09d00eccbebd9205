"""Sheets of older versions, brought to the present one step by step."""

from collections.abc import Callable, Mapping
from typing import Any

from calado.errors import SheetError

VERSION = 2
#: what version 2 calls otherwise: fields of a stroke, of a region, values of a part, and what a stroke or sample does
_FIELDS = {"way": "points", "similar": "colour_tolerance", "dropped": "removed"}
_VALUES = {"calm": "denoise", "similar": "colour_tolerance"}
_DOES = {"put": "add", "take": "erase"}


def to_second(data: Any) -> Any:
    """Return JSON data of version 1, a sheet or any piece of one, in the words of version 2."""
    if isinstance(data, list):
        return [to_second(each) for each in data]
    if not isinstance(data, dict):
        return data
    made: dict[Any, Any] = {}
    for name, value in data.items():
        if name == "values" and isinstance(value, dict):
            made[name] = {_VALUES.get(id, id): each for id, each in value.items()}
        elif name == "does":
            made[name] = _DOES.get(value, value) if isinstance(value, str) else value
        elif name in ("inside", "outside"):  # treatments say nothing of strokes
            made[name] = value
        else:
            made[_FIELDS.get(name, name)] = to_second(value)
    return made


def _second(sheet: dict[str, Any]) -> dict[str, Any]:
    return {**to_second(sheet), "version": 2}


#: from version n to n + 1; a sheet of an older version climbs these steps one by one
MIGRATIONS: Mapping[int, Callable[[dict[str, Any]], dict[str, Any]]] = {1: _second}


def migrate(data: dict[str, Any]) -> dict[str, Any]:
    """Return ``data`` in the present version.

    Raises
    ------
    SheetError
        for a version that is newer than this program or unknown.
    """
    version = data.get("version", VERSION)
    if not isinstance(version, int) or version > VERSION:
        raise SheetError(
            f"This sheet has version {version!r}; this program reads up to version {VERSION}. Use a newer Calado.",
            code="sheet.version",
        )
    while version < VERSION:
        if version not in MIGRATIONS:
            raise SheetError(f"A sheet of version {version} never existed.", code="sheet.version")
        data = MIGRATIONS[version](data)
        version += 1
    return data
