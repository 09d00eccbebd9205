"""Beginning a pass, a region or a part on a sheet: ids and names that are free, values that fit the picture."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field

from calado.adjust.registry import ADJUSTMENTS
from calado.detect.offer import PERHAPS, Offer
from calado.errors import SheetError
from calado.region.fit import fit_closed
from calado.region.kinds import PARTS
from calado.region.part import Points
from calado.sheet.declare import Number, Reference, Unit, Value
from calado.sheet.models import Join, Part, Pass, Region, Sheet, Stroke, Treatment
from calado.sheet.sentence import Side
from calado.sheet.within import part_called, pass_called, region_called, with_part, with_pass, with_region
from calado.start.analysis import PictureAnalysis
from calado.start.features import feature_parts
from calado.start.parts import covering, offered
from calado.start.starters import STARTERS

#: where a single adjustment begins: a quarter of its fader's longer way, so that it shows
FIRST_SHARE = 0.25


def start_pass(
    sheet: Sheet, starter_id: str, analysis: PictureAnalysis, region: str | None = None
) -> tuple[Sheet, str]:
    """Return the sheet with a starter's pass at its end, its values chosen from the picture; and the pass's id.

    ``region`` names a region of the shelf to start on instead of the starter's own.

    Raises
    ------
    SheetError
        when the starter or the region does not exist.
    """
    starter = next((each for each in STARTERS if each.id == starter_id), None)
    if starter is None:
        raise SheetError(f"There is no starter called “{starter_id}”.", code="start.unknown")
    made = starter.make(analysis)
    sheet, where = _where(sheet, starter.region(made), region)
    return _with_pass(sheet, starter.name, where, made.inside, made.outside, made.mix)


def start_on_finds(sheet: Sheet, finds: Iterable[Offer], *, conceal: bool) -> tuple[Sheet, list[str]]:
    """Return the sheet with a region for each find, and the ids of these; ``conceal``: with a cover over each.

    A cover has the margin that “Conceal” gives it, and each a pass of its own: what is hidden here may show there.
    """
    starter = next(each for each in STARTERS if each.id == "conceal")
    ids = []
    for find in finds:
        what = find.name.removeprefix(PERHAPS).removeprefix("a ")
        made = covering(find, 1) if conceal else offered(find)
        name = f"{starter.region_name} {what}" if conceal else what
        sheet, id = _where(sheet, Region(id="region", name=name, parts=(made,)), None)
        assert id is not None  # it was just made
        if conceal:
            sheet, _ = _with_pass(sheet, f"{starter.name} {what}", id, {"solid": {"amount": 1.0}}, {})
        ids.append(id)
    return sheet, ids


def start_feature(sheet: Sheet, faces: Sequence[Offer], feature: str) -> tuple[Sheet, str]:
    """Return the sheet with a region on a feature of some faces, and the region's id.

    Raises
    ------
    SheetError
        for a feature that is not known, no face, or one of which no features are seen.
    """
    if not faces:
        raise SheetError("No face was found here. Draw a region, or look for faces first.", code="feature.no_face")
    parts: list[Part] = []
    for face in faces:
        parts += feature_parts(face, feature, len(parts) + 1)
    sheet, id = _where(sheet, Region(id="region", name=feature, parts=tuple(parts)), None)
    assert id is not None  # it was just made
    return sheet, id


def each_apart(sheet: Sheet, pass_id: str) -> Sheet:
    """Return the sheet with a region, and a pass of its own, for each part of what a pass covers.

    The first keeps the pass and its region. Nothing changes where there is one part, or where parts are taken out.
    """
    first = pass_called(sheet, pass_id)
    region = region_called(sheet, first.region) if first.region else None
    if region is None or len(region.parts) < 2 or any(part.join != "add" for part in region.parts):
        return sheet
    kept, *others = region.parts
    sheet = with_region(sheet, region.model_copy(update={"parts": (kept,)}))
    for part in others:
        own = region.model_copy(update={"parts": (part.model_copy(update={"id": kept.id}),)})
        sheet, id = _where(sheet, own, None)
        sheet, _ = _with_pass(sheet, first.name, id, first.inside, first.outside, first.mix)
    return sheet


def start_adjustment(
    sheet: Sheet, adjustment_id: str, side: Side | None, region: str | None, aspect: float
) -> tuple[Sheet, str]:
    """Return the sheet with a pass of one adjustment at its end, and the pass's id; ``side`` None: where it is usual.

    One that needs a region, and is given none, begins on an ellipse in the middle of a picture ``aspect`` heights wide.

    Raises
    ------
    SheetError
        when the adjustment or the region does not exist.
    """
    adjustment = ADJUSTMENTS.get(adjustment_id)
    if adjustment is None:
        raise SheetError(f"There is no adjustment called “{adjustment_id}”.", code="start.unknown")
    if region is not None:
        region_called(sheet, region)
    side = side or adjustment.side
    if adjustment.of_a_region and region is None:
        # on the whole picture it would have no outline to go along
        sheet, region = start_region(sheet, Drawn("ellipse"), aspect)
    main = adjustment.parameters[0]
    assert isinstance(main, Number)  # a declaration's first parameter is its amount
    way = main.low if main.low < 0 and side == "outside" else main.high
    across = {n.id: round(aspect / 2, 4) for n in adjustment.numbers if n.unit is Unit.ACROSS}
    first = {main.id: round(main.neutral + (way - main.neutral) * FIRST_SHARE, 4)}
    treatment: Treatment = {adjustment.id: {**(adjustment.begins or first), **across}}
    inside, outside = (treatment, {}) if side == "inside" or region is None else ({}, treatment)
    return _with_pass(sheet, adjustment.name, region, inside, outside)


@dataclass(frozen=True)
class Drawn:
    """A part as it was drawn: its kind, and the values and points that differ from those of a new one.

    ``freehand`` points are the path of a pen, to be followed by a curve of few points, or by an ellipse or rectangle
    round the same thing; ``strokes`` are those of a part that is brushed.
    """

    kind: str
    values: Mapping[str, Value] = field(default_factory=dict)
    points: Points = ()
    freehand: bool = False
    strokes: tuple[Stroke, ...] = ()

    def part(self, id: str, join: Join, aspect: float) -> Part:
        """Return the part for a picture ``aspect`` heights wide.

        Raises
        ------
        SheetError
            when the kind does not exist, or what it stands for is not named.
        """
        kind = PARTS.get(self.kind)
        if kind is None:
            raise SheetError(f"There is no kind of part called “{self.kind}”.", code="start.unknown")
        for parameter in kind.parameters:
            if isinstance(parameter, Reference) and not self.values.get(parameter.id):
                raise SheetError(f"Choose the {parameter.name.lower()} that the part is to be.", code="start.reference")
        values = {**kind.place(aspect), **self.values}
        if self.freehand and kind.fitted:
            return Part(id=id, kind=kind.id, join=join, values={**values, **kind.fitted(self.points)})
        points = fit_closed(self.points) if self.freehand else self.points
        path = tuple(point[:2] for point in self.points) if self.freehand else ()
        return Part(
            id=id,
            kind=kind.id,
            join=join,
            values=values,
            points=points or kind.corners(aspect),
            path=path,
            strokes=self.strokes,
        )


def follow_again(sheet: Sheet, region_id: str, part_id: str, tolerance: float) -> Sheet:
    """Return the sheet with a curve that follows its pen's path within another tolerance, in picture heights.

    Raises
    ------
    SheetError
        when there is no such part, or its path is no longer kept.
    """
    region = region_called(sheet, region_id)
    part = part_called(region, part_id)
    if not part.path:
        raise SheetError("This outline no longer has the path of a pen to follow.", code="start.path")
    followed = part.model_copy(update={"points": fit_closed(part.path, min(max(tolerance, 0.0002), 0.05))})
    return with_region(sheet, with_part(region, followed))


def start_region(sheet: Sheet, drawn: Drawn, aspect: float) -> tuple[Sheet, str]:
    """Return the sheet with a new region of one part on its shelf, and the region's id.

    Raises
    ------
    SheetError
        when the kind does not exist.
    """
    part = drawn.part("part-1", "add", aspect)
    id = free_id("region", (region.id for region in sheet.regions))
    name = free_name(PARTS[part.kind].noun or PARTS[part.kind].name.lower(), (region.name for region in sheet.regions))
    region = Region(id=id, name=name, parts=(part,))
    return with_region(sheet, region), id


def join_part(sheet: Sheet, region_id: str, drawn: Drawn, join: Join, aspect: float) -> tuple[Sheet, str]:
    """Return the sheet with a new part at the end of a region, and the part's id.

    Raises
    ------
    SheetError
        when the region or the kind does not exist.
    """
    region = region_called(sheet, region_id)
    id = free_id("part", (part.id for part in region.parts))
    return with_region(sheet, with_part(region, drawn.part(id, join, aspect))), id


def free_id(stem: str, taken: Iterable[str]) -> str:
    """Return ``stem-1``, or the first number that is not taken."""
    ids, number = set(taken), 1
    while f"{stem}-{number}" in ids:
        number += 1
    return f"{stem}-{number}"


def free_name(name: str, taken: Iterable[str]) -> str:
    """Return the name, or ``name 2`` and so on when it is taken."""
    names, number = set(taken), 2
    if name not in names:
        return name
    while f"{name} {number}" in names:
        number += 1
    return f"{name} {number}"


def _where(sheet: Sheet, made: Region | None, region: str | None) -> tuple[Sheet, str | None]:
    if region is not None:
        return sheet, region_called(sheet, region).id
    if made is None:
        return sheet, None
    id = free_id("region", (each.id for each in sheet.regions))
    name = free_name(made.name, (each.name for each in sheet.regions))
    made = made.model_copy(update={"id": id, "name": name})
    return with_region(sheet, made), id


def _with_pass(
    sheet: Sheet, name: str, region: str | None, inside: Treatment, outside: Treatment, mix: float = 1.0
) -> tuple[Sheet, str]:
    id = free_id("pass", (each.id for each in sheet.passes))
    name = free_name(name, (each.name for each in sheet.passes))
    new = Pass(id=id, name=name, region=region, inside=inside, outside=outside, mix=mix)
    return with_pass(sheet, new), id
