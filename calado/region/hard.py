"""What a cover must hide of a region: the whole drawn shape, however softly the region is drawn.

A pixel belongs to it where any of the region does: feathers and blur add nothing to it and take nothing from it, a
part's opacity, a brush's hardness, flow and density don't thin it. Whatever only narrows the shape stays as soft as it
is, so that what it takes away in part is still hidden. A pixel on the shape's edge is wholly in it.
"""

from collections.abc import Callable, Mapping
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte
from calado.region.kinds import PARTS
from calado.region.resolved import ResolvedRegion
from calado.sheet.models import Part, Region, Stroke
from calado.sheet.sentence import Side
from calado.window import Window

#: from this share on a pixel belongs to what is hidden
TOUCHED = 0.01
_FEATHERS = ("feather_in", "feather_out")
#: rows that are made together, so that memory stays bounded
STRIP = 128
Places = NDArray[np.intp]
#: 1 where hidden, else 0, shape (H, W)
Hidden = NDArray[np.uint8]


def hardened(where: ResolvedRegion, side: Side) -> ResolvedRegion:
    """Return a region, and those it stands on, without any softness by which its ``side`` could show through."""
    signs: dict[str, int] = {}
    _note(where.region, 1 if side == "inside" else -1, where.others, signs)
    made = {each.id: _hard(each, signs.get(each.id, 0)) for each in where.chain}
    root = where.root or where.region.id
    others = {id: made[id] for id in where.others}
    return replace(where, region=made[where.region.id], others=others, covers={}, root=root)


def hidden(hard: Matte, side: Side) -> Hidden:
    """Return 1 where a side of a hardened region hides the picture, else 0, shape (H, W)."""
    share = hard if side == "inside" else np.float32(1) - hard
    return (share > TOUCHED).astype(np.uint8)


def hidden_in(window: Window, at_full_size: Callable[[Window], Hidden]) -> Hidden:
    """Return 1 where a pixel of a window is made of any full-size pixel that is hidden, else 0, shape (H, W).

    ``at_full_size`` tells what is hidden there, in windows of full size within the picture. A reduced pixel is made of
    whole blocks of pixels, two, four, … wide, as the picture's smaller copies are; asked for strip by strip.
    """
    if window.scale >= 1:
        return at_full_size(window)
    block = 2 ** int(np.log2(1 / window.scale) + 1e-9)
    full = replace(window, scale=1.0, left=0, top=0, width=window.picture_width, height=window.picture_height)
    rows = _blocks(window.top, window.height, 1 / (window.scale * block), -(-full.height // block))
    columns = _blocks(window.left, window.width, 1 / (window.scale * block), -(-full.width // block))
    left, right = columns[0][0] * block, min((columns[1][-1] + 1) * block, full.width)
    made = np.empty((window.height, window.width), np.uint8)
    for first in range(0, window.height, STRIP):
        last = min(first + STRIP, window.height)
        top, bottom = rows[0][first] * block, min((rows[1][last - 1] + 1) * block, full.height)
        strip = replace(full, left=int(left), top=int(top), width=int(right - left), height=int(bottom - top))
        most = _block_maxima(at_full_size(strip), block)
        down = _most([most[each[first:last] - rows[0][first]] for each in (rows[0], rows[2], rows[1])])
        made[first:last] = _most([down[:, each - columns[0][0]] for each in (columns[0], columns[2], columns[1])])
    return made


def _blocks(start: int, count: int, step: float, most: int) -> tuple[Places, Places, Places]:
    """Return the first and the last block under each pixel of an axis, and one between: a pixel has 1 to 3 of them."""
    pixels = np.arange(start, start + count)
    first = np.clip(np.floor(pixels * step + 1e-9), 0, most - 1).astype(np.intp)
    last = np.clip(np.ceil((pixels + 1) * step - 1e-9) - 1, 0, most - 1).astype(np.intp)
    return first, last, np.minimum(first + 1, last)


def _block_maxima(made: Hidden, block: int) -> Hidden:
    while block > 1:  # halved again and again: an odd last row or column stands for itself
        made = np.pad(made, ((0, made.shape[0] % 2), (0, made.shape[1] % 2)))
        down = np.maximum(made[0::2], made[1::2])
        made = np.maximum(down[:, 0::2], down[:, 1::2])
        block //= 2
    return made


def _most(mattes: list[Hidden]) -> Hidden:
    return np.maximum(np.maximum(mattes[0], mattes[1]), mattes[2])


def _note(region: Region, sign: int, others: Mapping[str, Region], signs: dict[str, int]) -> None:
    """Note for each region which way it counts: 1 adds to the shape, −1 narrows it, 0 both."""
    if signs.get(region.id, sign) != sign:
        sign = 0
    if signs.get(region.id) == sign:
        return
    signs[region.id] = sign
    for part in region.parts:
        reference = PARTS[part.kind].reference("region")
        lower = others.get(str(part.values.get(reference.id))) if reference else None
        if lower is not None:
            _note(lower, sign * _sign(part), others, signs)


def _sign(part: Part) -> int:
    return -1 if (part.join == "subtract") != part.complement else 1


def _hard(region: Region, sign: int) -> Region:
    parts = tuple(_hard_part(part, sign) for part in region.parts)
    refine = {id: value for id, value in region.refine.items() if id != "blur"}
    return region.model_copy(update={"parts": parts, "refine": refine})


def _hard_part(part: Part, sign: int) -> Part:
    kind = PARTS[part.kind]
    values = {**part.values, **{id: 0.0 for id in _FEATHERS if kind.parameter(id) is not None}}
    # opacity comes after the complement: it thins what a joining part adds, and what a subtracted one takes away
    thins = sign * (-1 if part.join == "subtract" else 1) > 0
    strokes = tuple(_hard_stroke(each, sign * _sign(part)) for each in part.strokes)
    return part.model_copy(update={"values": values, "opacity": 1.0 if thins else part.opacity, "strokes": strokes})


def _hard_stroke(stroke: Stroke, sign: int) -> Stroke:
    """Return a stroke at full strength where it adds to the shape."""
    if sign * (1 if stroke.does == "add" else -1) <= 0:
        return stroke
    pen = "none" if stroke.pen == "flow" else stroke.pen
    return stroke.model_copy(update={"hardness": 1.0, "flow": 1.0, "density": 1.0, "pen": pen})
