"""The speed of regions read from the picture: slopes that are dragged, dabs, many strokes, a rough-in's first answer.

The 24-megapixel source is the still four times over in each direction; a screen shows 1280 × 853 pixels of it.
"""

import itertools

import cv2
import numpy as np

from benchmarks.clock import Time, least
from benchmarks.core import ROUNDS, Row, still
from benchmarks.figure import Figure
from calado.region.context import PartContext
from calado.region.kinds import PARTS
from calado.region.resolved import alone
from calado.region.solve.rough import rough_solving
from calado.render.engine import Engine
from calado.render.source import Source, source_of
from calado.sheet.models import Part, Region, Sample, Stroke

SCREEN = 1280 / 6400


def _large() -> Source:
    level = still().levels[0]
    return source_of(np.ascontiguousarray(np.kron(level, np.ones((1, 4, 4), level.dtype))), still().space, "large")


def _where(part: Part):  # type: ignore[no-untyped-def]
    return alone(Region(id="r", name="r", parts=(part,)))


def _stroke(k: int) -> Stroke:
    y = 0.1 + 0.8 * ((k * 0.618) % 1)
    way = [n for j in range(12) for n in (0.2 + 0.08 * j + 0.01 * (k % 7), y + 0.01 * np.sin(j + k), 1.0)]
    return Stroke(points=tuple(way), size=0.05, hardness=0.6)


def _slope(engine: Engine, source: Source, kind: str, scale: float) -> Time:
    samples = (Sample(x=0.5, y=0.5, lightness=0.6, a=0.05, b=0.1),) if kind == "sampled" else ()
    name = {"luminance": "low", "colours": "hue", "sampled": "tolerance"}[kind]
    number = PARTS[kind].parameter(name)

    def moved(k: int) -> None:
        value = number.low + (0.3 + 0.01 * k) * (number.high - number.low)  # type: ignore[union-attr]
        part = Part(id="p", kind=kind, values={name: value}, samples=samples)
        engine.matte(source, _where(part), source.full(scale))

    return least(moved, range(ROUNDS))


def _plain_slope(source: Source) -> Time:
    codes = np.ascontiguousarray(np.moveaxis(source.levels[0], 0, -1))

    def work(k: int) -> None:
        grey = cv2.cvtColor(codes, cv2.COLOR_RGB2GRAY).astype(np.float32) / 255
        t = np.clip((grey - 0.3 - 0.01 * k) / 0.15, 0, 1)
        t * t * (3 - 2 * t)

    return least(work, range(6))


def brush(engine: Engine, source: Source, before: int, scale: float) -> Time:
    """Return the time of a stroke more, each time, after so many before it."""
    strokes = tuple(_stroke(k) for k in range(before))
    numbers = itertools.count(before)

    def dab(_: object) -> None:
        nonlocal strokes
        strokes = (*strokes, _stroke(next(numbers)))
        engine.matte(source, _where(Part(id="p", kind="brush", strokes=strokes)), source.full(scale))

    return least(dab, range(ROUNDS))


def _anew(source: Source, count: int, scale: float) -> Time:
    part = Part(id="p", kind="brush", strokes=tuple(_stroke(k) for k in range(count)))
    return least(lambda _: Engine().matte(source, _where(part), source.full(scale)), range(4), warm=1)


def _plain_strokes(source: Source, count: int, scale: float) -> Time:
    """Measure soft discs stamped one by one, a tenth of a brush apart."""
    window = source.full(scale)
    radius = 0.025 / window.pixel
    side = int(radius) + 2
    y, x = np.mgrid[-side : side + 1, -side : side + 1]
    disc = np.clip((radius - np.hypot(x, y)) / (0.4 * radius), 0, 1).astype(np.float32)

    def work(_: object) -> None:
        matte = np.zeros((window.height + 2 * side, window.width + 2 * side), np.float32)
        for k in range(count):
            way = np.asarray(_stroke(k).points).reshape(-1, 3)[:, :2] / window.pixel
            for t in np.linspace(0, len(way) - 1, int(0.9 / 0.005)):
                j = min(int(t), len(way) - 2)
                px, py = way[j] + (t - j) * (way[j + 1] - way[j])
                i, n = int(np.clip(py, 0, window.height - 1)), int(np.clip(px, 0, window.width - 1))
                place = matte[i : i + 2 * side + 1, n : n + 2 * side + 1]
                np.maximum(place, disc, out=place)

    return least(work, range(3), warm=1)


def _rough(source: Source, *, fine: bool) -> Time:
    def work(k: int) -> None:
        marks = (
            Stroke(points=(0.55, 0.3 + 0.001 * k, 1.0, 0.55, 0.6, 1.0), size=0.08),
            Stroke(points=(0.1, 0.1, 1.0, 0.1, 0.9, 1.0, 1.4, 0.9, 1.0), size=0.05, does="erase"),
        )
        engine = Engine()
        seen = engine.seen(source, _where(Part(id="p", kind="rough", strokes=marks)))
        solving = rough_solving(Part(id="p", kind="rough", strokes=marks), source.full(), PartContext(seen=seen))
        if fine:
            solving.fine(lambda: None)
        else:
            solving.coarse()

    return least(work, range(4 if not fine else 2), warm=1)


def rows() -> list[Row]:
    """Return the table of regions read from the picture."""
    small, large, engine = still(), _large(), Engine()
    plain = _plain_slope(small)
    return [
        Row("luminance slope moves, 1600 × 1067", _slope(engine, small, "luminance", 1.0), plain),
        Row("hue slope moves", _slope(engine, small, "colours", 1.0)),
        Row("tolerance of a sampled colour moves", _slope(engine, small, "sampled", 1.0)),
        Row("luminance slope moves, 24 megapixels on a screen", _slope(engine, large, "luminance", SCREEN)),
        Row("a stroke more after 50, on the same screen", brush(engine, large, 50, SCREEN)),
        Row("a stroke more after 5000", brush(engine, large, 5000, SCREEN)),
        Row("1000 strokes anew", _anew(large, 1000, SCREEN), _plain_strokes(large, 1000, SCREEN)),
        Row("rough-in on 24 megapixels, first answer", _rough(large, fine=False)),
        Row("rough-in, fine", _rough(large, fine=True)),
    ]


def figures() -> list[Figure]:
    """Return the rows as figures."""
    return [row.figure for row in rows()]
