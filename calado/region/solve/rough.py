"""Rough-in: a loose outline, or short strokes on a subject and on its surround, give the subject's matte.

All beyond a loose outline is surround. Solved once at a size of its own, and laid from there into windows of any size;
so every rendering agrees. What is found shows at once, its alpha when it is solved.
"""

import hashlib
import json
from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte, Planes
from calado.region.affine import Affine
from calado.region.brush.brush import mapped_stroke
from calado.region.brush.strokes import coverage
from calado.region.context import ALONE, PartContext
from calado.region.parameters import FAR
from calado.region.part import PartKind, Points
from calado.region.sampler import PictureSampler, clipped, continued
from calado.region.solve.corrected import corrected
from calado.region.solve.cut import INSIDE, OUTSIDE, UNKNOWN, Seeds
from calado.region.solve.found import Answers, Found, cut_window, in_window, seen_box
from calado.region.solve.solved import Stop
from calado.region.solve.subject import Cut, fine_subject
from calado.region.solve.upsample import KeptLines, laid, laid_by_lines
from calado.sheet.declare import Number, Unit
from calado.sheet.models import Part, Stroke
from calado.window import Window, full_window

#: the longer side, in pixels, of the copy on which alpha is solved
ALPHA_SIDE = 1000
#: names a matte that was carried to a frame, in a sheet as it stands there; what is kept has none
BASE = "base"
#: changes whenever the way of solving does, so that nothing solved before is taken for it
WAY = 6
ANSWERS = Answers()


def solving_window(window: Window, side: int) -> Window:
    """Return the window of the whole frame, its longer side about ``side`` pixels."""
    longer = max(window.picture_width, window.picture_height)
    return full_window(window.picture_width, window.picture_height, min(1.0, side / longer))


def encoded_of(planes: Planes, seen: PictureSampler) -> NDArray[np.float32]:
    """Return encoded planes, shape (3, H, W), within 0…1."""
    return np.asarray(seen.space.transfer.encode(np.clip(planes, 0, 1)), np.float32)


def encoded(seen: PictureSampler, window: Window) -> NDArray[np.float32]:
    """Return the source as solvers read it, shape (3, H, W); a window may reach beyond the frame."""
    return seen.made("encoded", "source", 0.0, window, lambda planes: encoded_of(planes, seen))


def seeds_of(points: Points, strokes: tuple[Stroke, ...], window: Window) -> Seeds:
    """Return what is marked in a window, shape (H, W): beyond a loose outline, and under strokes, the last on top."""
    seeds = np.full((window.height, window.width), UNKNOWN, np.int8)
    if len(points) > 2:
        corner = np.array([window.left, window.top])
        outline = np.array([point[:2] for point in points]) / window.pixel - corner - 0.5
        within = np.zeros(seeds.shape, np.uint8)
        cv2.fillPoly(within, [np.rint(outline).astype(np.int32)], 1)
        seeds[within == 0] = OUTSIDE
    for stroke in strokes:
        hard = stroke.model_copy(update={"hardness": 1.0, "flow": 1.0, "density": 1.0, "pen": "none"})
        seeds[coverage(hard, window) > 0.5] = INSIDE if stroke.does == "add" else OUTSIDE
    return seeds


@dataclass(frozen=True, eq=False)
class Solving:
    """A solved matte of the whole frame, wherever it comes from."""

    key: str
    family: str
    coarse: Callable[[], Matte]
    fine: Callable[[Callable[[], None]], Matte]

    def laid(self, window: Window, near: PartContext) -> Matte:
        """Return the matte in a window, shape (H, W); the window may reach beyond the frame."""
        return laid_matte(self.key, near.solved(self.key, self.family, self.coarse, self.fine), window, near)


def laid_matte(key: str, matte: Matte, window: Window, near: PartContext) -> Matte:
    """Return a matte of the whole frame, named by ``key``, in a window, shape (H, W), which may reach beyond it."""
    inner = clipped(window)
    small = solving_window(window, max(matte.shape))
    made = _laid(key, matte, small, inner, near.picture)
    return made if inner == window else continued(made, inner, window)


_KEPT = KeptLines()


def _laid(key: str, matte: Matte, small: Window, window: Window, seen: PictureSampler) -> Matte:
    if window.pixel >= small.pixel * 0.999:
        return np.clip(laid(matte, small, window), 0, 1)
    lines = _KEPT.of(key, matte, lambda: np.moveaxis(encoded(seen, small), 0, -1))
    return laid_by_lines(lines, encoded(seen, window), small, window)


def key_of(seen: PictureSampler, *depends: object) -> str:
    """Return what names a solved matte: the hash of all that it depends on."""
    return hashlib.sha256(json.dumps([WAY, seen.key, *depends], sort_keys=True).encode()).hexdigest()[:32]


def rough_solving(part: Part, window: Window, near: PartContext) -> Solving:
    """Return how a part's subject is solved."""
    seen = near.picture
    band = ROUGH.number(part.values, "band")
    points, strokes = part.points, part.strokes
    marks = [part.model_dump(mode="json", include={"points", "strokes"}), band]
    grid = solving_window(window, ALPHA_SIDE)

    def picture(at: Window) -> NDArray[np.float32]:
        return np.ascontiguousarray(np.moveaxis(encoded(seen, at), 0, -1))

    def found() -> Found:
        return ANSWERS.found(key_of(seen), points, strokes, grid, picture, seeds_of)

    def fine(stop: Stop) -> Matte:
        made = found()
        stop()
        box = seen_box(points, strokes, made, grid)
        small, inner = cut_window(box, grid), grid.within(box) or grid
        cut = Cut(picture(small), seeds_of(points, strokes, small), in_window(made[inner.inside(grid)], inner, small))
        matte = np.zeros(made.shape, np.float32)
        seeds = seeds_of(points, strokes, inner)
        matte[inner.inside(grid)] = fine_subject(cut, picture(inner), seeds, band / grid.pixel, stop)
        return matte

    family = f"{near.name} {part.id} {seen.key}"
    return Solving(key_of(seen, "rough", marks), family, lambda: found().astype(np.float32), fine)


def rough_matte(part: Part, window: Window, near: PartContext = ALONE) -> Matte:
    """Return the matte, shape (H, W), of the subject between a part's marks; with none on the subject, nothing.

    A loose outline alone means that the subject lies somewhere within: what is least like all beyond it.
    """
    if BASE in part.values:
        return carried_matte(part, window, near)
    if not part.strokes and len(part.points) < 3:
        return np.zeros((window.height, window.width), np.float32)
    return rough_solving(part, window, near).laid(window, near)


def carried_matte(part: Part, window: Window, near: PartContext) -> Matte:
    """Return the matte that was carried to a frame, shape (H, W), with what a part's strokes correct of it."""
    base = str(part.values[BASE])
    sums = near.sums(base)
    # between four sums lies what was summed: codes of 16 bits
    codes = np.rint((sums[1:, 1:] - sums[:-1, 1:] - sums[1:, :-1] + sums[:-1, :-1]) * 65535)
    matte = (codes / 65535).astype(np.float32)
    if not part.strokes:
        return laid_matte(base, matte, window, near)
    seen, band = near.picture, ROUGH.number(part.values, "band")
    large = solving_window(window, max(matte.shape))
    marks = part.model_dump(mode="json", include={"strokes"})

    def fine(stop: Stop) -> Matte:
        picture = np.ascontiguousarray(np.moveaxis(encoded(seen, large), 0, -1))
        return corrected(picture, matte, seeds_of((), part.strokes, large), band / large.pixel, stop)

    key = key_of(seen, "carried", base, marks, band)
    return Solving(key, f"{near.name} {part.id} {seen.key}", lambda: matte, fine).laid(window, near)


def _mapped(part: Part, affine: Affine) -> Part:
    points = tuple(affine.place(*point[:2]) for point in part.points)
    strokes = tuple(mapped_stroke(each, affine) for each in part.strokes)
    return part.model_copy(update={"points": points, "strokes": strokes})


def _told(part: Part) -> str:
    put, take = (sum(each.does == does for each in part.strokes) for does in ("add", "erase"))
    said = [f"{put} on the subject", f"{take} on the surround"] if part.strokes else []
    return ", ".join((["a loose outline"] if part.points else []) + said) or "nothing marked yet"


ROUGH = PartKind(
    id="rough",
    name="Rough-in",
    parameters=(
        Number("size", "Size", Unit.LENGTH, 0.03, 0.002, 0.3, 0.0005, FAR, 0.001, curve="square"),
        Number("band", "Edge band", Unit.LENGTH, 0.012, 0.0, 0.1, 0.0, 0.5, 0.001, curve="square"),
    ),
    glyph="M6.5 12V8.5C4 6 5.5 2 9 2s5 4 2.5 6.5V12z",
    drawn="marks",
    noun="subject",
    points=True,
    strokes=True,
    says="A subject, found between a loose outline or short strokes on it and on its surround.",
    matte=rough_matte,
    mapped=_mapped,
    sees=lambda part: "source",
    told=_told,
    solved=True,
)
