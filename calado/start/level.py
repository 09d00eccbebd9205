"""Vignettes brought to one level: the stops at a shot's corners, its own falloff and the vignette together."""

from dataclasses import dataclass

import numpy as np

from calado.adjust.registry import called
from calado.arrays import Planes
from calado.colour.spaces import ColourSpace
from calado.inspect.falloff import FLOOR, Falloff, falloff_of
from calado.inspect.vignette import darkens_outside, spares_the_middle
from calado.render.engine import Engine, Order
from calado.render.resolve import resolve
from calado.render.source import Source
from calado.sheet.models import Pass, Sheet
from calado.window import Window, window_of_rectangle

#: stops of a vignette's exposure: what its fader takes
STRONGEST = -4.0
#: the corners reach the level within so many stops; it takes two or three rounds where other adjustments work there too
CLOSE, ROUNDS = 0.02, 6
#: longer side, in pixels, of the copy on which it is measured
SIDE = 360
#: a corner: what lies further out than this share of the way to it
CORNER, MIDDLE = 0.97, 0.25


@dataclass(frozen=True)
class Level:
    """Stops at the corners against the middle: ``own`` of the source, none where it isn't sure; ``total`` as shown."""

    own: float | None
    total: float


def vignette_of(engine: Engine, source: Source, sheet: Sheet) -> Pass | None:
    """Return the last pass of a sheet, as it stands at the source's frame, that is a vignette and on."""
    window = _small(source)
    for each in reversed(sheet.passes):
        where = resolve(sheet, each.region) if each.on and darkens_outside(each) else None
        if where is not None and spares_the_middle(engine.matte(source, where, window)):
            return each
    return None


def levelled(engine: Engine, source: Source, order: Order, pass_id: str, level: float) -> tuple[float, Level]:
    """Return the exposure at which a vignette brings a source's corners to a level, and what it comes to; in stops.

    A source whose own corners stand lower gets no vignette: 0.
    """
    window = _small(source)
    before = engine.source(source, window)
    own = falloff_of(before, source.space)
    stands = own.corner if own.certain else 0.0
    amount = float(np.clip(level - stands, STRONGEST, 0.0))
    total = stands
    for _ in range(ROUNDS):
        after = engine.picture(source, _with_amount(order, pass_id, amount), window)
        total = stands + _added(before, after, source.space)
        better = float(np.clip(amount + level - total, STRONGEST, 0.0))
        if abs(better - amount) < CLOSE:
            break
        amount = better
    return round(amount, 2), Level(_said(own), total)


def _said(own: Falloff) -> float | None:
    return own.corner if own.certain else None


def _small(source: Source) -> Window:
    size = (source.width, source.height)
    return window_of_rectangle(size, min(1.0, SIDE / max(size)), (0, 0, *size))


def _with_amount(order: Order, pass_id: str, amount: float) -> Order:
    return Order(with_amount(order.sheet, pass_id, amount), order.project)


def with_amount(sheet: Sheet, pass_id: str, amount: float) -> Sheet:
    """Return a sheet in which a vignette's outside has this exposure."""
    passes = [_exposed(each, amount) if each.id == pass_id else each for each in sheet.passes]
    return sheet.model_copy(update={"passes": tuple(passes)})


def _exposed(each: Pass, amount: float) -> Pass:
    light = called("light")
    return each.model_copy(
        update={"outside": {**each.outside, light: {**each.outside.get(light, {}), "amount": amount}}}
    )


def _added(before: Planes, after: Planes, space: ColourSpace) -> float:
    """Return how many stops the corners were taken down against the middle; what is black says nothing."""
    was, now = (np.tensordot(space.luminance_weights, planes, axes=1) for planes in (before, after))
    high, wide = was.shape
    y, x = np.mgrid[:high, :wide]
    out = np.sqrt(((x + 0.5 - wide / 2) ** 2 + (y + 0.5 - high / 2) ** 2) / ((wide / 2) ** 2 + (high / 2) ** 2))
    stops = np.log2(np.maximum(now, FLOOR) / np.maximum(was, FLOOR))
    lit = was > 4 * FLOOR
    corner, middle = stops[(out > CORNER) & lit], stops[(out < MIDDLE) & lit]
    return float(np.median(corner) - np.median(middle)) if len(corner) and len(middle) else 0.0
