"""Frames of a clip as numbered pictures: each a file, or all in one archive."""

import re
import shutil
import zipfile
from collections.abc import Callable
from pathlib import Path

from calado.clip_chunks import Take
from calado.clip_export import begun_folder, refuse_unknown_region, secret_of
from calado.clip_render import ClipOrder
from calado.errors import Cancelled
from calado.export import EXPORT_CACHE_BYTES, export_region, export_still
from calado.export_rows import fits
from calado.media.clips.frames import Frames
from calado.media.write import Target
from calado.region.solve.matting_store import SolvedStore
from calado.render.assets import NO_ASSETS, Assets
from calado.render.engine import Engine, new_secret
from calado.render.resolve import resolve

#: where the number of a frame stands in the name of a picture
NUMBER = re.compile(r"%0?\d*d")
#: one date for all that is packed, so that the same order gives the same file
PACKED = (1980, 1, 1, 0, 0, 0)

Progress = Callable[[float], bool]


def numbered(out: Path, frame: int) -> Path:
    """Return the name of a frame's picture: ``walk.%05d.png`` becomes ``walk.00012.png``; other signs stay."""
    return out.with_name(NUMBER.sub(lambda found: found.group() % frame, out.name, count=1))


def export_pictures(
    frames: Frames,
    order: ClipOrder,
    out: Path,
    target: Target,
    progress: Progress = lambda share: True,
    engine: Engine | None = None,
    assets: Assets = NO_ASSETS,
) -> list[Path]:
    """Write finished frames as numbered pictures and return them; ``out``'s name holds their place.

    A picture that is there already is taken as it is where an ``engine`` is given, whose order wrote it.

    Raises
    ------
    Cancelled
        when called off.
    MediaError
        when the clip cannot be read, a picture written, or its format does not hold what is wanted.
    """
    first, last = order.range(frames.clip.facts)
    refuse_unknown_region(order)
    fits("matte" if order.matte_of else "cutout" if order.cutout_of else "picture", target)
    taken = engine is not None
    engine = engine or Engine(EXPORT_CACHE_BYTES, assets, None, new_secret())
    made = []
    for frame in range(first, last + 1):
        if not progress((frame - first) / (last - first + 1)):
            raise Cancelled
        path = numbered(out, frame)
        if not (taken and path.exists()):
            _write(frames, order, frame, path, target, engine)
        made.append(path)
    progress(1.0)
    return made


def _write(frames: Frames, order: ClipOrder, frame: int, path: Path, target: Target, engine: Engine) -> None:
    source, at = frames.source(frame), order.at(frame)
    if not order.region:
        export_still(source, at, path, target, engine=engine)
        return
    where = resolve(at.sheet, order.region)
    assert where is not None  # looked up before the first frame
    export_region(source, at, where, "matte" if order.matte_of else "cutout", path, target, engine=engine)


def export_archive(
    frames: Frames,
    order: ClipOrder,
    out: Path,
    target: Target,
    progress: Progress = lambda share: True,
    assets: Assets = NO_ASSETS,
    solved: SolvedStore | None = None,
) -> None:
    """Write finished frames as numbered pictures packed into one ZIP file, ``out``.

    Pictures that stand beside it from an interrupted export of the same order are taken as they are.

    Raises
    ------
    Cancelled, MediaError
        as :func:`export_pictures` does.
    """
    folder = begun_folder(out, [Take(lambda: frames, out, order)], (target.format, target.bits, target.quality))
    engine = Engine(EXPORT_CACHE_BYTES, assets, solved, secret_of(folder))
    digits = max(4, len(str(frames.clip.facts.frames)))
    name = folder / f"{out.stem.replace('%', '')}.%0{digits}d.{target.extension}"
    try:
        made = export_pictures(frames, order, name, target, lambda share: progress(share * 0.98), engine)
    except Cancelled:
        shutil.rmtree(folder, ignore_errors=True)
        raise
    part = out.with_name(f".{out.stem}.part.zip")
    try:
        with zipfile.ZipFile(part, "w", zipfile.ZIP_STORED) as packed:
            for each in made:
                packed.writestr(zipfile.ZipInfo(each.name, PACKED), each.read_bytes())
        part.replace(out)
    except BaseException:
        part.unlink(missing_ok=True)
        raise
    shutil.rmtree(folder, ignore_errors=True)
    progress(1.0)
