"""From a sheet to a file: the picture in bands, so that memory stays bounded for any size."""

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte, Planes
from calado.errors import Cancelled, MediaError
from calado.media.formats import FORMATS, What, names
from calado.media.write import Channels, Target, still_writer
from calado.region.resolved import ResolvedRegion
from calado.region.solve.foreground import AROUND, freed
from calado.region.solve.matting_store import SolvedStore
from calado.render.assets import NO_ASSETS, Assets
from calado.render.encode import file_codes, share_codes, with_alpha
from calado.render.engine import Engine, Order, new_secret
from calado.render.source import Source
from calado.window import Window

BAND_PIXELS = 4_000_000
EXPORT_CACHE_BYTES = 120 * 2**20
#: between the two of a pair, of their height
GAP = 0.02


_CALLED: dict[What, str] = {
    "picture": "A picture",
    "pair": "A picture",
    "matte": "A matte",
    "cutout": "A cut-out, which needs alpha,",
}


def fits(what: What, target: Target) -> None:
    """Refuse a format that cannot hold what is to be written.

    Raises
    ------
    MediaError
        with what to choose instead.
    """
    if what not in FORMATS[target.format].holds:
        raise MediaError(
            f"{_CALLED[what]} is written as {names(what)}, not as {FORMATS[target.format].name}.", code="media.format"
        )


@dataclass(frozen=True)
class Shape:
    """How large a picture is written, and whether the source stands beside it.

    ``longer_side`` in pixels, never more than the source has; None: full size. In a ``pair`` the source stands at the
    left with its covers on, a narrow grey between.
    """

    longer_side: int | None = None
    pair: bool = False

    def __post_init__(self) -> None:
        """Refuse what is no size."""
        if self.longer_side is not None and not 16 <= self.longer_side <= 100_000:
            raise MediaError(
                f"The longer side lies between 16 and 100000 px, got {self.longer_side}.", code="media.size"
            )

    def window(self, source: Source) -> Window:
        """Return the whole picture at the size that is written."""
        longer = max(source.width, source.height)
        return source.full(min(1.0, (self.longer_side or longer) / longer))

    def gap(self, window: Window) -> int:
        """Return the width of the grey between the two of a pair, in pixels."""
        return max(2, round(GAP * window.height))


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
    fits(what, target)
    engine = engine or Engine(EXPORT_CACHE_BYTES, assets, solved, new_secret())
    window = source.full()
    rows = max(64, BAND_PIXELS // window.width)
    kind: Channels = "grey" if what == "matte" else "alpha"
    with still_writer(path, window.width, window.height, source.space, target, channels=kind) as writer:
        for first in range(0, window.height, rows):
            if not progress(first / window.height):
                raise Cancelled
            band = window.rows(first, min(first + rows, window.height))
            writer.write(_region_rows(engine, source, order, where, what, band, target))
    progress(1.0)


def _region_rows(
    engine: Engine, source: Source, order: Order, where: ResolvedRegion, what: str, band: Window, target: Target
) -> NDArray[np.generic]:
    matte = engine.matte(source, where, band)
    if what == "matte":
        return matte[..., None] if target.format == "exr" else share_codes(matte, target.bits)[..., None]
    wide = band.grown(AROUND) if where.sees else band
    planes = engine.picture(source, order, wide)
    if where.sees:
        rows, columns = band.inside(wide)
        planes = np.ascontiguousarray(freed(planes, engine.matte(source, where, wide))[:, rows, columns])
    left = engine.clear(source, order, band)
    return _cut(_coded(planes, source, target, band), matte if left is None else matte * left, target)


def _coded(planes: Planes, source: Source, target: Target, band: Window) -> NDArray[Any]:
    """Return the planes of a band as they are written, shape (H, W, 3): codes, for OpenEXR linear light."""
    if target.format != "exr":
        return file_codes(planes, source.space, target.bits, band.top, cuts_off=target.cuts_off)
    most = np.finfo(np.float16 if target.bits == 16 else np.float32).max
    return np.clip(np.nan_to_num(np.moveaxis(planes, 0, -1)), -most, most)


def _cut(codes: NDArray[Any], left: Matte, target: Target) -> NDArray[Any]:
    """Return what is written with alpha: straight, for OpenEXR multiplied by it, as its standard says."""
    if target.format != "exr":
        return with_alpha(codes, left)
    share = np.clip(left, 0, 1)[..., None]
    return np.concatenate([codes * share, share], axis=2)


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
    window = shape.window(source)
    rows = max(64, BAND_PIXELS // window.width)
    # a row tells whether any pass cuts the picture clear
    clear = engine.clear(source, order, window.rows(0, 1)) is not None
    fits("pair" if shape.pair else "picture", target)
    # a pair stands on one ground
    alpha = clear and target.format != "jpeg" and not shape.pair
    kind: Channels = "alpha" if alpha else "colour"
    width = 2 * window.width + shape.gap(window) if shape.pair else window.width
    with still_writer(path, width, window.height, source.space, target, channels=kind) as writer:
        for first in range(0, window.height, rows):
            if not progress(first / window.height):
                raise Cancelled
            band = window.rows(first, min(first + rows, window.height))
            planes, left = engine.picture(source, order, band), engine.clear(source, order, band) if clear else None
            if left is not None and not alpha:
                planes = planes * left
            codes = _coded(planes, source, target, band)
            if shape.pair:
                before = engine.source(engine.covered(source, order.sheets), band)
                grey = 127 if target.bits == 8 else 32767
                gap = np.full((band.height, shape.gap(window), 3), grey, codes.dtype)
                codes = np.concatenate([_coded(before, source, target, band), gap, codes], axis=1)
            writer.write(codes if left is None or not alpha else _cut(codes, left, target))
    progress(1.0)
