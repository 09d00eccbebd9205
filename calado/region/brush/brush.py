"""The brush as a part: strokes that put in and take out, kept as vectors."""

from itertools import groupby

import numpy as np

from calado.arrays import Matte
from calado.region.affine import Affine
from calado.region.brush.similar import similar_coverage
from calado.region.brush.strokes import Box, fold_into, stroke_box
from calado.region.context import ALONE, PartContext
from calado.region.part import PartKind
from calado.sheet.declare import Choice, Number, Option, Unit
from calado.sheet.models import Part, Stroke
from calado.window import Window

PEN = Choice("pen", "Pressure", (Option("none", "nothing"), Option("flow", "flow"), Option("size", "size")))


def brush_matte(part: Part, window: Window, near: PartContext = ALONE) -> Matte:
    """Return the matte, shape (H, W), of a part's strokes, folded in order from nothing."""
    out = np.zeros((window.height, window.width), np.float32)
    _fold(out, part.strokes, window, near)
    return out


def _fold(out: Matte, strokes: tuple[Stroke, ...], window: Window, near: PartContext) -> None:
    for keeps, run in groupby(strokes, lambda stroke: stroke.colour_tolerance > 0):
        if not keeps:
            fold_into(out, list(run), window)
            continue
        for stroke in run:
            _fold_similar(out, stroke, window, near)


def _went_on_into(out: Matte, old: Part, new: Part, window: Window, near: PartContext) -> bool:
    """Fold what a part has more than an older one, of which ``out`` is the matte; False where it is no such part."""
    count = len(old.strokes)
    if new.strokes[:count] != old.strokes:
        return False
    _fold(out, new.strokes[count:], window, near)
    return True


def _fold_similar(out: Matte, stroke: Stroke, window: Window, near: PartContext) -> None:
    made = similar_coverage(stroke, window, near.picture)
    inner = made and window.within(stroke_box(stroke))
    if made is None or not inner:
        return
    covered, box = made
    # what lies beyond the frame has no colour to be like
    x0, y0 = max(inner.left, box.left), max(inner.top, box.top)
    x1 = min(inner.left + inner.width, box.left + box.width)
    y1 = min(inner.top + inner.height, box.top + box.height)
    if x1 <= x0 or y1 <= y0:
        return
    a = covered[y0 - box.top : y1 - box.top, x0 - box.left : x1 - box.left]
    m = out[y0 - window.top : y1 - window.top, x0 - window.left : x1 - window.left]
    m[:] = m + a - m * a if stroke.does == "add" else m - m * a


def _changed(old: Part, new: Part) -> Box | None:
    """Return the box of the strokes that only one of two parts has at its end."""
    same = 0
    for one, other in zip(old.strokes, new.strokes, strict=False):
        if one != other:
            break
        same += 1
    boxes = [stroke_box(stroke) for stroke in (*old.strokes[same:], *new.strokes[same:])]
    if not boxes:
        return (0.0, 0.0, 0.0, 0.0)
    left, top, right, bottom = zip(*boxes, strict=True)
    return min(left), min(top), max(right), max(bottom)


def mapped_stroke(stroke: Stroke, affine: Affine) -> Stroke:
    """Return a stroke under a map of the plane."""
    way = list(stroke.points)
    places = [affine.place(x, y) for x, y in zip(way[0::3], way[1::3], strict=True)]
    way[0::3], way[1::3] = [x for x, _ in places], [y for _, y in places]
    return stroke.model_copy(update={"points": tuple(way), "size": stroke.size * affine.length})


def _mapped(part: Part, affine: Affine) -> Part:
    return part.model_copy(update={"strokes": tuple(mapped_stroke(each, affine) for each in part.strokes)})


def _told(part: Part) -> str:
    count = len(part.strokes)
    return "1 stroke" if count == 1 else f"{count} strokes"


SIZE = Number("size", "Size", Unit.LENGTH, 0.06, 0.002, 0.5, 0.0005, 4.0, 0.001, curve="square")
BRUSH = PartKind(
    id="brush",
    name="Brush",
    parameters=(
        SIZE,
        Number("density", "Density", Unit.SHARE, 1.0, 0.0, 1.0, 0.0, 1.0, 0.01),
        Number("hardness", "Hardness", Unit.SHARE, 0.7, 0.0, 1.0, 0.0, 1.0, 0.01),
        Number("flow", "Flow", Unit.SHARE, 1.0, 0.01, 1.0, 0.01, 1.0, 0.01),
        Number("colour_tolerance", "Like colour", Unit.DELTA, 0.0, 0.0, 40.0, 0.0, 100.0, 0.5, curve="square"),
        PEN,
    ),
    glyph="M1 8C3 2.5 8 2.5 10 5.7c1 2 3 1.2 4.5-2.9l3 1.1C15.5 9.8 10 10.5 7 7.3 5.5 5.5 4.5 6.5 3.5 9.5z",
    drawn="strokes",
    noun="brushed",
    strokes=True,
    says="What you paint; a stroke puts in or takes out.",
    matte=brush_matte,
    mapped=_mapped,
    changed=_changed,
    went_on_into=_went_on_into,
    sees=lambda part: "source" if any(each.colour_tolerance > 0 for each in part.strokes) else "",
    told=_told,
)
