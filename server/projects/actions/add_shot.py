"""Adding a still or a clip to a project: checked by its content, kept as it is, made ready for the bench."""

import hashlib
import os
import shutil
from collections.abc import Callable
from pathlib import Path

from django.conf import settings
from django.db import IntegrityError, transaction
from django.db.models import Max

from calado.errors import Cancelled
from calado.media.clips.clip import Clip
from calado.media.clips.opening import looks_like_clip
from calado.media.clips.tags import space_of
from calado.media.stills import probe
from calado.sheet.models import EMPTY_SHEET, Sheet
from server.bench.clips import poster_of
from server.bench.sources import READER, prepare
from server.projects.actions.change import begin
from server.projects.errors import Duplicate, Missing
from server.projects.models import Project, Shot, new_id

#: the longer side of a small picture, in pixels
THUMBNAIL_SIDE = 560
#: the frame that stands for a clip: after so manieth of it
POSTER = 3
#: bytes that are hashed at once, and the share of all that hashing takes
PIECE, HASHED = 8 * 2**20, 0.4
#: endings and names as people know them
ENDINGS = {"mov": "mp4", "matroska": "mkv"}
NAMES = {"h264": "H.264", "hevc": "H.265", "vp9": "VP9", "av1": "AV1", "ffv1": "FFV1", "prores": "ProRes"}


def add_shot(
    project: Project,
    file: Path,
    file_name: str,
    name: str = "",
    sheet: Sheet = EMPTY_SHEET,
    *,
    told: Callable[[float], bool] = lambda share: True,
    own: bool = False,
) -> Shot:
    """Copy a file into the project and return its shot; a file of our ``own`` may lie there as it is.

    ``told(share)`` hears how far it is, 0…1, and calls it off by returning False.

    Raises
    ------
    MediaError
        when the file is neither a picture nor a clip that can be read.
    Duplicate
        when the same file is in the project already.
    """
    digest = _digest(file, lambda share: told(share * HASHED))
    _refuse_twin(project, digest, file_name)
    extension, facts = _clip(file, told) if looks_like_clip(file) else _still(file, digest)
    id = new_id()
    folder = Path(settings.MEDIA_ROOT) / id
    folder.mkdir(parents=True)
    try:
        _brought(file, folder / f"source.{extension}", own=own)
        with transaction.atomic():
            _refuse_twin(project, digest, file_name)
            shot = Shot.objects.create(
                id=id,
                project=project,
                name=(name or _name_of(file_name))[:120],
                position=(project.shots.aggregate(last=Max("position"))["last"] or 0) + 1,
                file_name=file_name[:255],
                extension=extension,
                sha256=digest,
                **facts,
            )
            begin(shot, sheet, "")
    except IntegrityError as error:  # somebody removed the project, or added the file, in this very moment
        shutil.rmtree(folder, ignore_errors=True)
        _refuse_twin(project, digest, file_name)
        raise Missing("project") from error
    except BaseException:
        shutil.rmtree(folder, ignore_errors=True)
        raise
    if shot.is_clip:
        poster_of(shot, THUMBNAIL_SIDE)
    return shot


def _still(file: Path, digest: str) -> tuple[str, dict[str, object]]:
    """Make a still ready; return its ending and what its row says."""
    about = probe(file)
    still = READER.still(file)
    height, width = still.samples.shape[1:]
    prepare(digest, still)
    said = {"width": width, "height": height, "bits": about.bits, "space": still.space.id, "note": still.note}
    return about.extension, {**said, "format": about.format}


def _clip(file: Path, told: Callable[[float], bool]) -> tuple[str, dict[str, object]]:
    """Return a clip's ending and what its row says."""
    with Clip(file, lambda share: told(HASHED + share * (1 - HASHED))) as clip:
        facts = clip.facts
        # a frame from within, as the first is often black; read, so that a clip that cannot be is not taken
        poster = facts.frames // POSTER
        clip.picture(poster)
    return ENDINGS.get(facts.container, facts.container), {
        "width": facts.width,
        "height": facts.height,
        "bits": facts.bits,
        "space": space_of(facts.tags).id,
        "note": facts.note,
        "format": NAMES.get(facts.codec, facts.codec)[:16],
        "frames": facts.frames,
        "rate": str(facts.rate),
        "sound": bool(facts.sound),
        "timecode": facts.timecode[:16],
        "poster": poster,
    }


def _brought(file: Path, to: Path, *, own: bool) -> None:
    """Copy or link a file so that it is on disk, and its folder knows it, before anybody is told that it is there."""
    if own:
        try:
            to.hardlink_to(file)
        except OSError:  # not every disk can
            shutil.copyfile(file, to)
    else:
        shutil.copyfile(file, to)
    for each in (to, to.parent, to.parent.parent):
        held = os.open(each, os.O_RDONLY)
        try:
            os.fsync(held)
        finally:
            os.close(held)


def _digest(file: Path, told: Callable[[float], bool]) -> str:
    made, size, done = hashlib.sha256(), max(file.stat().st_size, 1), 0
    with file.open("rb") as opened:
        while piece := opened.read(PIECE):
            made.update(piece)
            done += len(piece)
            if not told(done / size):
                raise Cancelled
    return made.hexdigest()


def _refuse_twin(project: Project, digest: str, file_name: str) -> None:
    twin = project.shots.filter(sha256=digest).first()
    if twin is not None:
        raise Duplicate(file_name, twin.id)


def _name_of(file_name: str) -> str:
    """Return a name for people from a file's: ``a_night-at_sea.JPG`` becomes ``A night at sea``."""
    words = " ".join(Path(file_name).stem.replace("_", " ").replace("-", " ").split())
    return words[:1].upper() + words[1:] or "Untitled"
