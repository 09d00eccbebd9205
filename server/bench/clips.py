"""Clips at hand: a few are open at a time, each decoded in a process of its own."""

import atexit
import shutil
import threading
from collections import OrderedDict
from fractions import Fraction
from pathlib import Path

from django.conf import settings

from calado.follow.coverage import Coverage, covers_of
from calado.media.clips.clip import Clip
from calado.media.clips.frames import Frames
from calado.media.clips.motions import MotionFolder
from calado.media.clips.part import ClipPart
from calado.media.clips.poster import keep_poster, kept_poster
from calado.media.clips.sound import make_sound
from calado.render.source import Source
from calado.sheet.models import Sheet
from server.projects.models import Shot

#: each keeps some hundred megabytes of frames
OPEN_AT_MOST = 2

#: open files, each with the frames of the shots that are of it
_open: OrderedDict[str, tuple[Clip, dict[str, Frames]]] = OrderedDict()
_lock = threading.Lock()
_sound = threading.Lock()


def frames_of(shot: Shot) -> Frames:
    """Return the frames of a shot that is a clip.

    Raises
    ------
    MediaError
        when its file can no longer be read.
    """
    with _lock:
        found = _open.get(shot.sha256)
        # a process that ended is begun anew
        if found is None or not found[0].alive:
            found = _open[shot.sha256] = Clip(shot.path), {}
        _open.move_to_end(shot.sha256)
        while len(_open) > OPEN_AT_MOST:
            _open.popitem(last=False)[1][0].close()
        clip, frames = found
        if shot.key not in frames:
            part = ClipPart(clip, shot.first, shot.frames) if shot.piece else clip
            frames[shot.key] = Frames(part, shot.key, shot.poster)
        return frames[shot.key]


def motions_of(shot: Shot) -> MotionFolder:
    """Return where the motions that were followed in a shot are kept; they count its frames from its first on."""
    return MotionFolder(Path(settings.MOTION_ROOT) / shot.sha256 / str(shot.first))


def covers_on(shot: Shot, sheet: Sheet) -> list[Coverage]:
    """Return in which frames of a clip what a sheet must cover is covered; of a still nothing."""
    return covers_of(sheet, shot.frames, motions_of(shot)) if shot.is_clip else []


def poster_of(shot: Shot, side: int) -> Source:
    """Return the frame that stands for a clip, its longer side of so many pixels, as it is kept on disk.

    Raises
    ------
    MediaError
        when it is not kept, and the clip's file can no longer be read.
    """
    scale = min(side / max(shot.width, shot.height), 1.0)
    file = Path(settings.CACHE_ROOT) / f"{shot.key}.{side}.npy"
    size = (shot.width, shot.height)
    found = kept_poster(file, shot.key, shot.space, size, scale)
    if found is None:
        keep_poster(frames_of(shot), shot.poster, scale, file)
        found = kept_poster(file, shot.key, shot.space, size, scale)
    return found or frames_of(shot).source(shot.poster)


def forget_clip(digest: str) -> None:
    """Close a clip that is gone, and remove its sound, its poster and its motions."""
    with _lock:
        found = _open.pop(digest, None)
    if found is not None:
        found[0].close()
    shutil.rmtree(Path(settings.MOTION_ROOT) / digest, ignore_errors=True)
    for each in Path(settings.CACHE_ROOT).glob(f"{digest}.*"):
        if each.suffix in (".flac", ".json", ".npy"):
            each.unlink(missing_ok=True)


def sound_of(shot: Shot) -> Path:
    """Return a clip's sound as a file that every browser plays; its peaks lie beside it.

    Raises
    ------
    MediaError
        when it cannot be read.
    """
    file = Path(settings.CACHE_ROOT) / f"{shot.key}.flac"
    bounds = (shot.first / Fraction(shot.rate), (shot.first + shot.frames) / Fraction(shot.rate)) if shot.piece else ()
    with _sound:
        if not file.exists():
            make_sound(shot.path, file, *bounds)
    return file


@atexit.register
def _close() -> None:
    for clip, _ in _open.values():
        clip.close()
