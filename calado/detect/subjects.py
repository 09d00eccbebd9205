"""Subjects: people, as loose outlines and marks for a rough-in, and how sure that is.

The figure of each face, and patches of which a model says, for each of 256 × 256 places of the picture, that somebody
is there: a loose outline goes round each, and marks lie deep within.

References
----------
Bazarevsky2019b: the model, on squares of the whole picture.
"""

from dataclasses import dataclass

import cv2
import numpy as np
import scipy
from numpy.typing import NDArray

from calado.arrays import Codes
from calado.detect.faces import find_faces
from calado.detect.figures import SAME, find_figures, shared
from calado.detect.net import run
from calado.sheet.models import Stroke

SIDE = 256
LEAST_SHARE = 0.5
#: of the frame; smaller patches are no subjects
LEAST_AREA = 0.01
LEAST_CERTAINTY = 0.75
#: how far the outline goes round the patch, in picture heights, and how deep the marks lie, in shares of its depth
LOOSE, DEEP = 0.03, 0.5
#: the same of a figure, which is told more truly
NEAR = 0.02
#: marks lie where the patch is so deep, in picture heights; shorter lines, in pixels, are left out
LEAST_DEPTH, SHORT = 0.014, 5
#: how far within the rim its stroke lies, and how thick it is
RIM = 0.022
MOST_MARKS = 12


@dataclass(frozen=True)
class Subject:
    """A subject: a loose outline, shape (N, 2), and marks within it, in picture heights; its box; ``certainty`` 0…1."""

    outline: tuple[tuple[float, float], ...]
    marks: tuple[Stroke, ...]
    box: tuple[float, float, float, float]
    certainty: float


def find_subjects(codes: Codes) -> list[Subject]:
    """Return the subjects in a picture of 8-bit codes, shape (H, W, 3), the largest first.

    Raises
    ------
    ModelError
        when the model's file cannot be used.
    """
    small = np.asarray(cv2.resize(codes, (SIDE, SIDE), interpolation=cv2.INTER_AREA), np.float32) / np.float32(255)
    share = run("subject", small)[0].reshape(SIDE, SIDE)
    # evenly as many pixels across as down, so that distances are the picture's
    aspect = codes.shape[1] / codes.shape[0]
    wide = round(SIDE * aspect)
    share = np.asarray(cv2.resize(share, (wide, SIDE), interpolation=cv2.INTER_LINEAR), np.float32)
    figures = [each.share for each in find_figures(codes, find_faces(codes, small=False), (SIDE, wide))]
    bodies = [_largest(each > LEAST_SHARE) for each in figures]
    labels, count = scipy.ndimage.label(share > LEAST_SHARE)
    patches = (labels == k for k in range(1, count + 1))
    # what the face of somebody told better is not told again
    others = [each for each in patches if each.mean() > LEAST_AREA and all(shared(each, b) < SAME for b in bodies)]
    found = [subject_of(body, float(each[body].mean()), NEAR) for each, body in zip(figures, bodies, strict=True)]
    found += [subject_of(each, float(share[each].mean()), LOOSE) for each in others]
    sure = [each for each in found if each is not None and each.certainty > LEAST_CERTAINTY and not _all(each, aspect)]
    return sorted(sure, key=lambda each: -(each.box[2] * each.box[3]))


def _largest(there: NDArray[np.bool_]) -> NDArray[np.bool_]:
    labels, _ = scipy.ndimage.label(there)
    sizes = np.bincount(labels.ravel())[1:]
    return np.asarray(labels == int(sizes.argmax()) + 1) if len(sizes) else there


def _all(subject: Subject, aspect: float) -> bool:
    """Whether a patch reaches all four sides of the picture: it is the picture, and no subject in it."""
    left, top, width, height = subject.box
    rim = 1 / SIDE
    return left < rim and top < rim and left + width > aspect - rim and top + height > 1 - rim


def subject_of(patch: NDArray[np.bool_], certainty: float, loose: float) -> Subject | None:
    """Return a patch of the picture, shape (H, W), as a subject, its outline ``loose`` picture heights round it.

    None where it is too thin for marks.
    """
    high = patch.shape[0]
    filled = scipy.ndimage.binary_fill_holes(patch)
    padded = np.pad(filled, 1)
    depth = scipy.ndimage.distance_transform_edt(padded)[1:-1, 1:-1]
    away = scipy.ndimage.distance_transform_edt(~filled)
    outline = _outline(away <= loose * high, high)
    marks = _marks(depth, high)
    if outline is None or not marks:
        return None
    rows, columns = np.flatnonzero(filled.any(axis=1)), np.flatnonzero(filled.any(axis=0))
    box = (
        columns[0] / high,
        rows[0] / high,
        (columns[-1] + 1 - columns[0]) / high,
        (rows[-1] + 1 - rows[0]) / high,
    )
    return Subject(outline, marks, box, certainty)


def _outline(loose: NDArray[np.bool_], high: int) -> tuple[tuple[float, float], ...] | None:
    # beyond the frame the outline goes round it: what reaches the border goes on there
    padded = np.pad(loose, 2, mode="edge")
    padded[[0, -1]] = False
    padded[:, [0, -1]] = False
    lines, _ = cv2.findContours(padded.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    if not lines:
        return None
    line = cv2.approxPolyDP(max(lines, key=cv2.contourArea), 1.0, True)[:, 0]
    return tuple((round((x - 1.5) / high, 4), round((y - 1.5) / high, 4)) for x, y in line.tolist())


def _marks(depth: NDArray[np.float64], high: int) -> tuple[Stroke, ...]:
    """Return strokes along the middle lines of a patch, as thick as it is deep there."""
    core = (depth > LEAST_DEPTH * high).astype(np.uint8) * 255
    lines = cv2.ximgproc.thinning(core) > 0
    neighbours = cv2.filter2D(lines.astype(np.uint8), -1, np.ones((3, 3)), borderType=cv2.BORDER_CONSTANT) - 1
    branches, count = scipy.ndimage.label(lines & (neighbours < 3), np.ones((3, 3)))
    ways = [_in_order(np.argwhere(branches == k)) for k in range(1, count + 1)]
    marks = _rings(depth, high)
    for way in sorted((way for way in ways if len(way) > SHORT), key=len, reverse=True)[:MOST_MARKS]:
        size = 2 * DEEP * float(np.quantile(depth[tuple(way.T)], 0.2)) / high
        points = way[:: max(1, len(way) // 12)]
        numbers = [(round((x + 0.5) / high, 4), round((y + 0.5) / high, 4), 1.0) for y, x in points.tolist()]
        marks.append(Stroke(points=tuple(n for point in numbers for n in point), size=round(size, 4), hardness=1.0))
    return tuple(marks[:MOST_MARKS])


def _rings(depth: NDArray[np.float64], high: int) -> list[Stroke]:
    """Return strokes all along the rim, a little within it: what lies between them is the subject too."""
    lines, _ = cv2.findContours((depth > RIM * high).astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    rings = []
    for line in sorted(lines, key=len, reverse=True)[:3]:
        way = cv2.approxPolyDP(line, 0.8, True)[:, 0].tolist()
        if len(way) < 3:
            continue
        numbers = [n for x, y in (*way, way[0]) for n in (round((x + 0.5) / high, 4), round((y + 0.5) / high, 4), 1.0)]
        rings.append(Stroke(points=tuple(numbers[:6000]), size=RIM, hardness=1.0))
    return rings


def _in_order(pixels: NDArray[np.intp]) -> NDArray[np.intp]:
    """Return the pixels of a thin line from one end to the other: each next is the nearest that is left."""
    away = np.abs(pixels[:, None] - pixels[None]).max(axis=2)
    ends = np.flatnonzero((away <= 1).sum(axis=1) <= 2)
    order, left = [int(ends[0]) if len(ends) else 0], set(range(len(pixels)))
    left.discard(order[0])
    while left:
        following = min(left, key=lambda k: away[order[-1], k])
        if away[order[-1], following] > 2:
            break
        order.append(following)
        left.discard(following)
    return pixels[order]
