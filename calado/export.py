"""From a sheet to a file: the picture in bands, so that memory stays bounded for any size."""

from collections.abc import Callable
from pathlib import Path
from typing import Literal

from calado.errors import Cancelled
from calado.export_rows import RegionRows, Rows, Shape, StillRows, bands
from calado.media.write import Target, still_writer
from calado.region.resolved import ResolvedRegion
from calado.region.solve.matting_store import SolvedStore
from calado.render.assets import NO_ASSETS, Assets
from calado.render.engine import Engine, Order, new_secret
from calado.render.source import Source

EXPORT_CACHE_BYTES = 120 * 2**20


def _written(rows: Rows, source: Source, path: Path, target: Target, progress: Callable[[float], bool]) -> None:
    with still_writer(path, rows.width, rows.height, source.space, target, channels=rows.channels) as writer:
        for first, last in bands(rows):
            if not progress(first / rows.height):
                raise Cancelled
            writer.write(rows.codes(first, last))
    progress(1.0)


def export_region(
    source: Source,
    order: Order,
    where: ResolvedRegion,
    what: Literal["matte", "cutout"],
    path: Path,
    target: Target,
    progress: Callable[[float], bool] = lambda share: True,
    assets: Assets = NO_ASSETS,
    solved: SolvedStore | None = None,
    engine: Engine | None = None,
) -> None:
    """Write a region at full size: its matte as grey, or the finished picture cut out by it, with straight alpha.

    Where the region is read from the picture, the colours of the cut-out's edge are freed from the surround. One
    ``engine`` for many pictures makes what they have in common once.

    Raises
    ------
    Cancelled
        when called off.
    MediaError
        when the file cannot be written, or its format holds no alpha.
    """
    engine = engine or Engine(EXPORT_CACHE_BYTES, assets, solved, new_secret())
    _written(RegionRows(engine, source, order, where, what, target), source, path, target, progress)


def export_still(
    source: Source,
    order: Order,
    path: Path,
    target: Target,
    progress: Callable[[float], bool] = lambda share: True,
    assets: Assets = NO_ASSETS,
    solved: SolvedStore | None = None,
    shape: Shape = Shape(),
    engine: Engine | None = None,
) -> None:
    """Write the finished picture to ``path``, at full size unless ``shape`` says otherwise.

    ``progress(share)`` hears how much is done, 0…1, and calls the export off by returning False; ``assets`` are
    imported mattes and colour tables, ``solved`` solved mattes, waited for. Where a pass cuts
    the picture clear, PNG and TIFF get an alpha channel; a JPEG stands on black there.

    Raises
    ------
    Cancelled
        when called off.
    MediaError
        when the file cannot be written.
    """
    engine = engine or Engine(EXPORT_CACHE_BYTES, assets, solved, new_secret())
    _written(StillRows(engine, source, order, target, shape), source, path, target, progress)
