"""The report of an export that conceals, and the statement of what any changed, made of its row and its file."""

import hashlib
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from calado import __version__
from calado.catalogue import CATALOGUE
from calado.errors import MediaError
from calado.media.clips.clip import Clip
from calado.media.clips.frames import Frames
from calado.render.engine import Order
from calado.render.strip import frame_strip
from calado.report.concealment import Of, Report, Told, Written, concealment_report
from calado.report.pdf import Pictures
from calado.report.statement import LOOKS, Look, Statement, statement
from calado.sheet.check import read_sheet
from calado.sheet.models import EMPTY_SHEET, Sheet
from server.bench.clips import motions_of
from server.bench.sources import ENGINE, as_shown, source_for
from server.jobs.models import Export
from server.projects.errors import Missing
from server.projects.models import Shot

#: height of a frame in a report, in pixels
HEIGHT = 240


def report_of(export: Export) -> Report:
    """Return the report of an export.

    Raises
    ------
    Missing
        where there is none: it conceals nothing, or is not finished.
    """
    found = export.read_back
    if not found or export.state != Export.State.DONE:
        raise Missing("report")
    when = (export.finished or export.created).strftime("%Y-%m-%d %H:%M UTC")
    written = Written(export.file_name, export.size_bytes, found["sha256"], when, found["version"], export.revision)
    project = read_sheet(export.project_sheet, CATALOGUE)
    takes = [_told(export.shot, export.sheet, project, tuple(export.frames) if export.frames else None)]
    for each in export.following:
        shot = Shot.objects.filter(id=each["shot"]).first()
        if shot is None:  # its clip was removed since
            raise Missing("report")
        takes.append(_told(shot, each["sheet"], project))
    return concealment_report(written, takes, found, export.accepted.splitlines())


def _told(shot: Shot, sheet: dict[str, Any], project: Sheet, frames: tuple[int, ...] | None = None) -> Told:
    first, last = frames or (0, shot.frames - 1)
    of = Of(shot.name, shot.sha256, shot.frames, first, last)
    return Told(of, (read_sheet(sheet, CATALOGUE), project), motions_of(shot))


def statement_of(export: Export) -> Statement:
    """Return what an export says was changed; of several clips in one file, in the first.

    Raises
    ------
    Missing
        where there is none: it is a matte, or not finished, or gone.
    """
    if export.what == "matte" or export.state != Export.State.DONE or not export.path.exists():
        raise Missing("statement")
    shot = export.shot
    with export.path.open("rb") as file:
        digest = hashlib.file_digest(file, "sha256").hexdigest()
    when = (export.finished or export.created).strftime("%Y-%m-%d %H:%M UTC")
    written = Written(export.file_name, export.size_bytes, digest, when, __version__, export.revision)
    own, project = (read_sheet(each, CATALOGUE) for each in (export.sheet, export.project_sheet))
    first, last = export.frames or (0, shot.frames - 1)
    looks = [
        Look(frame, source_for(shot, frame), (as_shown(shot, own, frame), as_shown(shot, project, frame)))
        for frame in (_spread(first, last) if shot.is_clip else (0,))
    ]
    of = Of(shot.name, shot.sha256, max(shot.frames, 1), first, max(last, first))
    region = own.region(export.region) if export.what == "cutout" else None
    return statement(written, of, (own, project), looks, ENGINE, region.name if region else "")


def _spread(first: int, last: int) -> list[int]:
    """Return some frames, evenly spread, both ends among them."""
    count = min(LOOKS, last - first + 1)
    return [first + round(k * (last - first) / max(count - 1, 1)) for k in range(count)]


@contextmanager
def frames_of_file(export: Export) -> Iterator[Pictures]:
    """Yield what gives frames of the finished file as JPEGs, by their number in the source.

    Raises
    ------
    Missing
        when the file is gone.
    """
    if export.state != Export.State.DONE or not export.path.exists():
        raise Missing("finished file")
    first = (export.frames or (0, 0))[0]
    with Clip(export.path) as clip:
        frames = Frames(clip, export.id)
        width = max(16, round(HEIGHT * clip.facts.width / clip.facts.height))

        def picture(frame: int) -> bytes | None:
            try:
                source = frames.source(frame - first)
            except MediaError:
                return None
            return frame_strip(ENGINE, iter([(source, Order(EMPTY_SHEET))]), 1, (width, HEIGHT))

        yield picture
