"""What a finding is, and what finders look at."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

from calado.arrays import Matte
from calado.inspect.compare import Change, change_of, look_window, matte_of, until
from calado.render.engine import Engine
from calado.render.source import Source
from calado.sheet.models import Pass, Region, Sheet, Treatment
from calado.sheet.sentence import SIDES, Side
from calado.sheet.within import with_pass, with_region
from calado.window import Window

#: (left, top, width, height) in full-size pixels
Rectangle = tuple[float, float, float, float]


@dataclass(frozen=True)
class Finding:
    """One thing to point out: a sentence, where it is, and the sheet that mends it, with the mend in words."""

    kind: str
    says: str
    pass_id: str | None = None
    region_id: str | None = None
    rectangle: Rectangle | None = None
    mend: str = ""
    mended: Sheet | None = None


@dataclass(frozen=True, eq=False)
class Looked:
    """A sheet on its shot, with what several finders need, made once."""

    engine: Engine
    source: Source
    sheet: Sheet
    project: Sheet

    @cached_property
    def change(self) -> Callable[[str], Change]:
        """What a pass changes, by its id: rendered once, however many finders ask."""
        return lru_cache(maxsize=256)(self._change)

    @property
    def window(self) -> Window:
        """The window that is looked at."""
        return look_window(self.source)

    @property
    def passes(self) -> list[Pass]:
        """The passes that are on and do something."""
        return [each for each in self.sheet.passes if each.on and each.mix and each.strength and _acts(each)]

    def matte(self, region: str | None) -> Matte | None:
        """Return a region's matte at the size that is looked at."""
        return matte_of(self.engine, self.source, self.sheet, region, self.window)

    def _change(self, pass_id: str) -> Change:
        before, after = (until(self.sheet, pass_id, included=included) for included in (False, True))
        return change_of(self.engine, self.source, before, after, self.window)

    def with_region(self, region: Region) -> Sheet:
        """Return the sheet with a region in place of the one of its id."""
        return with_region(self.sheet, region)

    def with_fields(self, each: Pass, **fields: object) -> Sheet:
        """Return the sheet with fields of a pass changed."""
        return with_pass(self.sheet, each.model_copy(update=fields))

    def with_values(self, each: Pass, side: Side, adjustment: str, **values: object) -> Sheet:
        """Return the sheet with values of an adjustment changed."""
        treatment = dict(getattr(each, side))
        treatment[adjustment] = {**treatment.get(adjustment, {}), **values}
        return self.with_fields(each, **{side: treatment})

    def rectangle(self, where: np.ndarray) -> Rectangle | None:
        """Return the box, in full-size pixels, of the pixels that are marked."""
        rows, columns = np.flatnonzero(where.any(axis=1)), np.flatnonzero(where.any(axis=0))
        if len(rows) == 0:
            return None
        size = 1 / self.window.scale
        left, top = columns[0] * size, rows[0] * size
        return float(left), float(top), float((columns[-1] + 1) * size - left), float((rows[-1] + 1) * size - top)


Finder = Callable[[Looked], Iterator[Finding]]


def _acts(each: Pass) -> bool:
    return bool(each.inside or (each.outside and each.region))


def sides_of(each: Pass) -> Iterator[tuple[Side, Treatment]]:
    """Yield the sides of a pass that do something."""
    for side in SIDES:
        treatment: Treatment = getattr(each, side)
        if treatment and (side == "inside" or each.region):
            yield side, treatment
