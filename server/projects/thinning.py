"""Which revisions stay: those with a name, the last ``LAST``, before these the newest of each hour, and the first.

Undo then goes by steps through the last ones and by hours before them.
"""

from datetime import datetime

from django.db import transaction

from server.projects.history import packed, sheet_at
from server.projects.models import Revision, Shot, Snapshot

LAST = 200
#: so many more come together before they are thinned
ROOM = 200
#: so many rows are written or deleted in one transaction, so that nobody waits long
AT_ONCE = 50


def thin(shot: Shot) -> int:
    """Take away the revisions of a shot that need not stay; return how many went."""
    rows = list(Revision.objects.filter(shot=shot).order_by("number").values_list("number", "created"))
    stay = _staying(rows, set(Snapshot.objects.filter(shot=shot).values_list("number", flat=True)))
    if len(stay) == len(rows):
        return 0
    _stand_alone(shot, stay)
    # the newest first, so that what stands on another goes before that one
    gone = [number for number, _ in reversed(rows) if number not in stay]
    for start in range(0, len(gone), AT_ONCE):
        numbers = gone[start : start + AT_ONCE]
        with transaction.atomic():
            # an undo in this very moment may have made a revision that stands on one of these
            leaning = Revision.objects.filter(shot=shot, whole=0, base__in=numbers).exclude(number__in=numbers)
            numbers = [number for number in numbers if number not in set(leaning.values_list("base", flat=True))]
            Revision.objects.filter(shot=shot, number__in=numbers).delete()
    return len(gone)


def _staying(rows: list[tuple[int, datetime]], named: set[int]) -> set[int]:
    """Return the numbers that stay."""
    before = rows[:-LAST]
    hourly = {created.replace(minute=0, second=0, microsecond=0): number for number, created in before}
    return {number for number, _ in rows[-LAST:]} | set(hourly.values()) | named | {number for number, _ in rows[:1]}


def _stand_alone(shot: Shot, stay: set[int]) -> None:
    """Let what stays stand on nothing that goes, and lead nowhere that goes."""
    order = sorted(stay)

    def nearest(number: int | None) -> int | None:
        return None if number is None else max((each for each in order if each <= number), default=None)

    wanted = Revision.objects.filter(shot=shot, number__in=order).defer("kept", "step")
    for start in range(0, len(order), AT_ONCE):
        changed = []
        for each in wanted.filter(number__in=order[start : start + AT_ONCE]):
            undo_to, redo_to = nearest(each.undo_to), each.redo_to if each.redo_to in stay else None
            fields: dict[str, object] = {}
            if (undo_to, redo_to) != (each.undo_to, each.redo_to):
                fields |= {"undo_to": undo_to, "redo_to": redo_to}
            if each.base is not None and each.base not in stay:
                kept = packed(sheet_at(shot.id, each.number))
                fields |= {"base": None, "step": {}, "kept": kept, "whole": len(kept)}
            if fields:
                changed.append((each.id, fields))
        with transaction.atomic():
            for id, fields in changed:
                Revision.objects.filter(id=id).update(**fields)
