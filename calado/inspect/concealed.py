"""What a cover leaves, read from the finished picture: nothing, where that was tried; else cells, letters, detail.

Nothing is left only where no pixel of the finished picture depends on a hidden one: the hidden pixels are exchanged for
noise, and the two pictures are the same to the last bit.

A mosaic of a face with fewer than about eight cells across is not recognised (common practice, no source). Lettering is
another matter: who knows the font renders each candidate and compares. Tried so on plates of six digits, at four places
of the grid (a trial stands in the tests), cells of up to a letter's height gave up nearly every digit, cells of one and
a half heights two thirds of them, and larger ones still a half, where guessing finds a tenth; a blur of 0.4 heights,
its noise unknown, a third. So lettering is concealed by a solid alone.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import scipy

from calado.adjust.registry import called
from calado.arrays import Matte, Planes
from calado.inspect.letters import letter_height
from calado.render.engine import Engine, Order
from calado.render.source import Source, source_of
from calado.sheet.models import Treatment
from calado.window import Window

FACE_CELLS = 8.0
DETAIL = 0.12
SEED = 20
#: so many pieces of a cover, the largest, are looked at
PIECES = 60


@dataclass(frozen=True)
class Concealed:
    """Readings of a cover; None where one means nothing.

    ``weak``: what it hides can be brought back, or shows; ``lettering``: because it is lettering; ``says`` tells it.
    ``after`` is the pass that moves the picture under it before it is laid.
    """

    cells_across: float | None
    letter_cells: float | None
    detail_left: float
    weak: bool
    says: str
    lettering: bool = False
    after: str = ""


def nothing_left(
    engine: Engine, source: Source, order: Order, window: Window, hidden: Callable[[Engine, Source], Matte]
) -> bool:
    """Return whether no pixel of the finished picture, as large as a window, depends on what is hidden.

    ``hidden`` tells what that is on a source, shape (H, W): 1 where hidden.
    """
    apart = engine.apart()

    def trial(name: str, planes: Planes) -> Source:
        return source_of(np.ascontiguousarray(planes, np.float32), source.space, f"{name} {source.key}")

    planes = engine.source(source, window)
    noise = np.random.default_rng(SEED).random(planes.shape, np.float32)
    as_it_is = trial("as it is", planes)
    with apart.solved.coarse_will_do(content=True):
        exchanged = trial("exchanged", np.where(hidden(apart, as_it_is) > 0, noise, planes))
        one, other = (apart.picture(each, order, each.full()) for each in (as_it_is, exchanged))
    return bool(np.array_equal(one, other, equal_nan=True))


def read_concealed(before: Planes, after: Planes, matte: Matte, pixel: float, treatment: Treatment) -> Concealed | None:
    """Return the readings inside a region; pictures of shape (3, H, W), ``pixel`` in picture heights."""
    inside = matte > 0.5
    # of several pieces the largest is measured; lettering may lie under any of them
    labels, _ = scipy.ndimage.label(inside)
    largest = np.argsort(-np.bincount(labels.ravel())[1:])[:PIECES] + 1
    pieces = [labels == k for k in largest]
    heights = [height for piece in pieces if (height := letter_height(before, piece)) is not None]
    inside = pieces[0] if pieces else inside
    rows, columns = np.flatnonzero(inside.any(axis=1)), np.flatnonzero(inside.any(axis=0))
    if len(rows) < 3 or len(columns) < 3:
        return None
    slopes = [_slope(each) for each in (before, after)]
    # a slope reads its neighbours, so the rim is left out
    deep = scipy.ndimage.binary_erosion(matte >= 0.999, iterations=2)
    detail = float(slopes[1][deep].mean() / max(slopes[0][deep].mean(), 1e-6)) if deep.any() else 0.0
    size = _number(treatment, called("cells"), "size", 0.0)
    across = (columns[-1] - columns[0] + 1) * pixel / size if size else None
    letter = max(heights, default=None)
    smallest = size * min(_number(treatment, called("cells"), "tall", 1.0), 1.0)
    letters = letter * pixel / smallest if letter and smallest else None
    return _judged(across, letters, min(detail, 9.99), lettering=letter is not None)


def _number(treatment: Treatment, adjustment: str, id: str, neutral: float) -> float:
    return float(treatment.get(adjustment, {}).get(id, neutral))  # type: ignore[arg-type]


def _judged(across: float | None, letters: float | None, detail: float, *, lettering: bool) -> Concealed:
    said = []
    if across is not None:
        said.append(f"{across:.1f} cells across")
    if letters is not None:
        said.append(f"a letter is {letters:.1f} cells high")
    said.append(f"{detail * 100:.0f}\u00a0% of the detail left")
    weak = lettering or (across > FACE_CELLS if across is not None else detail > DETAIL)
    if lettering:
        verdict = "lettering under it can be undone, by trying letter after letter"
    else:
        verdict = "too weak to conceal" if weak else "concealed from the eye, yet a trace is left"
    says = f"{', '.join(said)}: {verdict}.".capitalize()
    return Concealed(across, letters, detail, weak, says, lettering)


def _slope(planes: Planes) -> np.ndarray:
    tone = np.cbrt(np.maximum(planes, 0)).mean(axis=0)
    gy, gx = np.gradient(tone)
    return np.hypot(gx, gy)
