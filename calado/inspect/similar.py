"""Further places like a region: other burnt spots, reflections, things of the same colour.

A place is like the region where its colour, calmed a little, is within a tolerance of the colours that are inside: of a
bright region its bright half, since a light's rim is not what makes it one. The darker a reflection, the more its
lightness is forgiven.
"""

from dataclasses import dataclass

import cv2
import numpy as np
import scipy
from numpy.typing import NDArray

from calado.inspect.compare import look_window
from calado.region.read.planes import lab_of
from calado.region.resolved import ResolvedRegion
from calado.region.signal import signal_of
from calado.render.engine import Engine
from calado.render.source import Source

SIDE = 800
#: ΔE within which a place is like the region, besides the region's own spread; lightness counts so much of it
TOLERANCE, LIGHTNESS = 7.0, 0.6
#: from this signal a region is a light, and so are places like it
BRIGHT = 0.8
DENOISE = 0.002
LEAST_AREA = 0.00012
MOST = 8


@dataclass(frozen=True)
class Place:
    """A place like the region: its outline, shape (N, 2), its box (left, top, width, height), in picture heights.

    ``area`` is its share of the frame, ``away`` its ΔE from the region.
    """

    outline: tuple[tuple[float, float], ...]
    box: tuple[float, float, float, float]
    area: float
    away: float


def further_places(engine: Engine, source: Source, where: ResolvedRegion) -> list[Place]:
    """Return the places outside of a region that are like it, the likest and largest first."""
    window = look_window(source, SIDE)
    matte = engine.matte(source, where, window)
    seen = engine.seen(source, where)
    inside = matte > 0.5
    if not inside.any():
        return []
    planes = seen.planes("source", DENOISE, window)
    lab, signal = lab_of(planes, source.space), signal_of(planes, source.space)
    core = inside & (signal >= np.quantile(signal[inside], 0.5))
    light = float(np.median(signal[core])) > BRIGHT
    weigh = np.array([LIGHTNESS, 1.0, 1.0], np.float32)[:, None]
    colours = lab[:, core] * weigh
    middle = np.median(colours, axis=1)
    spread = float(np.median(np.hypot.reduce(colours - middle[:, None], axis=0)) * 100)
    away = 100 * np.sqrt((((lab.reshape(3, -1) * weigh) - middle[:, None]) ** 2).sum(axis=0)).reshape(matte.shape)
    alike = (away < TOLERANCE + 2 * spread) & (matte < 0.2)
    if light:
        alike &= signal > min(BRIGHT, float(np.median(signal[core])) * 0.85)
    return _places(alike, away)


def _places(alike: NDArray[np.bool_], away: NDArray[np.float32]) -> list[Place]:
    high = alike.shape[0]
    # glints of one reflection lie close together: they are one place
    joined = scipy.ndimage.binary_closing(np.pad(alike, 8), iterations=3)[8:-8, 8:-8]
    labels, count = scipy.ndimage.label(joined, np.ones((3, 3)))
    areas = scipy.ndimage.sum_labels(alike, labels, np.arange(1, count + 1)) / alike.size
    found = []
    for k in np.argsort(-areas)[: 2 * MOST]:
        if areas[k] < LEAST_AREA:
            break
        patch = labels == k + 1
        found.append(_place(patch, float(areas[k]), float(away[patch & alike].mean()), high))
    return sorted(found, key=lambda each: -each.area / (1 + each.away))[:MOST]


def _place(patch: NDArray[np.bool_], area: float, away: float, high: int) -> Place:
    grown = np.pad(scipy.ndimage.binary_dilation(np.pad(patch, 2), iterations=2), 1).astype(np.uint8)
    lines, _ = cv2.findContours(grown, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    line = max(lines, key=cv2.contourArea)[:, 0] - 2.5
    rows, columns = np.flatnonzero(patch.any(axis=1)), np.flatnonzero(patch.any(axis=0))
    box = (columns[0] / high, rows[0] / high, (np.ptp(columns) + 1) / high, (np.ptp(rows) + 1) / high)
    outline = tuple((round(float(x) / high, 4), round(float(y) / high, 4)) for x, y in line)
    return Place(outline, tuple(round(float(each), 4) for each in box), area, away)  # type: ignore[arg-type]
