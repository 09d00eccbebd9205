"""What is done to a sheet that moves: a change made at one frame, a map of the plane, each with all its keyframes."""

from collections.abc import Callable, Iterable, Mapping
from typing import TypeVar

from calado.sheet.models import Ease, Frozen, Key, Part, Pass, PointKey, Region, Sheet
from calado.sheet.timed import frames_of, moves, part_at

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


def mapped_over_time(part: Part, mapped: Callable[[Part], Part | None]) -> Part | None:
    """Return a part under a map of the plane, with all its keyframes, or None where the map has no meaning for it."""
    if not moves(part):
        return mapped(part)
    frames = frames_of(part)
    at = {frame: made for frame in frames if (made := mapped(part_at(part, frame))) is not None}
    if len(at) < len(frames):
        return None
    first = at[frames[0]]
    ids = {id for id in first.values if len({made.values.get(id) for made in at.values()}) > 1} | set(part.keys)
    keys = {
        id: {
            str(frame): Key(value=float(at[frame].values[id]), ease=_ease(part, frame))  # type: ignore[arg-type]
            # what did not move before is carried along with the rest
            for frame in (map(int, part.keys[id]) if id in part.keys else frames)
        }
        for id in sorted(ids)
    }
    points = {frame: PointKey(points=at[int(frame)].points, ease=key.ease) for frame, key in part.point_keys.items()}
    return first.model_copy(update={"keys": keys, "point_keys": points})


def _ease(part: Part, frame: int) -> Ease:
    """Return how a part goes on from a keyframe."""
    every: tuple[Mapping[str, Key | PointKey], ...] = (*part.keys.values(), part.point_keys)
    return next((keys[str(frame)].ease for keys in every if str(frame) in keys), "smooth")


def _called(things: Iterable[T], id: str) -> T | None:
    return next((each for each in things if each.id == id), None)


def _fields(was: Frozen, after: Frozen, *left_out: str) -> dict[str, object]:
    """Return the fields in which two values differ."""
    names = [name for name in type(after).model_fields if name not in left_out]
    return {name: getattr(after, name) for name in names if getattr(after, name) != getattr(was, name)}
