"""How much a pass, or one adjustment of it, changes the picture: area, visible change, what it clips and crushes."""

from dataclasses import dataclass

import numpy as np

from calado.inspect.compare import Change, change_of, look_window, until
from calado.render.engine import Engine
from calado.render.source import Source
from calado.sheet.models import Pass, Sheet
from calado.sheet.sentence import Side
from calado.sheet.within import with_pass

#: ΔE₀₀ from which a difference of two areas side by side is seen (common practice, no source)
VISIBLE = 1.0
#: the share of the picture below which a visible change is a speck
SPECK = 0.0005


@dataclass(frozen=True)
class Meter:
    """``area``: share of the picture that changes visibly; ``mean``: mean ΔE₀₀ there; ``visible``: seen at all."""

    area: float
    mean: float
    visible: bool
    clipped: float
    crushed: float
    says: str


def read_meter(change: Change) -> Meter:
    """Return the meter of a change."""
    difference = change.difference
    seen = difference >= VISIBLE
    area = float(seen.mean())
    visible = area > SPECK
    mean = float(difference[seen].mean()) if visible else float(difference.mean())
    return Meter(area, mean, visible, change.clipped, change.crushed, _says(area, mean, change, visible=visible))


def _says(area: float, mean: float, change: Change, *, visible: bool) -> str:
    if not visible:
        return "Nothing changes." if not np.any(change.difference > 1e-3) else "Below visibility."
    said = [f"Changes {_percent(area)} of the picture", f"there by {mean:.1f} ΔE on average"]
    for share, word in ((change.clipped, "clipped"), (change.crushed, "crushed to black")):
        if share > SPECK:
            said.append(f"{_percent(share)} newly {word}")
    return ", ".join(said) + "."


def _percent(share: float) -> str:
    return f"{share * 100:.1f}\u00a0%" if share < 0.1 else f"{share * 100:.0f}\u00a0%"


def meter_of(engine: Engine, source: Source, sheet: Sheet, each: Pass, side: Side | None, adjustment: str) -> Meter:
    """Return the meter of a pass on what stands before it, or of one adjustment of it on the rest of the pass."""
    window = look_window(source)
    with_it = until(sheet, each.id, included=True)
    if side is None or not adjustment:
        return read_meter(change_of(engine, source, until(sheet, each.id, included=False), with_it, window))
    treatment = {id: values for id, values in getattr(each, side).items() if id != adjustment}
    less = with_pass(with_it, each.model_copy(update={side: treatment}))
    return read_meter(change_of(engine, source, less, with_it, window))
