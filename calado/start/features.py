"""Features of a face as parts of a region: closed curves through the places of their outlines, that can be edited.

A curve of the mesh goes through its places as a Catmull–Rom spline does. Feathers and margins are ours: of each what a
person would draw round it, in shares of the distance between the eyes.

References
----------
Catmull1974
"""

from collections.abc import Mapping, Sequence
from math import hypot
from typing import Literal, get_args

import numpy as np

from calado.detect.offer import Offer
from calado.errors import SheetError
from calado.sheet.models import Corner, Join, Part
from calado.start.starter import part

#: *skin* is the face less what is no skin
Feature = Literal["face", "skin", "eyes", "brows", "lips", "mouth"]
#: of each the margin round it, and its feather inward and outward
EDGES: Mapping[str, tuple[float, float, float]] = {
    "face": (0.08, 0.08, 0.08),
    "eyes": (0.04, 0.01, 0.05),
    "brows": (0.02, 0.01, 0.05),
    "lips": (-0.008, 0.01, 0.04),
    "mouth": (0.0, 0.01, 0.02),
    "nostrils": (0.02, 0.01, 0.04),
}
#: what a face has that is no skin, each with more room where it is taken out: the whole of an eye is larger than what
#: shows between the lids
NO_SKIN: Mapping[str, float] = {"eyes": 0.12, "brows": 0.03, "lips": 0.03, "nostrils": 0.03}


def feature_parts(find: Offer, feature: str, first: int = 1) -> list[Part]:
    """Return a feature of a face as parts, numbered from ``first``.

    Raises
    ------
    SheetError
        for a feature that is not known, or a find of which none are.
    """
    if feature not in get_args(Feature):
        raise SheetError(f"Features are {', '.join(get_args(Feature))}; got “{feature}”.", code="feature.unknown")
    if not find.closely:
        raise SheetError("Of this face no features are seen. Draw them, or begin on its oval.", code="feature.none")
    if feature != "skin":
        return _parts(find, feature, first, "add")
    made = _parts(find, "face", first, "add")
    return made + without_features(find, first + len(made))


def without_features(find: Offer, first: int) -> list[Part]:
    """Return the parts that take what is no skin out of a face, numbered from ``first``."""
    made: list[Part] = []
    for feature, room in NO_SKIN.items():
        made += _parts(find, feature, first + len(made), "subtract", room)
    return made


def _parts(find: Offer, feature: str, first: int, join: Join, room: float = 0.0) -> list[Part]:
    (ax, ay), (bx, by), _ = find.features
    apart = hypot(bx - ax, by - ay)
    margin, inward, outward = (each * apart for each in EDGES[feature])
    made = []
    for number, loop in enumerate(find.curves[feature], start=first):
        points = through(grown(loop, margin + room * apart))
        each = part("curve", number, feather_in=inward, feather_out=outward)
        made.append(each.model_copy(update={"points": points, "join": join}))
    return made


def grown(loop: Sequence[tuple[float, float]], by: float) -> list[tuple[float, float]]:
    """Return a closed outline whose places each went outward by so much, square to the way from one neighbour on."""
    places = np.array(loop, float)
    along = np.roll(places, -1, axis=0) - np.roll(places, 1, axis=0)
    out = np.stack([along[:, 1], -along[:, 0]], axis=1) / np.maximum(np.hypot(*along.T), 1e-9)[:, None]
    # twice the area, with its sign: which way round the outline goes
    turn = np.sign((places[:, 0] * np.roll(places[:, 1], -1) - places[:, 1] * np.roll(places[:, 0], -1)).sum())
    return [(float(x), float(y)) for x, y in places + by * turn * out]


def through(loop: Sequence[tuple[float, float]]) -> tuple[Corner, ...]:
    """Return a closed curve through places, each with the handles that a Catmull–Rom spline has there."""
    places = np.array(loop, float)
    reach = (np.roll(places, -1, axis=0) - np.roll(places, 1, axis=0)) / 6
    whole = np.concatenate([places, -reach, reach], axis=1).round(5)
    return tuple(tuple(each) for each in whole.tolist())
