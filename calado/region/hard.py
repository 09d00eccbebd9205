"""What a cover must hide of a region: the whole drawn shape, however softly the region is drawn.

A pixel belongs to it where any of the region does: feathers and blur add nothing to it and take nothing from it, a
part's opacity, a brush's hardness, flow and density don't thin it. Whatever only narrows the shape stays as soft as it
is, so that what it takes away in part is still hidden. A pixel on the shape's edge is wholly in it.
"""

from collections.abc import Mapping
from dataclasses import replace

import cv2
import numpy as np

from calado.arrays import Matte
from calado.region.kinds import PARTS
from calado.region.where import Where
from calado.sheet.models import Part, Region, Stroke
from calado.sheet.sentence import Side

#: from this share on a pixel belongs to what is hidden
TOUCHED = 0.01
_FEATHERS = ("feather_in", "feather_out")
_AROUND = np.ones((3, 3), np.uint8)


def hardened(where: Where, side: Side) -> Where:
    """Return a region, and those it stands on, without any softness by which its ``side`` could show through."""
    signs: dict[str, int] = {}
    _note(where.region, 1 if side == "inside" else -1, where.others, signs)
    made = {each.id: _hard(each, signs.get(each.id, 0)) for each in where.chain}
    root = where.root or where.region.id
    others = {id: made[id] for id in where.others}
    return replace(where, region=made[where.region.id], others=others, covers={}, root=root)


def hidden(hard: Matte, side: Side, *, reduced: bool) -> Matte:
    """Return the matte, 0 or 1, shape (H, W), outside or inside of which nothing may show, from a hardened one's.

    In a ``reduced`` picture whatever is touched at all belongs to it, and the pixels next to that: they may hold a
    corner of what is hidden.
    """
    share = hard if side == "inside" else np.float32(1) - hard
    touched = (share > (0 if reduced else TOUCHED)).astype(np.uint8)
    made = (cv2.dilate(touched, _AROUND) if reduced else touched).astype(np.float32)
    return made if side == "inside" else np.float32(1) - made


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
    if sign * (1 if stroke.does == "put" else -1) <= 0:
        return stroke
    pen = "none" if stroke.pen == "flow" else stroke.pen
    return stroke.model_copy(update={"hardness": 1.0, "flow": 1.0, "density": 1.0, "pen": pen})
