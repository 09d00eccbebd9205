"""What a range is drawn over: how often each light, hue or strength of colour occurs, and what follows for it."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from calado.inspect.compare import look_window
from calado.region.kinds import PARTS
from calado.region.read.colours import GREY, MOST_CHROMA
from calado.region.read.planes import lch_of
from calado.region.resolved import ResolvedRegion
from calado.region.sampler import PictureSampler, reads_of
from calado.region.signal import signal_of
from calado.render.engine import Engine
from calado.render.source import Source
from calado.sheet.declare import Slope
from calado.sheet.models import Part
from calado.window import Window

BINS = 128
TOPS = {"signal": 1.0, "hue": 360.0, "chroma": MOST_CHROMA, "lightness": 1.0}
#: of the pixels; a picture with fewer coloured ones is as good as grey
COLOURED = 0.002
#: a slope over fewer of 256 levels bands (common practice, no source)
LEAST_LEVELS = 6
#: a signal that spans less is flat
FLAT = 2 / 255


@dataclass(frozen=True, eq=False)
class Distribution:
    """How often values of an axis occur in the picture and inside a region, shares of BINS bins, the fullest bin 1."""

    axis: str
    everywhere: NDArray[np.float64]
    inside: NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Ranged:
    """What is worth knowing of a range: distributions, sentences, the ids of slopes too steep, the matte at two places.

    ``brightest`` and ``darkest`` are (x, y, matte), places in picture heights.
    """

    distributions: tuple[Distribution, ...]
    notes: tuple[str, ...]
    steep: tuple[str, ...]
    brightest: tuple[float, float, float]
    darkest: tuple[float, float, float]


def ranged(engine: Engine, source: Source, where: ResolvedRegion, part: Part) -> Ranged:
    """Return what the wide control of a range shows."""
    kind = PARTS[part.kind]
    seen, window = engine.seen(source, where), look_window(source)
    denoise = float(kind.number(part.values, "denoise"))
    signal = seen.made("signal", reads_of(part.values), denoise, window, lambda p: signal_of(p, source.space))
    matte = engine.matte(source, where, window)
    axes = {"signal": signal, **_colours(seen, part, denoise, window)} if kind.slopes else {"signal": signal}
    made = tuple(_distribution(slope.axis, axes, matte) for slope in kind.slopes)
    steep = steep_slopes(part)
    notes = [*_of_picture(signal, axes, kind.slopes), *_of_slopes(steep)]
    return Ranged(made, tuple(notes), steep, _at(signal.argmax(), signal, matte), _at(signal.argmin(), signal, matte))


def _colours(seen: PictureSampler, part: Part, denoise: float, window: Window) -> dict[str, NDArray[np.float32]]:
    lch = seen.made("lch", reads_of(part.values), denoise, window, lambda p: lch_of(p, seen.space))
    return {"lightness": lch[0], "chroma": lch[1], "hue": lch[2]}


def _distribution(axis: str, axes: dict[str, NDArray[np.float32]], matte: NDArray[np.float32]) -> Distribution:
    values = axes[axis].ravel()
    # a hue counts by how much colour there is of it
    weight = np.clip(axes["chroma"].ravel() / GREY[1] - GREY[0], 0, 1) if axis == "hue" else np.ones(values.size)
    place = np.clip((values / TOPS[axis] * BINS).astype(int), 0, BINS - 1)

    def counted(weights: NDArray[np.float64]) -> NDArray[np.float64]:
        return np.bincount(place, weights, BINS).astype(np.float64)

    everywhere = counted(weight)
    # the ends hold all that is beyond them: they would dwarf what matters
    most = max(float(everywhere[1:-1].max()), float(everywhere.max()) / 4, 1e-9)
    return Distribution(axis, np.minimum(everywhere / most, 1), np.minimum(counted(weight * matte.ravel()) / most, 1))


def steep_slopes(part: Part) -> tuple[str, ...]:
    """Return the ids of the softnesses of a part that are so small that they band."""
    kind = PARTS[part.kind]
    found = []
    for slope in kind.slopes:
        if slope.axis == "hue" or (slope.on and part.values.get(slope.on, _neutral(part, slope.on)) != "on"):
            continue
        top = TOPS[slope.axis]
        low, high = kind.number(part.values, slope.low) > 0, kind.number(part.values, slope.high) < top
        for closed, soft in ((low, slope.soft_low), (high, slope.soft_high)):
            if closed and 0 < kind.number(part.values, soft) / top * 255 < LEAST_LEVELS:
                found.append(soft)
    return tuple(found)


def _neutral(part: Part, id: str) -> object:
    parameter = PARTS[part.kind].parameter(id)
    return parameter.neutral if parameter else None


def _of_slopes(steep: tuple[str, ...]) -> list[str]:
    if not steep:
        return []
    return [
        f"A slope over fewer than {LEAST_LEVELS} of 255 levels shows as bands: make it softer, or 0 for a clean cut."
    ]


def _of_picture(
    signal: NDArray[np.float32], axes: dict[str, NDArray[np.float32]], slopes: tuple[Slope, ...]
) -> list[str]:
    notes = []
    if float(signal.max() - signal.min()) < FLAT:
        notes.append("The picture is flat: all of it is equally light, so a range holds all or nothing.")
    coloured = float((axes["chroma"] > GREY[1]).mean()) if "chroma" in axes else 1.0
    if any(slope.axis == "hue" for slope in slopes) and coloured < COLOURED:
        notes.append("There is next to no colour in this picture: a hue finds nothing. Go by lightness instead.")
    return notes


def _at(index: np.intp, signal: NDArray[np.float32], matte: NDArray[np.float32]) -> tuple[float, float, float]:
    row, column = divmod(int(index), signal.shape[1])
    high = signal.shape[0]
    return (column + 0.5) / high, (row + 0.5) / high, float(matte[row, column])
