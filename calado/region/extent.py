"""In which box a region can be anything but nothing: what lies outside of it need not be made, nor looked at."""

from math import inf

from calado.lifelong import Lifelong
from calado.region.kinds import PARTS
from calado.region.part import Box
from calado.region.refine.registry import reach_px
from calado.sheet.models import Part, Region
from calado.window import Window

#: an outline of more points is made as a whole: of what is dragged, little is made anew then
POINTS = 64
_EVERYWHERE: Box = (-inf, -inf, inf, inf)
_NOWHERE: Box = (inf, inf, -inf, -inf)


def extent(region: Region, pixel: float) -> Box | None:
    """Return a box (left, top, right, bottom), in picture heights, outside of which a region is nothing.

    On a grid of ``pixel``, in picture heights, it holds to a pixel. None: the region may reach anywhere, or what it
    is made of is better made as a whole.
    """
    kept = _extents(region)
    if pixel not in kept:
        kept[pixel] = _extent(region, pixel)
    return kept[pixel]


def part_within(region: Region, window: Window) -> Window | None:
    """Return the part of a window outside of which a region is nothing; None: it is nothing in all of it."""
    box = extent(region, window.pixel)
    return window if box is None else window.within(box)


#: what was told of a region: several ask for it in each frame
_extents: Lifelong[Region, dict[float, Box | None]] = Lifelong(lambda region: {})


def _extent(region: Region, pixel: float) -> Box | None:
    if region.band or sum(len(part.points) for part in region.parts) > POINTS:
        return None
    parts = [part for part in region.parts if part.on]
    # what starts by taking away starts from the whole picture
    found = _NOWHERE if not parts or parts[0].join == "add" else _EVERYWHERE
    for part in parts:
        found = _joined(found, part)
    if found == _NOWHERE:
        return (0.0, 0.0, 0.0, 0.0)
    by = reach_px(region.refine, pixel) * pixel
    return None if found == _EVERYWHERE else (found[0] - by, found[1] - by, found[2] + by, found[3] + by)


def _joined(found: Box, part: Part) -> Box:
    if part.join == "subtract":
        return found
    box = None if part.complement else PARTS[part.kind].within(part)
    box = box or _EVERYWHERE
    low, high = (min, max) if part.join == "add" else (max, min)
    return low(found[0], box[0]), low(found[1], box[1]), high(found[2], box[2]), high(found[3], box[3])
