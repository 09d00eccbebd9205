"""Compiling every kernel into its cache, and loading it from there, so that nobody waits for it later."""

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from calado.adjust.colour.lut import Lut
from calado.adjust.registry import ADJUSTMENTS
from calado.colour.spaces import DISPLAY_P3
from calado.inspect.edge.ribbon import Cut, ribbon
from calado.region.imported import table_of
from calado.region.kinds import PARTS
from calado.region.part import PartKind
from calado.region.refine.registry import REFINE
from calado.region.resolved import alone
from calado.region.solve.rough import ROUGH
from calado.render.assets import Assets
from calado.render.engine import Engine, Order
from calado.render.preview import View, render_preview
from calado.render.source import source_of
from calado.render.views import VIEWS
from calado.sheet.declare import Number, Value
from calado.sheet.models import Part, Pass, Region, Sample, Sheet, Stroke

SIZE = (3, 160, 240)
STROKES = (
    Stroke(points=(0.3, 0.5, 1.0, 0.6, 0.5, 1.0), size=0.1),
    Stroke(points=(0.3, 0.5, 0.5, 0.6, 0.6, 0.8), size=0.1, flow=0.5, pen="flow"),
    Stroke(points=(1.2, 0.2, 1.0, 1.3, 0.8, 1.0), size=0.1, does="erase", colour_tolerance=20.0),
)
SAMPLES = (
    Sample(x=0.5, y=0.5, lightness=0.9, a=0.0, b=0.0),
    Sample(x=0.7, y=0.5, does="erase", lightness=0.2, a=0.0, b=0.1),
)
_GREYS = np.linspace(0, 1, 3, dtype=np.float32)
CUBE = Lut(np.stack(np.meshgrid(_GREYS, _GREYS, _GREYS, indexing="ij")[::-1], axis=-1), (0.0,) * 3, (1.0,) * 3)


def warm(progress: Callable[[float], None] = lambda share: None, *, solves: bool = True) -> None:
    """Render a tiny picture of each depth with every adjustment, reduced as well, and every view.

    ``progress(share)`` hears how much is done, 0…1. Without ``solves`` no matte is solved, which is most of the work.
    """
    parts = tuple(
        Part(
            id=kind.id,
            kind=kind.id,
            values={**kind.place(1.5), **_file(kind)},
            points=kind.corners(1.5),
            strokes=STROKES if kind.strokes else (),
            samples=SAMPLES if kind.samples else (),
        )
        for kind in PARTS.values()
    )
    hard = Part(id="hard", kind="polygon", join="subtract", points=PARTS["polygon"].corners(1.5))
    refine = {number.id: number.low + (number.high - number.low) * 0.6 for number in REFINE.numbers}
    every = Region(id="r", name="r", parts=(*parts, hard), band=STROKES[:1], refine=refine)
    touch = {a.id: {a.parameters[0].id: _amount(a.parameters[0])} for a in ADJUSTMENTS.values()}
    haze = {"haze": {"amount": -0.5}, "lens": {"radius": 0.1, "gain": 2.0, "blades": "six"}}
    graded = {**touch, **haze, "blur": {"radius": 0.2, "grade": "radius"}, "motion": {"length": 0.1, "angle": 30.0}}
    both = Pass(id="a", name="a", region="r", inside=touch, outside=graded)
    more = Pass(
        id="c", name="c", region="r", inside={"lut": {"amount": 1.0, "file": "any"}, "protect": {"amount": 1.0}}
    )
    sheet = Sheet(regions=(every,), passes=(both, more, Pass(id="b", name="b", inside=touch)))
    whole = (0.0, 0.0, float(SIZE[2]), float(SIZE[1]))
    depths: tuple[type, ...] = (np.uint8, np.uint16, np.float32)
    # only what reads the samples themselves is compiled anew for each depth
    views = [(depth, name) for depth in depths for name in (VIEWS if depth is np.uint8 else ("picture", "source"))]
    # mattes are solved from linear light, whatever the depth it came in: once is enough, and takes seconds
    told = every.model_copy(update={"band": (), "parts": tuple(p for p in every.parts if p.kind != ROUGH.id)})
    engine = Engine(assets=Assets(_table, lambda digest: CUBE))
    for done, (depth, name) in enumerate(views):
        progress(done / len(views))
        source = source_of(np.ones(SIZE, depth), DISPLAY_P3, str(depth))
        reduced = [View("picture", whole, 0.7)] if name == "picture" else []
        for view in (*reduced, View(name, whole, 1.0, "r")):
            shown = sheet if solves and depth is np.uint8 else sheet.model_copy(update={"regions": (told,)})
            render_preview(engine, source, Order(shown), view)
    oval = Region(id="r", name="r", parts=(Part(id="o", kind="ellipse", values=PARTS["ellipse"].place(1.5)),))
    ribbon(Engine(), source, Order(), alone(oval), Cut(0, 64, 8, 2.0))


def _table(digest: str) -> NDArray[np.float64]:
    return table_of(np.full((4, 6), 40000, np.uint16))


def _file(kind: PartKind) -> dict[str, Value]:
    reference = kind.reference("file")
    return {reference.id: "any"} if reference else {}


def _amount(parameter: object) -> float:
    return parameter.high / 2 if isinstance(parameter, Number) else 0.0
