"""Ordering, running and calling off an export."""

import logging
import re
import shutil
import time
from dataclasses import dataclass
from pathlib import Path
from typing import Literal

from django.db import transaction
from django.utils import timezone
from django_tasks import task

from calado.catalogue import CATALOGUE
from calado.clip_export import ClipOrder, export_clip
from calado.errors import CaladoError, RequestError
from calado.export import Cancelled, Shape, export_region, export_still
from calado.inspect.look.covers import weak_covers
from calado.inspect.look.finding import Looked
from calado.media.clips.formats import ClipTarget
from calado.media.formats import FORMATS
from calado.media.write import Target
from calado.picture_export import export_archive
from calado.region.solve.matting_store import SolvedStore
from calado.render.engine import Order
from calado.render.resolve import resolve, sides_concealed
from calado.sheet.check import read_sheet
from calado.sheet.steps import sheet_data
from server.bench.clips import frames_of
from server.bench.sources import ASSETS, ENGINE, as_shown, solved_folder, source_for
from server.jobs.models import Export
from server.jobs.watch import WATCH
from server.projects.actions.change import head_of, sheet_of
from server.projects.errors import Showing
from server.projects.models import Shot
from server.projects.thinning import thin

log = logging.getLogger("calado")
#: how often progress is written down, in seconds
BEAT = 0.25
MOST_NAME_BYTES = 150


@dataclass(frozen=True)
class Wanted:
    """What is written of a shot: its picture, alone or beside the source, or the matte or cut-out of a region.

    ``longer_side`` is that of a picture in pixels, None for full size.
    """

    what: Literal["picture", "pair", "matte", "cutout"] = "picture"
    region: str = ""
    longer_side: int | None = None
    #: of a clip
    clip: ClipTarget | None = None
    #: of a clip: its frames as numbered pictures in an archive
    numbered: bool = False
    frames: tuple[int, int] | None = None

    @property
    def of_region(self) -> bool:
        """Whether it is made of a region."""
        return self.what in ("matte", "cutout")


@dataclass(frozen=True)
class Keeping:
    """What is copied of what the source says of itself; ``private``: also where and with which very camera."""

    metadata: bool = False
    private: bool = False


def said_of_covers(shot: Shot) -> list[str]:
    """Return what there is to say against the covers of a shot as it stands, one sentence each."""
    sheet, common = sheet_of(head_of(shot)), read_sheet(shot.project.sheet, CATALOGUE)
    if not any(sides_concealed(each) for each in (*sheet.passes, *common.passes)):
        return []
    # of a clip as it stands at its poster
    sheets = as_shown(shot, sheet), as_shown(shot, common)
    return [finding.says for finding in weak_covers(Looked(ENGINE, source_for(shot), *sheets))]


def refuse_weak_covers(shots: list[Shot]) -> None:
    """Say once, before anything is written, what shows through the covers of some shots.

    Raises
    ------
    Showing
        with all that there is to say.
    """
    said = [f"{shot.name}: {each}" for shot in shots for each in said_of_covers(shot)]
    if said:
        raise Showing(tuple(said))


def order_export(shot: Shot, target: Target, *, keeping: Keeping = Keeping(), wanted: Wanted = Wanted()) -> Export:
    """Freeze a shot's sheet as it stands and put its export into the queue; what its covers let through is noted.

    Raises
    ------
    RequestError
        when the region is not on the shot's shelf.
    """
    _refuse_other_kind(shot, wanted)
    head = head_of(shot)
    sheet = sheet_of(head)
    accepted = "" if wanted.what == "matte" else "\n".join(said_of_covers(shot))
    name = shot.name
    if wanted.what == "pair":
        name = f"{shot.name}, before and after"
    if wanted.of_region:
        region = sheet.region(wanted.region)
        if region is None:
            raise RequestError(f"“{shot.name}” has no such region. Choose one from its shelf.", code="render.region")
        name = f"{shot.name}, {region.name}, {wanted.what}"
    with transaction.atomic():
        export = Export.objects.create(
            project=shot.project,
            shot=shot,
            revision=head.number,
            sheet=sheet_data(sheet),
            project_sheet=shot.project.sheet,
            format=wanted.clip.format if wanted.clip else target.format,
            bits=shot.bits if wanted.clip else target.bits,
            quality=(wanted.clip.quality or 0) if wanted.clip else target.quality,
            sound=wanted.clip.sound if wanted.clip else False,
            frames=wanted.frames,
            what=wanted.what,
            region=wanted.region,
            longer_side=None if wanted.of_region else wanted.longer_side,
            keep_metadata=keeping.metadata,
            keep_private=keeping.private,
            accepted=accepted,
            file_name=f"{_safe(name)}.{_ending(target, wanted)}",
        )
        # both or neither: an export without its task would wait for ever
        enqueue(export)
    return export


def lane_of(export: Export) -> Literal["default", "clips"]:
    """Return the lane in which an export waits: clips do not hold up what is quick."""
    return "clips" if export.shot.is_clip else "default"


def enqueue(export: Export) -> None:
    """Put an export's task into its lane."""
    run_export.using(queue_name=lane_of(export)).enqueue(export.id)


def _ending(target: Target, wanted: Wanted) -> str:
    if wanted.numbered:
        return "zip"
    return wanted.clip.kind.suffix if wanted.clip else target.extension


def _refuse_other_kind(shot: Shot, wanted: Wanted) -> None:
    if shot.is_clip != (wanted.numbered or wanted.clip is not None):
        kind = "a clip: say how clips are written" if shot.is_clip else "a still: choose a format for stills"
        raise RequestError(f"“{shot.name}” is {kind}.", code="render.kind")
    if wanted.clip is not None and wanted.what not in ("picture", "matte"):
        raise RequestError(
            "A clip holds the picture or a region's matte. Cut-outs are written as numbered pictures.",
            code="render.kind",
        )
    if wanted.numbered and wanted.what == "pair":
        raise RequestError("Source and result are written side by side of stills only.", code="render.kind")
    if wanted.frames is not None and not 0 <= wanted.frames[0] <= wanted.frames[1] < shot.frames:
        raise RequestError(f"“{shot.name}” has frames 0 to {shot.frames - 1}.", code="render.frame")


def call_off(export: Export) -> None:
    """Ask for an export to stop; one that waits is called off at once."""
    waiting = Export.objects.filter(id=export.id, state=Export.State.WAITING)
    if not waiting.update(state=Export.State.CANCELLED, finished=timezone.now()):
        Export.objects.filter(id=export.id, state=Export.State.RUNNING).update(cancel_asked=True)


def remove_export(export: Export) -> None:
    """Remove an export and its file."""
    call_off(export)
    shutil.rmtree(export.path.parent, ignore_errors=True)
    export.delete()


@task()
def thin_shot(id: str) -> None:
    """Thin the revisions of a shot."""
    shot = Shot.objects.filter(id=id).first()
    if shot is not None:
        thin(shot)


@task()
def run_export(id: str) -> None:
    """Write the file of an export; running it again after a kill begins anew and ends the same."""
    runnable = Export.objects.filter(id=id, state__in=(Export.State.WAITING, Export.State.RUNNING))
    if not runnable.update(state=Export.State.RUNNING, started=timezone.now(), progress=0.0):
        return
    export = Export.objects.select_related("shot").get(id=id)
    try:
        with WATCH.over():
            _write(export)
    except Cancelled:
        _finish(export, Export.State.CANCELLED)
    except (CaladoError, OSError, MemoryError) as error:
        _finish(export, Export.State.FAILED, problem=str(error)[:400] or "The export ran out of memory.")
    except Exception:  # whatever a job meets, the export says so and the next one goes on
        log.exception("export %s", id)
        _finish(export, Export.State.FAILED, problem="Calado made a mistake while it wrote this file. Order it again.")
    else:
        _finish(export, Export.State.DONE)


def _write(export: Export) -> None:
    export.path.parent.mkdir(parents=True, exist_ok=True)
    if export.shot.is_clip:
        _write_clip(export)
        return
    order = Order(read_sheet(export.sheet, CATALOGUE), read_sheet(export.project_sheet, CATALOGUE))
    kept: Path | None = export.shot.path if export.keep_metadata else None
    target = Target(export.format, export.bits, export.quality, kept, export.keep_private)  # type: ignore[arg-type]
    source, report, solved = source_for(export.shot), _reporter(export), SolvedStore(solved_folder)
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
    order = ClipOrder(read_sheet(export.sheet, CATALOGUE), project, frames, matte, cutout)  # type: ignore[arg-type]
    of, solved, report = frames_of(export.shot), SolvedStore(solved_folder), _reporter(export)
    if export.format in FORMATS:
        pictures = Target(export.format, export.bits)  # type: ignore[arg-type]
        export_archive(of, order, export.path, pictures, report, ASSETS, solved)
        return
    target = ClipTarget(export.format, export.quality or None, export.sound and not matte)  # type: ignore[arg-type]
    says = export_clip(of, export.shot.path, order, export.path, target, report, ASSETS, solved)
    Export.objects.filter(id=export.id).update(says=says[:400])


def _reporter(export: Export):  # type: ignore[no-untyped-def]
    """Return the function that writes down progress now and then and reads whether to stop."""
    last = 0.0

    def report(share: float) -> bool:
        nonlocal last
        WATCH.sign()
        now = time.monotonic()
        if now - last >= BEAT or share >= 1:
            last = now
            Export.objects.filter(id=export.id).update(progress=share)
        return not Export.objects.filter(id=export.id, cancel_asked=True).exists()

    return report


def _finish(export: Export, state: Export.State, problem: str = "") -> None:
    size = export.path.stat().st_size if state is Export.State.DONE else 0
    done = {"progress": 1.0} if state is Export.State.DONE else {}
    Export.objects.filter(id=export.id).update(
        state=state, problem=problem, size_bytes=size, finished=timezone.now(), **done
    )


def _safe(name: str) -> str:
    """Return a file name without anything a file system could trip over."""
    safe = re.sub(r"[^\w\- ]+", "", name).strip()
    # a name on disk has 255 bytes, and the one that is written for the time being is longer
    return safe.encode()[:MOST_NAME_BYTES].decode(errors="ignore").strip() or "picture"
