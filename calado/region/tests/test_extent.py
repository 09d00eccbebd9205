"""Where a region can be anything: what is made in its box alone is what is made whole; growing by the distance."""

from typing import Any
from unittest import TestCase
from unittest.mock import patch

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from calado.region.extent import extent
from calado.region.further import grown_by_distance
from calado.region.matte import region_matte
from calado.region.refine.disc import grown
from calado.sheet.models import Part, Region
from calado.window import full_window

#: small and turned and soft, in, at the edge of and beyond a picture 1.5 heights wide
LENGTHS = {"width": st.floats(0.002, 0.5), "height": st.floats(0.002, 0.5)}
PLACES = {"x": st.floats(-0.3, 1.8), "y": st.floats(-0.3, 1.3)}
SOFT = {"feather_in": st.floats(0, 0.1), "feather_out": st.floats(0, 0.1)}
PROFILES = st.sampled_from(("smooth", "straight", "bell"))
REFINES = {
    "grow": st.floats(-0.05, 0.05),
    "blur": st.floats(0, 0.05),
    "close": st.floats(-0.02, 0.02),
    "smooth": st.floats(0, 0.02),
    "clip_high": st.floats(0.1, 1),
}


def boxes(kind: str) -> st.SearchStrategy[Part]:
    own = {"roundness": st.floats(0.02, 1)} if kind == "ellipse" else {"corner": st.floats(0, 1)}
    numbers = {**LENGTHS, **PLACES, **SOFT, **own, "turn": st.floats(-180, 180), "profile": PROFILES}
    return st.fixed_dictionaries(numbers).map(lambda values: Part(id="p", kind=kind, values=values))


def outlines(kind: str) -> st.SearchStrategy[Part]:
    handles = (st.floats(-0.2, 0.2),) * (4 if kind == "curve" else 0)
    points = st.lists(st.tuples(*PLACES.values(), *handles), min_size=3, max_size=6)
    values = st.fixed_dictionaries({**SOFT, "profile": PROFILES})
    return st.builds(lambda p, v: Part(id="p", kind=kind, points=tuple(p), values=v), points, values)


PARTS = st.one_of(boxes("ellipse"), boxes("rectangle"), outlines("polygon"), outlines("curve"))
JOINED = st.builds(
    lambda part, join, complement, on, opacity: part.model_copy(
        update={"join": join, "complement": complement, "on": on, "opacity": opacity}
    ),
    PARTS,
    st.sampled_from(("add", "add", "subtract", "intersect")),
    st.sampled_from((False, False, True)),
    st.sampled_from((True, True, False)),
    st.sampled_from((1.0, 0.4)),
)


def regions() -> st.SearchStrategy[Region]:
    refine = st.dictionaries(st.sampled_from(tuple(REFINES)), st.just(0), max_size=2).flatmap(
        lambda chosen: st.fixed_dictionaries({id: REFINES[id] for id in chosen})
    )
    return st.builds(_region, st.lists(JOINED, max_size=4), refine)


def _region(parts: list[Part], refine: dict[str, Any]) -> Region:
    named = tuple(part.model_copy(update={"id": f"p{k}"}) for k, part in enumerate(parts))
    return Region(id="r", name="r", parts=named, refine=refine)


class Boxes(TestCase):
    @given(regions(), st.sampled_from((1.0, 0.6, 0.24)))
    @settings(max_examples=150, deadline=None)
    def test_outside_of_its_box_a_region_is_nothing_and_within_it_what_it_is_made_whole(
        self, region: Region, scale: float
    ) -> None:
        window = full_window(150, 100, scale)
        with patch("calado.region.matte.extent", lambda region, pixel: None):
            whole = region_matte(region, window)
        self.assertEqual(np.abs(region_matte(region, window) - whole).max(), 0)
        box = extent(region, window.pixel)
        if box is not None:
            inner = window.within(box)
            if inner is not None:
                whole = whole.copy()
                whole[inner.inside(window)] = 0
            self.assertFalse(whole.any())

    def test_what_may_be_anywhere_has_none(self) -> None:
        whole, oval = Part(id="a", kind="whole"), Part(id="b", kind="ellipse", values={"width": 0.1, "height": 0.1})
        for parts in ((whole,), (oval, whole), (oval.model_copy(update={"complement": True}),)):
            self.assertIsNone(extent(Region(id="r", name="r", parts=parts), 0.01))
        cut = Region(id="r", name="r", parts=(whole, oval.model_copy(update={"join": "intersect"})))
        self.assertIsNotNone(extent(cut, 0.01))


class ByDistance(TestCase):
    @given(PARTS, st.floats(0.002, 0.1))
    @settings(max_examples=60, deadline=None)
    def test_it_is_what_the_disc_finds(self, part: Part, by: float) -> None:
        """Serra1982: flat dilation by a disc; on a slope of one pixel the search goes astray, most at corners."""
        hard = part.model_copy(update={"values": {**part.values, "feather_in": 0.0}})
        window = full_window(600, 400)
        further = grown_by_distance(_region([hard], {"grow": by}))
        assert further is not None
        wide = window.beyond(60)
        rows, columns = window.inside(wide)
        searched = grown(region_matte(_region([hard], {}), wide), by * 400)[rows, columns]
        told = region_matte(further, window)
        self.assertGreater((told - searched).min(), -0.3)
        if min(part.values.get("width", 0), part.values.get("height", 0)) > 0.02:
            # what is thinner than a pixel is found whole by its distance, and in part by the search
            self.assertLess((told - searched).max(), 0.5)
            rim = np.count_nonzero((told > 0) & (told < 1))
            self.assertLess(abs(float(told.sum() - searched.sum())), 0.1 * rim + 9)

    def test_what_is_soft_inward_or_of_several_parts_is_searched(self) -> None:
        oval = Part(id="a", kind="ellipse", values={"feather_in": 0.05})
        hard = Part(id="b", kind="ellipse", values={"feather_out": 0.05})
        self.assertIsNone(grown_by_distance(_region([oval], {"grow": 0.01})))
        self.assertIsNone(grown_by_distance(_region([hard, hard], {"grow": 0.01})))
        self.assertIsNone(grown_by_distance(_region([hard], {"grow": 0.01, "blur": 0.01})))
        self.assertIsNone(grown_by_distance(_region([hard], {"grow": -0.01})))
        self.assertIsNotNone(grown_by_distance(_region([hard], {"grow": 0.01})))
