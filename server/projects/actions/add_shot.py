"""Adding a still or a clip to a project: checked by its content, kept as it is, made ready for the bench."""

import hashlib
import os
import shutil
from pathlib import Path

from django.conf import settings
from django.db import IntegrityError, transaction
from django.db.models import Max

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
#: endings and names as people know them
ENDINGS = {"mov": "mp4", "matroska": "mkv"}
NAMES = {"h264": "H.264", "hevc": "H.265", "vp9": "VP9", "av1": "AV1", "ffv1": "FFV1", "prores": "ProRes"}


def add_shot(project: Project, file: Path, file_name: str, name: str = "", sheet: Sheet = EMPTY_SHEET) -> Shot:
    """Copy a file into the project and return its shot.

    Raises
    ------
    MediaError
        when the file is neither a picture nor a clip that can be read.
    Duplicate
        when the same file is in the project already.
    """
    digest = _digest(file)
    _refuse_twin(project, digest, file_name)
    extension, facts = _clip(file) if looks_like_clip(file) else _still(file, digest)
    id = new_id()
    folder = Path(settings.MEDIA_ROOT) / id
    folder.mkdir(parents=True)
    try:
        _copied(file, folder / f"source.{extension}")
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


def _clip(file: Path) -> tuple[str, dict[str, object]]:
    """Return a clip's ending and what its row says."""
    with Clip(file) as clip:
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


def _copied(file: Path, to: Path) -> None:
    """Copy a file so that it is on disk, and its folder knows it, before anybody is told that it is there."""
    shutil.copyfile(file, to)
    for each in (to, to.parent, to.parent.parent):
        held = os.open(each, os.O_RDONLY)
        try:
            os.fsync(held)
        finally:
            os.close(held)


def _digest(file: Path) -> str:
    with file.open("rb") as opened:
        return hashlib.file_digest(opened, "sha256").hexdigest()


def _refuse_twin(project: Project, digest: str, file_name: str) -> None:
    twin = project.shots.filter(sha256=digest).first()
    if twin is not None:
        raise Duplicate(file_name, twin.id)


def _name_of(file_name: str) -> str:
    """Return a name for people from a file's: ``a_night-at_sea.JPG`` becomes ``A night at sea``."""
    words = " ".join(Path(file_name).stem.replace("_", " ").replace("-", " ").split())
    return words[:1].upper() + words[1:] or "Untitled"
