"""Findings about how much: blurs too small or too large, covers too weak."""

from collections.abc import Iterator

from calado.inspect.concealed import Concealed, read_concealed
from calado.inspect.look.finding import Finding, Looked, sides_of
from calado.region.where import where_of
from calado.render.engine import Order
from calado.sheet.models import Pass, Sheet
from calado.window import full_window

#: standard deviation or radius in picture heights. On a picture of 1000 to 2000 px about 2.5 px are not enough to see,
#: 9 to 16 look right, beyond 25 the cut shows (common practice, no source); a thousandth of 1067 px is about one.
SMALL, RIGHT, LARGE = 0.0025, 0.011, 0.024
COVERS = ("mosaic", "scramble", "solid")
#: pixels of height at which a cover is read
CLOSE = 1400
#: an inward feather of less is no more than the edge's own softness
RIM = 0.0006


def blur_sizes(looked: Looked) -> Iterator[Finding]:
    """Yield blurs of one strength that are too small to see, or so large that the cut-out shows."""
    for each in looked.passes:
        for side, treatment in sides_of(each):
            for id in ("blur", "lens"):
                values = treatment.get(id, {})
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


def weak_covers(looked: Looked) -> Iterator[Finding]:
    """Yield covers that are too weak to conceal what they stand over."""
    for each in looked.passes:
        used = [id for id in COVERS if id in each.inside]
        if not used or each.region is None:
            continue
        says, mended, mend = _weakness(looked, each)
        if says:
            yield Finding("weak-cover", says, each.id, each.region, None, mend, mended)


def thin_rims(looked: Looked) -> Iterator[Finding]:
    """Yield covers whose region is feathered inward, so that the rim of what they hide shows through."""
    for each in looked.passes:
        region = looked.sheet.region(each.region)
        if region is None or not any(id in each.inside for id in COVERS):
            continue
        soft = [part for part in region.parts if float(part.values.get("feather_in", 0.0)) > RIM]  # type: ignore[arg-type]
        if not soft:
            continue
        parts = tuple(
            p.model_copy(update={"values": {**p.values, "feather_in": 0.0}}) if p in soft else p for p in region.parts
        )
        yield Finding(
            "thin-rim",
            f"“{region.name}” is feathered inward, so the rim of what “{each.name}” hides shows through.",
            each.id,
            region.id,
            None,
            "feather it outward only",
            looked.with_region(region.model_copy(update={"parts": parts})),
        )


def _weakness(looked: Looked, each: Pass) -> tuple[str, Sheet | None, str]:
    if each.mix < 1 or each.strength < 1:
        less = looked.with_fields(each, mix=1.0, strength=max(each.strength, 1.0))
        return (
            f"“{each.name}” conceals only in part: its mix or strength is below 100\u00a0%.",
            less,
            "set both to 100\u00a0%",
        )
    read = read_pass(looked, each)
    if read is None or not read.weak:
        return "", None, ""
    if read.cells_across:
        size = float(each.inside["mosaic"]["size"])  # type: ignore[arg-type]
        most = max(read.cells_across / 6, (read.letter_cells or 0.0) / 1.5)
        coarser = looked.with_values(each, "inside", "mosaic", size=round(min(size * most, 0.5), 4))
        return f"“{each.name}” is weak: {read.says[0].lower()}{read.says[1:]}", coarser, "make its cells larger"
    solid = looked.with_fields(each, inside={**each.inside, "solid": {"amount": 1.0}})
    return f"“{each.name}” is weak: {read.says[0].lower()}{read.says[1:]}", solid, "cover it with a solid"


def read_pass(looked: Looked, each: Pass) -> Concealed | None:
    """Return the readings of a pass that covers, or None where they mean nothing."""
    source = looked.source
    window = full_window(source.width, source.height, min(1.0, CLOSE / source.height))
    where = where_of(looked.sheet, each.region)
    if where is None:
        return None
    if float(each.inside.get("solid", {}).get("amount", 0.0)) * each.strength >= 1 and each.mix >= 1:  # type: ignore[arg-type]
        return Concealed(None, None, 0.0, False, "Covered by a solid: nothing of it is left.")
    before = looked.engine.source(source, window)
    after = looked.engine.picture(source, Order(looked.sheet, looked.project), window)
    return read_concealed(
        before, after, looked.engine.matte(looked.source, where, window), window.pixel, each.inside.get("mosaic")
    )
