"""An imported picture as a matte, laid into the frame: white is inside.

Each pixel of the window takes the mean of the picture over its own area, or over one of the picture's pixels where
that is larger; so a reduced matte is averaged and an enlarged one goes evenly from pixel to pixel, and a strip equals
the whole.

References
----------
Crow1984: the mean over any rectangle from a table of sums.
"""

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte
from calado.compiled import compiled
from calado.region.affine import Affine
from calado.region.context import ALONE, PartContext
from calado.region.part import PartKind
from calado.sheet.declare import Choice, Option, Reference
from calado.sheet.models import Part
from calado.strips import for_rows
from calado.window import Window

FIT = Choice("fit", "Laid in", (Option("fit", "fitted"), Option("fill", "filling"), Option("stretch", "stretched")))
SIDES = Choice("mirror", "Way round", (Option("no", "as it is"), Option("yes", "mirrored")))


def table_of(codes: NDArray[np.uint16]) -> NDArray[np.float64]:
    """Return the sums of a grey picture, shape (H + 1, W + 1), of values 0…1; exact, as its codes are whole."""
    sums = np.zeros((codes.shape[0] + 1, codes.shape[1] + 1), np.float64)
    sums[1:, 1:] = codes.cumsum(axis=0, dtype=np.int64).cumsum(axis=1)
    return sums / 65535.0


@compiled(inline="always")
def _at(sums, y, x):  # type: ignore[no-untyped-def]
    """Return the sum from the corner to a place between pixels."""
    i, j = min(int(y), sums.shape[0] - 2), min(int(x), sums.shape[1] - 2)
    fy, fx = y - i, x - j
    above = sums[i, j] + fx * (sums[i, j + 1] - sums[i, j])
    below = sums[i + 1, j] + fx * (sums[i + 1, j + 1] - sums[i + 1, j])
    return above + fy * (below - above)


@compiled()
def _span(centre, side, size, hold):  # type: ignore[no-untyped-def]
    """Return what is read for a pixel on one axis, from where to where, and how much of the pixel the picture covers.

    Read is at least one of the picture's own pixels, held within its border: an enlarged edge must not fade.
    """
    covered = max(min(centre + 0.5 * side, size) - max(centre - 0.5 * side, 0.0), 0.0) / side
    half = min(0.5 * max(side, 1.0), 0.5 * size)
    middle = min(max(centre, half), size - half)
    return middle - half, middle + half, 1.0 if hold else covered


@compiled()
def _fill(first, last, sums, lay, pixel, left, top, hold, out):  # type: ignore[no-untyped-def]
    """Fill rows; ``lay`` = (x, y, across, down): the picture's corner and a picture height in pixels of it."""
    high, wide = sums.shape[0] - 1.0, sums.shape[1] - 1.0
    for y in range(first, last):
        y0, y1, rows = _span(((top + y + 0.5) * pixel - lay[1]) * lay[3], pixel * abs(lay[3]), high, hold)
        for x in range(out.shape[1]):
            x0, x1, columns = _span(((left + x + 0.5) * pixel - lay[0]) * lay[2], pixel * abs(lay[2]), wide, hold)
            total = _at(sums, y1, x1) - _at(sums, y0, x1) - _at(sums, y1, x0) + _at(sums, y0, x0)
            mean = total / ((y1 - y0) * (x1 - x0))
            out[y, x] = min(max(mean * rows * columns, 0.0), 1.0)


def imported_matte(part: Part, window: Window, near: PartContext = ALONE) -> Matte:
    """Return the picture's matte, shape (H, W), laid into the frame; naming no file gives nothing.

    Convention: *fitted*, the whole picture is in the frame and nothing beside it is inside; *filling*, it covers the
    frame; *stretched*, both. Centred.
    """
    file = str(part.values.get("file", ""))
    if not file:
        return np.zeros((window.height, window.width), np.float32)
    sums = near.sums(file)
    high, wide = sums.shape[0] - 1, sums.shape[1] - 1
    way = str(part.values.get("fit", FIT.neutral))
    across, down = wide / window.aspect, float(high)
    if way == "fit":
        across = down = max(across, down)
    elif way == "fill":
        across = down = min(across, down)
    x, y = (window.aspect - wide / across) / 2, (1 - high / down) / 2
    if part.values.get("mirror") == "yes":
        x, across = window.aspect - x, -across
    lay = np.array([x, y, across, down])
    out = np.empty((window.height, window.width), np.float32)

    def work(first: int, last: int) -> None:
        _fill(first, last, sums, lay, window.pixel, window.left, window.top, way != "fit", out)

    for_rows(window.height, 64, work)
    return out


def _mapped(part: Part, affine: Affine) -> Part | None:
    """Return the part under a mirror, or in another frame, into which it is laid anew; under a motion there is none."""
    if not affine.frame:
        return None
    if not affine.flips:
        return part
    turned = "no" if part.values.get("mirror") == "yes" else "yes"
    return part.model_copy(update={"values": {**part.values, "mirror": turned}})


IMPORTED = PartKind(
    id="matte",
    name="Imported matte",
    parameters=(Reference("file", "File", "file"), FIT, SIDES),
    glyph="M2 11V8l3-3 3 3 2-2 6 5v.5z",
    says="A picture of your own: white is inside, black outside.",
    noun="matte",
    matte=imported_matte,
    mapped=_mapped,
)
