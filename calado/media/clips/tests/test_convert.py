"""Codes to light and back: against colour-science's matrices and ranges, and back to the very codes."""

from unittest import TestCase

import colour
import cv2
import numpy as np

from calado.colour.spaces import REC709
from calado.media.clips.chroma import CHROMA_REACH, hidden_samples
from calado.media.clips.convert import to_codes, to_linear
from calado.media.clips.curves import NONE, light_row, signal_row, to_light, to_signal
from calado.media.clips.facts import Tags
from calado.media.clips.planes import Layout, Picture

#: H.273's numbers of the matrices, and colour-science's names of their weights
MATRICES = {1: "ITU-R BT.709", 6: "ITU-R BT.601", 9: "ITU-R BT.2020"}
LAYOUTS = [
    Layout("yuv", 8, 2, 2),
    Layout("yuv", 8, 1, 1),
    Layout("yuv", 10, 2, 1),
    Layout("yuv", 10, 2, 2, sited_top=True),
    Layout("yuv", 12, 2, 2),
    Layout("yuv", 16, 1, 1),
    Layout("yuv", 16, 2, 2),
    Layout("yuv", 8, 4, 1),
    Layout("rgb", 8),
    Layout("rgb", 16),
    Layout("grey", 10),
]


def tags(matrix: int = 1, full: bool = False) -> Tags:
    return Tags(0 if matrix == 0 else matrix, {6: 6, 9: 9}.get(matrix, 1), 1, full)


def random_picture(layout: Layout, seed: int, size: tuple[int, int] = (22, 14)) -> Picture:
    order = np.random.default_rng(seed)
    kind = np.uint8 if layout.bits == 8 else np.uint16
    shapes = [size[::-1]]
    if layout.kind == "rgb":
        shapes *= 3
    elif layout.kind == "yuv":
        shapes += [layout.chroma_size(*size)[::-1]] * 2
    return Picture(layout, tuple(order.integers(0, layout.top + 1, shape, kind) for shape in shapes))


class Light(TestCase):
    def test_colours_as_a_colour_science_library_codes_them(self) -> None:
        order = np.random.default_rng(7)
        for matrix, name in MATRICES.items():
            for bits in (8, 10):
                for full in (False, True):
                    with self.subTest(name, bits=bits, full=full):
                        signal = order.uniform(0.1, 0.9, (6, 3))
                        weights = colour.WEIGHTS_YCBCR[name]
                        codes = colour.RGB_to_YCbCr(signal, weights, out_bits=bits, out_legal=not full, out_int=True)
                        layout = Layout("yuv", bits, 1, 1)
                        kind = np.uint8 if bits == 8 else np.uint16
                        planes = tuple(np.ascontiguousarray(codes[None, :, c]).astype(kind) for c in range(3))
                        made = REC709.transfer.encode(to_linear(Picture(layout, planes), tags(matrix, full)))
                        # within what rounding to codes leaves
                        np.testing.assert_allclose(made[:, 0].T, signal, atol=2.2 / (1 << bits))

    def test_the_red_of_bt_709_in_limited_range(self) -> None:
        red = np.zeros((3, 4, 4), np.float32)
        red[0] = 1
        made = to_codes(red, tags(), Layout("yuv", 8, 2, 2))
        # BT.709's equations: 16 + 219 · 0.2126, 128 − 224 · 0.2126/1.8556, 128 + 112
        self.assertEqual([int(plane[1, 1]) for plane in made.planes], [63, 102, 240])

    def test_the_sample_in_the_middle_of_its_curve(self) -> None:
        grey = Picture(Layout("yuv", 8, 1, 1), tuple(np.full((2, 2), code, np.uint8) for code in (126, 128, 128)))
        # BT.709's curve back: ((0.5023 + 0.0993)/1.0993)^(1/0.45)
        np.testing.assert_allclose(to_linear(grey, tags()), 0.2619, atol=2e-4)


class Curves(TestCase):
    def test_the_camera_s_curve_is_as_a_colour_science_library_has_it(self) -> None:
        light = np.linspace(-2, 9.9, 40001, dtype=np.float32)
        signal = np.sign(light) * colour.models.oetf_BT2020(np.abs(light.astype(float)), is_12_bits_system=True)
        back, there = to_signal(REC709.transfer), to_light(REC709.transfer)
        self.assertTrue(back.polynomial.size and there.polynomial.size)
        for polynomials in (True, False):
            with self.subTest(polynomials=polynomials):
                made = np.empty_like(light)
                signal_row(light, back.table, back.polynomial if polynomials else NONE, made)
                # the library prints the curve's constants to four digits
                np.testing.assert_allclose(made, signal, atol=5e-5)
                again = np.empty_like(light)
                light_row(made, there.table, there.polynomial if polynomials else NONE, again)
                np.testing.assert_allclose(again, light, rtol=3e-5, atol=4e-6)

    def test_what_is_concealed_is_far_from_what_is_carried(self) -> None:
        order = np.random.default_rng(4)
        for across, down in ((1, 1), (2, 1), (2, 2), (4, 1)):
            hidden = (order.random((19, 37)) > 0.995).astype(np.float32)
            carry = np.ones(Layout("yuv", 8, across, down).chroma_size(37, 19)[::-1], np.uint8)
            hidden_samples(hidden, across, down, carry)
            # OpenCV's dilation, read where samples of chroma stand: any pixel of theirs
            near = cv2.dilate(hidden, np.ones((2 * CHROMA_REACH + 1,) * 2))
            for (i, j), carried in np.ndenumerate(carry):
                own = near[i * down : (i + 1) * down, j * across : (j + 1) * across]
                self.assertEqual(bool(carried), not own.any())


class Back(TestCase):
    def test_codes_that_nobody_touched_come_back(self) -> None:
        for layout in LAYOUTS:
            for matrix in (1, 9):
                for full in (False, True):
                    with self.subTest(layout=layout, matrix=matrix, full=full):
                        of = tags(matrix, full or layout.kind == "rgb")
                        # in sixteen bits a single precision float tells codes apart, but not always their halves
                        least = 1 if layout.bits == 16 else 0
                        for size in ((22, 14), (23, 13), (1, 1), (2, 3)):
                            before = random_picture(layout, 3, size)
                            after = to_codes(to_linear(before, of), of, layout, before)
                            for a, b in zip(before.planes, after.planes, strict=True):
                                self.assertLessEqual(int(np.abs(a.astype(int) - b).max()), least)

    def test_high_range_comes_back_too(self) -> None:
        rng = np.random.default_rng(8)
        for curve in (16, 18):
            of = Tags(9, 9, curve, False)
            for layout in (Layout("yuv", 10, 2, 2, sited_top=True), Layout("yuv", 12, 1, 1)):
                # colours that a camera sees, from the darkest codes on, and every code of grey
                step = 1 << (layout.bits - 8)
                luma = np.arange(16 * step, 236 * step, dtype=np.uint16)
                luma = np.resize(luma, (40, -(-len(luma) // 40) + 1))
                chroma = [
                    (128 * step + rng.integers(-3, 4, layout.chroma_size(luma.shape[1], 40)[::-1])).astype(np.uint16)
                    for _ in range(2)
                ]
                before = Picture(layout, (luma, *chroma))
                with self.subTest(curve=curve, layout=layout):
                    after = to_codes(to_linear(before, of), of, layout, before)
                    for a, b in zip(before.planes, after.planes, strict=True):
                        np.testing.assert_array_equal(a, b)

    def test_high_range_is_light_as_a_colour_science_library_has_it(self) -> None:
        codes = np.arange(64, 941, dtype=np.uint16)[None].repeat(2, 0)
        grey = Picture(Layout("yuv", 10, 1, 1), (codes, *(np.full_like(codes, 512) for _ in range(2))))
        light = to_linear(grey, Tags(9, 9, 16, False))[1, 0]
        expected = colour.models.eotf_BT2100_PQ((codes[0] - 64.0) / 876) / 203
        np.testing.assert_allclose(light, expected, rtol=2e-4, atol=1e-6)

    def test_nothing_of_the_hidden_chroma_is_carried(self) -> None:
        layout = Layout("yuv", 8, 2, 2)
        before = random_picture(layout, 5, (40, 40))
        light = to_linear(before, tags())
        hidden = np.zeros((40, 40), np.float32)
        hidden[10:30, 10:30] = 1
        light[:, 10:30, 10:30] = 0.2
        after = to_codes(light, tags(), layout, before, hidden)
        # a sample of chroma at the border stands for the pixel before it too, which shows
        for plane, first, last in zip(after.planes, (10, 6, 6), (30, 15, 15), strict=True):
            self.assertEqual(len(np.unique(plane[first:last, first:last])), 1)
        # twice with another picture underneath: the same codes; at the border's own sample a pixel shows
        other = random_picture(layout, 6, (40, 40))
        for plane, codes in zip(other.planes, before.planes, strict=True):
            step = 40 // plane.shape[0]
            keep = np.ones_like(plane, bool)
            keep[10 // step : 30 // step, 10 // step : 30 // step] = False
            plane[keep] = codes[keep]
        moved = to_linear(other, tags())
        moved[:, 10:30, 10:30] = 0.2
        again = to_codes(moved, tags(), layout, other, hidden)
        for a, b in zip(after.planes[1:], again.planes[1:], strict=True):
            np.testing.assert_array_equal(a[6:15, 6:15], b[6:15, 6:15])

    def test_nan_becomes_black(self) -> None:
        light = np.full((3, 4, 4), np.nan, np.float32)
        made = to_codes(light, tags(), Layout("yuv", 8, 2, 2))
        self.assertEqual([int(plane.max()) for plane in made.planes], [16, 128, 128])
