"""Scopes and histograms of a shot, at the size readings look at."""

from dataclasses import dataclass, replace
from typing import Literal

import imagecodecs

from calado.arrays import Matte, Planes
from calado.inspect.compare import look_window, matte_of, until
from calado.inspect.scopes import Histogram, ScopeName, histogram, scope
from calado.render.engine import Engine, Order
from calado.render.source import Source
from calado.sheet.within import region_called


@dataclass(frozen=True, eq=False)
class Scoped:
    """What a scope is of: the picture or the source, whole or inside a region."""

    engine: Engine
    source: Source
    order: Order
    of: Literal["picture", "source"] = "picture"
    region: str | None = None

    def read(self) -> tuple[Planes, Matte | None]:
        """Return the picture, shape (3, H, W), and the matte, or None for the whole."""
        window = look_window(self.source)
        if self.region is not None:
            region_called(self.order.sheet, self.region)
        matte = matte_of(self.engine, self.source, self.order.sheet, self.region, window)
        if self.of == "source":
            return self.engine.source(self.source, window), matte
        return self.engine.picture(self.source, self.order, window), matte


def encoded_scope(scoped: Scoped, name: ScopeName, size: tuple[int, int]) -> bytes:
    """Return a scope as a PNG of ``size`` = (width, height)."""
    planes, matte = scoped.read()
    return bytes(imagecodecs.png_encode(scope(name, planes, scoped.source.space, matte, size), level=1))


def histogram_of(scoped: Scoped, before: str | None = None) -> Histogram:
    """Return a histogram; with ``before`` the id of a pass, of the picture that comes into it."""
    if before is not None:
        scoped = replace(scoped, order=Order(until(scoped.order.sheet, before, included=False)))
        # the region may have gone with the passes, but its shelf stays
    planes, matte = scoped.read()
    return histogram(planes, scoped.source.space, matte)
