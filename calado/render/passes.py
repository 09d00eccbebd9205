"""Running passes over a window: point work strip by strip while it is in cache, what looks around on the whole window.

A *run* is one pass that looks around, or none, followed by passes of point work only; a strip goes through a whole
run at once.

Blur graded by radius or by distance (our choice): the side's earlier adjustments are laid in by the matte first; then
the picture is blurred with a radius that grows with the side's weight; later adjustments follow, again by the matte;
mix fades the whole.

A blur beside an edge that was solved works on the side's own colours: where a pixel is in = α·F + (1 − α)·B, what is
added to it is w · (T(B) − B) for the surround, w · (T(F) − F) for the subject, so nothing of the one is carried into
the other.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from math import ceil, log

import numpy as np
from numpy.typing import NDArray

from calado.adjust.blur.cells import Blurred
from calado.adjust.kind import Composited, RingPlan, Rows, SpatialContext, SpatialPlan
from calado.adjust.side import PointStep, SidePlan
from calado.adjust.stats import PictureStats
from calado.arrays import Matte, Planes
from calado.colour.spaces import ColourSpace
from calado.region.resolved import ResolvedRegion
from calado.render.blend import extent
from calado.render.jobs import ONE, Laid, PassJob, SideJob
from calado.render.plan import PassPlan
from calado.render.program import Program, array_at, code_of
from calado.render.tiles import EVERY_ROW, GUARD, POINT
from calado.sheet.models import UNMOVED, Anchor
from calado.strips import for_rows
from calado.window import Window

STRIP_ROWS = 32
#: of a window, the share below which a pass that looks around is done in its region's box alone
WORTH = 0.4
#: a graded blur has levels that grow so much from one to the next, the least of so many pixels: what lies between two
#: is mixed from them, which leaves at most 0.08 too much of any pattern's contrast
RADIUS_STEP, LEAST_RADIUS_PX = 1.75, 0.5
#: a side's own colours are known as well as any from a quarter of the pixel on
TRUSTED = np.float32(4)


@dataclass(frozen=True, eq=False)
class RenderContext:
    """What passes ask for on their window: a region's matte, how much of each pixel a ring covers, the source.

    ``own`` gives the colours that one side of a pass has of its own, from the pass, the picture before it and the
    side's weight; ``secret`` seeds the noise of covers.
    """

    matte: Callable[[ResolvedRegion], Matte]
    ring: Callable[[ResolvedRegion, RingPlan], Matte]
    own: Callable[[PassPlan, Planes, SpatialContext], Planes]
    source: Callable[[], Planes]
    space: ColourSpace
    stats: PictureStats
    secret: int


def split_runs(plans: tuple[PassPlan, ...]) -> list[list[PassPlan]]:
    """Return the passes in runs: a pass that looks around begins a new one."""
    runs: list[list[PassPlan]] = []
    for plan in plans:
        if not runs or plan.looks_around:
            runs.append([])
        runs[-1].append(plan)
    return runs


def run_passes(planes: Planes, plans: tuple[PassPlan, ...], window: Window, openings: RenderContext) -> Planes:
    """Return the picture, shape (3, H, W), after all passes; the input is not changed."""
    ours = False
    for run in split_runs(plans):
        inner = run[0].within(window)
        if run[0].looks_around and not run[0].parts(run[0].inside) and (inner is None or _worth(inner, window)):
            if inner is not None:
                planes, ours = _in_its_box(planes, run[0], window, openings, inner, over=ours), True
            run = run[1:]
        if not run:
            continue
        jobs = [_prepare(plan, planes, window, openings) for plan in run]
        planes, ours = _run(planes, jobs, over=ours and all(map(_apart, jobs)))
    return planes


def _worth(inner: Window, window: Window) -> bool:
    return inner.pixels < WORTH * window.pixels


def _in_its_box(
    planes: Planes, plan: PassPlan, window: Window, openings: RenderContext, inner: Window, *, over: bool
) -> Planes:
    """Return the picture after a pass that looks around and changes nothing outside of ``inner``."""
    wide = inner.grown(plan.reach(window)).cut(window)
    at = wide.inside(window)

    def cut(array: NDArray[np.float32]) -> NDArray[np.float32]:
        return np.ascontiguousarray(array[(..., *at)])

    there = replace(
        openings,
        matte=lambda where: cut(openings.matte(where)),
        ring=lambda where, ring: cut(openings.ring(where, ring)),
        source=lambda: cut(openings.source()),
    )
    read = cut(planes)
    made = _run(read, [_prepare(plan, read, wide, there)])[0]
    out = planes if over else planes.copy()
    out[(slice(None), *inner.inside(window))] = made[(slice(None), *inner.inside(wide))]
    return out


def _apart(job: PassJob) -> bool:
    """Return whether nothing of a pass is still to be read around a pixel of what came into it."""
    return all(isinstance(level, Blurred | Composited) for side in job.sides for level in side.levels)


def _prepare(plan: PassPlan, planes: Planes, window: Window, openings: RenderContext) -> PassJob:
    matte = openings.matte(plan.where) if plan.where else None
    sides = []
    for side, outside in ((plan.inside, False), (plan.outside, True)):
        if side.stages or side.rings:
            secret = openings.secret
            at = SpatialContext(matte, outside, window, openings.space, openings.stats, secret, anchor_of(plan))
            own = openings.own(plan, planes, at) if plan.parts(side) else None
            job = _stages(side, planes, at) if own is None else _stages(side, own, _trusted(at))
            sides.append(replace(_with_covers(job, plan, side, matte, openings), own=own))
    source = openings.source() if plan.of_source else None
    return PassJob(tuple(sides), matte, np.float32(plan.mix), source, plan.rows(window))


def _trusted(at: SpatialContext) -> SpatialContext:
    """Return a side whose own colours, once parted, count whole from a share of the pixel on."""
    assert at.weight is not None  # nothing is parted without a region
    counts = np.minimum(at.weight * TRUSTED, ONE)
    return replace(at, matte=ONE - counts if at.outside else counts)


def anchor_of(plan: PassPlan) -> Anchor:
    """Return where the frame of reference of a pass's region lies."""
    return plan.where.region.anchor if plan.where else UNMOVED


def _with_covers(job: SideJob, plan: PassPlan, side: SidePlan, matte: Matte | None, openings: RenderContext) -> SideJob:
    """Return a side with its rings as covers. A side laid in whole needs the side's weight on them."""
    if plan.where is None or matte is None or not side.rings:
        return job
    weight = (ONE - matte if job.outside else matte) if job.laid else ONE
    covers = tuple((openings.ring(plan.where, ring) * weight, np.array(ring.light, np.float32)) for ring in side.rings)
    return replace(job, covers=covers)


def _stages(side: SidePlan, planes: Planes, at: SpatialContext) -> SideJob:
    """Return a side whose stages are done as far as they must be done on the whole window."""
    job = SideJob(at.outside, guards=side.guards)
    for stage in side.stages:
        job = _next(job, stage, planes, at)
    return job


def _next(job: SideJob, stage: tuple[PointStep, ...] | SpatialPlan, planes: Planes, at: SpatialContext) -> SideJob:
    if not isinstance(stage, SpatialPlan):
        return replace(job, tail=stage)
    graded = stage.grade != "mix" and at.matte is not None
    current = planes if not (job.tail or job.levels) else _finished(job, planes, at, laid=job.laid or graded)
    if not graded:
        base = current if job.laid else None
        return replace(job, base=base, levels=(stage.run(current, at, 1.0),), graded=None, tail=())
    shares = _shares(stage.sigma / at.window.pixel)
    levels = tuple(stage.run(current, at, share) for share in shares)
    weight = _grade_weight(stage, at)
    return replace(job, base=current, levels=levels, graded=weight, shares=shares, laid=True, tail=())


def _shares(sigma_px: float) -> tuple[float, ...]:
    """Return the shares of a graded blur's radius at which it is made, rising to 1."""
    steps = max(ceil(log(max(sigma_px / LEAST_RADIUS_PX, 1.0), RADIUS_STEP)), 0)
    return tuple(RADIUS_STEP**-step for step in range(steps, -1, -1))


def _finished(job: SideJob, planes: Planes, at: SpatialContext, *, laid: bool) -> Planes:
    """Return a side's picture so far on the whole window, by the matte where it is laid in."""
    free = replace(job, guards=())
    return _run(planes, [PassJob((free,), at.matte if laid else None, ONE)])[0]


def _grade_weight(stage: SpatialPlan, at: SpatialContext) -> Matte:
    """Return the share of the radius that each pixel gets, shape (H, W)."""
    weight = at.weight
    assert weight is not None  # nothing is graded without a region
    if stage.grade != "distance":
        return weight
    levels = (np.arange(at.window.height) + at.window.top + 0.5) * at.window.pixel
    away = np.clip(np.abs(levels - stage.contact) / stage.span, 0, 1).astype(np.float32)
    return np.ascontiguousarray(weight * away[:, None])


def _run(planes: Planes, jobs: list[PassJob], *, over: bool = False) -> tuple[Planes, bool]:
    """Return the picture after some passes, and whether nobody else holds it; ``over``: it may be laid over the old."""
    whole = _whole(jobs[0])
    if whole is not None:
        planes, jobs, over = whole, jobs[1:], False
    if not jobs:
        return planes, False
    planes = np.ascontiguousarray(planes)
    program = Program()
    made: list[_Made] = []
    for job in jobs:
        first = len(program.sides)
        for side in job.sides:
            if side.levels:
                rows = Laid(planes, job, side) if side.laid else side.levels[-1]
                made.append(_Made(len(program.sides), rows, job.matte, side.outside))
            _add_side(program, job, side)
        program.passes.append((first, len(program.sides)))
    written, out = program.written(), planes if over else np.empty_like(planes)

    def work(first: int, last: int) -> None:
        places = {each.side: each.place(first, last, planes.shape[2]) for each in made}
        written.rows_into(planes, first, last, {side: place for side, (place, _) in places.items()}, out)

    for_rows(planes.shape[1], STRIP_ROWS, work)
    return out, True


def _whole(job: PassJob) -> Planes | None:
    """Return what stands in place of the whole picture after a pass, where that is there already."""
    if job.matte is not None or job.mix < 1 or len(job.sides) != 1:
        return None
    side = job.sides[0]
    if not side.levels or side.laid or side.tail or side.guards or side.covers:
        return None
    return side.levels[-1].planes if isinstance(side.levels[-1], Composited) else None


def _add_side(program: Program, job: PassJob, side: SideJob) -> None:
    """Write a side down."""
    steps, guards, covers = len(program.steps), len(program.guards), len(program.covers)
    for step in side.tail if not side.laid else ():
        settings = program.hold(step.settings)
        program.steps.append((code_of(step.into, POINT), settings.ctypes.data, settings.size))
    for guard in side.guards:
        settings = program.hold(guard.settings)
        before = program.hold(job.source) if guard.of_source else None
        program.guards.append((code_of(guard.into, GUARD), settings.ctypes.data, settings.size, *array_at(before)))
    for cover, light in side.covers:
        program.covers.append(array_at(program.hold(cover)))
        program.lights.append(light)
    matte = array_at(program.hold(job.matte))
    own = array_at(program.hold(side.own))
    ends = (steps, len(program.steps), guards, len(program.guards), covers, len(program.covers))
    rows = (0, EVERY_ROW) if side.outside or job.rows is None else job.rows
    program.sides.append([int(side.outside), *matte[:2], 0, 0, 0, *own, *ends, int(side.laid), *rows])
    program.mixes.append(float(job.mix))


@dataclass(frozen=True, eq=False)
class _Made:
    """What a side, by its number, is made from in place of what came in, where it acts."""

    side: int
    rows: Rows
    matte: Matte | None
    outside: bool

    def place(self, first: int, last: int, wide: int) -> tuple[tuple[int, int, int], Planes | None]:
        """Return where rows ``first`` to ``last`` of it lie, and the array itself, which is to live as long."""
        if isinstance(self.rows, Composited):
            return array_at(self.rows.planes), None
        start, end = (0, wide) if self.matte is None else map(int, extent(self.matte, first, last, self.outside))
        if end <= start:
            return (0, 0, 0), None
        # sides are made by sixteens of pixels
        start, end = start // 16 * 16, min(-(-end // 16) * 16, wide)
        made = np.empty((3, last - first, end - start), np.float32)
        self.rows.rows_into(first, last, start, made)
        return array_at(made, first, start), made
