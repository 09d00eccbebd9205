"""A sheet in words, as a colleague would read it out.

Example: ``Outside stage oval: exposure −1.2 EV, saturation −30 %.``

A pass is told as lines of tokens. A token is plain text, the side word, a *where* or a *what*; the last two say what
they stand for, so that the interface can make them buttons. A zero adjustment is not written.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Literal

from calado.sheet.declare import (
    AdjustmentDeclaration,
    Catalogue,
    Choice,
    Curve,
    Number,
    PartDeclaration,
    Reference,
    Values,
)
from calado.sheet.models import LAST_FRAME, Pass, Region, Sheet, Track, Treatment
from calado.sheet.numbers import say_number
from calado.sheet.timed import keyed_frames

Side = Literal["inside", "outside"]
SIDES: tuple[Side, Side] = ("inside", "outside")
WHOLE = "whole picture"
NOTHING_COUNTED: Mapping[str, str] = {}


@dataclass(frozen=True)
class Token:
    """A piece of a sentence. ``value`` stands in semibold after ``text`` and never leaves its last word."""

    kind: Literal["side", "where", "what", "text"]
    text: str
    value: str = ""
    glyph: str = ""
    side: Side | None = None
    adjustment: str = ""

    @property
    def plain(self) -> str:
        """The token as plain text."""
        return f"{self.text} {self.value}" if self.value else self.text


@dataclass(frozen=True)
class Description:
    """A pass in words, as tokens; two sentences when both sides are treated."""

    id: str
    tokens: tuple[Token, ...]

    @property
    def plain(self) -> str:
        """The sentences as plain text."""
        return "".join(token.plain for token in self.tokens)


def describe_sheet(
    sheet: Sheet, catalogue: Catalogue, covered: Mapping[str, str] = NOTHING_COUNTED
) -> tuple[Description, ...]:
    """Return each pass of the sheet in words, in order; ``covered`` says how many frames are covered, by region."""
    return tuple(Description(each.id, tuple(_tell_pass(each, sheet, catalogue, covered))) for each in sheet.passes)


def describe(sheet: Sheet, catalogue: Catalogue) -> str:
    """Return the whole sheet as lines of plain text."""
    if not sheet.passes:
        return "Nothing is done to this shot yet."
    lines = []
    for number, (each, told) in enumerate(zip(sheet.passes, describe_sheet(sheet, catalogue), strict=True), start=1):
        lines.append(f"{number} {each.name}, {_how_much(each)}\n  {told.plain}")
    return "\n".join(lines)


def region_glyph(region: Region | None, catalogue: Catalogue) -> str:
    """Return the mark that stands before a region, a path."""
    if region is None or not region.parts:
        return PartDeclaration.glyph
    return catalogue.parts[region.parts[0].kind].glyph


def _how_much(each: Pass) -> str:
    if not each.on:
        return "off"
    mixed = f", mix {round(each.mix * 100)} %" if each.mix != 1 else ""
    return f"strength {round(each.strength * 100)} %{mixed}"


def _tell_pass(each: Pass, sheet: Sheet, catalogue: Catalogue, covered: Mapping[str, str]) -> Iterator[Token]:
    region = sheet.region(each.region)
    told: list[Side] = [side for side in SIDES if _said(_treatment(each, side), catalogue)]
    nothing: list[Side] = ["inside"]
    for position, side in enumerate(told or nothing):
        if position:
            yield Token("text", " ")
        yield Token("side", side.capitalize(), side=side)
        yield Token("text", " ")
        name = region.name if region else WHOLE
        yield Token("where", name, glyph=region_glyph(region, catalogue), side=side)
        refined = tell_refined(region, catalogue) if region else ""
        if refined:
            yield Token("text", f", {refined}")
        if region and not position and region.track:
            yield Token("text", f", which follows{_corrected(region.track)}")
        elif region and not position and (keys := len(keyed_frames(region))):
            yield Token("text", f", which moves ({keys} keyframe{'s' if keys > 1 else ''})")
        if any(a.holds is not None for a in _said(_treatment(each, side), catalogue)):
            counted = _counted(region, covered) if region and each.must_cover and not position else ""
            yield Token("text", f", which {'must' if each.must_cover else 'need not'} cover{counted}")
        when = _when(each)
        if when and not position:
            yield Token("text", f", {when}")
        yield from _tell_treatment(_treatment(each, side), side, catalogue, holds=each.must_cover)


def _counted(region: Region, covered: Mapping[str, str]) -> str:
    """Return in how many frames a region is covered, or what was declared of it where nobody counted."""
    absent = sum(each.last - int(first) + 1 for first, each in region.covers.items() if each.says == "absent")
    declared = f"declared absent in {absent} frame{'s' if absent > 1 else ''}" if absent else ""
    said = covered.get(region.id, declared)
    return f" ({said})" if said else ""


def _corrected(track: Track) -> str:
    """Return how often a motion was corrected, in words."""
    count = len({*track.fixes, *track.marks})
    return f" (corrected {'once' if count == 1 else f'{count} times'})" if count else ""


def _when(each: Pass) -> str:
    """Return in which frames a pass acts, and what of it comes and goes."""
    said = []
    if each.span is not None:
        first, last = each.span.first, each.span.last
        open_end = last >= LAST_FRAME
        said.append(
            f"from frame {first} on" if open_end else f"from frame {first} to {last}" if first else f"to frame {last}"
        )
        if each.span.fade_in:
            said.append(f"coming over {each.span.fade_in}")
        if each.span.fade_out and not open_end:
            said.append(f"going over {each.span.fade_out}")
    for name, keys in each.keys.items():
        said.append(f"its {name} moving ({len(keys)} keyframe{'s' if len(keys) > 1 else ''})")
    return ", ".join(said)


def tell_refined(region: Region, catalogue: Catalogue) -> str:
    """Return what is done to a region's matte, in words: ``edge resolved, grown 0.4 %, 2 pieces dropped``."""
    said = ["edge resolved"] if region.band else []
    for number in catalogue.refine.numbers:
        value = catalogue.refine.number(region.refine, number.id)
        if value != number.neutral:
            more, _, less = number.word.partition("/")
            said.append(f"{less if less and value < 0 else more} {say_number(abs(value), replace(number, floor=0))}")
    if region.removed:
        said.append("1 piece dropped" if len(region.removed) == 1 else f"{len(region.removed)} pieces dropped")
    return ", ".join(said)


def _treatment(each: Pass, side: Side) -> Treatment:
    return each.inside if side == "inside" else each.outside


def _said(treatment: Treatment, catalogue: Catalogue) -> list[AdjustmentDeclaration]:
    return [a for id, a in catalogue.adjustments.items() if id in treatment and not a.is_neutral(treatment[id])]


def _tell_treatment(treatment: Treatment, side: Side, catalogue: Catalogue, *, holds: bool) -> Iterator[Token]:
    adjustments = _said(treatment, catalogue)
    yield Token("text", ": " if adjustments else ": nothing yet")
    for position, adjustment in enumerate(adjustments):
        if position:
            yield Token("text", ", ")
        values = adjustment.complete(treatment[adjustment.id])
        if holds and adjustment.holds:
            values = {**values, **adjustment.holds}
        text, value = _tell_values(adjustment, values)
        yield Token("what", text, value, side=side, adjustment=adjustment.id)
        phrase = _tell_choices(adjustment, values)
        if phrase:
            yield Token("text", f" ({phrase})" if adjustment.switch == "any" else f" {phrase}")
    yield Token("text", ".")


def _tell_values(adjustment: AdjustmentDeclaration, values: Values) -> tuple[str, str]:
    main = adjustment.numbers[0]
    if adjustment.switch == "any":
        return adjustment.name.lower() if adjustment.name != adjustment.name.upper() else adjustment.name, ""
    return main.word or adjustment.name.lower(), say_number(adjustment.number(values, main.id), main)


def _small(name: str) -> str:
    """Return a name as it stands within a sentence: “Slope R” keeps its R."""
    return name[:1].lower() + name[1:]


def _tell_choices(adjustment: AdjustmentDeclaration, values: Values) -> str:
    phrases = []
    for parameter in adjustment.parameters[0 if adjustment.switch == "any" else 1 :]:
        value = values[parameter.id]
        if isinstance(parameter, Choice):
            phrases.append(parameter.option(str(value)).phrase)
        elif isinstance(parameter, Number) and value != parameter.neutral:
            number = adjustment.number(values, parameter.id)
            phrases.append(f"{parameter.word or _small(parameter.name)} {say_number(number, parameter)}")
        elif isinstance(parameter, Curve) and value:
            phrases.append(f"{_small(parameter.name)} through {len(adjustment.curve(values, parameter.id))} points")
        elif isinstance(parameter, Reference) and value and parameter.shown:
            phrases.append(f"“{value}”")
    return ", ".join(phrase for phrase in phrases if phrase)
