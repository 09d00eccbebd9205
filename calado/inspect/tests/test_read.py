"""What a range is drawn over, further places like a region, which brush fits an edge."""

from unittest import TestCase

import cv2
import numpy as np

from calado.colour.spaces import SRGB
from calado.errors import RequestError
from calado.inspect.brush_fit import touch_at
from calado.inspect.distribution import ranged, steep_slopes
from calado.inspect.similar import further_places
from calado.region.resolved import alone
from calado.render.engine import Engine
from calado.render.source import Source, source_of
from calado.sheet.models import Part, Region


def source(planes: np.ndarray) -> Source:
    return source_of(np.ascontiguousarray(planes, np.float32), SRGB, str(hash(planes.tobytes())))


def of(part: Part):  # type: ignore[no-untyped-def]
    return alone(Region(id="r", name="r", parts=(part,)))


class Ranges(TestCase):
    def test_bars_count_the_whole_and_what_is_inside(self) -> None:
        ramp = SRGB.transfer.decode(np.linspace(0.05, 0.95, 400))
        made = source(np.broadcast_to(ramp, (3, 100, 400)))
        part = Part(id="p", kind="luminance", values={"low": 0.6, "soft_low": 0.0, "high": 1.0})
        found = ranged(Engine(), made, of(part), part)
        bars = found.distributions[0]
        self.assertEqual(bars.axis, "signal")
        self.assertTrue((bars.inside <= bars.everywhere + 1e-9).all())
        self.assertEqual(float(bars.inside[:70].max()), 0)
        np.testing.assert_allclose(bars.inside[80:118], bars.everywhere[80:118])
        self.assertEqual((found.brightest[2], found.darkest[2]), (1, 0))

    def test_a_grey_and_a_flat_picture_are_told(self) -> None:
        ramp = np.broadcast_to(np.linspace(0, 1, 60, dtype=np.float32), (3, 40, 60))
        part = Part(id="p", kind="colours")
        self.assertIn("next to no colour", " ".join(ranged(Engine(), source(ramp), of(part), part).notes))
        flat = np.full((3, 40, 60), 0.3, np.float32)
        part = Part(id="p", kind="luminance")
        self.assertIn("flat", " ".join(ranged(Engine(), source(flat), of(part), part).notes))

    def test_a_steep_slope_is_marked_a_clean_cut_and_an_open_end_are_not(self) -> None:
        for values, expected in (
            ({"low": 0.5, "soft_low": 0.01}, ("soft_low",)),
            ({"low": 0.5, "soft_low": 0.0}, ()),
            ({"low": 0.5, "soft_low": 0.2, "high": 1.0, "soft_high": 0.01}, ()),
            ({"low": 0.0, "soft_low": 0.01, "high": 0.8, "soft_high": 0.01}, ("soft_high",)),
        ):
            self.assertEqual(steep_slopes(Part(id="p", kind="luminance", values=values)), expected)
        off = Part(id="p", kind="colours", values={"by_chroma": "off", "chroma_low": 0.1, "chroma_soft_low": 0.001})
        self.assertEqual(steep_slopes(off), ())


class Further(TestCase):
    def picture(self) -> np.ndarray:
        planes = np.full((3, 200, 300), 0.05, np.float32)
        y, x = np.mgrid[:200, :300]
        for cx, cy, radius, light in ((80, 60, 20, 1.0), (82, 150, 14, 0.9), (220, 60, 16, 0.25)):
            planes[:, np.hypot(x - cx, y - cy) < radius] = light
        return planes

    def test_another_light_is_proposed_and_a_dark_patch_is_not(self) -> None:
        made = source(self.picture())
        place = Part(id="p", kind="ellipse", values={"x": 0.4, "y": 0.3, "width": 0.2, "height": 0.2})
        found = further_places(Engine(), made, of(place))
        self.assertEqual(len(found), 1)
        left, top, wide, high = found[0].box
        self.assertAlmostEqual(left + wide / 2, 82 / 200, delta=0.02)
        self.assertAlmostEqual(top + high / 2, 150 / 200, delta=0.02)
        outline = np.array(found[0].outline, np.float32)
        self.assertGreater(cv2.contourArea(outline), 0.9 * np.pi * 0.07**2)

    def test_an_empty_region_has_none(self) -> None:
        beside = Part(id="p", kind="ellipse", values={"x": 5.0, "y": 5.0, "width": 0.1, "height": 0.1})
        self.assertEqual(further_places(Engine(), source(self.picture()), of(beside)), [])


class Touch(TestCase):
    def test_it_measures_a_softened_step(self) -> None:
        for sigma in (1.0, 2.5):
            step = np.repeat((np.arange(600) > 300).astype(np.float32)[None], 400, axis=0) * 0.6 + 0.2
            signal = cv2.GaussianBlur(step, (0, 0), sigma)
            made = source(np.broadcast_to(SRGB.transfer.decode(signal), (3, 400, 600)))
            touch = touch_at(Engine(), made, 300 / 400, 0.5)
            assert touch.size is not None and touch.hardness is not None
            # hardness follows from the edge's 10–90 % width, 2.563 σ, within the size that is proposed
            width = (1 - touch.hardness) * touch.size / 2 * 400
            self.assertAlmostEqual(width / (2.563 * sigma), 1, delta=0.25)

    def test_no_edge_is_told_and_a_place_outside_refused(self) -> None:
        flat = source(np.full((3, 40, 60), 0.3, np.float32))
        self.assertIn("no edge", touch_at(Engine(), flat, 0.5, 0.5).says)
        with self.assertRaises(RequestError):
            touch_at(Engine(), flat, 9.0, 9.0)
