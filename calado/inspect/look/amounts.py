"""Findings about how much: blurs too small or too large."""

from collections.abc import Iterator

from calado.adjust.registry import used
from calado.inspect.look.finding import Finding, Looked, sides_of

#: standard deviation or radius in picture heights. On a picture of 1000 to 2000 px about 2.5 px are not enough to see,
#: 9 to 16 look right, beyond 25 the cut shows (common practice, no source); a thousandth of 1067 px is about one.
SMALL, RIGHT, LARGE = 0.0025, 0.011, 0.024


def blur_sizes(looked: Looked) -> Iterator[Finding]:
    """Yield blurs of one strength that are too small to see, or so large that the cut-out shows."""
    for each in looked.passes:
        for side, treatment in sides_of(each):
            for id in used(treatment, "sized"):
                values = treatment[id]
                radius = float(values.get("radius", 0.0)) * each.strength  # type: ignore[arg-type]
                small = 0 < radius < SMALL
                large = radius > LARGE and side == "outside" and values.get("grade", "mix") == "mix"
                if not small and not large:
                    continue
                px = radius * looked.source.height
                says = "is too small to be seen" if small else "is so large that the cut-out will show"
                yield Finding(
                    "blur-size",
                    f"The blur of “{each.name}”, {px:.1f} px, {says}.",
                    each.id,
                    each.region,
                    None,
                    f"set it to {RIGHT * 100:.1f}\u00a0%",
                    looked.with_values(each, side, id, radius=RIGHT),
                )
