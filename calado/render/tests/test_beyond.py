"""The view of what lies beyond, on light of which it is known."""

import io
from unittest import TestCase

import numpy as np
from PIL import Image

from calado.colour.spaces import DISPLAY_P3, SRGB
from calado.render.beyond import GREYS, beyond_view
from calado.render.encode import screen_codes
from calado.render.engine import Engine, Order
from calado.render.preview import View, render_preview
from calado.render.source import source_of
from calado.render.views import LICHEN, Place
from calado.sheet.models import Pass, Sheet

PLACE = Place(0, 0)


def shown(planes: np.ndarray, space: object = SRGB) -> np.ndarray:
    return beyond_view(screen_codes(planes, space), planes, space, PLACE)  # type: ignore[arg-type]


class Beyond(TestCase):
    def test_what_codes_hold_is_grey_and_what_is_beyond_white_is_marked(self) -> None:
        planes = np.random.default_rng(2).random((3, 20, 30)).astype(np.float32)
        made = shown(planes)
        self.assertEqual(int(np.ptp(made, axis=2).max()), 0)
        self.assertTrue((made >= GREYS[0]).all() and (made <= GREYS[1]).all())
        over = planes.copy()
        over[1, 5:9, 6:12] = 1.2
        marked = (shown(over) == LICHEN).all(axis=2)
        expected = np.zeros((20, 30), bool)
        expected[5:9, 6:12] = True
        np.testing.assert_array_equal(marked, expected)
        # white itself is within
        self.assertFalse((shown(np.ones((3, 4, 4), np.float32)) == LICHEN).all(axis=2).any())

    def test_a_colour_that_the_screen_has_not_is_striped(self) -> None:
        # Display P3's red primary lies outside of sRGB (SMPTE EG 432-1 against IEC 61966-2-1), its grey does not
        red = np.zeros((3, 24, 24), np.float32)
        red[0] = 0.8
        marked = (shown(red, DISPLAY_P3) == LICHEN).all(axis=2)
        self.assertAlmostEqual(float(marked.mean()), 0.5, delta=0.1)
        grey = np.full((3, 24, 24), 0.5, np.float32)
        self.assertFalse((shown(grey, DISPLAY_P3) == LICHEN).all(axis=2).any())
        below = np.full((3, 24, 24), 0.3, np.float32)
        below[2] = -0.05
        self.assertTrue((shown(below) == LICHEN).all(axis=2).any())

    def test_as_a_view_it_shows_what_the_sheet_does(self) -> None:
        planes = np.tile(np.linspace(0.1, 0.9, 90, dtype=np.float32), (3, 60, 1))
        source = source_of(np.ascontiguousarray(planes), SRGB)
        bright = Sheet(passes=(Pass(id="a", name="a", inside={"exposure": {"amount": 1.0}}),))
        view = View("beyond", (0.0, 0.0, 90.0, 60.0), 1.0, format="png")
        for sheet, share in ((Sheet(), 0.0), (bright, float((planes[0] * 2 > 1.0001).mean()))):
            made = render_preview(Engine(), source, Order(sheet), view)
            picture = np.asarray(Image.open(io.BytesIO(made.data)).convert("RGB"))
            marked = (picture == LICHEN).all(axis=2)
            self.assertAlmostEqual(float(marked.mean()), share, places=6)
