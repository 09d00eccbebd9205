"""What makes a pass a vignette."""

from calado.adjust.registry import called
from calado.arrays import Matte
from calado.sheet.models import Pass


def darkens_outside(each: Pass) -> bool:
    """Return whether a pass darkens what lies outside of its region."""
    return float(each.outside.get(called("light"), {}).get("amount", 0.0)) < 0  # type: ignore[arg-type]


def spares_the_middle(matte: Matte) -> bool:
    """Return whether a region holds the middle of the frame and leaves its corners out, as that of a vignette does."""
    corners = [matte[i, j] for i in (0, -1) for j in (0, -1)]
    return bool(matte[matte.shape[0] // 2, matte.shape[1] // 2] > 0.8 and max(corners) < 0.5)
