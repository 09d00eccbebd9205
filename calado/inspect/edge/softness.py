"""How soft a picture's own edge is along a region's outline, and how far a region should grow beside a blur.

Across a soft edge the light rises as the integral of a Gaussian; its steepest slope is c / (σ√2π), with c the contrast.
σ is the median over the places where the contrast is clear. Beside a blur that is solved without the subject, what the
subject's soft edge leaves outside of the region is light that the blur spreads: beyond 2 σ it is 2.3 %. Growing further
trades it for a ring of the old surround that stays sharp; a solved edge needs none, as its colours are parted.

References
----------
The share of a Gaussian beyond 2 σ is a standard table value. That two are best is measured on composites of which
everything is known, in this project's notes on quality.
"""

from dataclasses import dataclass
from math import pi, sqrt

import numpy as np

from calado.inspect.edge.sampling import read_evenly, unrolled
from calado.region.resolved import ResolvedRegion
from calado.region.signal import signal_of
from calado.region.tracing import outlines
from calado.render.engine import Engine
from calado.render.source import Source
from calado.window import full_window

PLACES = 400
#: how far across the edge is looked, in pixels, and where a side's own light is taken
ACROSS, SIDE = 12.0, 4.0
#: least contrast of an edge that can be measured, of the encoded signal
CLEAR = 0.08
#: at most so many pixels of height are looked at
HEIGHT = 2200
LEAST_PLACES = 8
GROWN_SIGMAS = 2.0
#: a pixel's own width, as a standard deviation (a box of one pixel read linearly)
PIXEL_SIGMA = sqrt(1 / 6)


@dataclass(frozen=True)
class Softness:
    """``sigma`` in picture heights, or None where the edge has too little contrast; at how many places it was seen."""

    sigma: float | None
    places: int
    #: whether the region's edge was solved: its colours are parted, and no growing is wanted
    solved: bool = False

    @property
    def grow(self) -> float:
        """How far a region beside a blur should grow, in picture heights."""
        return 0.0 if self.solved else GROWN_SIGMAS * (self.sigma or 0.0)


def edge_softness(engine: Engine, source: Source, where: ResolvedRegion) -> Softness:
    """Return the softness of the untouched picture's edge along a region's outline."""
    lines = outlines(engine.mattes(source), where, source.full())
    total = sum(line.length for line in lines)
    if total == 0:
        return Softness(None, 0)
    window = full_window(source.width, source.height, min(1.0, HEIGHT / source.height))
    signal = signal_of(engine.source(source, window), source.space)
    offsets = np.arange(-ACROSS, ACROSS + 0.25, 0.5)
    sigmas: list[float] = []
    for line in lines:
        count = round(PLACES * line.length / total)
        if count == 0:
            continue
        points, normals = unrolled(line, (np.arange(count) + 0.5) / count, 3 * window.pixel)
        at = points[:, None] / window.pixel + offsets[None, :, None] * normals[:, None]
        within = (at > 0).all(axis=(1, 2)) & (at[..., 0] < window.width).all(1) & (at[..., 1] < window.height).all(1)
        sigmas += [
            sigma for profile in read_evenly(signal, at[within]) if (sigma := _sigma(profile, offsets)) is not None
        ]
    if len(sigmas) < LEAST_PLACES:
        return Softness(None, len(sigmas))
    return Softness(float(np.median(sigmas)) * window.pixel, len(sigmas), where.solved)


def _sigma(profile: np.ndarray, offsets: np.ndarray) -> float | None:
    """Return the softness of one profile in pixels, without the pixel's own width, or None."""
    contrast = abs(profile[offsets <= -ACROSS + SIDE].mean() - profile[offsets >= ACROSS - SIDE].mean())
    if contrast < CLEAR:
        return None
    slope = np.abs(profile[2:] - profile[:-2]).max()  # over one pixel
    return sqrt(max((contrast / (slope * sqrt(2 * pi))) ** 2 - PIXEL_SIGMA**2, 0.0))
