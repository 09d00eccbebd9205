"""From a sheet to a file: the picture in bands, so that memory stays bounded for any size."""

from collections.abc import Callable
from pathlib import Path

from calado.adjust.kind import Files, no_files
from calado.errors import CaladoError
from calado.media.write import Target, still_writer
from calado.region.matte import Tables
from calado.region.part import ALONE
from calado.render.encode import file_codes, with_alpha
from calado.render.engine import Engine, Order
from calado.render.source import Source

BAND_PIXELS = 4_000_000
EXPORT_CACHE_BYTES = 120 * 2**20


class Cancelled(CaladoError):
    """The export was called off; nothing was left behind."""

    def __init__(self) -> None:
        super().__init__("The export was called off.", code="export.cancelled")


def export_still(
    source: Source,
    order: Order,
    path: Path,
    target: Target,
    progress: Callable[[float], bool] = lambda share: True,
    tables: Tables = ALONE.table,
    files: Files = no_files,
) -> None:
    """Write the finished picture at full size to ``path``.

    ``progress(share)`` hears how much is done, 0…1, and calls the export off by returning False; ``tables`` gives the
    sums of imported mattes, ``files`` imported colour tables. Where a pass cuts the picture clear, PNG and TIFF get an
    alpha channel; a JPEG stands on black there.

    Raises
    ------
    Cancelled
        when called off.
    MediaError
        when the file cannot be written.
    """
    engine = Engine(EXPORT_CACHE_BYTES, tables, files)
    window = source.full()
    rows = max(64, BAND_PIXELS // window.width)
    # a row tells whether any pass cuts the picture clear
    clear = engine.clear(source, order, window.rows(0, 1)) is not None
    alpha = clear and target.format != "jpeg"
    with still_writer(path, window.width, window.height, source.space, target, alpha=alpha) as writer:
        for first in range(0, window.height, rows):
            if not progress(first / window.height):
                raise Cancelled
            band = window.rows(first, min(first + rows, window.height))
            planes, left = engine.picture(source, order, band), engine.clear(source, order, band) if clear else None
            if left is not None and not alpha:
                planes = planes * left
            codes = file_codes(planes, source.space, target.bits)
            writer.write(codes if left is None or not alpha else with_alpha(codes, left))
    progress(1.0)
