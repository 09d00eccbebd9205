"""Sources ready for the engine: a bounded cache of pyramids on disk, and the engine itself."""

import os
import shutil
import threading
from collections import OrderedDict
from functools import lru_cache
from pathlib import Path

from django.conf import settings

from calado.adjust.kind import Luts
from calado.detect.find import keep_in
from calado.follow.carried import sheet_in_time
from calado.media.apart import Reader
from calado.media.cube import folder_luts
from calado.media.mattes import folder_sums
from calado.media.stills import Still
from calado.region.matte import MatteSums, Sums
from calado.region.solve.matting_store import SolvedStore
from calado.render.assets import Assets
from calado.render.engine import Engine, new_secret
from calado.render.source import Source, StoredDamaged, is_stored, open_source, source_of, store_source
from calado.sheet.models import Sheet
from server.bench.clips import forget_clip, frames_of, motions_of
from server.projects.models import Shot


@lru_cache(maxsize=1)
def _sums(*folders: str) -> MatteSums:
    return folder_sums(*map(Path, folders))


def matte_sums(digest: str) -> Sums:
    """Return the sums of a matte that was imported, or carried through a clip."""
    return _sums(str(settings.MATTE_ROOT), str(settings.MOTION_ROOT))(digest)


@lru_cache(maxsize=1)
def _luts(folder: str) -> Luts:
    return folder_luts(Path(folder))


def colour_table(digest: str) -> object:
    """Return an imported colour table."""
    return _luts(str(settings.TABLE_ROOT))(digest)


def solved_folder() -> Path:
    """Return where solved mattes are kept."""
    return Path(settings.SOLVED_ROOT)


def _folder_of(key: str) -> Path | None:
    """Return where what is made of a still stands, by its key; of a clip's frames nothing is kept."""
    folder = Path(settings.CACHE_ROOT) / key
    return folder if is_stored(folder) else None


ASSETS = Assets(matte_sums, colour_table)
#: the bench does not wait: it shows what is coarse until the fine matte is there
ENGINE = Engine(assets=ASSETS, solved=SolvedStore(solved_folder, wait=False), secret=new_secret())
keep_in(_folder_of)
#: files from elsewhere are read apart
READER = Reader()
_OPEN_AT_MOST = 12
_open: OrderedDict[str, Source] = OrderedDict()
_lock = threading.Lock()


def prepare(digest: str, still: Still) -> None:
    """Store a still's pyramid under the hash of its file; a half-written one is never seen."""
    folder = Path(settings.CACHE_ROOT) / digest
    if is_stored(folder):
        return
    # half as much again for its smaller sizes
    make_room(still.samples.nbytes * 3 // 2)
    part = folder.with_name(f"{digest}.{os.getpid()}.{threading.get_ident()}.part")
    store_source(source_of(still.samples, still.space, digest, still.share), part)
    try:
        part.rename(folder)
    except OSError:  # another thread was first, with the same pixels
        shutil.rmtree(part, ignore_errors=True)
    _prune(keep=digest)


def make_room(needed: int) -> None:
    """Let what can be made again give way before the disk is full: pyramids used longest ago, then solved mattes."""
    wanted = needed + settings.DISK_RESERVE_BYTES
    cached = [folder for folder in Path(settings.CACHE_ROOT).iterdir() if folder.is_dir()]
    mattes = solved_folder().glob("*.npy")
    for each in (*sorted(cached, key=_used), *sorted(mattes, key=_used)):
        if shutil.disk_usage(settings.CACHE_ROOT).free >= wanted:
            return
        if each.is_dir():
            shutil.rmtree(each, ignore_errors=True)
        else:
            each.unlink(missing_ok=True)


def _used(path: Path) -> float:
    return path.stat().st_mtime


def source_for(shot: Shot, frame: int | None = None) -> Source:
    """Return the source of a shot, of a clip that of a frame (None: of its poster).

    A still is read from its file again if the cache has dropped it.
    """
    if shot.is_clip:
        return frames_of(shot).source(shot.poster if frame is None else frame)
    with _lock:
        if shot.sha256 in _open:
            _open.move_to_end(shot.sha256)
            return _open[shot.sha256]
    folder = Path(settings.CACHE_ROOT) / shot.sha256
    try:
        source = open_source(folder, shot.sha256)
    except (FileNotFoundError, StoredDamaged):
        # dropped, cut or damaged: it is made again from the file, which nobody writes to
        shutil.rmtree(folder, ignore_errors=True)
        prepare(shot.sha256, READER.still(shot.path))
        source = open_source(folder, shot.sha256)
    os.utime(folder)
    with _lock:
        _open[shot.sha256] = source
        while len(_open) > _OPEN_AT_MOST:
            _open.popitem(last=False)
    return source


def as_shown(shot: Shot, sheet: Sheet, frame: int | None = None) -> Sheet:
    """Return a sheet as it stands where the source of a shot is from: of a clip at a frame, None: at its poster."""
    return sheet_in_time(sheet, shot.poster if frame is None else frame, motions_of(shot)) if shot.is_clip else sheet


def forget_source(digest: str) -> None:
    """Remove what was made of the pixels of a file that is gone: its pyramid, and all solved mattes.

    A solved matte does not tell of which picture it is; those of other pictures are made again when they are wanted.
    """
    forget_clip(digest)
    with _lock:
        _open.pop(digest, None)
    shutil.rmtree(Path(settings.CACHE_ROOT) / digest, ignore_errors=True)
    for matte in solved_folder().glob("*.npy"):
        matte.unlink(missing_ok=True)


def _prune(keep: str) -> None:
    """Drop the pyramids used longest ago until the cache fits its limit."""
    folders = sorted((f for f in Path(settings.CACHE_ROOT).iterdir() if f.is_dir()), key=lambda f: f.stat().st_mtime)
    sizes = {folder: sum(file.stat().st_size for file in folder.iterdir()) for folder in folders}
    total = sum(sizes.values())
    for folder in folders:
        if total <= settings.CACHE_LIMIT_BYTES:
            return
        if folder.name != keep:
            shutil.rmtree(folder, ignore_errors=True)
            total -= sizes[folder]
