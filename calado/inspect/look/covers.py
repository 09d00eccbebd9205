"""Findings about covers: what they leave, and what they would let through."""

from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from calado.adjust.registry import ADJUSTMENTS, called
from calado.arrays import Matte
from calado.inspect.compare import look_window
from calado.inspect.concealed import Concealed, nothing_left, read_concealed
from calado.inspect.look.finding import Finding, Looked
from calado.region.resolved import ResolvedRegion
from calado.render.engine import Engine, Order
from calado.render.resolve import concealing, resolve, sides_concealed
from calado.render.source import Source
from calado.sheet.models import Pass, Sheet
from calado.sheet.sentence import Side
from calado.window import Window, full_window

#: pixels of height at which a cover is read
CLOSE = 1400
#: kinds of parts of which a solid shows the shape of what it hides, and no more
SUBJECTS = {"rough"}


def weak_covers(looked: Looked) -> Iterator[Finding]:
    """Yield covers, of the shot and of the project, that need not hold, leak, or can be undone."""
    for sheet in (looked.sheet, looked.project):
        for each in sheet.passes:
            read = read_pass(looked, each)
            if read is None or not read.weak:
                continue
            says = f"“{each.name}” is weak: {read.says[0].lower()}{read.says[1:]}"
            if sheet is looked.project:
                yield Finding("weak-cover", says.replace("” is", "” of the project is", 1))
                continue
            mend, mended = _mended(looked, each, read)
            yield Finding("weak-cover", says, each.id, each.region, None, mend, mended)


def read_pass(looked: Looked, each: Pass) -> Concealed | None:
    """Return the readings of a pass that covers, the weakest of its sides; None where nothing is covered."""
    read = [_read_side(looked, each, side) for side in sides_concealed(each)]
    found = [one for one in read if one is not None]
    return max(found, key=lambda one: (one.weak, one.detail_left)) if found else None


def _read_side(looked: Looked, each: Pass, side: Side) -> Concealed | None:
    where = _where(looked, each)
    if not each.must_cover:
        says = "It need not cover, so what it hides can show through."
        return Concealed(None, None, 1.0, True, says)
    mover = moved_before(looked, each, _hidden(looked.engine, looked.source, where, side, looked.window))
    if mover is not None:
        says = (
            f"“{mover.name}” moves the picture here before it is laid: it hides what stands there, not what came there."
        )
        return Concealed(None, None, 1.0, True, says, after=mover.id)
    if not any("plain" in adjustment.roles for adjustment in concealing(getattr(each, side))):
        return _read_trace(looked, each, where, side)
    order, window = Order(looked.sheet, looked.project), look_window(looked.source)

    def hidden(engine: Engine, source: Source) -> Matte:
        return _hidden(engine, source, where, side, source.full())

    if nothing_left(looked.engine, looked.source, order, window, hidden):
        return Concealed(None, None, 0.0, False, "Covered by a solid: nothing of it is left.")
    return _own_shape(where)


def moved_before(looked: Looked, each: Pass, hidden: Matte) -> Pass | None:
    """Return the first pass that takes pixels into or out of what is hidden, shape (H, W), before a cover is laid."""
    passes = [*looked.sheet.passes, *looked.project.passes]
    window = looked.window
    rows = (np.arange(window.height, dtype=np.float32)[:, None] + 0.5) * np.float32(window.pixel)
    columns = (np.arange(window.width, dtype=np.float32) + 0.5) * np.float32(window.pixel)
    for mover in passes[: next(k for k, one in enumerate(passes) if one is each)]:
        for treatment in (mover.inside, mover.outside) if mover.on and mover.mix and mover.strength else ():
            for id, values in treatment.items():
                adjustment = ADJUSTMENTS[id]
                if adjustment.moves is None or adjustment.is_neutral(values):
                    continue
                x, y, radius = (adjustment.number(values, name) for name in adjustment.moves)
                if bool(np.any(hidden[np.hypot(columns - x, rows - y) < radius] > 0)):
                    return mover
    return None


def _own_shape(where: ResolvedRegion | None) -> Concealed:
    kinds = {part.kind for region in where.chain for part in region.parts} if where else set()
    if where and where.sees and kinds & SUBJECTS:
        return Concealed(None, None, 0.0, False, "Covered by a solid: nothing is left but the outline of its subject.")
    says = "The shape of its region is read from what it hides, and shows it."
    if not where or not where.sees:  # which no cover does, unless something looks under it
        says = "The finished picture still depends on what it hides."
    return Concealed(None, None, 1.0, True, says)


def _read_trace(looked: Looked, each: Pass, where: ResolvedRegion | None, side: Side) -> Concealed | None:
    source = looked.source
    window = full_window(source.width, source.height, min(1.0, CLOSE / source.height))
    order = Order(looked.sheet, looked.project)
    before, after = looked.engine.source(source, window), looked.engine.picture(source, order, window)
    matte = _hidden(looked.engine, source, where, side, window)
    return read_concealed(before, after, matte, window.pixel, getattr(each, side))


def _where(looked: Looked, each: Pass) -> ResolvedRegion | None:
    if each in looked.sheet.passes:
        return resolve(looked.sheet, each.region, each.id, (), (looked.project,))
    return resolve(looked.project, each.region, each.id, (looked.sheet,))


def _hidden(engine: Engine, source: Source, where: ResolvedRegion | None, side: Side, window: Window) -> Matte:
    """Return 1 where a side is hidden, shape (H, W)."""
    if where is None:
        return np.ones((window.height, window.width), np.float32)
    held = engine.mattes(source).held(replace(where, covers={where.region.id: side}), side, window)
    return held if side == "inside" else np.float32(1) - held


def _mended(looked: Looked, each: Pass, read: Concealed) -> tuple[str, Sheet | None]:
    if not each.must_cover:
        return "let it cover", looked.with_fields(each, must_cover=True)
    if read.after:
        rest = [one for one in looked.sheet.passes if one is not each]
        place = next((k for k, one in enumerate(rest) if one.id == read.after), len(rest))
        return "lay it before that", looked.sheet.model_copy(update={"passes": (*rest[:place], each, *rest[place:])})
    side = sides_concealed(each)[0]
    if read.cells_across and not read.lettering:
        cells = called("cells")
        size = float(getattr(each, side)[cells]["size"])
        coarser = round(min(size * read.cells_across / 6, 0.5), 4)
        return "make its cells larger", looked.with_values(each, side, cells, size=coarser)
    if read.detail_left >= 1 and not read.lettering:
        return "", None
    treatment = {id: values for id, values in getattr(each, side).items() if ADJUSTMENTS[id].holds is None}
    solid = looked.with_fields(each, **{side: {**treatment, called("plain"): {"amount": 1.0}}})
    return "cover it with a solid", solid
