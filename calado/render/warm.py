"""Compiling every kernel into its cache, and loading it from there, so that nobody waits for it later."""

import numpy as np

from calado.adjust.registry import ADJUSTMENTS
from calado.colour.spaces import DISPLAY_P3
from calado.region.kinds import PARTS
from calado.render.engine import Engine, Order
from calado.render.preview import View, render_preview
from calado.render.source import source_of
from calado.render.views import VIEWS
from calado.sheet.declare import Number
from calado.sheet.models import Part, Pass, Region, Sheet

SIZE = (3, 160, 240)


def warm() -> None:
    """Render a tiny picture of each depth with every adjustment, in every view, enlarged and reduced."""
    parts = tuple(
        Part(id=kind.id, kind=kind.id, values=kind.place(1.5), points=kind.corners(1.5)) for kind in PARTS.values()
    )
    every = Region(id="r", name="r", parts=parts)
    touch = {a.id: {a.parameters[0].id: _amount(a.parameters[0])} for a in ADJUSTMENTS.values()}
    graded = {**touch, "blur": {"radius": 0.2, "grade": "radius"}}
    both = Pass(id="a", name="a", region="r", inside=touch, outside=graded)
    sheet = Sheet(regions=(every,), passes=(both, Pass(id="b", name="b", inside=touch)))
    whole = (0.0, 0.0, float(SIZE[2]), float(SIZE[1]))
    for kind in (np.uint8, np.uint16, np.float32):
        source = source_of(np.ones(SIZE, kind), DISPLAY_P3, str(kind))
        for name in VIEWS:
            for scale in (0.7, 1.0, 2.0):
                render_preview(Engine(), source, Order(sheet), View(name, whole, scale, "r"))


def _amount(parameter: object) -> float:
    return parameter.high / 2 if isinstance(parameter, Number) else 0.0
