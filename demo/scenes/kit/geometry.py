"""Meshes built in NumPy: sheets, lathes, rounded boxes, tubes; written as binary PLY for the renderer."""

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

import numpy as np
from scipy.interpolate import PchipInterpolator

#: vertices (V, 3), triangles (F, 3), texture places (V, 2), normals (V, 3)
Mesh = tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]
Warp = Callable[[np.ndarray, np.ndarray, np.ndarray], np.ndarray]
TINY = 1e-20


def write_ply(name: str, mesh: Mesh) -> str:
    """Write a mesh; return the file's name."""
    vertices, faces, places, around = mesh
    fields = ["x", "y", "z", "nx", "ny", "nz", "u", "v"]
    rows = np.empty(len(vertices), dtype=[(each, "<f4") for each in fields])
    for field, column in zip(fields, [*vertices.T, *around.T, *places.T], strict=True):
        rows[field] = column
    corners = np.empty(len(faces), dtype=[("n", "u1"), ("i", "<i4", 3)])
    corners["n"], corners["i"] = 3, faces
    head = ["ply", "format binary_little_endian 1.0", f"element vertex {len(vertices)}"]
    head += [f"property float {each}" for each in fields]
    head += [f"element face {len(faces)}", "property list uchar int vertex_indices", "end_header", ""]
    Path(name).write_bytes("\n".join(head).encode() + rows.tobytes() + corners.tobytes())
    return name


def normals(vertices: np.ndarray, faces: np.ndarray) -> np.ndarray:
    """Return the normal at each vertex, averaged over its triangles by their area."""
    made = np.zeros_like(vertices)
    a, b, c = (vertices[faces[:, k]] for k in range(3))
    flat = np.cross(b - a, c - a)
    for corner in range(3):
        for axis in range(3):
            made[:, axis] += np.bincount(faces[:, corner], flat[:, axis], len(vertices))
    return unit(made)


def unit(vectors: np.ndarray) -> np.ndarray:
    """Return vectors of length 1."""
    return vectors / np.maximum(np.linalg.norm(vectors, axis=-1, keepdims=True), TINY)


def sheet(places: np.ndarray, closed: bool = False) -> Mesh:
    """Return the mesh of a grid of places, shape (rows, columns, 3).

    Where it closes on itself, the column of the seam stands twice, so that a texture goes round.
    """
    high, wide = places.shape[:2]
    vertices = places.reshape(-1, 3)
    row, column = np.mgrid[0 : high - 1, 0 : wide - 1]
    a = (row * wide + column).ravel()
    faces = np.concatenate([np.stack([a, a + 1, a + wide + 1], 1), np.stack([a, a + wide + 1, a + wide], 1)])
    u, v = np.meshgrid(np.linspace(0, 1, wide), np.linspace(0, 1, high))
    around = normals(vertices, faces).reshape(high, wide, 3)
    if closed:
        around[:, 0] = around[:, -1] = unit(around[:, 0] + around[:, -1])
    return vertices.astype("f4"), faces.astype("i4"), np.stack([u.ravel(), v.ravel()], 1), around.reshape(-1, 3)


def flip(mesh: Mesh) -> Mesh:
    """Return a mesh seen from its other side."""
    vertices, faces, places, around = mesh
    return vertices, faces[:, ::-1].copy(), places, -around


def card(width: float, height: float) -> Mesh:
    """Return an upright rectangle round the origin, facing +z."""
    x, y = np.meshgrid([-width / 2, width / 2], [height / 2, -height / 2])
    return sheet(np.stack([x, y, 0 * x], -1))


def smooth_curve(points: Any, count: int) -> np.ndarray:
    """Return places on a smooth curve through points, which never overshoots them."""
    given = np.asarray(points, float)
    steps = np.linalg.norm(np.diff(given, axis=0), axis=1) ** 0.6 + 1e-9
    at = np.r_[0, np.cumsum(steps)]
    wanted = np.linspace(0, at[-1], count)
    return np.stack([PchipInterpolator(at, column)(wanted) for column in given.T], 1)


def lathe(
    profile: Sequence[tuple[float, float]],
    around: int = 256,
    along: int = 300,
    smooth: bool = True,
    warp: Warp | None = None,
) -> Mesh:
    """Return a turned shape; ``profile`` holds (radius, y) from below, outside then inside.

    ``warp(angle, y, radius)`` returns another radius: folds, or a potter's wobble.
    """
    line = smooth_curve(profile, along) if smooth else np.asarray(profile, float)
    angle = np.linspace(0, 2 * np.pi, around)
    radius, y = np.repeat(line[:, :1], around, 1), np.repeat(line[:, 1:2], around, 1)
    angles = np.repeat(angle[None], len(line), 0)
    if warp is not None:
        radius = warp(angles, y, radius)
    return sheet(np.stack([radius * np.cos(angles), y, -radius * np.sin(angles)], -1), closed=True)


def box(wide: float, high: float, deep: float, rounded: float = 0.02, steps: int = 6) -> Mesh:
    """Return a box with rounded edges; textures run along each face's longer side, in units of the world."""
    half = np.array([wide, high, deep]) / 2
    rounded = min(rounded, half.min() * 0.98)
    sides = [_side(half, rounded, steps, axis, sign) for axis in range(3) for sign in (-1, 1)]
    start = np.cumsum([0, *(len(each[0]) for each in sides)])[:-1]
    faces = np.concatenate([each[1] + first for each, first in zip(sides, start, strict=True)])
    vertices, places, around = (np.concatenate([each[k] for each in sides]) for k in (0, 2, 3))
    return vertices, faces, places, around


def _side(half: np.ndarray, rounded: float, steps: int, axis: int, sign: int) -> Mesh:
    def ticks(reach: float) -> np.ndarray:
        edge = np.r_[-reach, -reach + rounded * (1 - np.cos(np.linspace(0, np.pi / 2, steps)))[1:]]
        return np.r_[edge, -edge[::-1]]

    first, second = (axis + 1) % 3, (axis + 2) % 3
    a, b = np.meshgrid(ticks(half[first]), ticks(half[second]), indexing="ij")
    places = np.zeros((*a.shape, 3))
    places[..., first], places[..., second], places[..., axis] = a, b, sign * half[axis]
    inner = np.clip(places, -(half - rounded), half - rounded)
    around = (places - inner) / np.maximum(np.linalg.norm(places - inner, axis=-1, keepdims=True), 1e-12)
    high, wide = a.shape
    row, column = np.mgrid[0 : high - 1, 0 : wide - 1]
    k = (row * wide + column).ravel()
    faces = np.concatenate([np.stack([k, k + wide, k + wide + 1], 1), np.stack([k, k + wide + 1, k + 1], 1)])
    texture = np.stack([a.ravel() + 3.1 * axis + 0.7 * sign, b.ravel() + 1.7 * axis], 1)
    if half[second] > half[first]:
        texture = texture[:, ::-1]
    return (
        (inner + around * rounded).reshape(-1, 3),
        faces[:, ::-1] if sign < 0 else faces,
        texture,
        around.reshape(-1, 3),
    )


def tube(way: Any, thick: Any, around: int = 24, count: int | None = None, ends: bool = True) -> Mesh:
    """Return a tube along places, of one radius or one each."""
    line = smooth_curve(way, count) if count else np.asarray(way, float)
    ahead = unit(np.gradient(line, axis=0))
    first = unit(np.cross(ahead, np.array([0.31, 0.2, 0.93])))
    second = np.cross(ahead, first)
    radius = np.broadcast_to(np.asarray(thick, float), (len(line),)).copy()
    if ends:
        line, first, second = (np.concatenate([each[:1], each, each[-1:]]) for each in (line, first, second))
        radius = np.r_[1e-4, radius, 1e-4]
    angle = np.linspace(0, 2 * np.pi, around)[None, :, None]
    ring = np.cos(angle) * first[:, None] + np.sin(angle) * second[:, None]
    return sheet(line[:, None] + radius[:, None, None] * ring, closed=True)
