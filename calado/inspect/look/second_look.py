"""The registry of finders, and a second look at a sheet: one line a finder."""

from calado.inspect.look.amounts import blur_sizes
from calado.inspect.look.covers import weak_covers
from calado.inspect.look.edges import halos, hard_edges, spills
from calado.inspect.look.finding import Finder, Finding, Looked
from calado.inspect.look.grains import lost_grain
from calado.inspect.look.regions import empty_or_full, noisy, pieces, steep_ranges
from calado.inspect.look.tones import clipped, crushed, nothing, steep, vignettes
from calado.render.engine import Engine
from calado.render.source import Source
from calado.sheet.models import EMPTY_SHEET, Sheet

FINDERS: tuple[Finder, ...] = (
    weak_covers,
    crushed,
    clipped,
    hard_edges,
    halos,
    spills,
    vignettes,
    blur_sizes,
    lost_grain,
    steep,
    steep_ranges,
    noisy,
    pieces,
    empty_or_full,
    nothing,
)


def second_look(engine: Engine, source: Source, sheet: Sheet, project: Sheet = EMPTY_SHEET) -> list[Finding]:
    """Return what a careful colleague would point out, the gravest first."""
    looked = Looked(engine, source, sheet, project)
    return [finding for finder in FINDERS for finding in finder(looked)]
