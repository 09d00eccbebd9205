"""What is worth knowing beside a pass that treats its surround: the source's own falloff, spilt colour."""

from dataclasses import dataclass

from calado.adjust.registry import used
from calado.inspect.falloff import falloff_of
from calado.inspect.look.finding import Looked
from calado.inspect.spill import spill_of
from calado.sheet.models import Pass
from calado.sheet.numbers import MINUS

#: the share of the subject's colour from which on something is to be done, and by how much its region grows then
LITTLE, GROWN = 0.2, 0.003


@dataclass(frozen=True)
class Surround:
    """Sentences, empty where there is nothing to say; ``spill_at`` is the worst place in full-size pixels."""

    corner: str = ""
    spill: str = ""
    spill_at: tuple[float, float] | None = None
    #: by how much the region is to grow so that no more is spilt, in picture heights; 0 where growing is no help
    spill_grow: float = 0.0


def surround_of(looked: Looked, each: Pass) -> Surround:
    """Return what is to be said beside a pass."""
    if each.region is None or not each.outside:
        return Surround()
    corner = _corner(looked) if used(each.outside, "light") else ""
    matte = looked.matte(each.region)
    if matte is None or not used(each.outside, "blur"):
        return Surround(corner)
    spill = spill_of(looked.change(each.id).after, matte)
    if spill is None:
        return Surround(corner)
    size = 1 / looked.window.scale
    return Surround(
        corner,
        f"Spill {spill.share * 100:.0f}\u00a0% at worst",
        ((spill.x + 0.5) * size, (spill.y + 0.5) * size),
        GROWN if spill.share > LITTLE else 0.0,
    )


def _corner(looked: Looked) -> str:
    falloff = falloff_of(looked.engine.source(looked.source, looked.window), looked.source.space)
    if not falloff.certain:
        return ""
    return f"The source's own corners stand at {MINUS}{abs(falloff.corner):.1f}\u00a0EV."
