"""From declarations and rows to what the API answers."""

from collections.abc import Sequence
from dataclasses import asdict
from datetime import datetime
from fractions import Fraction

from django.utils import timezone

from calado import __version__
from calado.catalogue import CATALOGUE
from calado.follow.coverage import Coverage
from calado.inspect.edge.softness import Softness
from calado.media.clips.formats import CLIP_FORMATS
from calado.media.formats import FORMATS
from calado.region.kinds import PARTS
from calado.region.part import PartKind
from calado.sheet.declare import GROUPS, AdjustmentDeclaration, Curve, Declaration, Number, Parameter, Reference
from calado.sheet.models import Sheet
from calado.sheet.sentence import describe_sheet
from calado.start.starters import STARTERS
from server.api.schemas.catalogue import (
    AdjustmentOut,
    CatalogueOut,
    ClipFormatOut,
    FormatOut,
    OptionOut,
    ParameterOut,
    PartKindOut,
    QualityOut,
    SlopeOut,
    StarterOut,
)
from server.api.schemas.clips import ClipOut
from server.api.schemas.common import BenchOut, CoverOut, DescriptionOut, PartDescriptionOut, RunOut, ShotOut
from server.api.schemas.exports import ExportOut
from server.api.schemas.regions import SoftnessOut
from server.bench.clips import covers_on
from server.jobs.models import Export
from server.projects.actions.change import sheet_of
from server.projects.models import Revision, Shot


def catalogue_out() -> CatalogueOut:
    """Return everything that is declared."""
    used = [a.group for a in CATALOGUE.adjustments.values()]
    return CatalogueOut(
        version=__version__,
        groups=[group for group in GROUPS if group in used],
        adjustments=[_adjustment(a) for a in CATALOGUE.adjustments.values()],
        parts=[_part_kind(p) for p in PARTS.values()],
        refine=_parameters(CATALOGUE.refine),
        starters=[StarterOut(id=s.id, name=s.name, says=s.says, asked=s.asked) for s in STARTERS],
        formats=[
            FormatOut(id=f.id, name=f.name, bits=list(f.offered), holds=list(f.holds), lossy=f.lossy)
            for f in FORMATS.values()
        ],
        clip_formats=[
            ClipFormatOut(
                id=f.id,
                name=f.name,
                qualities=[QualityOut(number=q.number, says=q.says) for q in f.qualities],
                holds=list(f.holds),
                lossless=f.lossless,
            )
            for f in CLIP_FORMATS.values()
        ],
    )


def _adjustment(a: AdjustmentDeclaration) -> AdjustmentOut:
    return AdjustmentOut(
        id=a.id,
        name=a.name,
        group=a.group,
        says=a.says,
        of_a_region=a.of_a_region,
        switch=a.switch,
        control=a.control,
        wide=a.wide,
        side=a.side,
        conceals=a.holds is not None,
        parameters=_parameters(a),
    )


def _part_kind(kind: PartKind) -> PartKindOut:
    return PartKindOut(
        id=kind.id,
        name=kind.name,
        glyph=kind.glyph,
        drawn=kind.drawn,
        beads=kind.beads,
        says=kind.says,
        scribbled=kind.fitted is not None,
        brushed=kind.strokes,
        handled=kind.handled,
        sampled=kind.taken is not None,
        slopes=[SlopeOut(**asdict(slope)) for slope in kind.slopes],
        parameters=_parameters(kind),
    )


def _parameters(declaration: Declaration) -> list[ParameterOut]:
    return [_parameter(parameter) for parameter in declaration.parameters]


def _parameter(parameter: Parameter) -> ParameterOut:
    if isinstance(parameter, Number):
        said = {"unit": parameter.unit.value, "signed": parameter.signed, "needs": list(parameter.needs or ())}
        fields = asdict(parameter) | said
        del fields["word"], fields["scales"]
        return ParameterOut(kind="number", **fields)
    if isinstance(parameter, Curve):
        return ParameterOut(
            id=parameter.id, name=parameter.name, kind="curve", usual=[list(point) for point in parameter.usual]
        )
    if isinstance(parameter, Reference):
        return ParameterOut(id=parameter.id, name=parameter.name, kind=parameter.to, neutral="")
    options = [OptionOut(id=option.id, name=option.name) for option in parameter.options]
    return ParameterOut(id=parameter.id, name=parameter.name, kind="choice", neutral=parameter.neutral, options=options)


def softness_out(found: Softness, height: int) -> SoftnessOut:
    """Return a measured softness with the advice that follows from it."""
    if found.sigma is None:
        return SoftnessOut(sigma_px=None, grow=0, says="The edge has too little contrast here to tell how soft it is.")
    sigma_px, grow_px = found.sigma * height, found.grow * height
    soft = f"The edge itself is {sigma_px:.1f} px soft."
    says = (
        f"{soft} It was read from the picture: a blur beside it parts both sides’ colours, so it need not grow."
        if found.solved
        else f"{soft} Grown by twice that, {grow_px:.1f} px, hardly any of its light is left in a blur beside it."
    )
    return SoftnessOut(sigma_px=sigma_px, grow=round(found.grow, 5), says=says)


def describe_parts(sheet: Sheet) -> list[PartDescriptionOut]:
    """Return the parts of a sheet's regions in a few words each."""
    return [
        PartDescriptionOut(region=region.id, part=part.id, says=PARTS[part.kind].told(part))
        for region in sheet.regions
        for part in region.parts
    ]


def describe_draft(sheet: Sheet, covers: Sequence[Coverage] = ()) -> list[DescriptionOut]:
    """Return each pass in words, with how many frames are covered."""
    covered = {each.region.id: each.says for each in covers}
    return [DescriptionOut.model_validate(asdict(told)) for told in describe_sheet(sheet, CATALOGUE, covered)]


def cover_out(found: Coverage) -> CoverOut:
    """Return in which frames a region is covered."""
    runs = [RunOut(**asdict(run)) for run in found.runs]
    return CoverOut(region=found.region.id, says=found.says, open=found.count("open"), runs=runs)


def bench_out(shot: Shot, revision: Revision) -> BenchOut:
    """Return a revision as the bench wants it."""
    sheet = sheet_of(revision)
    labels = dict(
        Revision.objects.filter(shot=shot, number__in=[n for n in (revision.redo_to,) if n is not None]).values_list(
            "number", "label"
        )
    )
    covers = covers_on(shot, sheet)
    return BenchOut(
        shot=shot.id,
        revision=revision.number,
        sheet=sheet,
        told=describe_draft(sheet, covers),
        parts=describe_parts(sheet),
        covers=[cover_out(each) for each in covers],
        undo=revision.label if revision.undo_to is not None else None,
        redo=labels[revision.redo_to] if revision.redo_to is not None else None,
    )


def shot_out(shot: Shot, sheet: Sheet) -> ShotOut:
    """Return a shot with the names of its passes."""
    return ShotOut(
        id=shot.id,
        name=shot.name,
        width=shot.width,
        height=shot.height,
        format=shot.format,
        bits=shot.bits,
        space=shot.space,
        note=shot.note,
        head=shot.head,
        passes=[each.name for each in sheet.passes if each.on],
        clip=_clip_out(shot) if shot.is_clip else None,
        added=shot.created,
    )


def _clip_out(shot: Shot) -> ClipOut:
    rate = Fraction(shot.rate)
    return ClipOut(
        frames=shot.frames,
        rate=shot.rate,
        seconds=float(shot.frames / rate),
        base=max(round(rate), 1),
        sound=shot.sound,
        timecode=shot.timecode,
        poster=shot.poster,
        piece=shot.piece,
        file=shot.sha256[:16],
    )


def export_out(export: Export) -> ExportOut:
    """Return how far an export is."""
    return ExportOut(
        id=export.id,
        shot=export.shot_id,
        shot_name=export.shot.name,
        revision=export.revision,
        format=export.format,
        bits=export.bits,
        state=export.state,
        progress=export.progress,
        read_back=(export.read_back or {}).get("says", ""),
        good=not (export.read_back or {}).get("findings"),
        seconds_left=_seconds_left(export, timezone.now()),
        problem=export.problem,
        says=export.says,
        accepted=export.accepted,
        stated=export.state == export.State.DONE and export.what != "matte",
        file_name=export.file_name,
        size_bytes=export.size_bytes,
        created=export.created,
    )


def _seconds_left(export: Export, now: datetime) -> float | None:
    if export.state != Export.State.RUNNING or export.started is None or export.progress < 0.05:
        return None
    return (now - export.started).total_seconds() * (1 - export.progress) / export.progress
