"""Reading pictures back: a still, or the numbered pictures of a clip, compared with what was ordered band by band."""

import zipfile
from collections.abc import Callable
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np

from calado.clip_render import ClipOrder
from calado.errors import Cancelled, MediaError
from calado.export import EXPORT_CACHE_BYTES
from calado.export_rows import RegionRows, Rows, Shape, StillRows, bands
from calado.media.clips.frames import Frames
from calado.media.reading import RowReader, carries_picture, rows_of
from calado.media.write import Target
from calado.read_back.found import Gathered, ReadBack, noisy, pass_of
from calado.read_back.legible import still_readable
from calado.read_back.under import LeftInBands
from calado.region.solve.matting_store import SolvedStore
from calado.render.assets import NO_ASSETS, Assets
from calado.render.engine import Engine, Order
from calado.render.resolve import resolve
from calado.render.source import Source

#: pixels that are compared at a time
BAND = 1_000_000

Progress = Callable[[float], bool]


def read_back_still(
    source: Source,
    order: Order,
    path: Path,
    target: Target,
    progress: Progress = lambda share: True,
    assets: Assets = NO_ASSETS,
    solved: SolvedStore | None = None,
    shape: Shape = Shape(),
    cutout: str = "",
) -> ReadBack:
    """Compare a finished picture, or the cut-out of a region, with what was ordered.

    Raises
    ------
    Cancelled
        when ``progress(share)`` calls it off by returning False.
    MediaError
        when it cannot be read.
    """
    engine = Engine(EXPORT_CACHE_BYTES, assets, solved)
    rows = _rows(engine, source, order, target, shape, cutout)
    gathered = Gathered()
    findings = _compare(rows, order, path, target, gathered, None, progress)
    if not cutout and (rows.width, rows.height) == (source.width, source.height):
        findings += still_readable(engine, source, order, path)
    return gathered.found(path, tuple(findings))


def read_back_archive(
    frames: Frames,
    order: ClipOrder,
    path: Path,
    target: Target,
    progress: Progress = lambda share: True,
    assets: Assets = NO_ASSETS,
    solved: SolvedStore | None = None,
) -> ReadBack:
    """Compare the numbered pictures in a ZIP file with what was ordered, each with its frame.

    Raises
    ------
    Cancelled, MediaError
        as :func:`read_back_still` does.
    """
    engine = Engine(EXPORT_CACHE_BYTES, assets, solved)
    first, last = order.range(frames.clip.facts)
    gathered, findings = Gathered(), list[str]()
    with zipfile.ZipFile(path) as packed, TemporaryDirectory() as folder:
        names = sorted(packed.namelist())
        if len(names) != last - first + 1:
            findings.append(f"It has {len(names)} pictures, {last - first + 1} were ordered.")
        for frame, name in zip(range(first, last + 1), names, strict=False):
            if not progress((frame - first) / (last - first + 1)):
                raise Cancelled
            picture = Path(packed.extract(name, folder))
            source, at = frames.source(frame), order.at(frame)
            rows = _rows(engine, source, at, target, Shape(), order.cutout_of)
            found = _compare(rows, at, picture, target, gathered, frame, lambda share: True)
            findings += [f"Frame {frame}: {each}" for each in found]
            picture.unlink()
    return gathered.found(path, tuple(findings))


def _rows(engine: Engine, source: Source, order: Order, target: Target, shape: Shape, cutout: str) -> Rows:
    if not cutout:
        return StillRows(engine, source, order, target, shape)
    where = resolve(order.sheet, cutout, above=(order.project,))
    if where is None:
        raise MediaError("The region that was cut out is gone.", code="media.read")
    return RegionRows(engine, source, order, where, "cutout", target)


def _compare(
    rows: Rows, order: Order, path: Path, target: Target, gathered: Gathered, frame: int | None, progress: Progress
) -> list[str]:
    """Compare one picture, and return what is wrong with it besides what lies under covers."""
    with rows_of(path) as file:
        if (file.width, file.height) != (rows.width, rows.height):
            gathered.frame(None, frame)
            return [f"It has {file.width} × {file.height} pixels, {rows.width} × {rows.height} were ordered."]
        _bands(rows, order, file, target, gathered, frame, progress)
    return ["It carries a small picture besides its own, which may show what is covered."] * carries_picture(path)


def _bands(
    rows: Rows, order: Order, file: RowReader, target: Target, gathered: Gathered, frame: int | None, progress: Progress
) -> None:
    top = 1.0 if target.format == "exr" else float(2**target.bits - 1)
    left: dict[int, LeftInBands] = {}
    whose = {}
    away, count = 0.0, 0
    for first, last in bands(rows, BAND):
        if not progress(first / rows.height):
            raise Cancelled
        came, wanted, was = file.rows(first, last)[..., :3], rows.codes(first, last)[..., :3], rows.before(first, last)
        around = np.ones(came.shape[:2], bool)
        for number, (cover, held) in enumerate(rows.hidden(first, last)):
            whose[number] = pass_of(cover, order.sheets)
            hidden = held >= 0.999
            around &= ~hidden
            sums = left.setdefault(number, LeftInBands(noisy=noisy(cover, whose[number])))
            sums.add(came, wanted, was, hidden, top)
        off = np.clip(came[around] / top, 0, 1) - np.clip(wanted[around] / top, 0, 1)
        away += float(np.abs(off).mean(axis=1).sum())
        count += len(off)
    for number, sums in left.items():
        gathered.cover(order, whose[number], sums.shares() if sums.covers else None, frame, 0)
    gathered.frame(away / count if count else None, frame)
