"""What follows an outline: ribbon, profiles, softness, rings, the outline view; on pictures known by formula."""

from unittest import TestCase

import numpy as np
from scipy import ndimage

from calado.colour.spaces import SRGB
from calado.errors import RequestError
from calado.inspect.edge.profile import edge_profile
from calado.inspect.edge.ribbon import EVERY, GAP, GROUND, Cut, ribbon
from calado.inspect.edge.softness import edge_softness
from calado.region.resolved import alone
from calado.render.engine import Engine, Order
from calado.render.source import Source, source_of
from calado.render.views import Lattice, Place, lattice_view, outline_view
from calado.sheet.models import Part, Pass, Region, Sheet

SIZE = (600, 400)  # width, height
CENTRE = (300.0, 200.0)
RADIUS = 120.0
CODE = 2.0 / 255


def circle(radius: float = RADIUS, **fields: object) -> Part:
    values = {"x": 0.75, "y": 0.5, "width": 2 * radius / 400, "height": 2 * radius / 400}
    return Part(id=f"c{radius:g}", kind="ellipse", values={**values, **fields.pop("values", {})}, **fields)


def region(*parts: Part) -> Region:
    return Region(id="r", name="r", parts=parts)


def distance() -> np.ndarray:
    y, x = np.mgrid[0:400, 0:600] + 0.5
    return np.hypot(x - CENTRE[0], y - CENTRE[1])


def source(signal: np.ndarray) -> Source:
    """Return a grey picture of encoded values."""
    codes = np.rint(np.clip(signal, 0, 1) * 65535).astype(np.uint16)
    return source_of(np.stack([codes] * 3), SRGB, "made")


class Ribbons(TestCase):
    def test_what_depends_on_the_distance_only_is_the_same_in_every_column(self) -> None:
        picture = source(0.2 + 0.6 * distance() / 400)
        for zoom in (1.0, 2.0, 4.0):
            made = ribbon(Engine(), picture, Order(), alone(region(circle())), Cut(40, 500, 60, zoom))
            self.assertAlmostEqual(made.total, 2 * np.pi * RADIUS * zoom, delta=3 * zoom)
            rows = (np.arange(120) + 0.5 - 60) / zoom  # above is inside
            expected = (0.2 + 0.6 * (RADIUS + rows) / 400)[:, None]
            self.assertLess(np.abs(made.codes[..., 0] / 255 - expected).max(), CODE, zoom)

    def test_a_press_finds_its_place(self) -> None:
        made = ribbon(Engine(), source(distance() / 500), Order(), alone(region(circle())), Cut(0, 640, 20, 2.0))
        self.assertEqual(len(made.places), 640 // EVERY)
        np.testing.assert_allclose(np.hypot(*(made.places - CENTRE).T), RADIUS, atol=0.3)
        steps = np.hypot(*np.diff(made.places, axis=0).T)
        np.testing.assert_allclose(steps, EVERY / 2.0, atol=0.1)

    def test_a_hole_and_another_piece_follow_with_a_gap(self) -> None:
        hole = circle(40.0, join="subtract")
        made = ribbon(
            Engine(), source(distance() / 500), Order(), alone(region(circle(), hole)), Cut(0, 1400, 10, 1.0, "matte")
        )
        first, second = made.stretches
        self.assertEqual(second.start, first.start + first.length + GAP)
        self.assertTrue((made.codes[:, first.length + 2 : second.start - 2] == GROUND).all())
        # of the hole too, inside the region is above
        for each in (first, second):
            columns = made.codes[:, each.start + 5 : each.start + each.length - 5, 0]
            self.assertEqual((columns[0].min(), columns[-1].max()), (255, 0))
        self.assertTrue(np.isnan(made.places[(first.length + GAP // 2) // EVERY]).all())

    def test_parts_of_the_strip_are_the_strip(self) -> None:
        where, picture = alone(region(circle())), source(distance() / 500)
        whole = ribbon(Engine(), picture, Order(), where, Cut(0, 700, 30, 1.0)).codes
        np.testing.assert_array_equal(
            ribbon(Engine(), picture, Order(), where, Cut(200, 300, 30, 1.0)).codes, whole[:, 200:500]
        )

    def test_refusals(self) -> None:
        picture = source(distance() / 500)
        with self.assertRaisesRegex(RequestError, "no edge"):
            ribbon(Engine(), picture, Order(), alone(region(Part(id="w", kind="whole"))), Cut(0, 100, 10, 1.0))
        for cut in (Cut(0, 10**6, 10, 1.0), Cut(0, 0, 10, 1.0), Cut(0, 10, 10, 0.0)):
            with self.assertRaisesRegex(RequestError, "at most"):
                ribbon(Engine(), picture, Order(), alone(region(circle())), cut)


class Profiles(TestCase):
    def test_across_the_nearest_place(self) -> None:
        soft = region(circle(values={"feather_in": 0.05, "feather_out": 0.05, "profile": "straight"}))
        sheet = Sheet(
            regions=(soft,), passes=(Pass(id="p", name="p", region="r", outside={"exposure": {"amount": -1.0}}),)
        )
        made = edge_profile(Engine(), source(np.full((400, 600), 0.5)), Order(sheet), alone(soft), (450.0, 200.0), 30.0)
        self.assertAlmostEqual(made.x, 420.0, delta=0.5)
        self.assertAlmostEqual(made.y, 200.0, delta=2)
        expected = np.clip(0.5 - np.linspace(-30, 30, 81) / 40, 0, 1)
        np.testing.assert_allclose(made.matte, expected, atol=0.012)
        np.testing.assert_allclose(made.before, 0.5, atol=CODE)
        self.assertAlmostEqual(made.after[0], 0.5, delta=CODE)
        self.assertLess(made.after[-1], 0.4)


class Softnesses(TestCase):
    def test_a_blurred_disc_is_as_soft_as_it_was_blurred(self) -> None:
        for sigma in (1.0, 2.0, 3.5):
            disc = ndimage.gaussian_filter((distance() < RADIUS).astype(np.float64), sigma)
            found = edge_softness(Engine(), source(0.2 + 0.6 * disc), alone(region(circle())))
            self.assertIsNotNone(found.sigma)
            self.assertAlmostEqual(found.sigma * 400, sigma, delta=0.12 * sigma + 0.1)
            self.assertAlmostEqual(found.grow, 2 * found.sigma)

    def test_where_nothing_can_be_seen_nothing_is_told(self) -> None:
        self.assertIsNone(edge_softness(Engine(), source(np.full((400, 600), 0.5)), alone(region(circle()))).sigma)
        self.assertIsNone(edge_softness(Engine(), source(distance() / 500), alone(region())).sigma)


class Rings(TestCase):
    def render(self, **ring: float) -> np.ndarray:
        values = {"width": 0.02, "offset": 0.05, **ring}
        one = Pass(id="p", name="p", region="r", outside={"ring": values})
        sheet = Sheet(regions=(region(circle()),), passes=(one,))
        picture = source(np.full((400, 600), 0.2))
        return Engine().picture(picture, Order(sheet), picture.full())

    def test_it_lies_at_its_distance_as_wide_as_asked(self) -> None:
        made, grey = self.render(), 0.2
        inner, outer = RADIUS + 0.05 * 400, RADIUS + 0.07 * 400
        away = distance()
        self.assertAlmostEqual(float(made[0][(away > inner + 1) & (away < outer - 1)].min()), 1, places=3)
        untouched = made[0][(away < inner - 1) | (away > outer + 1)]
        self.assertLess(untouched.max() - untouched.min(), 1e-6)
        covered = float(((made[0] - made[0].min()) / (1 - made[0].min())).sum())
        self.assertAlmostEqual(covered, np.pi * (outer**2 - inner**2), delta=0.01 * covered)
        self.assertLess(grey, 1)

    def test_dashes_cover_half_and_colour_is_the_colour(self) -> None:
        whole, half = self.render(), self.render(dash=0.1)
        share = (half[0] - half[0].min()).sum() / (whole[0] - whole[0].min()).sum()
        self.assertAlmostEqual(float(share), 0.5 + 0.5 * 0.02 / 0.1 * np.pi / 4, delta=0.06)  # round ends
        red = self.render(chroma=1.0, hue=29.0, light=0.6)
        ring = red[:, 200, int(300 + RADIUS + 0.06 * 400)]
        self.assertGreater(ring[0], 2 * ring[1])

    def test_its_strength_is_its_width(self) -> None:
        one = Pass(id="p", name="p", region="r", outside={"ring": {"width": 0.02, "offset": 0.05}}, strength=0.5)
        picture = source(np.full((400, 600), 0.2))
        made = Engine().picture(picture, Order(Sheet(regions=(region(circle()),), passes=(one,))), picture.full())
        np.testing.assert_allclose(made, self.render(width=0.01), atol=1e-6)

    def test_strips_agree(self) -> None:
        one = Pass(id="p", name="p", region="r", outside={"ring": {"width": 0.02, "offset": 0.05, "dash": 0.04}})
        sheet = Sheet(regions=(region(circle()),), passes=(one,))
        picture = source(np.full((400, 600), 0.2))
        whole = Engine().picture(picture, Order(sheet), picture.full())
        strip = Engine().picture(picture, Order(sheet), picture.full().rows(50, 120))
        np.testing.assert_array_equal(strip, whole[:, 50:120])


class Views(TestCase):
    def test_the_outline_is_drawn_where_the_matte_is_half(self) -> None:
        grey = np.full((400, 600, 3), 100, np.uint8)
        soft = region(circle(values={"feather_in": 0.1, "feather_out": 0.1}))
        picture = source(np.full((400, 600), 0.5))
        made = outline_view(grey, Engine().matte(picture, alone(soft), picture.full()))[..., 0].astype(int)
        away = distance()
        self.assertGreater(made[np.abs(away - RADIUS) < 0.4].min(), 200)
        self.assertTrue((made[away < 60] == 100).all())
        self.assertTrue((made[(np.abs(away - RADIUS) > 4) & (np.abs(away - RADIUS) < 20)] == 100).all())

    def test_the_lattice_can_lie_inside_in_another_thread_and_density(self) -> None:
        grey = np.full((400, 600, 3), 100, np.uint8)
        grey_source = source(np.full((400, 600), 0.5))
        matte = Engine().matte(grey_source, alone(region(circle())), grey_source.full())
        inside = lattice_view(grey, matte, Place(0, 0), Lattice("lichen", "dense", inside=True))
        self.assertTrue((inside[matte == 0] == 100).all())
        threads = inside[(matte == 1)]
        self.assertGreater(int(threads[:, 1].max()), int(threads[:, 2].max()) + 20)  # yellow-green
        shares = [
            float((lattice_view(grey, matte, Place(0, 0), Lattice("light", density))[..., 0] != 100).mean())
            for density in ("open", "even", "dense")
        ]
        self.assertEqual(shares, sorted(shares))
