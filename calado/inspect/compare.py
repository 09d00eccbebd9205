"""What readings look at: small renderings of the picture, as it was and as it is."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Floats, Matte, Planes
from calado.colour.difference import delta_e_2000, linear_to_lab
from calado.colour.spaces import ColourSpace
from calado.render.engine import Engine, Order
from calado.render.resolve import resolve
from calado.render.source import Source
from calado.sheet.models import Sheet
from calado.window import Window

#: the longer side of what is read, in pixels
SIDE = 480


def look_window(source: Source, side: int = SIDE) -> Window:
    """Return the window of the whole picture, ``side`` pixels long."""
    return source.full(min(1.0, side / max(source.width, source.height)))


@dataclass(frozen=True, eq=False)
class Change:
    """A picture before and after something, shape (3, H, W) each, in linear light."""

    before: Planes
    after: Planes
    space: ColourSpace

    @cached_property
    def difference(self) -> Floats:
        """ΔE₀₀ of each pixel as the screen shows it, shape (H, W)."""
        return delta_e_2000(shown_lab(self.before, self.space), shown_lab(self.after, self.space))

    def newly(self, test: NDArray[np.bool_], then: NDArray[np.bool_]) -> float:
        """Return the share of pixels that were not so before and are now."""
        return float((~test & then).mean())

    @property
    def clipped(self) -> float:
        """The share of pixels of which a channel newly reaches white."""
        return self.newly(*(each.max(axis=0) >= 1.0 for each in (self.before, self.after)))

    @property
    def crushed(self) -> float:
        """The share of pixels that newly fall to the two darkest of 256 codes."""
        least = float(self.space.transfer.decode(np.array(2 / 255)))
        return self.newly(*(each.max(axis=0) < least for each in (self.before, self.after)))


def shown_lab(planes: Planes, space: ColourSpace) -> Floats:
    """Return L*a*b* of what a screen shows of planes, shape (H, W, 3)."""
    return linear_to_lab(np.moveaxis(np.clip(planes, 0, 1), 0, -1).astype(np.float64), space)


def until(sheet: Sheet, pass_id: str, *, included: bool) -> Sheet:
    """Return the sheet with the passes before one, and that one itself if asked for."""
    number = next((k for k, each in enumerate(sheet.passes) if each.id == pass_id), len(sheet.passes))
    return sheet.model_copy(update={"passes": sheet.passes[: number + included]})


def change_of(engine: Engine, source: Source, before: Sheet, after: Sheet, window: Window) -> Change:
    """Return what lies between two sheets of a shot."""
    return Change(
        engine.picture(source, Order(before), window), engine.picture(source, Order(after), window), source.space
    )


def matte_of(engine: Engine, source: Source, sheet: Sheet, region: str | None, window: Window) -> Matte | None:
    """Return a region's matte, or None for the whole picture."""
    where = resolve(sheet, region)
    return None if where is None else engine.matte(source, where, window)
