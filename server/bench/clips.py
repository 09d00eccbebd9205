"""Clips at hand: a few are open at a time, each decoded in a process of its own."""

import atexit
import threading
from collections import OrderedDict
from pathlib import Path

from django.conf import settings

from calado.media.clips.clip import Clip
from calado.media.clips.frames import Frames
from calado.media.clips.poster import keep_poster, kept_poster
from calado.media.clips.sound import make_sound
from calado.render.source import Source
from server.projects.models import Shot

#: each keeps some hundred megabytes of frames
OPEN_AT_MOST = 2

_open: OrderedDict[str, Frames] = OrderedDict()
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
        if found is not None and found.clip.alive:
            _open.move_to_end(shot.sha256)
            return found
        frames = Frames(Clip(shot.path), shot.sha256, shot.poster)
        _open[shot.sha256] = frames
        while len(_open) > OPEN_AT_MOST:
            _open.popitem(last=False)[1].clip.close()
        return frames


def poster_of(shot: Shot, side: int) -> Source:
    """Return the frame that stands for a clip, its longer side of so many pixels, as it is kept on disk.

    Raises
    ------
    MediaError
        when it is not kept, and the clip's file can no longer be read.
    """
    scale = min(side / max(shot.width, shot.height), 1.0)
    file = Path(settings.CACHE_ROOT) / f"{shot.sha256}.{side}.npy"
    size = (shot.width, shot.height)
    found = kept_poster(file, shot.sha256, shot.space, size, scale)
    if found is None:
        keep_poster(frames_of(shot), shot.poster, scale, file)
        found = kept_poster(file, shot.sha256, shot.space, size, scale)
    return found or frames_of(shot).source(shot.poster)


def forget_clip(digest: str) -> None:
    """Close a clip that is gone, and remove its sound and its poster."""
    with _lock:
        found = _open.pop(digest, None)
    if found is not None:
        found.clip.close()
    for each in Path(settings.CACHE_ROOT).glob(f"{digest}.*"):
        if each.suffix in (".flac", ".json", ".npy"):
            each.unlink(missing_ok=True)


def _sound_file(digest: str) -> Path:
    return Path(settings.CACHE_ROOT) / f"{digest}.flac"


def sound_of(shot: Shot) -> Path:
    """Return a clip's sound as a file that every browser plays; its peaks lie beside it.

    Raises
    ------
    MediaError
        when it cannot be read.
    """
    file = _sound_file(shot.sha256)
    with _sound:
        if not file.exists():
            make_sound(shot.path, file)
    return file


@atexit.register
def _close() -> None:
    for frames in _open.values():
        frames.clip.close()
