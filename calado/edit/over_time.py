"""A change that was made to a sheet as it stood at one frame, brought to the sheet that moves."""

from collections.abc import Iterable
from typing import TypeVar

from calado.sheet.models import Frozen, Part, Pass, Region, Sheet

T = TypeVar("T", Part, Pass, Region)


def over_time(moving: Sheet, before: Sheet, after: Sheet) -> Sheet:
    """Return ``moving`` with what differs between ``before``, which it is at some frame, and ``after``.

    What was not changed keeps its keys; a value that was changed holds from now on at every frame.
    """
    regions = tuple(_region(moving.regions, before.regions, each) for each in after.regions)
    passes = tuple(_changed(moving.passes, before.passes, each) for each in after.passes)
    return after.model_copy(update={"regions": regions, "passes": passes})


def _region(moving: Iterable[Region], before: Iterable[Region], after: Region) -> Region:
    own, was = _called(moving, after.id), _called(before, after.id)
    if own is None or was is None:
        return after
    made = own.model_copy(update=_fields(was, after, "parts"))
    return made.model_copy(update={"parts": tuple(_part(own.parts, was.parts, part) for part in after.parts)})


def _part(moving: Iterable[Part], before: Iterable[Part], after: Part) -> Part:
    own, was = _called(moving, after.id), _called(before, after.id)
    if own is None or was is None:
        return after
    changed = {id for id in {*was.values, *after.values} if was.values.get(id) != after.values.get(id)}
    values = {id: value for id, value in own.values.items() if id not in changed or id in after.values}
    update: dict[str, object] = _fields(was, after, "values")
    update["values"] = {**values, **{id: after.values[id] for id in changed if id in after.values}}
    update["keys"] = {id: keys for id, keys in own.keys.items() if id not in changed}
    if "points" in update:
        update["point_keys"] = {}
    return own.model_copy(update=update)


def _changed(moving: Iterable[Pass], before: Iterable[Pass], after: Pass) -> Pass:
    own, was = _called(moving, after.id), _called(before, after.id)
    if own is None or was is None:
        return after
    fields = _fields(was, after)
    keys = {name: keys for name, keys in own.keys.items() if name not in fields}
    return own.model_copy(update={**fields, "keys": keys})


def _called(things: Iterable[T], id: str) -> T | None:
    return next((each for each in things if each.id == id), None)


def _fields(was: Frozen, after: Frozen, *left_out: str) -> dict[str, object]:
    """Return the fields in which two values differ."""
    names = [name for name in type(after).model_fields if name not in left_out]
    return {name: getattr(after, name) for name in names if getattr(after, name) != getattr(was, name)}
