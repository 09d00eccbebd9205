"""Reading a sheet from JSON: migrated, parsed and checked once, at the edge."""

import json
from collections.abc import Iterable, Mapping
from itertools import pairwise
from typing import Any

from pydantic import ValidationError

from calado.errors import SheetError
from calado.sheet.check_time import check_declared, check_time
from calado.sheet.declare import Catalogue, Curve, Declaration, Number, PartDeclaration, Reference, Value
from calado.sheet.models import Part, Pass, Region, Sheet, Stroke
from calado.sheet.versions import migrate

#: how far from the corner of the picture a point may lie, in picture heights
FARTHEST = 20.0
#: so deep at most regions stand on each other
DEEPEST = 24


def read_sheet(data: str | bytes | dict[str, Any], catalogue: Catalogue) -> Sheet:
    """Return the sheet in JSON text or in a parsed dictionary.

    Raises
    ------
    SheetError
        naming the place and the fault.
    """
    if not isinstance(data, dict):
        data = _parse_json(data)
    try:
        sheet = Sheet.model_validate(migrate(data))
    except ValidationError as error:
        raise SheetError(f"The sheet cannot be read at {fault_of(error)}") from error
    check_sheet(sheet, catalogue)
    return sheet


def fault_of(error: ValidationError) -> str:
    """Return where and why something cannot be read, in words."""
    first = error.errors()[0]
    place = " > ".join(str(step) for step in first["loc"]) or "the sheet"
    return f"{place}: {in_words(first)}."


def in_words(fault: Mapping[str, Any]) -> str:
    """Return why a value is refused, as a person says it, of what the reading library says."""
    context = fault.get("ctx", {})
    count = context.get("actual_length")
    if fault["type"] == "too_long":
        return f"up to {context['max_length']} are taken{f', got {count}' if count else ''}"
    if fault["type"] == "too_short":
        return f"at least {context['min_length']} are needed{f', got {count}' if count is not None else ''}"
    if fault["type"] == "string_too_long":
        return f"up to {context['max_length']} letters are taken"
    if fault["type"] == "extra_forbidden":
        return "this is not known here"
    if fault["type"] == "missing":
        return "this is missing"
    said = str(fault["msg"])
    return said.removeprefix("Input should be ").removeprefix("Value error, ") if "Input" not in said[1:] else said


def _parse_json(text: str | bytes) -> dict[str, Any]:
    try:
        data = json.loads(text)
    except (ValueError, RecursionError) as error:  # RecursionError: attack by deep nesting
        raise SheetError(f"This is not a sheet: it is not valid JSON ({error}).", code="sheet.json") from error
    if not isinstance(data, dict):
        raise SheetError("This is not a sheet: its JSON is not an object.", code="sheet.json")
    return data


def check_sheet(sheet: Sheet, catalogue: Catalogue, touched: set[str] | None = None) -> None:
    """Refuse names that do not exist, ids used twice and numbers out of range.

    ``touched`` are the ids of the regions that must be looked at; None: all.

    Raises
    ------
    SheetError
        naming the place and the fault.
    """
    _unique("region", (region.id for region in sheet.regions))
    _unique("pass", (each.id for each in sheet.passes))
    for region in sheet.regions:
        if touched is None or region.id in touched:
            _check_region(region, catalogue)
    names = {region.id for region in sheet.regions}
    for each in sheet.passes:
        if each.region is not None and each.region not in names:
            raise SheetError(f"Pass “{each.name}” uses a region “{each.region}” that is not on the shelf.")
        _check_treatments(each, catalogue)
        check_time(each)
    check_loops(sheet, catalogue)


def regions_named(region: Region, catalogue: Catalogue) -> list[str]:
    """Return the ids of the regions that stand as parts in a region, in order."""
    named = []
    for part in region.parts:
        reference = catalogue.parts[part.kind].reference("region") if part.kind in catalogue.parts else None
        if reference and part.values.get(reference.id):
            named.append(str(part.values[reference.id]))
    return named


def check_loops(sheet: Sheet, catalogue: Catalogue) -> None:
    """Refuse a region that would stand on itself, and one that stands on a region that is not there.

    Raises
    ------
    SheetError
        naming the loop.
    """
    below = {region.id: regions_named(region, catalogue) for region in sheet.regions}
    names = {region.id: region.name for region in sheet.regions}
    deep: dict[str, int] = {}

    def climb(id: str, way: tuple[str, ...]) -> int:
        """Return how deep what a region stands on goes; no deeper than the limit, so that this ends too."""
        if id in way:
            loop = " → ".join(f"“{names[each]}”" for each in (*way[way.index(id) :], id))
            raise SheetError(f"A region cannot stand on itself: {loop}. Leave one of them out.", code="sheet.loop")
        if id not in deep:
            for lower in below[id]:
                if lower not in below:
                    raise SheetError(f"Region “{names[id]}” stands on a region “{lower}” that is not on the shelf.")
            lowest = max((climb(lower, (*way, id)) for lower in below[id]), default=0)
            if lowest >= DEEPEST:
                raise SheetError(
                    f"Region “{names[id]}” stands on others more than {DEEPEST} deep. Join what lies between.",
                    code="sheet.deep",
                )
            deep[id] = lowest + 1
        return deep[id]

    for region in sheet.regions:
        climb(region.id, ())


def _check_region(region: Region, catalogue: Catalogue) -> None:
    _unique(f"part of region “{region.name}”", (part.id for part in region.parts))
    _check_values(f"Region “{region.name}”", region.refine, catalogue.refine)
    for piece in region.removed:
        if max(abs(piece.x), abs(piece.y)) > FARTHEST:
            raise SheetError(f"Region “{region.name}”: a dropped piece must lie near the picture.", code="sheet.range")
    for part in region.parts:
        check_part(f"Region “{region.name}”", part, catalogue)
    check_strokes(f"Region “{region.name}”", region.band)
    check_declared(region)


def check_part(place: str, part: Part, catalogue: Catalogue) -> None:
    """Refuse a part of an unknown kind, and values, points and strokes that its kind does not have.

    Raises
    ------
    SheetError
        naming the place and the fault.
    """
    declaration = catalogue.parts.get(part.kind)
    if declaration is None:
        raise SheetError(f"{place} has a part of an unknown kind, “{part.kind}”.")
    _check_values(place, part.values, declaration)
    _check_keys(place, part, declaration)
    _check_points(place, part, declaration)
    _check_brushed(place, part, declaration)


def _check_keys(place: str, part: Part, declaration: PartDeclaration) -> None:
    for id, keys in part.keys.items():
        number = declaration.parameter(id)
        if not isinstance(number, Number):
            raise SheetError(f"{place}: {declaration.name} has no “{id}” that could move.")
        if not keys:
            raise SheetError(f"{place}: {number.name} moves through no keyframe.")
        for key in keys.values():
            _check_number(place, key.value, number)
    for points in (key.points for key in part.point_keys.values()):
        _check_points(place, part.model_copy(update={"points": points, "path": ()}), declaration)
        if len(points) != len(part.points) or [len(each) for each in points] != [len(each) for each in part.points]:
            raise SheetError(f"{place}: an outline that moves has the same points in every keyframe.")


def _check_points(place: str, part: Part, declaration: PartDeclaration) -> None:
    if part.points and not declaration.points:
        raise SheetError(f"{place}: {declaration.name} has no points.")
    if part.path and not declaration.handled:
        raise SheetError(f"{place}: {declaration.name} has no path.")
    for point in (*part.points, *part.path):
        if len(point) not in (2, 6):
            raise SheetError(f"{place}: a point has 2 numbers, or 6 with its handles, got {len(point)}.")
        if len(point) > 2 and not declaration.handled:
            raise SheetError(f"{place}: the points of a {declaration.name.lower()} have no handles.")
        if max(abs(number) for number in point) > FARTHEST:
            raise SheetError(
                f"{place}: a point must lie within {FARTHEST:g} picture heights, got {point[0]:g}, {point[1]:g}.",
                code="sheet.range",
            )


def _check_brushed(place: str, part: Part, declaration: PartDeclaration) -> None:
    if part.strokes and not declaration.strokes:
        raise SheetError(f"{place}: {declaration.name} has no strokes.")
    if part.samples and not declaration.samples:
        raise SheetError(f"{place}: {declaration.name} has no samples.")
    check_strokes(place, part.strokes)
    for sample in part.samples:
        if max(abs(sample.x), abs(sample.y)) > FARTHEST:
            raise SheetError(f"{place}: a sample must lie near the picture.", code="sheet.range")


def check_strokes(place: str, strokes: tuple[Stroke, ...]) -> None:
    """Refuse strokes whose ways are no ways.

    Raises
    ------
    SheetError
        naming the place and the fault.
    """
    for stroke in strokes:
        if len(stroke.points) % 3:
            raise SheetError(f"{place}: a stroke has three numbers a point, got {len(stroke.points)} in all.")
        if max(map(abs, stroke.points)) > FARTHEST:
            raise SheetError(f"{place}: a stroke must lie within {FARTHEST:g} picture heights.", code="sheet.range")
        if min(stroke.points[2::3]) < 0 or max(stroke.points[2::3]) > 1:
            raise SheetError(f"{place}: a pen's pressure lies between 0 and 1.", code="sheet.range")


def _check_treatments(each: Pass, catalogue: Catalogue) -> None:
    for treatment in (each.inside, each.outside):
        for id, values in treatment.items():
            declaration = catalogue.adjustments.get(id)
            if declaration is None:
                raise SheetError(f"Pass “{each.name}” has an unknown adjustment, “{id}”.")
            _check_values(f"Pass “{each.name}”", values, declaration)


def _check_values(place: str, values: Mapping[str, Value], declaration: Declaration) -> None:
    for id, value in values.items():
        parameter = declaration.parameter(id)
        if parameter is None:
            raise SheetError(f"{place}: {declaration.name} has no parameter “{id}”.")
        if isinstance(parameter, Number):
            _check_number(place, value, parameter)
        elif isinstance(parameter, Reference):
            if not isinstance(value, str):
                raise SheetError(f"{place}: {parameter.name} must be a name, got {value!r}.")
        elif isinstance(parameter, Curve):
            _check_curve(place, value, parameter)
        elif value not in {option.id for option in parameter.options}:
            expected = ", ".join(option.id for option in parameter.options)
            raise SheetError(f"{place}: {parameter.name} must be one of {expected}, got {value!r}.")


def _check_number(place: str, value: Value, number: Number) -> None:
    if not isinstance(value, int | float):
        raise SheetError(f"{place}: {number.name} must be a number, got {value!r}.")
    if not number.floor <= value <= number.ceiling:
        raise SheetError(
            f"{place}: {number.name} must lie between {number.floor:g} and {number.ceiling:g}, got {value:g}.",
            code="sheet.range",
        )


def _check_curve(place: str, value: Value, curve: Curve) -> None:
    if not isinstance(value, tuple):
        raise SheetError(f"{place}: {curve.name} must be a list of points, got {value!r}.")
    if len(value) == 1:
        raise SheetError(f"{place}: {curve.name} needs two points or none, got one.")
    if any(not 0 <= number <= 1 for point in value for number in point):
        raise SheetError(f"{place}: the points of {curve.name} must lie between 0 and 1.", code="sheet.range")
    if any(after[0] - before[0] < 1e-4 for before, after in pairwise(value)):
        raise SheetError(f"{place}: the points of {curve.name} must stand from left to right, apart from each other.")


def _unique(what: str, ids: Iterable[str]) -> None:
    seen: set[str] = set()
    for id in ids:
        if id in seen:
            raise SheetError(f"Two times the same {what} id, “{id}”.")
        seen.add(id)
