"""Outlines written and read as SVG; against other libraries."""

from unittest import TestCase

import numpy as np
import svgpathtools

from calado.edit.svg import region_svg, start_outlines
from calado.errors import SheetError
from calado.region.chords import flattened
from calado.region.kinds import PARTS
from calado.region.matte import Mattes, region_matte
from calado.region.resolved import alone
from calado.region.svg import read_svg, write_svg
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


class Svg(TestCase):
    def test_written_and_read_it_is_the_same_matte(self) -> None:
        arch = region(
            oval(turn=20),
            Part(
                id="b",
                kind="rectangle",
                join="subtract",
                values={"x": 0.7, "y": 0.5, "width": 0.3, "height": 0.2, "corner": 0.5},
            ),
            Part(id="c", kind="curve", points=PARTS["curve"].corners(1.5), join="intersect"),
            Part(id="d", kind="polygon", points=((0.1, 0.1), (0.3, 0.1), (0.2, 0.3))),
        )
        text = write_svg(arch, [], (300, 200))
        sheet, id = start_outlines(Sheet(), text, "read", 1.5)
        made = region_matte(sheet.region(id), WINDOW)
        self.assertEqual([part.join for part in sheet.regions[0].parts], ["add", "subtract", "intersect", "add"])
        self.assertLess(np.abs(made - region_matte(arch, WINDOW)).mean(), 0.0008)

    def test_paths_agree_with_a_reference_library(self) -> None:
        """svgpathtools reads the same path data; its points lie on our outlines."""
        d = "M20 30 C 20 5 90 5 90 30 S 160 60 90 90 Q 60 120 40 90 T 20 70 A 15 25 10 0 1 20 30 Z"
        shares = np.linspace(0, 1, 60, endpoint=False)
        theirs = np.array([segment.point(t) for segment in svgpathtools.parse_path(d) for t in shares])
        text = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 300 200"><path d="{d}"/></svg>'
        ((points, join),) = read_svg(text, 1.5)
        self.assertEqual(join, "add")
        ours = flattened(points, 1e-6) * 200
        gaps = np.abs(theirs[:, None] - (ours[:, 0] + 1j * ours[:, 1])[None]).min(axis=1)
        self.assertLess(gaps.max(), 0.2)  # between two of our chords' ends
        area = 0.5 * abs(np.sum(ours[:, 0] * np.roll(ours[:, 1], -1) - ours[:, 1] * np.roll(ours[:, 0], -1)))
        their_area = 0.5 * abs(np.sum(theirs.real * np.roll(theirs.imag, -1) - theirs.imag * np.roll(theirs.real, -1)))
        self.assertAlmostEqual(area, their_area, delta=0.002 * area)

    def test_a_refined_region_is_traced(self) -> None:
        grown = region(oval(), refine={"grow": 0.03})
        text = region_svg(Mattes(), alone(grown), (300, 200))
        sheet, id = start_outlines(Sheet(), text, "read", 1.5)
        self.assertLess(np.abs(region_matte(sheet.region(id), WINDOW) - region_matte(grown, WINDOW)).mean(), 0.002)

    def test_holes_by_how_deep_they_lie(self) -> None:
        """The same as even-odd, which is how a path with several pieces is filled when fill-rule says evenodd."""
        d = "M10 10H190V190H10Z M30 30H170V170H30Z M60 60H140V140H60Z M210 20H280V180H210Z"
        text = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 300 200"><path d="{d}"/></svg>'
        sheet, id = start_outlines(Sheet(), text, "read", 1.5)
        made = region_matte(sheet.region(id), WINDOW)
        self.assertEqual(
            [made[y, x] for y, x in ((20, 20), (40, 100), (100, 100), (100, 250), (5, 5))], [1, 0, 1, 1, 0]
        )

    def test_shapes_transforms_and_another_frame(self) -> None:
        text = (
            '<svg xmlns="http://www.w3.org/2000/svg" width="80mm" height="80mm" viewBox="0 0 100 100">'
            '<g transform="translate(50 50) rotate(45)"><rect x="-20" y="-20" width="40" height="40"/></g></svg>'
        )
        ((points, _),) = read_svg(text, 1.5)
        corners = np.array([point[:2] for point in points])
        np.testing.assert_allclose(sorted(corners[:, 0]), [0.75 - 0.2828, 0.75, 0.75, 0.75 + 0.2828], atol=1e-3)

    def test_what_is_refused_and_why(self) -> None:
        def svg(inside: str, head: str = "") -> str:
            return f'{head}<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10">{inside}</svg>'

        bomb = '<!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]>'
        for text, word in (
            (svg("<path d='M0 0h1v1z'/>", bomb), "doctype"),
            (svg("<script>alert(1)</script>"), "script"),
            (svg("<image href='http://elsewhere/x.png'/>"), "image"),
            (svg("<use href='#a'/>"), "use"),
            (svg("<a xlink:href='file:///etc/passwd'><path d='M0 0h1v1z'/></a>"), "href"),
            (svg("<text>words</text>"), "no closed outline"),
            ("<svg", "cannot? ?be read|can be read"),
            ("", "can be read"),
            ("<svg xmlns='http://www.w3.org/2000/svg'><path d='M0 0h1v1z'/></svg>", ""),
            (svg("<path d='" + "M0 0h1v1z" * 101 + "'/>"), "up to 100"),
            (svg("<path d='M0 0" + "L1 1L2 1" * 3000 + "z'/>"), "more than 5000"),
            (svg(" " * 2**21), "up to 2 MB"),
        ):
            with self.assertRaisesRegex(SheetError, word):
                points = read_svg(text, 1.5)
                self.assertTrue(all(np.isfinite(point).all() for point, _ in points))
                raise SheetError(word)
