"""Writing the file of an export, in a worker."""

import logging
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Literal

from django.conf import settings
from django.utils import timezone
from django_tasks import task

from calado import __version__
from calado.catalogue import CATALOGUE
from calado.clip_chunks import Places, Take
from calado.clip_export import export_takes
from calado.clip_render import ClipOrder
from calado.errors import CaladoError, Cancelled, RequestError
from calado.export import export_region, export_still
from calado.export_rows import Shape
from calado.media.clips.formats import ClipTarget
from calado.media.formats import FORMATS, Format
from calado.media.write import Target
from calado.picture_export import export_archive
from calado.read_back.clips import read_back
from calado.read_back.found import ReadBack
from calado.read_back.stills import read_back_archive, read_back_still
from calado.region.solve.matting_store import SolvedStore
from calado.render.engine import Order
from calado.render.resolve import resolve, sides_covered
from calado.render.source import Source
from calado.scheduler import spread_of
from calado.sheet.check import read_sheet
from calado.sheet.models import Sheet
from server.bench.clips import frames_of, motions_of
from server.bench.sources import ASSETS, solved_folder, source_for
from server.jobs.models import Export, State
from server.jobs.progress import finish, reporter
from server.jobs.watch import WATCH
from server.projects.models import Shot

log = logging.getLogger("calado")
Progress = Callable[[float], bool]
#: of the work on what conceals, what writing it is; the rest is reading it back
WRITTEN = 0.6


@task()
def run_export(id: str) -> None:
    """Write the file of an export; running it again after a kill begins anew and ends the same."""
    runnable = Export.objects.filter(id=id, state__in=Export.OPEN)
    if not runnable.update(state=State.RUNNING, started=timezone.now(), progress=0.0):
        return
    export = Export.objects.select_related("shot").get(id=id)
    try:
        with WATCH.over():
            _write(export)
    except Cancelled:
        _finish(export, State.CANCELLED)
    except (CaladoError, OSError, MemoryError) as error:
        _finish(export, State.FAILED, problem=str(error)[:400] or "The export ran out of memory.")
    except Exception:  # whatever a job meets, the export says so and the next one goes on
        log.exception("export %s", id)
        _finish(export, State.FAILED, problem="Calado made a mistake while it wrote this file. Order it again.")
    else:
        _finish(export, State.DONE)


def _write(export: Export) -> None:
    export.path.parent.mkdir(parents=True, exist_ok=True)
    if export.shot.is_clip:
        _write_clip(export)
        return
    order = Order(read_sheet(export.sheet, CATALOGUE), read_sheet(export.project_sheet, CATALOGUE))
    kept: Path | None = export.shot.path if export.keep_metadata else None
    kind: Format = export.format  # type: ignore[assignment]
    target = Target(kind, export.bits, export.quality, kept, export.keep_private, export.cuts_off)
    source, solved = source_for(export.shot), SolvedStore(solved_folder)
    reads = export.what != "matte" and _conceals(order.sheets)
    write, read = _parts(export, reads=reads)
    shape = Shape(export.longer_side, export.what == "pair")
    if export.what in ("picture", "pair"):
        export_still(source, order, export.path, target, write, ASSETS, solved, shape)
    else:
        _write_region(export, source, order, target, write, solved)
    if reads:
        cutout = export.region if export.what == "cutout" else ""
        _keep(export, read_back_still(source, order, export.path, target, read, ASSETS, solved, shape, cutout))


def _write_region(
    export: Export, source: Source, order: Order, target: Target, progress: Progress, solved: SolvedStore
) -> None:
    where = resolve(order.sheet, export.region, above=(order.project,))
    if where is None:  # it was there when the export was ordered, and the sheet is frozen
        raise RequestError("The region is gone.", code="render.region")
    what: Literal["matte", "cutout"] = "matte" if export.what == "matte" else "cutout"
    export_region(source, order, where, what, export.path, target, progress, ASSETS, solved)


def _conceals(sheets: tuple[Sheet, ...]) -> bool:
    return any(sides_covered(each) for sheet in sheets for each in sheet.passes)


def _parts(export: Export, *, reads: bool) -> tuple[Progress, Progress]:
    """Return what hears how far the writing is, and what how far the reading back."""
    report, until = reporter(export), WRITTEN if reads else 1.0
    return lambda share: report(share * until), lambda share: report(until + share * (1 - until))


def _keep(export: Export, found: ReadBack) -> None:
    Export.objects.filter(id=export.id).update(read_back={**found.data(), "version": __version__})


def _write_clip(export: Export) -> None:
    project = read_sheet(export.project_sheet, CATALOGUE)
    frames = tuple(export.frames) if export.frames else None
    matte, cutout = (export.region if export.what == what else "" for what in ("matte", "cutout"))
    order = ClipOrder(read_sheet(export.sheet, CATALOGUE), project, frames, matte, cutout, motions_of(export.shot))  # type: ignore[arg-type]
    solved = SolvedStore(solved_folder)
    if export.format in FORMATS:
        pictures, held = Target(export.format, export.bits), frames_of(export.shot)  # type: ignore[arg-type]
        reads = not matte and _conceals((order.sheet, order.project))
        write, read = _parts(export, reads=reads)
        export_archive(held, order, export.path, pictures, write, ASSETS, solved)
        if reads:
            _keep(export, read_back_archive(held, order, export.path, pictures, read, ASSETS, solved))
        return
    target = ClipTarget(export.format, export.quality or None, export.sound and not matte)  # type: ignore[arg-type]
    takes = [Take(partial(frames_of, export.shot), export.shot.path, order), *_following(export, project)]
    places = Places((Path(settings.MATTE_ROOT), Path(settings.MOTION_ROOT)), Path(settings.TABLE_ROOT), solved_folder())
    reads = any(_conceals((take.order.sheet, take.order.project)) for take in takes) and not order.region
    write, read = _parts(export, reads=reads)
    with spread_of(places) as spread:
        says = export_takes(takes, export.path, target, write, ASSETS, solved, spread)
    Export.objects.filter(id=export.id).update(says=says[:400])
    if reads:
        _keep(export, read_back(takes, export.path, read, ASSETS, solved, sound=target.sound))


def _following(export: Export, project: Sheet) -> list[Take]:
    """Return the clips that follow in the same file, as they were frozen.

    Raises
    ------
    RequestError
        when one of them was removed.
    """
    takes = []
    for each in export.following:
        shot = Shot.objects.filter(id=each["shot"]).first()
        if shot is None:
            raise RequestError("One of these clips was removed. Order the rest anew.", code="render.shot")
        order = ClipOrder(read_sheet(each["sheet"], CATALOGUE), project, motions=motions_of(shot))
        takes.append(Take(partial(frames_of, shot), shot.path, order))
    return takes


def _finish(export: Export, state: State, problem: str = "") -> None:
    finish(export, state, problem, size_bytes=export.path.stat().st_size if state is State.DONE else 0)
