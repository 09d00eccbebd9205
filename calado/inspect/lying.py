"""What lies at a place of the picture: the pass whose side does something there, or a region that no pass works on."""

from dataclasses import dataclass

from calado.adjust.registry import ADJUSTMENTS
from calado.render.engine import Engine
from calado.render.resolve import resolve
from calado.render.source import Source
from calado.sheet.models import Pass, Sheet
from calado.sheet.sentence import Side
from calado.window import window_of_rectangle


@dataclass(frozen=True)
class Lying:
    """A pass with its side and the first adjustment there, or a spare region; all None where nothing lies."""

    pass_id: str | None = None
    side: Side | None = None
    adjustment: str | None = None
    region: str | None = None


def lying_at(engine: Engine, source: Source, sheet: Sheet, x: float, y: float) -> Lying:
    """Return what lies at a place in full-size pixels: of several the topmost.

    A pass of a region comes before one on the whole picture, and before both comes a region drawn on which no pass
    works yet, where it holds the place.

    Raises
    ------
    RequestError
        for a place beside the picture.
    """
    window = window_of_rectangle((source.width, source.height), 1.0, (int(x), int(y), 1, 1))

    def inside(region: str | None) -> float:
        where = resolve(sheet, region)
        return 1.0 if where is None else float(engine.matte(source, where, window)[0, 0])

    used = {each.region for each in sheet.passes}
    for region in reversed(sheet.regions):
        if region.id not in used and inside(region.id) >= 0.5:
            return Lying(region=region.id)
    topmost = list(reversed(sheet.passes))
    for each in (*(p for p in topmost if p.region), *(p for p in topmost if not p.region)):
        side: Side = "inside" if inside(each.region) >= 0.5 else "outside"
        first = _first(each, side)
        if each.on and first is not None:
            return Lying(each.id, side, first, each.region)
    return Lying()


def _first(each: Pass, side: Side) -> str | None:
    treatment = each.inside if side == "inside" else each.outside
    return next(
        (id for id, adjustment in ADJUSTMENTS.items() if id in treatment and not adjustment.is_neutral(treatment[id])),
        None,
    )
