"""Plots of growth as one SVG, from the figures of the part that measures it."""

from collections.abc import Iterator
from math import log2
from pathlib import Path

from benchmarks.figure import Figure, number

PLOT = (240, 170)


def plot(found: list[Figure], path: Path) -> None:
    """Draw the figures into an SVG: both axes by octaves, a thin line for what grows evenly."""
    wide, high = PLOT
    drawn: list[str] = []
    for place, kind in enumerate(dict.fromkeys(each.what.split(": ")[0] for each in found)):
        own = [(float(each.what.split(": ")[1]), each.value) for each in found if each.what.startswith(kind + ":")]
        drawn += _one(kind, own, place % 2 * wide, place // 2 * high)
    size = f'width="{2 * wide}" height="{2 * high}"'
    head = f'<svg xmlns="http://www.w3.org/2000/svg" {size} font-family="sans-serif" font-size="9">'
    path.write_text("\n".join([head, f'<rect {size} fill="#f6f3ec"/>', *drawn, "</svg>", ""]))


def _one(kind: str, own: list[tuple[float, float]], left: int, top: int) -> Iterator[str]:
    """Yield one plot's lines."""
    first, least_ms = own[0][0], min(ms for _, ms in own)
    # an octave has one height on both axes: what grows evenly rises at 45°
    at = lambda count, ms: (left + 40 + 36 * log2(count / first), top + 140 - 22 * log2(ms / least_ms))  # noqa: E731
    power = 2 if kind == "pixels across" else 1
    even = [at(count, own[0][1] * (count / first) ** power) for count, _ in own]
    yield f'<text x="{left + 12}" y="{top + 16}" font-weight="bold">{kind}, ms CPU</text>'
    yield f'<polyline points="{_path(even)}" fill="none" stroke="#b9b2a3" stroke-dasharray="3 3"/>'
    yield f'<polyline points="{_path([at(*each) for each in own])}" fill="none" stroke="#7a3b2e" stroke-width="1.5"/>'
    for count, ms in own:
        x, y = at(count, ms)
        yield f'<circle cx="{x:.0f}" cy="{y:.0f}" r="2.2" fill="#7a3b2e"/>'
        yield f'<text x="{x:.0f}" y="{y - 6:.0f}" text-anchor="middle">{number(ms)}</text>'
        yield f'<text x="{x:.0f}" y="{top + 158}" text-anchor="middle" fill="#777">{count:.0f}</text>'


def _path(places: list[tuple[float, float]]) -> str:
    return " ".join(f"{x:.1f},{y:.1f}" for x, y in places)
