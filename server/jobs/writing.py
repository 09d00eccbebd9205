"""Writing the file of an export, in a worker."""

import logging
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
from calado.export import Shape, export_region, export_still
from calado.media.clips.formats import ClipTarget
from calado.media.formats import FORMATS, Format
from calado.media.write import Target
from calado.picture_export import export_archive
from calado.read_back import read_back
from calado.region.solve.matting_store import SolvedStore
from calado.render.engine import Order
from calado.render.resolve import resolve, sides_covered
from calado.scheduler import spread_of
from calado.sheet.check import read_sheet
from calado.sheet.models import Pass, Sheet
from server.bench.clips import frames_of, motions_of
from server.bench.sources import ASSETS, solved_folder, source_for
from server.jobs.models import Export, State
from server.jobs.progress import finish, reporter
from server.jobs.watch import WATCH
from server.projects.models import Shot

log = logging.getLogger("calado")
#: of the work on a clip that conceals, what writing it is; the rest is reading it back
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
    source, report, solved = source_for(export.shot), reporter(export), SolvedStore(solved_folder)
    if export.what in ("picture", "pair"):
        shape = Shape(export.longer_side, export.what == "pair")
        export_still(source, order, export.path, target, report, ASSETS, solved, shape)
        return
    where = resolve(order.sheet, export.region, above=(order.project,))
    if where is None:  # it was there when the export was ordered, and the sheet is frozen
        raise RequestError("The region is gone.", code="render.region")
    what: Literal["matte", "cutout"] = "matte" if export.what == "matte" else "cutout"
    export_region(source, order, where, what, export.path, target, report, ASSETS, solved)


def _write_clip(export: Export) -> None:
    project = read_sheet(export.project_sheet, CATALOGUE)
    frames = tuple(export.frames) if export.frames else None
    matte, cutout = (export.region if export.what == what else "" for what in ("matte", "cutout"))
    order = ClipOrder(read_sheet(export.sheet, CATALOGUE), project, frames, matte, cutout, motions_of(export.shot))  # type: ignore[arg-type]
    solved, report = SolvedStore(solved_folder), reporter(export)
    if export.format in FORMATS:
        pictures = Target(export.format, export.bits)  # type: ignore[arg-type]
        export_archive(frames_of(export.shot), order, export.path, pictures, report, ASSETS, solved)
        return
    target = ClipTarget(export.format, export.quality or None, export.sound and not matte)  # type: ignore[arg-type]
    takes = [Take(partial(frames_of, export.shot), export.shot.path, order), *_following(export, project)]
    places = Places((Path(settings.MATTE_ROOT), Path(settings.MOTION_ROOT)), Path(settings.TABLE_ROOT), solved_folder())
    reads = any(sides_covered(each) for take in takes for each in _passes(take)) and not order.region
    until = WRITTEN if reads else 1.0
    with spread_of(places) as spread:
        says = export_takes(takes, export.path, target, lambda share: report(share * until), ASSETS, solved, spread)
    Export.objects.filter(id=export.id).update(says=says[:400])
    if reads:
        found = read_back(takes, export.path, lambda share: report(until + share * (1 - until)), ASSETS, solved)
        Export.objects.filter(id=export.id).update(read_back={**found.data(), "version": __version__})


def _passes(take: Take) -> tuple[Pass, ...]:
    return (*take.order.sheet.passes, *take.order.project.passes)


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
