"""A pass, side by side, with all that was prepared for it on the whole window; and a graded blur's rows."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from calado.adjust.kind import Rows
from calado.adjust.side import GuardStep, PointStep
from calado.arrays import Matte, Planes
from calado.render.blend import blend_into, grade_into

ONE = np.float32(1)


@dataclass(frozen=True, eq=False)
class SideJob:
    """One side of a pass, ready for strips.

    The picture comes from ``levels`` when the last thing that looked around made one (several: graded), else from
    ``base``, else from the strip itself; then follow the ``tail`` and the guards. ``graded`` is the weight by which
    levels are laid, ``shares`` what each has of the whole radius, and ``laid`` says that the picture is laid in
    already, where the tail comes by the matte. ``covers`` are rings: how much of each pixel they cover, and their
    light. ``own`` is what the side began with, where that is not the picture as it came in.
    """

    outside: bool
    base: Planes | None = None
    levels: tuple[Rows, ...] = ()
    graded: Matte | None = None
    shares: tuple[float, ...] = ()
    laid: bool = False
    tail: tuple[PointStep, ...] = ()
    guards: tuple[GuardStep, ...] = ()
    covers: tuple[tuple[Matte, NDArray[np.float32]], ...] = ()
    own: Planes | None = None


@dataclass(frozen=True, eq=False)
class PassJob:
    """A pass with all that was prepared for it on the whole window.

    ``rows``, from the first to the last, not included, are those in which its inside can be anything.
    """

    sides: tuple[SideJob, ...]
    matte: Matte | None
    mix: np.float32
    source: Planes | None = None
    rows: tuple[int, int] | None = None


@dataclass(frozen=True, eq=False)
class Laid:
    """What a graded blur makes of a picture, as rows."""

    planes: Planes
    job: PassJob
    side: SideJob

    def rows_into(self, first: int, last: int, column: int, out: Planes) -> None:
        """Fill ``out``, shape (3, last − first, n), with the rows of the window from ``column`` on."""
        strip = np.ascontiguousarray(self.planes[:, first:last])
        out[:] = _laid_in(strip, self.job, self.side, first, column, column + out.shape[2])


def _steps_into(planes: Planes, steps: tuple[PointStep, ...]) -> None:
    for step in steps:
        step.run(planes)


def _laid_in(strip: Planes, job: PassJob, side: SideJob, first: int, start: int, end: int) -> Planes:
    """Return the strip's columns with a graded blur laid in, and what came after it by the matte."""
    rows, matte = strip.shape[1], job.matte
    assert matte is not None  # nothing is laid in without a region
    sharp = strip if side.base is None else np.ascontiguousarray(side.base[:, first : first + rows])
    laid = sharp.copy()
    level = np.empty((3, rows, end - start), np.float32)
    for number, blurred in enumerate(side.levels):
        blurred.rows_into(first, first + rows, start, level)
        if side.graded is not None:
            shares = np.array([0.0, *side.shares, 0.0], np.float32)[number : number + 3]
            grade_into(sharp, level, shares, side.graded, first, start, laid)
    if side.graded is None or side.tail:
        treated = level if side.graded is None else laid[:, :, start:end].copy()
        _steps_into(treated, side.tail)
        blend_into(laid.copy(), treated, matte, first, start, ONE, side.outside, laid)
    return np.ascontiguousarray(laid[:, :, start:end])
