"""The speed of each adjustment, outside a feathered ellipse of a 1600 × 1067 still.

Its amount changes from view to view.
The last two rows are a blur at two radii: a large one must cost no more than a small one.
"""

from collections.abc import Callable, Iterator

import cv2
import numpy as np

from benchmarks.clock import Time, least
from benchmarks.core import Row, still
from benchmarks.figure import Figure
from calado.adjust.kind import ClearAdjustment, GuardAdjustment
from calado.adjust.registry import ADJUSTMENTS, Adjustment
from calado.render.engine import Engine, Order
from calado.render.source import Source
from calado.sheet.models import Part, Pass, Region, Sheet, Treatment

ROUNDS = 6
OVAL = Region(
    id="o",
    name="o",
    parts=(
        Part(id="p", kind="ellipse", values={"x": 0.75, "y": 0.5, "width": 0.8, "height": 0.6, "feather_out": 0.1}),
    ),
)
#: where half of the fader is not what one would use
USUAL: dict[str, dict[str, object]] = {
    "blur": {"radius": 0.02},
    "lens": {"radius": 20 / 1067},
    "motion": {"length": 160 / 1067, "angle": 90.0},
    "zoom": {"amount": 0.1},
    "mosaic": {"size": 0.03},
    "scramble": {"radius": 0.04},
    "haze": {"amount": -0.5},
    "curve": {"amount": 1.0, "all": ((0.0, 0.0), (0.4, 0.6), (1.0, 1.0))},
}
POINTS = ("exposure", "contrast", "black", "midtone", "curve", "temperature", "saturation", "muted", "hue")


def _values(adjustment: Adjustment) -> dict[str, object]:
    main = adjustment.numbers[0]
    half = main.high / 2 if main.neutral != main.high / 2 else main.high
    return USUAL.get(adjustment.id, {main.id: half})


def _treatments(adjustment: Adjustment) -> Iterator[Treatment]:
    values = _values(adjustment)
    first = next(iter(values))
    for k in range(ROUNDS + 2):
        moved = {**values, first: float(values[first]) * (1 + k * 1e-3)}  # type: ignore[arg-type]
        beside = {"exposure": {"amount": -1.0}} if isinstance(adjustment, GuardAdjustment) else {}
        yield {adjustment.id: moved, **beside}  # type: ignore[dict-item]


def _run(source: Source, treatments: Iterator[Treatment]) -> Time:
    engine, window = Engine(), source.full()

    def work(treatment: Treatment) -> None:
        each = Pass(id="a", name="a", region="o", outside=treatment)
        engine.picture(source, Order(Sheet(regions=(OVAL,), passes=(each,))), window)

    return least(work, treatments)


def _plain() -> dict[str, Callable[[np.ndarray], object]]:
    """Return the same work done straightforwardly on the whole picture of shape (H, W, 3)."""
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (41, 41)).astype(np.float32)
    line = np.full((161, 1), 1 / 161, np.float32)
    levels = np.linspace(0, 1, 4096, dtype=np.float32)
    return {
        "exposure": lambda picture: picture * np.float32(0.5),
        "contrast": lambda picture: 0.18 * (picture / 0.18) ** np.float32(1.3),
        "curve": lambda picture: np.interp(picture, levels, levels**0.8),
        "blur": lambda picture: cv2.GaussianBlur(picture, (0, 0), 0.02 * 1067),
        "lens": lambda picture: cv2.filter2D(picture, -1, disc / disc.sum()),
        "motion": lambda picture: cv2.filter2D(picture, -1, line),
        "mosaic": lambda picture: cv2.resize(
            cv2.resize(picture, (50, 33), interpolation=cv2.INTER_AREA), (1600, 1067), interpolation=cv2.INTER_NEAREST
        ),
        "local": lambda picture: cv2.ximgproc.guidedFilter(picture, picture, 43, 0.02),
        "grain": lambda picture: (
            picture + np.random.default_rng(1).normal(0, 0.1, picture.shape[:2]).astype("f4")[..., None]
        ),
    }


def rows() -> list[Row]:
    """Return the table of adjustments."""
    source, plain = still(), _plain()
    picture = np.ascontiguousarray(np.moveaxis(source.planes(source.full()), 0, -1))
    made = []
    for adjustment in ADJUSTMENTS.values():
        if adjustment.id == "lut" or isinstance(adjustment, ClearAdjustment):
            continue
        against = plain.get(adjustment.id)
        theirs = least(lambda _, f=against: f(picture), range(4), warm=1) if against else None
        made.append(Row(adjustment.name.lower(), _run(source, _treatments(adjustment)), theirs))
    together: list[Treatment] = [
        {id: {**_values(ADJUSTMENTS[id]), **({"amount": -0.2 - k / 100} if id == "exposure" else {})} for id in POINTS}  # type: ignore[misc]
        for k in range(ROUNDS + 2)
    ]
    made.append(Row("nine point adjustments on one side", _run(source, iter(together))))
    for px in (15, 120):
        radii: list[Treatment] = [{"blur": {"radius": px / 1067 * (1 + k * 1e-3)}} for k in range(ROUNDS + 2)]
        made.append(Row(f"blur, σ {px} px", _run(source, iter(radii))))
    return made


def figures() -> list[Figure]:
    """Return the rows as figures."""
    return [row.figure for row in rows()]
