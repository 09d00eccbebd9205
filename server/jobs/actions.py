"""Ordering, running and calling off an export."""

import logging
import re
import shutil
from dataclasses import dataclass
from typing import Literal

from django.db import transaction
from django.utils import timezone
from django_tasks import task

from calado.catalogue import CATALOGUE
from calado.errors import RequestError
from calado.inspect.look.covers import weak_covers
from calado.inspect.look.finding import Looked
from calado.media.clips.formats import ClipTarget, clip_fits
from calado.media.write import Target
from calado.render.resolve import sides_concealed
from calado.sheet.check import read_sheet
from calado.sheet.models import Sheet
from calado.sheet.steps import sheet_data
from server.bench.clips import covers_on
from server.bench.sources import ENGINE, as_shown, source_for
from server.jobs.models import Export
from server.jobs.writing import run_export
from server.projects.actions.change import head_of, sheet_of
from server.projects.errors import Showing
from server.projects.models import Shot
from server.projects.thinning import thin

log = logging.getLogger("calado")
MOST_NAME_BYTES = 150
#: of a clip's frames so many are looked at for what its covers let through
LOOKS = 9


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
    #: of a clip: those that follow it in the same file
    following: tuple[Shot, ...] = ()

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
    if not shot.is_clip:
        return [finding.says for finding in weak_covers(Looked(ENGINE, source_for(shot), sheet, common))]
    said: dict[str, int] = {}
    astray = _astray(shot, sheet)
    for frame in looked_at(shot.frames):
        sheets = as_shown(shot, sheet, frame), as_shown(shot, common, frame)
        for finding in weak_covers(Looked(ENGINE, source_for(shot, frame), *sheets)):
            said.setdefault(finding.says, frame)
    return [*astray, *(f"At frame {frame}: {says}" for says, frame in said.items())]


def _astray(shot: Shot, sheet: Sheet) -> list[str]:
    """Return which covers go along with what they are not sure to be on, and in how many frames."""
    said = []
    for each in covers_on(shot, sheet):
        if count := each.count("open"):
            first = next(run.first for run in each.runs if run.state == "open")
            many = "one frame is" if count == 1 else f"{count} frames are"
            said.append(
                f"“{each.region.name}”: {many} open, the first is {first}. It may be off there, and nobody looked."
            )
    return said


def looked_at(frames: int) -> list[int]:
    """Return the frames of a clip at which its covers are looked at before it is exported."""
    return sorted({round(k * (frames - 1) / (LOOKS - 1)) for k in range(LOOKS)})


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
    accepted = (
        ""
        if wanted.what == "matte"
        else "\n".join(each for one in (shot, *wanted.following) for each in said_of_covers(one))
    )
    name = f"{shot.name} and {len(wanted.following)} more" if wanted.following else shot.name
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
            following=[{"shot": each.id, "sheet": sheet_data(sheet_of(head_of(each)))} for each in wanted.following],
            what=wanted.what,
            region=wanted.region,
            longer_side=None if wanted.of_region else wanted.longer_side,
            keep_metadata=keeping.metadata,
            keep_private=keeping.private,
            cuts_off=target.cuts_off,
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
    if wanted.clip is not None and wanted.what != "pair":
        clip_fits(wanted.what, wanted.clip)
    if shot.is_clip and wanted.what == "pair":
        raise RequestError("Source and result are written side by side of stills only.", code="render.kind")
    if any(not alike(shot, each) for each in wanted.following):
        raise RequestError("Clips in one file have one size and one rate. Export these one by one.", code="render.kind")
    if wanted.frames is not None and not 0 <= wanted.frames[0] <= wanted.frames[1] < shot.frames:
        raise RequestError(f"“{shot.name}” has frames 0 to {shot.frames - 1}.", code="render.frame")


def alike(one: Shot, other: Shot) -> bool:
    """Return whether two clips can stand in one file."""
    return other.is_clip and (one.width, one.height, one.rate) == (other.width, other.height, other.rate)


def refuse_while_exported(shot: Shot) -> None:
    """Refuse what would change a clip's frames while it, or another piece of its file, is exported.

    Raises
    ------
    RequestError
        when it is.
    """
    open_ones = Export.objects.filter(state__in=Export.OPEN)
    if open_ones.filter(project=shot.project_id, shot__sha256=shot.sha256).exists():
        raise RequestError("This clip is being exported. Wait for that, or call it off.", code="export.runs")


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


def _safe(name: str) -> str:
    """Return a file name without anything a file system could trip over."""
    safe = re.sub(r"[^\w\- ]+", "", name).strip()
    # a name on disk has 255 bytes, and the one that is written for the time being is longer
    return safe.encode()[:MOST_NAME_BYTES].decode(errors="ignore").strip() or "picture"
