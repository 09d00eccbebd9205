"""A clip in which several shots follow each other becomes that many: they share its file."""

import os
import shutil
from collections.abc import Sequence
from fractions import Fraction
from pathlib import Path

from django.conf import settings
from django.db import transaction
from django.db.models import F

from calado.errors import RequestError
from calado.media.clips.timecode import advanced
from calado.sheet.models import Sheet
from calado.sheet.timed import moves
from server.projects.actions.add_shot import POSTER
from server.projects.actions.change import begin
from server.projects.errors import Missing
from server.projects.history import sheet_at
from server.projects.models import Shot, new_id

MOST_PIECES = 200
#: of a name that gets a number
_NAME = 112


def split(shot: Shot, at: Sequence[int]) -> list[Shot]:
    """Split a clip before each of some frames, in order; the first piece stays the shot it was, all keep its passes.

    Raises
    ------
    RequestError
        when it is a still, has no such frames, or things move in it.
    """
    bounds = _bounds(shot, at)
    sheet = sheet_at(shot.id, shot.head)
    if _timed(sheet):
        raise RequestError(
            "Something moves or comes and goes in this clip, by frames of its whole length. Split it before that.",
            code="split.timed",
        )
    made = [_linked(shot) for _ in bounds[1:]]
    try:
        with transaction.atomic():
            held = Shot.objects.filter(id=shot.id, head=shot.head, first=shot.first, frames=shot.frames)
            later = Shot.objects.filter(project=shot.project_id, position__gt=shot.position)
            later.update(position=F("position") + len(made))
            if not held.update(**_piece(shot, 1, bounds[0])):
                raise Missing("clip as it was")
            pieces = [
                Shot.objects.create(id=id, position=shot.position + k, **_copied(shot), **_piece(shot, k + 1, bound))
                for k, (id, bound) in enumerate(zip(made, bounds[1:], strict=True), 1)
            ]
            for piece in pieces:
                begin(piece, sheet, "")
    except BaseException:
        for id in made:
            shutil.rmtree(Path(settings.MEDIA_ROOT) / id, ignore_errors=True)
        raise
    return [Shot.objects.get(id=shot.id), *pieces]


def _bounds(shot: Shot, at: Sequence[int]) -> list[tuple[int, int]]:
    """Return the first frame of each piece and how many it has, counted in the shot."""
    if not shot.is_clip:
        raise RequestError("This shot is a still.", code="render.still")
    wanted = sorted({*at})
    if not wanted or not 0 < wanted[0] <= wanted[-1] < shot.frames:
        raise RequestError(f"Split this clip before frames from 1 to {shot.frames - 1}.", code="split.frames")
    if len(wanted) >= MOST_PIECES:
        raise RequestError(f"A clip is split into {MOST_PIECES} at most.", code="split.frames")
    starts = [0, *wanted]
    return [(first, end - first) for first, end in zip(starts, [*wanted, shot.frames], strict=True)]


def _timed(sheet: Sheet) -> bool:
    return any(region.track or moves(part) for region in sheet.regions for part in region.parts) or any(
        each.span or each.keys for each in sheet.passes
    )


def _linked(shot: Shot) -> str:
    """Return the id of a new shot whose file is the same one."""
    id = new_id()
    folder = Path(settings.MEDIA_ROOT) / id
    folder.mkdir(parents=True)
    to = folder / shot.path.name
    try:
        to.hardlink_to(shot.path)
    except OSError:  # not every disk can
        shutil.copyfile(shot.path, to)
    for each in (to, folder, folder.parent):
        held = os.open(each, os.O_RDONLY)
        try:
            os.fsync(held)
        finally:
            os.close(held)
    return id


def _piece(shot: Shot, number: int, bound: tuple[int, int]) -> dict[str, object]:
    first, count = bound
    return {
        "name": f"{shot.name[:_NAME]}, {number}",
        "piece": True,
        "first": shot.first + first,
        "frames": count,
        "poster": count // POSTER,
        "timecode": advanced(shot.timecode, first, Fraction(shot.rate)),
    }


def _copied(shot: Shot) -> dict[str, object]:
    names = (
        *("project", "file_name", "extension", "sha256", "format", "width", "height", "bits", "space", "note"),
        *("rate", "sound"),
    )
    return {name: getattr(shot, name) for name in names}
