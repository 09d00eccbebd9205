"""The report of an export that conceals, and the statement of what any changed, made of its row and its file."""

import hashlib
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from calado import __version__
from calado.catalogue import CATALOGUE
from calado.errors import MediaError
from calado.media.clips.clip import Clip
from calado.media.clips.frames import Frames
from calado.media.formats import FORMATS
from calado.media.stills import read_still
from calado.render.engine import Order
from calado.render.source import Source, source_of
from calado.render.strip import frame_strip
from calado.report.concealment import Of, Report, Told, Written, concealment_report
from calado.report.pdf import Pictures
from calado.report.statement import Look, Stated, Statement, spread, statement
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
    takes = [_told(shot, sheet, project, frames) for shot, sheet, frames in _takes(export)]
    return concealment_report(written, takes, found, export.accepted.splitlines())


def _told(shot: Shot, sheet: dict[str, Any], project: Sheet, frames: tuple[int, int] | None) -> Told:
    first, last = frames or (0, max(shot.frames - 1, 0))
    of = Of(shot.name, shot.sha256, shot.frames, first, last)
    return Told(of, (read_sheet(sheet, CATALOGUE), project), motions_of(shot))


def statement_of(export: Export) -> Statement:
    """Return what an export says was changed.

    Raises
    ------
    Missing
        where there is none: it is a matte, or not finished, or gone.
    """
    if export.what == "matte" or export.state != Export.State.DONE or not export.path.exists():
        raise Missing("statement")
    with export.path.open("rb") as file:
        digest = hashlib.file_digest(file, "sha256").hexdigest()
    when = (export.finished or export.created).strftime("%Y-%m-%d %H:%M UTC")
    written = Written(export.file_name, export.size_bytes, digest, when, __version__, export.revision)
    project = read_sheet(export.project_sheet, CATALOGUE)
    takes = [_stated(shot, read_sheet(sheet, CATALOGUE), project, frames) for shot, sheet, frames in _takes(export)]
    region = takes[0].sheets[0].region(export.region) if export.what == "cutout" else None
    return statement(written, takes, ENGINE, region.name if region else "")


def _stated(shot: Shot, own: Sheet, project: Sheet, frames: tuple[int, int] | None) -> Stated:
    first, last = frames or (0, max(shot.frames - 1, 0))
    looks = [
        Look(frame, source_for(shot, frame), (as_shown(shot, own, frame), as_shown(shot, project, frame)))
        for frame in (spread(first, last) if shot.is_clip else (0,))
    ]
    return Stated(Of(shot.name, shot.sha256, shot.frames, first, last), (own, project), looks)


def _takes(export: Export) -> Iterator[tuple[Shot, dict[str, Any], tuple[int, int] | None]]:
    """Yield each shot that is in the file, with its sheet as it was frozen, and the frames that were written of it.

    Raises
    ------
    Missing
        when one of them was removed since.
    """
    yield export.shot, export.sheet, tuple(export.frames) if export.frames else None
    for each in export.following:
        shot = Shot.objects.filter(id=each["shot"]).first()
        if shot is None:
            raise Missing("shot of this file")
        yield shot, each["sheet"], None


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
    if export.format in FORMATS:
        yield lambda frame: _picture(export.path, frame - first)
        return
    with Clip(export.path) as clip:
        frames = Frames(clip, export.id)

        def picture(frame: int) -> bytes | None:
            try:
                return _small(frames.source(frame - first))
            except MediaError:
                return None

        yield picture


def _small(source: Source) -> bytes:
    width = max(16, round(HEIGHT * source.width / source.height))
    return frame_strip(ENGINE, iter([(source, Order(EMPTY_SHEET))]), 1, (width, HEIGHT))


def _picture(path: Path, number: int) -> bytes | None:
    """Return a finished still, or one of the numbered pictures that are packed in a file, None where it has none."""
    if path.suffix != ".zip":
        return _still(path) if number == 0 else None
    with zipfile.ZipFile(path) as packed, TemporaryDirectory() as folder:
        names = sorted(packed.namelist())
        return _still(Path(packed.extract(names[number], folder))) if 0 <= number < len(names) else None


def _still(path: Path) -> bytes:
    still = read_still(path)
    return _small(source_of(still.samples, still.space, f"written {path} {path.stat().st_mtime_ns}"))
