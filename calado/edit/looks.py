"""Looks: passes taken from a sheet with the regions they stand on, to be laid on other shots.

A look is a sheet of its own with the shape of the frame it comes from; laid on another frame it keeps its place
relative to that frame, as a copied region does.
"""

from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError

from calado.adjust.registry import ADJUSTMENTS
from calado.catalogue import CATALOGUE
from calado.edit.create import free_id, free_name
from calado.edit.transform import copy_region
from calado.errors import SheetError
from calado.sheet.check import check_sheet
from calado.sheet.declare import Unit
from calado.sheet.models import Finite, Frozen, Name, Pass, Sheet, Treatment


class Look(Frozen):
    """Passes with a name, the regions they need, and the width of their frame in its heights."""

    kind: Literal["calado-look"] = "calado-look"
    name: Name
    aspect: Annotated[Finite, Field(gt=0.01, lt=100)]
    sheet: Sheet


def read_look(data: Any) -> Look:
    """Return the look in a parsed JSON document.

    Raises
    ------
    SheetError
        when it is none, or what it holds cannot be obeyed.
    """
    try:
        look = Look.model_validate(data)
    except ValidationError as error:
        first = error.errors()[0]
        place = " > ".join(str(step) for step in first["loc"]) or "its top"
        raise SheetError(f"This is not a look: {first['msg']} at {place}.", code="look.invalid") from error
    check_sheet(look.sheet, CATALOGUE)
    if not look.sheet.passes:
        raise SheetError("This look holds no pass.", code="look.empty")
    return look


def take_look(sheet: Sheet, passes: tuple[str, ...], name: str, aspect: float) -> Look:
    """Return the passes of a sheet that are named, with the regions they need, as a look.

    Raises
    ------
    SheetError
        when a pass does not exist.
    """
    missing = [id for id in passes if all(each.id != id for each in sheet.passes)]
    if missing or not passes:
        raise SheetError(f"There is no pass “{(missing or ['?'])[0]}” on the sheet.", code="look.pass")
    chosen = Sheet(passes=tuple(each for each in sheet.passes if each.id in passes), regions=sheet.regions)
    return Look(
        name=name, aspect=aspect, sheet=apply_look(Sheet(), Look(name=name, aspect=aspect, sheet=chosen), aspect)[0]
    )


def apply_look(sheet: Sheet, look: Look, aspect: float) -> tuple[Sheet, tuple[str, ...]]:
    """Return a sheet of a frame ``aspect`` heights wide with a look's passes at its end, and their ids."""
    placed: dict[str, str] = {}
    ids: list[str] = []
    for each in look.sheet.passes:
        if each.region is not None and each.region not in placed:
            sheet, placed[each.region] = copy_region(look.sheet, each.region, look.aspect, sheet, aspect)
        sheet, id = _with(sheet, each, placed.get(each.region or ""), aspect / look.aspect)
        ids.append(id)
    return sheet, tuple(ids)


def _with(sheet: Sheet, each: Pass, region: str | None, scale: float) -> tuple[Sheet, str]:
    id = free_id("pass", (p.id for p in sheet.passes))
    update = {
        "id": id,
        "name": free_name(each.name, (p.name for p in sheet.passes)),
        "region": region,
        "inside": _stretched(each.inside, scale),
        "outside": _stretched(each.outside, scale),
    }
    return sheet.model_copy(update={"passes": (*sheet.passes, each.model_copy(update=update))}), id


def _stretched(treatment: Treatment, scale: float) -> Treatment:
    """Return a treatment whose places across the frame keep their share of it."""
    across = {id: {n.id for n in ADJUSTMENTS[id].numbers if n.unit is Unit.ACROSS} for id in treatment}
    return {
        id: {
            k: round(float(v) * scale, 5) if k in across[id] and isinstance(v, int | float) else v
            for k, v in values.items()
        }
        for id, values in treatment.items()
    }
