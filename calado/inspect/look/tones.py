"""Findings about light: clipped, crushed, doubled vignettes, steep curves, passes that change nothing."""

from collections.abc import Iterator

import numpy as np

from calado.adjust.light.curve import curve_through
from calado.adjust.registry import called, used
from calado.inspect.falloff import falloff_of
from calado.inspect.look.finding import Finding, Looked, sides_of
from calado.inspect.meter import read_meter
from calado.inspect.vignette import darkens_outside, spares_the_middle
from calado.sheet.models import Pass
from calado.sheet.numbers import MINUS
from calado.sheet.sentence import Side

CLIPPED, CRUSHED = 0.01, 0.02
STEEP = 5.0
ADJUST_CURVES = ("all", "red", "green", "blue")


def clipped(looked: Looked) -> Iterator[Finding]:
    """Yield passes that newly clip highlights."""
    for each in looked.passes:
        change = looked.change(each.id)
        if change.clipped < CLIPPED or used(each.outside, "gone"):
            continue
        newly = (change.before.max(axis=0) < 1) & (change.after.max(axis=0) >= 1)
        yield Finding(
            "clipped",
            f"“{each.name}” clips highlights: {change.clipped * 100:.1f}\u00a0% of the picture is newly white.",
            each.id,
            each.region,
            looked.rectangle(newly),
            "two thirds of its strength",
            looked.with_fields(each, strength=round(each.strength * 2 / 3, 3)),
        )


def crushed(looked: Looked) -> Iterator[Finding]:
    """Yield passes after which surroundings are no longer legible."""
    for each in looked.passes:
        change = looked.change(each.id)
        if change.crushed < CRUSHED or used({**each.inside, **each.outside}, "gone"):
            continue
        least = float(change.space.transfer.decode(np.array(2 / 255)))
        newly = (change.before.max(axis=0) >= least) & (change.after.max(axis=0) < least)
        side = _darkening_side(each)
        yield Finding(
            "crushed",
            f"“{each.name}” crushes {change.crushed * 100:.0f}\u00a0% of the picture to black;"
            " it is no longer legible there.",
            each.id,
            each.region,
            looked.rectangle(newly),
            "keep it legible down to 10\u00a0%",
            looked.with_values(each, side, called("shadows"), floor=0.1),
        )


def _darkening_side(each: Pass) -> Side:
    sides = [side for side, _ in sides_of(each)]
    return "outside" if "outside" in sides and used(each.outside, "light") else sides[0]


def vignettes(looked: Looked) -> Iterator[Finding]:
    """Yield vignettes that double another: the source's own, an earlier pass, a pass of the project."""
    own = [each for each in looked.passes if _is_vignette(each, looked)]
    if not own:
        return
    newest = own[-1]
    amount = float(newest.outside[called("light")]["amount"])  # type: ignore[arg-type]
    others = [f"pass “{each.name}”" for each in own[:-1]]
    others += [f"“{each.name}” of the project" for each in looked.project.passes if each.on and darkens_outside(each)]
    falloff = falloff_of(looked.engine.source(looked.source, looked.window), looked.source.space)
    stops = f"{MINUS}{abs(falloff.corner):.1f}\u00a0EV"
    if falloff.certain:
        others.insert(0, f"the source itself, whose corners stand at {stops}")
    if not others:
        return
    less = min(amount - falloff.corner, -0.1) if falloff.certain else amount / 2
    yield Finding(
        "doubled-vignette",
        f"“{newest.name}” comes on top of {' and '.join(others)}: together the corners may be too dark.",
        newest.id,
        newest.region,
        None,
        f"bring it to {MINUS}{abs(less):.1f}\u00a0EV",
        looked.with_values(newest, "outside", called("light"), amount=round(less, 2)),
    )


def _is_vignette(each: Pass, looked: Looked) -> bool:
    """Whether a pass darkens its outside, and its inside holds the middle and spares the corners."""
    matte = looked.matte(each.region)
    return matte is not None and darkens_outside(each) and spares_the_middle(matte)


def steep(looked: Looked) -> Iterator[Finding]:
    """Yield curves so steep that they will band."""
    for each in looked.passes:
        for side, treatment in sides_of(each):
            values = treatment.get(called("curve"), {})
            lines = [values[id] for id in ADJUST_CURVES if isinstance(values.get(id), tuple) and len(values[id]) > 1]  # type: ignore[arg-type]
            slopes = [float(np.diff(curve_through(line)(np.linspace(0, 1, 256))).max() * 255) for line in lines]  # type: ignore[arg-type]
            amount = float(values.get("amount", 0.0))  # type: ignore[arg-type]
            if not slopes or 1 + amount * (max(slopes) - 1) < STEEP:
                continue
            yield Finding(
                "steep",
                f"The curve of “{each.name}” rises {max(slopes):.0f} times as fast as the picture in one place:"
                " it will band there.",
                each.id,
                each.region,
                None,
                "half of its amount",
                looked.with_values(each, side, called("curve"), amount=round(amount / 2, 3)),
            )


def nothing(looked: Looked) -> Iterator[Finding]:
    """Yield passes that change nothing that can be seen."""
    for each in looked.passes:
        if used({**each.inside, **each.outside}, "clear") or read_meter(looked.change(each.id)).visible:
            continue
        yield Finding(
            "nothing",
            f"“{each.name}” changes nothing that can be seen.",
            each.id,
            each.region,
            None,
            "switch it off",
            looked.with_fields(each, on=False),
        )
