"""Outlines to and from SVG paths.

Out: a region made only of outlines is written part by part, exactly, each path with ``data-join``; any other is traced
where its matte is a half. In: paths and basic shapes, with their transforms; each closed piece becomes a polygon or a
curve, laid into the frame whole. A piece within another is taken out of it, one within that is put in again.

References
----------
SVG2: https://www.w3.org/TR/SVG2/paths.html; the text is read by the svgelements library.
"""

import io
import itertools
import re
from collections.abc import Iterator
from math import cos, radians, sin

import numpy as np
import svgelements
from numpy.typing import NDArray

from calado.errors import SheetError
from calado.region.chords import flattened
from calado.region.contours import Contour
from calado.region.fit import fit_closed
from calado.region.kinds import PARTS
from calado.region.part import Points
from calado.region.refine.registry import acts
from calado.region.superellipse import quadrant
from calado.sheet.models import MAX_POINTS, Join, Part, Region

MAX_BYTES = 2 * 2**20
MAX_PARTS = 100
#: how far a traced path may leave the line, in picture heights
TRACE = 0.0006
_DIGITS = 5
#: attack: entities that grow, files elsewhere, copies of copies; scripts have no meaning here
_REFUSED = re.compile(
    r"<!\s*(DOCTYPE|ENTITY)|<\s*([\w-]+:)?(script|use|foreignObject|image)\b|xlink:href|\bhref\s*=", re.I
)
_EXACT = {"ellipse", "rectangle", "polygon", "curve"}

Path = NDArray[np.float64]


def is_exact(region: Region) -> bool:
    """Whether a region can be written part by part."""
    parts = [part for part in region.parts if part.on]
    plain = all(part.kind in _EXACT and not part.complement and part.opacity == 1 for part in parts)
    return bool(parts) and plain and not acts(region.refine) and not region.removed


def write_svg(region: Region, lines: list[Contour], size: tuple[int, int]) -> str:
    """Return an SVG document in full-size pixels; ``lines`` are the region's traced outlines, closed at the frame."""
    width, height = size
    if is_exact(region):
        parts = [part for part in region.parts if part.on]
        paths = [f'  <path data-join="{part.join}" d="{_part_path(part, height)}"/>' for part in parts]
    else:
        d = " ".join(_closed(fit_closed(tuple(map(tuple, line.points)), TRACE), height) for line in lines)
        paths = [f'  <path fill-rule="evenodd" d="{d}"/>'] if d else []
    head = f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}" height="{height}" viewBox="0 0 {width} {height}">'
    return "\n".join([head, *paths, "</svg>", ""])


def _part_path(part: Part, height: int) -> str:
    if part.points:
        return _closed(part.points, height)
    number = {n.id: PARTS[part.kind].number(part.values, n.id) for n in PARTS[part.kind].numbers}
    turn = radians(number["turn"])
    a, b = number["width"] / 2, number["height"] / 2

    def at(u: float, v: float) -> str:
        x = number["x"] + u * cos(turn) - v * sin(turn)
        y = number["y"] + u * sin(turn) + v * cos(turn)
        return f"{x * height:.3f} {y * height:.3f}"

    if part.kind == "rectangle":
        return _rectangle(a, b, number["corner"] * min(a, b), height, at)
    if number["roundness"] == 1:
        arc = f"A{a * height:.3f} {b * height:.3f} {number['turn']:.4f} 0 1"
        return f"M{at(a, 0)} {arc} {at(-a, 0)} {arc} {at(a, 0)}Z"
    quarter = quadrant(max(a, 1e-4), max(b, 1e-4), 2 / number["roundness"])[:, ::4].T
    signs = ((1, 1), (-1, 1), (-1, -1), (1, -1))
    corners = [at(s * u, t * v) for (s, t) in signs for (u, v) in (quarter if s * t > 0 else quarter[::-1])]
    return "M" + "L".join(corners) + "Z"


def _rectangle(a: float, b: float, r: float, height: int, at) -> str:  # type: ignore[no-untyped-def]
    if r == 0:
        return f"M{at(-a, -b)}L{at(a, -b)}L{at(a, b)}L{at(-a, b)}Z"
    arc = f"A{r * height:.3f} {r * height:.3f} 0 0 1"
    return (
        f"M{at(-a + r, -b)}L{at(a - r, -b)}{arc} {at(a, -b + r)}L{at(a, b - r)}{arc} {at(a - r, b)}"
        f"L{at(-a + r, b)}{arc} {at(-a, b - r)}L{at(-a, -b + r)}{arc} {at(-a + r, -b)}Z"
    )


def _closed(points: Points, height: int) -> str:
    """Return path data through a closed outline's points."""
    made = [f"M{points[0][0] * height:.3f} {points[0][1] * height:.3f}"]
    for point, following in itertools.pairwise([*points, points[0]]):
        x, y = following[0], following[1]
        out = point[4:6] if len(point) > 2 else (0.0, 0.0)
        into = following[2:4] if len(following) > 2 else (0.0, 0.0)
        if any(out) or any(into):
            handles = (point[0] + out[0], point[1] + out[1], x + into[0], y + into[1])
            made.append("C" + " ".join(f"{number * height:.3f}" for number in (*handles, x, y)))
        else:
            made.append(f"L{x * height:.3f} {y * height:.3f}")
    return "".join(made) + "Z"


def read_svg(text: str, aspect: float) -> list[tuple[Points, Join]]:
    """Return the outlines of an SVG document in picture heights, and how each joins those before it.

    A document of another shape than the frame is fitted into it, centred.

    Raises
    ------
    SheetError
        with a sentence on what is wrong.
    """
    shapes, frame = _shapes(text)
    scale, x, y = _laid(frame, aspect)
    found: list[tuple[Points, str]] = []
    for shape, said in shapes:
        for piece in _pieces(shape):
            points = tuple(_point(corner, scale, x, y) for corner in piece)
            if len(points) > MAX_POINTS:
                raise SheetError(f"One outline has more than {MAX_POINTS} points. Simplify it.", code="svg.points")
            if len(points) > 1:
                found.append((points, said))
    if not found:
        raise SheetError("This SVG file has no closed outline. Save paths, not text or pictures.", code="svg.empty")
    if len(found) > MAX_PARTS:
        raise SheetError(f"This SVG file has {len(found)} outlines; up to {MAX_PARTS} are taken.", code="svg.parts")
    return _joined(found)


def _shapes(text: str) -> tuple[list[tuple[svgelements.Path, str]], tuple[float, float, float, float]]:
    """Return the shapes with what each says of its joining, and the document's frame."""
    if len(text.encode()) > MAX_BYTES:
        raise SheetError(f"An SVG file may have up to {MAX_BYTES // 2**20} MB. Simplify it.", code="svg.large")
    found = _REFUSED.search(text)
    if found:
        word = found.group(0).strip("<! ").lower()
        raise SheetError(f"This SVG file has “{word}” in it, which is not read. Save plain paths.", code="svg.refused")
    try:
        document = svgelements.SVG.parse(io.StringIO(_sized(text)), reify=True)
        shapes = [
            (abs(svgelements.Path(shape)), str(shape.values.get("data-join", "")))
            for shape in document.elements()
            if isinstance(shape, svgelements.Shape)
        ]
        sides = (0.0, 0.0, float(document.width or 0), float(document.height or 0))
    except Exception as error:
        raise SheetError("This is not an SVG file that can be read.", code="svg.damaged") from error
    if sides[2] <= 0 or sides[3] <= 0:
        raise SheetError("This SVG file does not say how large it is. Give it a width and a height.", code="svg.size")
    return shapes, sides


def _sized(text: str) -> str:
    """Return the document as large as its own measure: its size in millimetres or per cent says nothing here."""
    root = re.search(r"<svg\b[^>]*>", text)
    box = root and re.search(r"\bviewBox\s*=\s*[\"']([^\"']*)", root.group(0))
    if not root or not box:
        return text
    sides = [float(side) for side in re.split(r"[\s,]+", box.group(1).strip())]
    tag = re.sub(r"\s(width|height)\s*=\s*(\"[^\"]*\"|'[^']*')", "", root.group(0))
    tag = tag.replace("<svg", f'<svg width="{sides[2]}" height="{sides[3]}"', 1)
    return text[: root.start()] + tag + text[root.end() :]


def _laid(frame: tuple[float, float, float, float], aspect: float) -> tuple[float, float, float]:
    """Return the scale and the corner that lay a document's frame into the picture's."""
    left, top, width, height = frame
    scale = min(aspect / width, 1 / height)
    return scale, (aspect - width * scale) / 2 - left * scale, (1 - height * scale) / 2 - top * scale


def _pieces(path: svgelements.Path) -> Iterator[list[list[complex]]]:
    """Return each piece of a path as corners (point, handle in, handle out) in the document's own measure."""
    path.approximate_arcs_with_cubics()
    for sub in path.as_subpaths():
        corners: list[list[complex]] = []
        for segment in sub:
            if isinstance(segment, svgelements.Move):
                corners = [[complex(segment.end)] * 3]
            elif isinstance(segment, svgelements.Close):
                continue
            else:
                out, into = _handles(segment)
                corners[-1][2] = out
                corners.append([complex(segment.end), into, complex(segment.end)])
        if len(corners) > 1 and abs(corners[0][0] - corners[-1][0]) < 1e-9:
            corners[0][1] = corners.pop()[1]
        yield corners


def _handles(segment: svgelements.PathSegment) -> tuple[complex, complex]:
    """Return the two handles of a segment; a quadratic one is raised to a cubic."""
    start, end = complex(segment.start), complex(segment.end)
    if isinstance(segment, svgelements.CubicBezier):
        return complex(segment.control1), complex(segment.control2)
    if isinstance(segment, svgelements.QuadraticBezier):
        middle = complex(segment.control)
        return start + (middle - start) * 2 / 3, end + (middle - end) * 2 / 3
    return start, end


def _point(corner: list[complex], scale: float, x: float, y: float) -> tuple[float, ...]:
    at, into, out = corner
    place = (round(at.real * scale + x, _DIGITS), round(at.imag * scale + y, _DIGITS))
    if into == at and out == at:
        return place
    ways = (into - at, out - at)
    return (*place, *(round(part * scale, _DIGITS) for way in ways for part in (way.real, way.imag)))


def _joined(found: list[tuple[Points, str]]) -> list[tuple[Points, Join]]:
    """Return the outlines with how they join: as the file says, or by how deep one lies within the others."""
    said = [join for _, join in found]
    if all(join in ("add", "subtract", "intersect") for join in said):
        return [(points, join) for points, join in found]  # type: ignore[misc]
    ways = [flattened(points, 1e-3) for points, _ in found]
    deep = [sum(_lies_within(way, other) for other in ways if other is not way) for way in ways]
    order = sorted(range(len(found)), key=lambda k: deep[k])
    return [(found[k][0], "subtract" if deep[k] % 2 else "add") for k in order]


def _lies_within(way: Path, other: Path) -> bool:
    """Whether an outline lies within another; a side that both share decides nothing."""
    places = np.concatenate([way, (way + np.roll(way, -1, axis=0)) / 2])
    return sum(_holds(other, place) for place in places) > len(places) / 2


def _holds(way: Path, point: NDArray[np.float64]) -> bool:
    """Whether a polygon holds a point, by the even-odd rule."""
    a, b = way, np.roll(way, -1, axis=0)
    crosses = (a[:, 1] <= point[1]) != (b[:, 1] <= point[1])
    with np.errstate(divide="ignore", invalid="ignore"):
        x = a[:, 0] + (point[1] - a[:, 1]) / (b[:, 1] - a[:, 1]) * (b[:, 0] - a[:, 0])
    return bool(np.count_nonzero(crosses & (x > point[0])) % 2)
