"""Where the sheets of revisions come from: one that is kept whole, and the steps that lead on from it.

A revision holds its step alone, with the number of the revision on which it stands; now and then one keeps its sheet
whole (packed), so that a sheet is made by few steps: whenever the weight of all steps up to it has doubled, so that all
that is kept so weighs no more than twice the steps, and after every ``MOST_STEPS``.
"""

import json
import threading
import zlib
from collections import OrderedDict
from typing import Any

from calado.catalogue import CATALOGUE
from calado.sheet.check import read_sheet
from calado.sheet.models import Sheet
from calado.sheet.steps import Step, apply_step, read_step, step_data
from server.projects.models import Revision

#: so many steps at most lie between a revision and one that is kept whole
MOST_STEPS = 1000
#: steps lighter than this, in bytes, are never too heavy
LEAST_WEIGHT = 65_536
#: a sheet that is thinned while it is read is read so often
THINNED = 5
#: so many revisions are read at a time
MOST_READ = 128
#: so many sheets stay in memory; those of one shot share what is alike
HELD = 64


class _Held:
    """The sheets that were last asked for, by shot and revision; a revision never changes."""

    def __init__(self) -> None:
        self._sheets: OrderedDict[tuple[str, int], Sheet] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, shot: str, number: int) -> Sheet | None:
        with self._lock:
            found = self._sheets.get((shot, number))
            if found is not None:
                self._sheets.move_to_end((shot, number))
            return found

    def put(self, shot: str, number: int, sheet: Sheet) -> None:
        with self._lock:
            self._sheets[shot, number] = sheet
            while len(self._sheets) > HELD:
                self._sheets.popitem(last=False)


_held = _Held()


def packed(sheet: Sheet) -> bytes:
    """Return a sheet as it is kept."""
    # the version is said always: a later one must know what it reads
    data = {"version": sheet.version, **sheet.model_dump(mode="json", exclude_defaults=True)}
    return zlib.compress(json.dumps(data, separators=(",", ":")).encode(), 1)


def unpacked(data: bytes) -> Sheet:
    """Return a kept sheet."""
    return read_sheet(zlib.decompress(data), CATALOGUE)


def sheet_at(shot: str, number: int) -> Sheet:
    """Return the sheet of a shot's revision.

    Raises
    ------
    Revision.DoesNotExist
        when there is no such revision.
    """
    for _ in range(THINNED - 1):
        try:
            return _sheet_at(shot, number)
        except _GoneMeanwhile:  # it stands on another now, or on itself
            continue
    return _sheet_at(shot, number)


class _GoneMeanwhile(Revision.DoesNotExist):
    """What a revision stood on was thinned out while it was read."""


def _sheet_at(shot: str, number: int) -> Sheet:
    found = _held.get(shot, number)
    if found is not None:
        return found
    steps: list[Step] = []
    sheet, at = None, number
    rows = Revision.objects.filter(shot=shot)
    read: dict[int, tuple[int | None, dict[str, Any], int]] = {}
    count = 1
    while sheet is None:
        if at not in read:
            # most stand on the one before them: of a long way back many are read at a time
            some = (
                rows.filter(number__lte=at).order_by("-number").values_list("number", "base", "step", "whole")[:count]
            )
            read, count = {each: tuple(rest) for each, *rest in some}, min(8 * count, MOST_READ)
        if at not in read and at == number:
            raise Revision.DoesNotExist
        base, told, whole = read.get(at, (None, {}, 0))
        kept = rows.filter(number=at).values_list("kept", flat=True).first() if whole else None
        if at not in read or (whole and kept is None):
            raise _GoneMeanwhile
        if kept is not None:
            sheet = unpacked(bytes(kept))
        else:
            steps.append(read_step(told))
            at = base or 0  # only the first stands on none, and it is kept whole
            sheet = _held.get(shot, at)
    for step in reversed(steps):
        sheet = apply_step(sheet, step, None)
    _held.put(shot, number, sheet)
    return sheet


def standing(base: Revision | None, sheet: Sheet, step: Step) -> dict[str, Any]:
    """Return the fields of a revision that is made by a step on ``base``, or of one that stands by itself."""
    if base is None:
        kept = packed(sheet)
        return {"base": None, "step": {}, "depth": 0, "weight": 0, "kept": kept, "whole": len(kept)}
    data = step_data(step)
    depth, weight = base.depth + 1, base.weight + len(json.dumps(data))
    due = depth % MOST_STEPS == 0 or _doublings(weight) > _doublings(base.weight)
    kept = packed(sheet) if due else b""
    fields = {"base": base.number, "step": data, "depth": depth, "weight": weight}
    return fields | {"kept": kept or None, "whole": len(kept)}


def _doublings(weight: int) -> int:
    return (weight // LEAST_WEIGHT).bit_length()


def hold(revision: Revision, sheet: Sheet) -> None:
    """Keep the sheet of a new revision in memory: it is asked for next."""
    _held.put(revision.shot_id, revision.number, sheet)
