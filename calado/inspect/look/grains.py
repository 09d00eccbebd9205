"""Findings about the picture's own grain."""

from collections.abc import Iterator

from calado.adjust.registry import called, used
from calado.inspect.look.finding import Finding, Looked, sides_of
from calado.render.resolve import concealing

#: a standard deviation of so many 8-bit codes is seen where it is missing (common practice, no source)
SEEN = 1.5


def lost_grain(looked: Looked) -> Iterator[Finding]:
    """Yield blurs that take a grain that shows beside what is left sharp."""
    own = looked.engine.stats(looked.source).grain()
    codes = float(own.max()) * 255
    if codes < SEEN:
        return
    for each in looked.passes:
        for side, treatment in sides_of(each):
            if not used(treatment, "blur") or used(treatment, "regrain") or any(concealing(treatment)):
                continue
            yield Finding(
                "grain",
                f"“{each.name}” takes the picture’s grain, up to {codes:.1f} codes of 255, with its blur.",
                each.id,
                each.region,
                None,
                "give its own grain back",
                looked.with_values(each, side, called("regrain"), amount=1.0),
            )
