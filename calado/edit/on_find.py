"""A first stroke on something that was found takes the whole of it."""

from collections.abc import Callable, Iterable
from dataclasses import replace

import cv2
import numpy as np

from calado.detect.offer import Offer
from calado.edit.create import Drawn
from calado.region.kinds import PARTS
from calado.sheet.models import Region, Stroke

#: a stroke is on a find when so much of its way lies within the find's loose outline
MOSTLY = 0.9
#: and it is a mark, not a painting, when its area is at most so much of the outline's
SMALL = 0.3


def on_find(drawn: Drawn, offers: Callable[[], Iterable[Offer]]) -> Drawn:
    """Return what was drawn; if it is one stroke on a found subject, with that subject's outline and marks before it.

    ``offers`` are asked for only where they matter.
    """
    kind = PARTS.get(drawn.kind)
    if kind is None or kind.drawn != "marks" or drawn.points or len(drawn.strokes) != 1:
        return drawn
    (stroke,) = drawn.strokes
    for offer in offers() if stroke.does == "add" else ():
        if offer.kind == drawn.kind and offer.points and _lies_on(stroke, offer):
            return replace(drawn, points=offer.points, strokes=(*offer.strokes, stroke))
    return drawn


def marks_one(region: Region, offers: Iterable[Offer]) -> bool:
    """Return whether what a region is made of is one part, which lies on something that was found or cuts it out.

    Parts that are taken out of it or that confine it don't count.
    """
    placed, offers = [part for part in region.parts if part.join == "add"], list(offers)
    if len(placed) != 1:
        return False
    if placed[0].strokes:
        return any(offer.kind == placed[0].kind and offer.points == placed[0].points for offer in offers)
    if not {"x", "y"} <= placed[0].values.keys():
        return False
    x, y = (float(placed[0].values[name]) for name in ("x", "y"))  # type: ignore[arg-type]
    boxes = [offer.box for offer in offers]
    return any(left <= x <= left + wide and top <= y <= top + high for left, top, wide, high in boxes)


def _lies_on(stroke: Stroke, offer: Offer) -> bool:
    outline = np.array([point[:2] for point in offer.points], np.float32)
    way = np.array(stroke.points, np.float32).reshape(-1, 3)[:, :2]
    inside = [cv2.pointPolygonTest(outline, (float(x), float(y)), measureDist=False) >= 0 for x, y in way]
    painted = stroke.size * (stroke.size + float(np.hypot(*np.diff(way, axis=0).T).sum()))
    return float(np.mean(inside)) >= MOSTLY and painted <= SMALL * cv2.contourArea(outline)
