"""What is written of a still, band of rows by band of rows, so that memory stays bounded for any size."""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Literal, Protocol

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte, Planes
from calado.errors import MediaError
from calado.media.formats import FORMATS, What, names
from calado.media.write import Channels, Target
from calado.region.resolved import ResolvedRegion
from calado.region.solve.foreground import AROUND, freed
from calado.render.covers import Cover
from calado.render.encode import file_codes, share_codes, with_alpha
from calado.render.engine import Engine, Order
from calado.render.source import Source
from calado.window import Window

BAND_PIXELS = 4_000_000
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


class Rows(Protocol):
    """What is written, a band of rows at a time."""

    @property
    def width(self) -> int:
        """Width in pixels."""

    @property
    def height(self) -> int:
        """Height in pixels."""

    @property
    def channels(self) -> Channels:
        """What each pixel has."""

    def codes(self, first: int, last: int) -> NDArray[Any]:
        """Return rows ``first`` to ``last`` (not included) as they are written, shape (rows, width, channels)."""

    def before(self, first: int, last: int) -> NDArray[Any]:
        """Return the same rows of the untouched source, shape (rows, width, 3), in the same codes."""

    def hidden(self, first: int, last: int) -> list[tuple[Cover, Matte]]:
        """Return each cover with what it hides of these rows, shape (rows, width): 1 there."""


@dataclass(frozen=True, eq=False)
class RegionRows:
    """A region at full size: its matte, or the finished picture cut out by it."""

    engine: Engine
    source: Source
    order: Order
    where: ResolvedRegion
    what: Literal["matte", "cutout"]
    target: Target

    def __post_init__(self) -> None:
        """Refuse a format that cannot hold it."""
        fits(self.what, self.target)

    @property
    def width(self) -> int:
        """Width in pixels."""
        return self.source.width

    @property
    def height(self) -> int:
        """Height in pixels."""
        return self.source.height

    @property
    def channels(self) -> Channels:
        """A matte is grey, a cut-out has alpha."""
        return "grey" if self.what == "matte" else "alpha"

    def codes(self, first: int, last: int) -> NDArray[Any]:
        """Return rows as they are written."""
        band, target = self.source.full().rows(first, last), self.target
        matte = self.engine.matte(self.source, self.where, band)
        if self.what == "matte":
            return matte[..., None] if target.format == "exr" else share_codes(matte, target.bits)[..., None]
        wide = band.grown(AROUND) if self.where.sees else band
        planes = self.engine.picture(self.source, self.order, wide)
        if self.where.sees:
            rows, columns = band.inside(wide)
            planes = np.ascontiguousarray(
                freed(planes, self.engine.matte(self.source, self.where, wide))[:, rows, columns]
            )
        left = self.engine.clear(self.source, self.order, band)
        return _cut(_coded(planes, self.source, target, band), matte if left is None else matte * left, target)

    def before(self, first: int, last: int) -> NDArray[Any]:
        """Return rows of the source."""
        band = self.source.full().rows(first, last)
        return _coded(self.engine.source(self.source, band), self.source, self.target, band)

    def hidden(self, first: int, last: int) -> list[tuple[Cover, Matte]]:
        """Return what the covers hide."""
        return _hidden(self.engine, self.source, self.order, self.source.full().rows(first, last))


@dataclass(frozen=True, eq=False)
class StillRows:
    """The finished picture at the size of ``shape``, alone or beside the source with its covers on."""

    engine: Engine
    source: Source
    order: Order
    target: Target
    shape: Shape = Shape()

    def __post_init__(self) -> None:
        """Refuse a format that cannot hold it."""
        fits("pair" if self.shape.pair else "picture", self.target)

    @cached_property
    def _window(self) -> Window:
        return self.shape.window(self.source)

    @cached_property
    def _clear(self) -> bool:
        # a row tells whether any pass cuts the picture clear
        return self.engine.clear(self.source, self.order, self._window.rows(0, 1)) is not None

    @property
    def width(self) -> int:
        """Width of what is written, in pixels."""
        wide = self._window.width
        return 2 * wide + self.shape.gap(self._window) if self.shape.pair else wide

    @property
    def height(self) -> int:
        """Height in pixels."""
        return self._window.height

    @property
    def channels(self) -> Channels:
        """A picture that is cut clear has alpha where the format has it; a pair stands on one ground."""
        return "alpha" if self._clear and self.target.format != "jpeg" and not self.shape.pair else "colour"

    def codes(self, first: int, last: int) -> NDArray[Any]:
        """Return rows as they are written."""
        engine, source, band = self.engine, self.source, self._window.rows(first, last)
        planes = engine.picture(source, self.order, band)
        left = engine.clear(source, self.order, band) if self._clear else None
        if left is not None and self.channels != "alpha":
            planes, left = planes * left, None
        codes = _coded(planes, source, self.target, band)
        if self.shape.pair:
            return self._beside(engine.source(engine.covered(source, self.order.sheets), band), codes, band)
        return codes if left is None else _cut(codes, left, self.target)

    def _beside(self, planes: Planes, codes: NDArray[Any], band: Window) -> NDArray[Any]:
        """Return rows of a source, a narrow grey, and codes."""
        grey = 127 if self.target.bits == 8 else 32767
        gap = np.full((band.height, self.shape.gap(self._window), 3), grey, codes.dtype)
        return np.concatenate([_coded(planes, self.source, self.target, band), gap, codes], axis=1)

    def before(self, first: int, last: int) -> NDArray[Any]:
        """Return rows of the source."""
        band = self._window.rows(first, last)
        planes = self.engine.source(self.source, band)
        codes = _coded(planes, self.source, self.target, band)
        return self._beside(planes, codes, band) if self.shape.pair else codes

    def hidden(self, first: int, last: int) -> list[tuple[Cover, Matte]]:
        """Return what the covers hide."""
        band = self._window.rows(first, last)
        found = _hidden(self.engine, self.source, self.order, band)
        if not self.shape.pair:
            return found
        gap = np.zeros((band.height, self.shape.gap(self._window)), np.float32)
        return [(cover, np.concatenate([held, gap, held], axis=1)) for cover, held in found]


def _hidden(engine: Engine, source: Source, order: Order, band: Window) -> list[tuple[Cover, Matte]]:
    whole = np.ones((band.height, band.width), np.float32)
    return [(cover, whole if held is None else held) for cover, held in engine.hidden(source, order, band)]


def bands(rows: Rows, pixels: int = BAND_PIXELS) -> Iterator[tuple[int, int]]:
    """Yield the first and last row (not included) of bands of about so many pixels."""
    high = max(64, pixels // rows.width)
    yield from ((first, min(first + high, rows.height)) for first in range(0, rows.height, high))


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
