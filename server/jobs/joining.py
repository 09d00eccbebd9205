"""Pieces of a file made one clip again."""

from django.db import transaction

from calado.errors import RequestError
from calado.media.clips.clip import Clip
from calado.sheet.steps import sheet_data
from server.jobs.models import Export
from server.jobs.removal import remove_shot
from server.projects.actions.add_shot import POSTER
from server.projects.history import sheet_at
from server.projects.models import Shot


def join(shot: Shot) -> Shot:
    """Make the pieces of a file one clip again; the first of them stays, with its sheet.

    Raises
    ------
    RequestError
        when it is no piece, or another one was worked on.
    """
    if not shot.piece:
        raise RequestError("This clip is no piece of another.", code="split.whole")
    pieces = list(Shot.objects.filter(project=shot.project_id, sha256=shot.sha256).order_by("first"))
    first, others = pieces[0], pieces[1:]
    kept = sheet_data(sheet_at(first.id, first.head))
    own = [each.name for each in others if sheet_data(sheet_at(each.id, each.head)) != kept or each.snapshots.exists()]
    if own:
        raise RequestError(
            f"“{own[0]}” has passes or snapshots of its own, which would be lost."
            f" Lay them on “{first.name}” first, or remove it.",
            code="split.worked",
        )
    with Clip(first.path) as clip:
        facts = clip.facts
    # what was written of them stays
    Export.objects.filter(shot__in=others).update(shot=first)
    for each in others:
        remove_shot(each)
    with transaction.atomic():
        Shot.objects.filter(id=first.id).update(
            name=first.name.rpartition(", ")[0] or first.name,
            piece=False,
            first=0,
            frames=facts.frames,
            poster=facts.frames // POSTER,
            timecode=facts.timecode[:16],
        )
    return Shot.objects.get(id=first.id)
