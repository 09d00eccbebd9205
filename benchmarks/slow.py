"""The adjustments that were slow once, on the whole of a 1600 × 1067 still, while their first value moves."""

from collections.abc import Iterator

from benchmarks.adjustments import OVAL, USUAL
from benchmarks.clock import least
from benchmarks.core import Row, still
from benchmarks.figure import Figure
from calado.adjust.registry import ADJUSTMENTS
from calado.render.engine import Engine, Order
from calado.sheet.models import Pass, Sheet, Treatment

ROUNDS = 10
#: what moves, what is to be reached, and the stretch, as multiples of a copy
SLOW: dict[str, tuple[str, float, float]] = {
    "zoom": ("amount", 16, 8),
    "lens": ("radius", 7, 4),
    "ring": ("offset", 3, 1.5),
    "mosaic": ("size", 2, 1.5),
    "grain": ("amount", 2.5, 2),
    "fine": ("amount", 10, 5),
    "haze": ("amount", 12, 6),
}
VALUES: dict[str, dict[str, float]] = {"ring": {"width": 0.006, "offset": 0.01}, "grain": {"amount": 0.3}}


def _treatments(id: str, moves: str) -> Iterator[Treatment]:
    adjustment = ADJUSTMENTS[id]
    main = adjustment.numbers[0]
    usual = VALUES.get(id) or USUAL.get(id) or {main.id: main.high / 2}
    begins = float(usual.get(moves, 0.01))  # type: ignore[arg-type]
    for k in range(ROUNDS + 2):
        yield {id: {**usual, moves: begins * (1 + k * 1e-3)}}  # type: ignore[dict-item]


def figures() -> list[Figure]:
    """Return the figures; each first view of another value."""
    source = still()
    window = source.full()
    made = []
    for id, (moves, reach, stretch) in SLOW.items():
        engine = Engine()

        def work(treatment: Treatment, engine: Engine = engine, ring: bool = id == "ring") -> None:
            each = Pass(id="a", name="a", region="o" if ring else None, inside=treatment)
            engine.picture(source, Order(Sheet(regions=(OVAL,), passes=(each,))), window)

        made.append(Row(ADJUSTMENTS[id].name.lower(), least(work, _treatments(id, moves)), None, reach, stretch))
    return [row.figure for row in made]
