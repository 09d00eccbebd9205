"""Copying a region to another shot."""

from calado.edit.transform import copy_region
from calado.sheet.models import Sheet
from calado.sheet.steps import step_between
from server.projects.actions.change import head_of, sheet_of, take_step
from server.projects.models import Shot


def copy_to(target: Shot, sheet: Sheet, region: str, source: Shot) -> str:
    """Lay a copy of a region of ``source`` on the shelf of ``target`` as one step, and return the copy's name.

    Raises
    ------
    SheetError
        when the region does not exist.
    Stale
        when the target was changed in this very moment.
    """
    before = sheet_of(head_of(target))
    aspects = source.width / source.height, target.width / target.height
    after, id = copy_region(sheet, region, aspects[0], before, aspects[1])
    name = next(each.name for each in after.regions if each.id == id)
    take_step(target, target.head, step_between(before, after), f"copy of “{name}”")
    return name
