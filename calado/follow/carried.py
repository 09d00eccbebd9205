"""Regions carried by their motions: a sheet whose followed regions stand where they are at a frame.

A region's parts are taken as they stand at the motion's reference frame, carried by it, then by the correction of the
frame. A part without a way of its own for a map of the plane, a range or a sample, stays as it is. Points of an outline
are carried one by one, perspective and all, and so are rectangles and ellipses; other parts by the map's first order at
the region's middle.
"""

from collections.abc import Iterable
from dataclasses import replace
from math import cos, radians, sin

import numpy as np

from calado.catalogue import CATALOGUE
from calado.follow.fits import Matrix
from calado.follow.margin import margin
from calado.follow.motion import Motion, Motions, digest_of_marks
from calado.region.affine import DIGITS, Affine
from calado.region.brush.brush import mapped_stroke
from calado.region.kinds import PARTS
from calado.region.solve.rough import BASE, ROUGH
from calado.render.resolve import covers_on, sides_covered
from calado.sheet.models import Anchor, Corner, Fix, Part, Pass, Region, Sheet, Track
from calado.sheet.sentence import Side
from calado.sheet.timed import declared_at, fix_at, part_at, sheet_at

#: confidence below which a place is likely to be off
SURE = 0.5
WEAKEST = 10


def sheet_in_time(sheet: Sheet, frame: int, motions: Motions) -> Sheet:
    """Return a sheet as it stands at a frame: keyframes, spans and motions applied, nothing moves in it any more.

    A region whose motion is not to be had stands where it was marked. What must cover it is off where somebody declared
    that what it covers does not show.
    """
    if any(region.covers for region in sheet.regions):
        sheet = sheet.model_copy(update={"passes": tuple(_where_it_shows(each, sheet, frame) for each in sheet.passes)})
    if any(region.track for region in sheet.regions):
        covers = covers_on(sheet)
        regions = tuple(_grown(region, frame, motions, covers.get(region.id)) for region in sheet.regions)
        sheet = sheet.model_copy(update={"regions": regions})
    return sheet_at(sheet, frame, CATALOGUE)


def _grown(region: Region, frame: int, motions: Motions, cover: Side | None) -> Region:
    """Return a region as it stands at a frame; under a cover grown by what following may be off by."""
    made = carried_region(region, frame, motions)
    more = margin(region, motions(region.track.motion), frame) if region.track and cover else 0.0
    if not more:
        return made
    grow = CATALOGUE.refine.number(region.refine, "grow") + (more if cover == "inside" else -more)
    return made.model_copy(update={"refine": {**region.refine, "grow": round(grow, DIGITS)}})


def _where_it_shows(each: Pass, sheet: Sheet, frame: int) -> Pass:
    region = sheet.region(each.region)
    declared = declared_at(region, frame) if region and sides_covered(each) else None
    return each.model_copy(update={"on": False}) if declared and declared.says == "absent" else each


def carried_region(region: Region, frame: int, motions: Motions) -> Region:
    """Return a region as it stands at a frame by its motion, without it."""
    track = region.track
    if track is None:
        return region
    parts = tuple(part_at(part, track.at) for part in region.parts)
    motion = motions(track.motion)
    if motion is None or frame == track.at:
        return region.model_copy(update={"parts": parts, "track": None})
    if motion.kind == "shape":
        return _shaped(region, track, motion, frame)
    matrix = motion.near(frame).matrix
    affine = _first_order(matrix, motion.middle)
    fix = correction(motion, fix_at(track, frame), frame)
    whole = _then(affine, fix)
    moved = tuple(_carried(part, whole, matrix, fix) for part in parts)
    band = tuple(mapped_stroke(each, whole) for each in region.band)
    places = [whole.place(each.x, each.y) for each in region.removed]
    removed = tuple(
        each.model_copy(update={"x": x, "y": y}) for each, (x, y) in zip(region.removed, places, strict=True)
    )
    moved_too = {"band": band, "removed": removed, "anchor": _anchor(whole)}
    return region.model_copy(update={"parts": moved, "track": None, **moved_too})


def _shaped(region: Region, track: Track, motion: Motion, frame: int) -> Region:
    """Return a region whose shape changes: the matte that was cut for the frame stands for all its parts."""
    step = motion.near(frame)
    marks = track.marks.get(str(frame), ())
    new = () if digest_of_marks(marks) == step.marks else marks
    stands = next((k for k, part in enumerate(region.parts) if part.kind == ROUGH.id), 0)
    before = region.parts[stands]
    values = {**{id: before.values[id] for id in ("band",) if id in before.values}, BASE: step.matte}
    cut = Part(id=before.id, kind=ROUGH.id, values=values, strokes=new)
    parts = tuple(cut if k == stands else part.model_copy(update={"on": False}) for k, part in enumerate(region.parts))
    anchor = _anchor(_first_order(step.matrix, motion.middle))
    return region.model_copy(update={"parts": parts, "track": None, "band": (), "removed": (), "anchor": anchor})


def _anchor(whole: Affine) -> Anchor:
    return Anchor(x=whole.dx, y=whole.dy, xx=whole.xx, xy=whole.xy, yx=whole.yx, yy=whole.yy)


def doubtful(track: Track, frames: range, motion: Motion | None) -> list[int]:
    """Return the frames in which a region that follows may be off: hardly sure, held, or not followed at all.

    One in which somebody corrected it is not.
    """
    if motion is None:
        return list(frames)
    set_by_hand = {*track.fixes, *track.marks}
    return [each for each in frames if str(each) not in set_by_hand and motion.near(each).sureness < SURE]


def weakest(frames: Iterable[int], motion: Motion) -> list[int]:
    """Return the frames in which it is least sure where a region is, ten at most, in order."""
    ranked = sorted(frames, key=lambda each: (motion.near(each).sureness, each))
    return sorted(ranked[:WEAKEST])


def correction(motion: Motion, fix: Fix, frame: int) -> Affine:
    """Return a correction as a map of the frame: about where the region's middle is carried to, then shifted."""
    x, y = place_of(motion.near(frame).matrix, *motion.middle)
    c, s = fix.scale * cos(radians(fix.turn)), fix.scale * sin(radians(fix.turn))
    return Affine.of(c, -s, s, c, x + fix.dx - c * x + s * y, y + fix.dy - s * x - c * y)


def corrected_matrix(track: Track, frame: int, motion: Motion) -> Matrix:
    """Return the matrix, shape (3, 3), in picture heights, by which a region lies at a frame, corrections and all."""
    return _matrix(correction(motion, fix_at(track, frame), frame)) @ motion.near(frame).matrix


def settled(track: Track, motion: Motion, begin: int) -> Motion:
    """Return a motion into which its corrections are taken up, from its reference up to another frame.

    A frame that was corrected is as sure as the reference then.
    """
    if motion.kind == "shape":
        return motion
    low, high = sorted((motion.at, begin))
    taken = {
        frame: replace(step, matrix=corrected_matrix(track, frame, motion))
        for frame, step in motion.steps.items()
        if low < frame < high
    }
    for frame in (int(each) for each in track.fixes if int(each) in taken):
        taken[frame] = replace(taken[frame], confidence=1.0, state="on")
    return replace(motion, steps={**motion.steps, **taken})


def _matrix(affine: Affine) -> Matrix:
    return np.array([[affine.xx, affine.xy, affine.dx], [affine.yx, affine.yy, affine.dy], [0.0, 0.0, 1.0]])


def place_of(matrix: Matrix, x: float, y: float) -> tuple[float, float]:
    """Return where a place goes."""
    at = matrix @ np.array([x, y, 1.0])
    return float(at[0] / at[2]), float(at[1] / at[2])


def _first_order(matrix: Matrix, middle: tuple[float, float]) -> Affine:
    """Return the map that is a matrix's first order at a place."""
    x, y = middle
    over = float(matrix[2] @ np.array([x, y, 1.0]))
    to = place_of(matrix, x, y)
    slopes = (matrix[:2, :2] - np.outer(to, matrix[2, :2])) / over
    (xx, xy), (yx, yy) = ((float(a), float(b)) for a, b in slopes)
    return Affine.of(xx, xy, yx, yy, to[0] - xx * x - xy * y, to[1] - yx * x - yy * y)


def _then(first: Affine, second: Affine) -> Affine:
    """Return one map after another."""
    x, y = second.vector(first.dx, first.dy)
    xx, yx = second.vector(first.xx, first.yx)
    xy, yy = second.vector(first.xy, first.yy)
    return Affine.of(xx, xy, yx, yy, x + second.dx, y + second.dy)


def _carried(part: Part, whole: Affine, matrix: Matrix, fix: Affine) -> Part:
    made = PARTS[part.kind].mapped(part, whole)
    if made is None:
        return part
    if not part.points or not made.points:
        return PARTS[part.kind].through(part, _matrix(fix) @ matrix, made)
    return made.model_copy(update={"points": tuple(_point(each, matrix, fix) for each in part.points)})


def _point(point: Corner, matrix: Matrix, fix: Affine) -> Corner:
    """Return a corner, and the ends of its handles, which are relative to it."""

    def goes(x: float, y: float) -> tuple[float, float]:
        to = fix.vector(*place_of(matrix, x, y))
        return to[0] + fix.dx, to[1] + fix.dy

    x, y = goes(point[0], point[1])
    made = [x, y]
    for across, down in zip(point[2::2], point[3::2], strict=True):
        end_x, end_y = goes(point[0] + across, point[1] + down)
        made += [end_x - x, end_y - y]
    return tuple(round(n, DIGITS) for n in made)
