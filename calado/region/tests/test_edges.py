"""Outlines traced, drawn again, mirrored, scribbled; against formulas and other libraries."""

from math import cos, pi, radians, sin
from unittest import TestCase

import cv2
import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from skimage.measure import EllipseModel, find_contours

from calado.edit.transform import copy_region, mirror
from calado.errors import SheetError
from calado.region.affine import Affine
from calado.region.box import fitted_ellipse, fitted_rectangle
from calado.region.contours import contours
from calado.region.kinds import PARTS
from calado.region.matte import Mattes, part_matte, region_matte
from calado.region.moved import changed_box
from calado.region.part import PartKind
from calado.region.resolved import alone
from calado.region.stroke import dashed, stroked
from calado.region.tracing import outlines
from calado.sheet.models import Part, Region, Sheet
from calado.window import full_window

WINDOW = full_window(300, 200)
#: of a traced line, in pixels of the window it is traced on
TRACED_PX = 0.06
DRAWN = [kind for kind in PARTS.values() if kind.beads and not (kind.strokes or kind.taken)]


def oval(**values: float) -> Part:
    return Part(id="o", kind="ellipse", values={"x": 0.7, "y": 0.45, "width": 0.6, "height": 0.4, **values})


def region(*parts: Part, **fields: object) -> Region:
    return Region(id="r", name="r", parts=parts, **fields)


class Tracing(TestCase):
    def test_a_circle_is_traced_at_any_distance(self) -> None:
        """2π(R + d) long; against the formula, for growing and for shrinking."""
        round_one = region(oval(width=0.5, height=0.5))
        for offset in (-0.1, 0.0, 0.05, 0.15):
            (line,) = outlines(Mattes(), alone(round_one), full_window(900, 600), offset)
            self.assertTrue(line.closed)
            radius = np.hypot(*(line.points - [0.7, 0.45]).T)
            np.testing.assert_allclose(radius, 0.25 + offset, atol=0.3 / 600)
            self.assertAlmostEqual(line.length, 2 * pi * (0.25 + offset), delta=0.006)

    def test_lines_are_scikit_images(self) -> None:
        matte = region_matte(region(oval(feather_out=0.1, turn=30)), WINDOW)
        for level in (0.05, 0.5, 0.95):
            (line,) = contours(matte, WINDOW, level)
            (other,) = find_contours(matte, level)
            # theirs are (row, column) of pixel centres
            theirs = (other[:, ::-1] + 0.5) / 200
            away = np.hypot(*(line.points[:, None] - theirs[None]).transpose(2, 0, 1)).min(axis=1)
            self.assertLess(away.max() * 200, 0.75)  # they may start a line elsewhere, not run elsewhere

    def test_holes_pieces_and_the_frame(self) -> None:
        ring = region(oval(), oval(width=0.2, height=0.2).model_copy(update={"id": "h", "join": "subtract"}))
        self.assertEqual(len(contours(region_matte(ring, WINDOW), WINDOW)), 2)
        cut = region_matte(region(oval(x=0.0)), WINDOW)
        self.assertEqual([line.closed for line in contours(cut, WINDOW)], [False])
        self.assertEqual([line.closed for line in contours(cut, WINDOW, round_frame=True)], [True])
        self.assertEqual(contours(np.zeros((20, 30), np.float32), full_window(30, 20)), [])


class Strokes(TestCase):
    def test_area_is_length_times_width(self) -> None:
        (line,) = outlines(Mattes(), alone(region(oval(width=0.5, height=0.5))), full_window(900, 600))
        for width in (0.4, 1.0, 3.0, 8.0):
            made = stroked([line], width / 600, 0, full_window(900, 600))
            self.assertAlmostEqual(float(made.sum()), line.length * 600 * width, delta=line.length * 600 * 0.12 * width)
            self.assertLessEqual(made.max(), 1)

    def test_dashes_come_out_even(self) -> None:
        (line,) = outlines(Mattes(), alone(region(oval())), full_window(900, 600))
        pieces = dashed(line, 0.03)
        lengths = [float(np.hypot(*np.diff(piece, axis=0).T).sum()) for piece in pieces]
        self.assertLess(max(lengths) - min(lengths), 1e-6)
        self.assertAlmostEqual(sum(lengths), line.length / 2, delta=1e-6)
        self.assertEqual(len(dashed(line, 0)), 1)
        for tiny in (1e-300, 1e-38, 1e-5):
            self.assertEqual(len(dashed(line, tiny)), 1, "too short to be told apart")

    def test_the_same_at_every_size(self) -> None:
        (line,) = outlines(Mattes(), alone(region(oval())), full_window(900, 600))
        big = stroked([line], 0.02, 0.05, full_window(900, 600))
        small = stroked([line], 0.02, 0.05, full_window(900, 600, 0.5))
        self.assertLess(np.abs(big.reshape(300, 2, 450, 2).mean(axis=(1, 3)) - small).mean(), 0.003)


class Coverage(TestCase):
    def test_a_hard_outline_sums_to_its_area_and_a_spike_weighs_what_it_covers(self) -> None:
        spike = ((0.1, 0.2), (1.4, 0.203), (0.1, 0.206))  # at most 1.2 px thick, mostly below one
        for points in (spike, ((0.2, 0.2), (0.9, 0.3), (0.5, 0.9))):
            made = part_matte(Part(id="p", kind="polygon", points=points), WINDOW)
            x, y = np.array(points).T
            area = 0.5 * abs(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) * 200**2  # the shoelace formula
            self.assertAlmostEqual(float(made.sum()), area, delta=0.004 * area + 0.05)

    def test_it_is_opencvs_coverage(self) -> None:
        points = ((0.2, 0.2), (0.9, 0.25), (1.1, 0.8), (0.4, 0.7))
        made = part_matte(Part(id="p", kind="polygon", points=points), WINDOW)
        fine = np.zeros((200 * 16, 300 * 16), np.uint8)
        cv2.fillPoly(fine, [np.rint(np.array(points) * 200 * 16).astype(np.int32)], 1)
        expected = fine.reshape(200, 16, 300, 16).mean(axis=(1, 3))
        self.assertLess(np.abs(made - expected).max(), 0.1)  # theirs counts the pixels of its border whole
        self.assertLess(np.abs(made - expected).mean(), 0.0006)


class Mending(TestCase):
    """Moving a point makes anew only what that can change, and the result is the same, bit for bit."""

    @given(st.integers(0, 39), st.floats(-0.2, 0.2), st.floats(0, 0.15), st.booleans())
    @settings(max_examples=25, deadline=None)
    def test_mended_is_made_anew(self, k: int, away: float, feather: float, curved: bool) -> None:
        angles = np.arange(40) * 2 * pi / 40
        points = [(0.7 + 0.3 * np.cos(a), 0.5 + 0.35 * np.sin(a)) for a in angles]
        if curved:
            points = [
                (x, y, 0.02 * np.sin(a), -0.02, -0.02 * np.sin(a), 0.02)
                for (x, y), a in zip(points, angles, strict=True)
            ]
        values = {"feather_in": feather / 2, "feather_out": feather}
        old = Part(id="p", kind="curve" if curved else "polygon", points=tuple(points), values=values)
        x, y, *rest = points[k]
        new = old.model_copy(update={"points": (*points[:k], (x + away, y - away, *rest), *points[k + 1 :])})
        mattes = Mattes()
        for part in (old, new):
            made = mattes.of(alone(region(part)), WINDOW)
        np.testing.assert_array_equal(made, part_matte(new, WINDOW))

    def test_only_near_the_point(self) -> None:
        points = tuple((0.2 + 0.005 * k, 0.2 + 0.001 * (k % 7)) for k in range(200))
        old = Part(id="p", kind="polygon", points=(*points, (1.2, 0.9), (0.2, 0.9)))
        new = old.model_copy(update={"points": ((0.2, 0.19), *old.points[1:])})
        left, top, right, bottom = changed_box(old, new)
        self.assertLess(right - left, 0.02)
        self.assertLess(bottom - top, 0.75)  # the side that closes it is long
        self.assertIsNone(changed_box(old, old.model_copy(update={"points": points})))


class Moving(TestCase):
    def test_a_mirrored_part_has_the_mirrored_matte(self) -> None:
        for kind in DRAWN:
            values = {**kind.place(1.5), **({"turn": 25.0, "x": 0.6} if kind.parameter("turn") else {})}
            corners = tuple((p[0] - 0.1, p[1] * 0.9, *p[2:]) for p in kind.corners(1.5))
            one = region(Part(id="a", kind=kind.id, values=values, points=corners))
            sheet = mirror(Sheet(regions=(one,)), "r", None, 1.5)
            np.testing.assert_allclose(
                region_matte(sheet.regions[0], WINDOW), region_matte(one, WINDOW)[:, ::-1], atol=2e-3, err_msg=kind.id
            )
            twice = mirror(sheet, "r", "a", 1.5)
            np.testing.assert_allclose(region_matte(twice.regions[0], WINDOW), region_matte(one, WINDOW), atol=2e-3)

    @settings(max_examples=40, deadline=None)
    @given(
        st.sampled_from([kind for kind in DRAWN if kind.id != "whole"]),
        st.floats(0.5, 1.6),
        st.floats(-180, 180),
        st.floats(-0.4, 0.4),
        st.booleans(),
    )
    def test_a_moved_part_has_its_matte_where_it_went(
        self, kind: PartKind, scale: float, turn: float, shift: float, flipped: bool
    ) -> None:
        values = {**kind.place(1.5), "feather_in": 0.06, "feather_out": 0.05}
        values |= {"turn": 25.0, "x": 0.6} if kind.parameter("turn") else {}
        part = Part(id="a", kind=kind.id, values=values, points=kind.corners(1.5))
        # about the middle, so that some of it stays in the frame
        c, s = scale * cos(radians(turn)), scale * sin(radians(turn))
        there = Affine.of(c, -s, s, c, 0.75 + shift, 0.5)
        back = Affine.of(-1.0, 0.0, 0.0, 1.0, 0.75, -0.5) if flipped else Affine.of(1.0, 0.0, 0.0, 1.0, -0.75, -0.5)
        first = kind.mapped(part, back)
        assert first is not None
        moved = kind.mapped(first, there)
        assert moved is not None
        before, after = region_matte(region(part), WINDOW), region_matte(region(moved), WINDOW)
        rows, columns = np.mgrid[4 : WINDOW.height - 4 : 7, 4 : WINDOW.width - 4 : 7]
        for row, column in zip(rows.ravel().tolist(), columns.ravel().tolist(), strict=True):
            x, y = (column + 0.5) * WINDOW.pixel, (row + 0.5) * WINDOW.pixel
            x, y = back.vector(x, y)[0] + back.dx, back.vector(x, y)[1] + back.dy
            x, y = there.vector(x, y)[0] + there.dx, there.vector(x, y)[1] + there.dy
            at = int(y / WINDOW.pixel), int(x / WINDOW.pixel)
            if 1 <= at[0] < WINDOW.height - 1 and 1 <= at[1] < WINDOW.width - 1:
                near = after[at[0] - 1 : at[0] + 2, at[1] - 1 : at[1] + 2]
                # it lies between the pixels around, as far as the pixels' own grid goes
                self.assertTrue(near.min() - 0.12 <= before[row, column] <= near.max() + 0.12, kind.id)

    def test_a_copy_lies_in_another_frame_as_it_lay_in_its_own(self) -> None:
        """A turned ellipse stays the ellipse that the stretched frame makes of it, exactly."""
        one = region(oval(turn=35), Part(id="p", kind="polygon", points=((0.1, 0.1), (0.4, 0.1), (0.2, 0.5))))
        made, id = copy_region(Sheet(regions=(one,)), "r", 1.5, Sheet(regions=(one,)), 1.0)
        self.assertEqual((id, made.regions[1].name), ("region-1", "r 2"))
        narrow = region_matte(made.regions[1], full_window(200, 200))
        wide = region_matte(one, full_window(600, 400))
        squeezed = wide.reshape(200, 2, 200, 3).mean(axis=(1, 3))
        self.assertLess(np.abs(narrow - squeezed).mean(), 0.002)

    def test_a_copy_brings_what_it_stands_on(self) -> None:
        low = Region(id="low", name="low", parts=(oval(),))
        top = region(Part(id="p", kind="region", values={"region": "low"}))
        taken = Sheet(regions=(Region(id="region-1", name="low"),))
        made, id = copy_region(Sheet(regions=(low, top)), "r", 1.5, taken, 1.5)
        copy = made.region(id)
        self.assertEqual(made.region(str(copy.parts[0].values["region"])).name, "low 2")
        with self.assertRaisesRegex(SheetError, "Mirror that region"):
            mirror(Sheet(regions=(low, top)), "r", None, 1.5)


class Scribbled(TestCase):
    def path(self, turn: float, a: float, b: float, *, boxy: bool) -> tuple[tuple[float, float], ...]:
        rng = np.random.default_rng(3)
        t = np.linspace(0, 2.2 * pi, 90)
        u, v = a * np.cos(t), b * np.sin(t)
        if boxy:
            scale = np.maximum(np.abs(np.cos(t)), np.abs(np.sin(t)))
            u, v = u / scale, v / scale
        u, v = u + rng.normal(0, 0.002, t.size), v + rng.normal(0, 0.002, t.size)
        c, s = np.cos(np.radians(turn)), np.sin(np.radians(turn))
        return tuple((float(x), float(y)) for x, y in zip(0.7 + u * c - v * s, 0.5 + u * s + v * c, strict=True))

    def test_the_ellipse_is_found_as_scikit_image_finds_it(self) -> None:
        for turn in (-60.0, 0.0, 25.0):
            path = self.path(turn, 0.3, 0.15, boxy=False)
            made = fitted_ellipse(path)
            model = EllipseModel.from_estimate(np.array(path))
            x, y = model.center
            a, b = sorted(model.axis_lengths, reverse=abs(turn) < 45)
            for value, other in ((made["x"], x), (made["y"], y), (made["width"], 2 * a), (made["height"], 2 * b)):
                self.assertAlmostEqual(float(value), float(other), delta=0.012)
            self.assertAlmostEqual((float(made["turn"]) - turn + 45) % 90 - 45, 0, delta=2)
            self.assertLessEqual(abs(float(made["turn"])), 45)
        self.assertEqual(fitted_ellipse(self.path(33.0, 0.2, 0.195, boxy=False))["turn"], 0)

    def test_the_rectangle_lies_as_opencvs_does(self) -> None:
        for turn in (-30.0, 0.0, 20.0):
            path = self.path(turn, 0.3, 0.18, boxy=True)
            made = fitted_rectangle(path)
            _, size, _ = cv2.minAreaRect(np.array(path, np.float32))
            self.assertAlmostEqual(float(made["turn"]), turn, delta=2.5)
            sides = sorted((float(made["width"]), float(made["height"])))
            np.testing.assert_allclose(sides, sorted(size), atol=0.03)

    def test_a_line_goes_round_nothing(self) -> None:
        for path in ((), ((0.1, 0.1),), ((0.1, 0.1), (0.2, 0.2), (0.3, 0.3))):
            with self.assertRaisesRegex(SheetError, "round nothing"):
                fitted_ellipse(path)
