"""How the time of a first view grows: with pixels, with passes, with the points of a curve; of a dab, with strokes.

Each is doubled four times; what grows evenly at most doubles as well.
"""

from collections.abc import Callable

import numpy as np

from benchmarks import mattes, read
from benchmarks.clock import least
from benchmarks.core import still
from benchmarks.figure import Figure
from benchmarks.sheets import oval, three_passes
from calado.region.matte import part_matte
from calado.render.encode import screen_codes
from calado.render.engine import Engine, Order
from calado.render.source import Source, source_of
from calado.sheet.models import Pass, Sheet

ROUNDS = 6


def _first(source: Source, sheet: Sheet) -> float:
    window = source.full()
    work = lambda _: screen_codes(Engine().picture(source, Order(sheet), window), source.space)  # noqa: E731
    return least(work, range(ROUNDS)).cpu


def _pixels(count: int) -> float:
    level = still().levels[0]
    side = count // level.shape[2] + 1
    large = np.ascontiguousarray(np.tile(level, (1, side, side))[:, : round(count / 1.5), :count])
    return _first(source_of(large, still().space, f"w{count}"), three_passes())


def _passes(count: int) -> float:
    regions = tuple(oval(f"o{k}", 0.2 + 1.1 * k / count, 0.5, 0.7, 0.8, 10.0 * k) for k in range(count))
    passes = tuple(
        Pass(
            id=f"p{k}",
            name="p",
            region=f"o{k}",
            inside={"exposure": {"amount": 0.1}},
            outside={"saturation": {"amount": -0.1}},
        )
        for k in range(count)
    )
    return _first(still(), Sheet(regions=regions, passes=passes))


def _points(count: int) -> float:
    part = mattes.curve_of(count, 0.0)
    return least(lambda _: part_matte(part, mattes.WINDOW), range(ROUNDS)).cpu


def _strokes(count: int) -> float:
    return read.brush(Engine(), still(), count, 1.0).cpu


#: what grows, from what on, and how its time is measured
KINDS: dict[str, tuple[int, Callable[[int], float]]] = {
    "pixels across": (800, _pixels),
    "passes": (1, _passes),
    "points of a curve": (50, _points),
    "strokes before a dab": (300, _strokes),
}


def figures() -> list[Figure]:
    """Return milliseconds of CPU for each step."""
    return [
        Figure(f"{kind}: {first * 2**step}", measure(first * 2**step) * 1e3, "ms")
        for kind, (first, measure) in KINDS.items()
        for step in range(5 if kind != "pixels across" else 4)
    ]
