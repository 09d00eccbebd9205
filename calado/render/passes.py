"""Running passes over a window: point work strip by strip while it is in cache, softenings on the whole window.

A *run* is one pass with a softening, or none, followed by passes of point work only; a strip goes through a whole
run at once.

Blur graded by radius (our choice): the side's earlier adjustments are laid in by the matte first; then the picture
is blurred
with a radius that grows with the side's weight; later adjustments follow, again by the matte; mix fades the whole.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from calado.adjust.kind import RingPlan
from calado.arrays import Matte, Planes
from calado.region.where import Where
from calado.render.blend import blend_into, cover_into, extent, fade_into, grade_into
from calado.render.gaussian import LEAST_SIGMA_PX, Blurred, blur
from calado.render.plan import PassPlan, PointStep, SidePlan
from calado.strips import each_strip
from calado.window import Window

STRIP_ROWS = 32
RADIUS_LEVELS = 4


@dataclass(frozen=True, eq=False)
class Openings:
    """What passes ask for on their window: a region's matte, and how much of each pixel a ring covers."""

    matte: Callable[[Where], Matte]
    ring: Callable[[Where, RingPlan], Matte]


@dataclass(frozen=True, eq=False)
class SideJob:
    """One side of a pass with the mattes and blurred pictures it needs; ``levels`` is empty without a softening.

    ``covers`` are rings: how much of each pixel they cover, and their light.
    """

    plan: SidePlan
    outside: bool
    levels: tuple[Blurred, ...] = ()
    covers: tuple[tuple[Matte, NDArray[np.float32]], ...] = ()


@dataclass(frozen=True, eq=False)
class PassJob:
    """A pass with all that was prepared for it on the whole window."""

    sides: tuple[SideJob, ...]
    matte: Matte | None
    mix: np.float32


def split_runs(plans: tuple[PassPlan, ...]) -> list[list[PassPlan]]:
    """Return the passes in runs: a pass with a softening begins a new one."""
    runs: list[list[PassPlan]] = []
    for plan in plans:
        if not runs or plan.softenings:
            runs.append([])
        runs[-1].append(plan)
    return runs


def run_passes(planes: Planes, plans: tuple[PassPlan, ...], window: Window, openings: Openings) -> Planes:
    """Return the picture, shape (3, H, W), after all passes; the input is not changed."""
    for run in split_runs(plans):
        jobs = [_prepare(plan, planes, window, openings) for plan in run]
        planes = _run(planes, jobs)
    return planes


def _prepare(plan: PassPlan, planes: Planes, window: Window, openings: Openings) -> PassJob:
    matte = openings.matte(plan.where) if plan.where else None
    sides = []
    for side, outside in ((plan.inside, False), (plan.outside, True)):
        if side.acts:
            levels = _soften(side, outside, planes, matte, window)
            sides.append(SideJob(side, outside, levels, _covers(plan, side, outside, matte, len(levels) > 1, openings)))
    return PassJob(tuple(sides), matte, np.float32(plan.mix))


def _covers(
    plan: PassPlan, side: SidePlan, outside: bool, matte: Matte | None, graded: bool, openings: Openings
) -> tuple[tuple[Matte, NDArray[np.float32]], ...]:
    """Return a side's rings as covers. A graded side is laid in whole, so there they bring the side's weight along."""
    if plan.where is None or matte is None:
        return ()
    weight = (np.float32(1) - matte if outside else matte) if graded else np.float32(1)
    return tuple((openings.ring(plan.where, ring) * weight, np.array(ring.light, np.float32)) for ring in side.rings)


def _soften(side: SidePlan, outside: bool, planes: Planes, matte: Matte | None, window: Window) -> tuple[Blurred, ...]:
    """Return the side's picture after its earlier adjustments, blurred once, or at a few radii."""
    if side.soft is None:
        return ()
    sigma_px = side.soft.sigma / window.pixel
    if sigma_px < LEAST_SIGMA_PX:
        return ()
    graded = side.soft.by_radius and matte is not None
    if side.before:
        early = PassJob((SideJob(SidePlan(side.before), outside),), matte if graded else None, np.float32(1))
        planes = _run(planes, [early])
    steps = range(1, RADIUS_LEVELS + 1) if graded else (RADIUS_LEVELS,)
    sigmas = tuple(sigma_px * step / RADIUS_LEVELS for step in steps)
    return blur(planes, matte, window, sigmas, outside=outside)


def _run(planes: Planes, jobs: list[PassJob]) -> Planes:
    out = np.empty_like(planes)

    def work(first: int, last: int) -> None:
        strip = np.ascontiguousarray(planes[:, first:last])
        for job in jobs:
            strip = _pass_strip(strip, job, first)
        out[:, first:last] = strip

    each_strip(planes.shape[1], STRIP_ROWS, work)
    return out


def _pass_strip(strip: Planes, job: PassJob, first: int) -> Planes:
    """Return a strip, shape (3, rows, W), after one pass."""
    out = strip
    for side in job.sides:
        start, end = _columns(job.matte, first, first + strip.shape[1], side.outside, strip.shape[2])
        if end <= start:
            continue
        if out is strip:
            out = strip.copy()
        if len(side.levels) > 1:
            treated = _graded(strip, job, side, first, start, end)
            _ring_into(treated, side, first, start)
            fade_into(strip, treated, job.mix, start, out)
            continue
        treated = _treated(strip, side, first, start, end)
        if job.matte is None:
            fade_into(strip, treated, job.mix, start, out)
        else:
            blend_into(strip, treated, job.matte, first, start, job.mix, side.outside, out)
    return out


def _columns(matte: Matte | None, first: int, last: int, outside: bool, width: int) -> tuple[int, int]:
    if matte is None:
        return (0, width)
    start, end = extent(matte, first, last, outside)
    return int(start), int(end)


def _steps_into(planes: Planes, steps: tuple[PointStep, ...]) -> None:
    for step in steps:
        step.adjustment.into(planes, step.settings)


def _treated(strip: Planes, side: SideJob, first: int, start: int, end: int) -> Planes:
    """Return T(in) for the columns ``start`` to ``end`` of a strip."""
    rows = strip.shape[1]
    if side.levels:
        treated = np.empty((3, rows, end - start), np.float32)
        side.levels[0].rows_into(first, first + rows, start, treated)
    else:
        treated = strip[:, :, start:end].copy()
        _steps_into(treated, side.plan.before)
    _steps_into(treated, side.plan.after)
    _ring_into(treated, side, first, start)
    return treated


def _ring_into(treated: Planes, side: SideJob, first: int, start: int) -> None:
    for cover, light in side.covers:
        cover_into(treated, cover, light, first, start)


def _graded(strip: Planes, job: PassJob, side: SideJob, first: int, start: int, end: int) -> Planes:
    """Return the strip's columns blurred by a radius that grows with the side's weight."""
    rows, matte = strip.shape[1], job.matte
    assert matte is not None  # a grade by radius without a region has one level only
    sharp = strip
    if side.plan.before:
        early = PassJob((SideJob(SidePlan(side.plan.before), side.outside),), matte, np.float32(1))
        sharp = _pass_strip(strip, early, first)
    graded = sharp.copy()
    level = np.empty((3, rows, end - start), np.float32)
    for number, blurred in enumerate(side.levels, start=1):
        blurred.rows_into(first, first + rows, start, level)
        grade_into(sharp, level, number, len(side.levels), matte, first, start, side.outside, graded)
    if side.plan.after:
        late = PassJob((SideJob(SidePlan(side.plan.after), side.outside),), matte, np.float32(1))
        graded = _pass_strip(graded, late, first)
    return np.ascontiguousarray(graded[:, :, start:end])
