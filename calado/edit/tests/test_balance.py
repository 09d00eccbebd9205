"""Balancing by a press on a grey: lights made by colour-science's illuminants come out neutral."""

from unittest import TestCase

import colour
import numpy as np

from calado.colour.spaces import DISPLAY_P3, SRGB, ColourSpace, xyz_of
from calado.edit.balance import balanced
from calado.errors import RequestError, SheetError
from calado.render.engine import Engine, Order
from calado.render.source import Source, source_of
from calado.sheet.models import Pass, Sheet

SHEET = Sheet(passes=(Pass(id="p", name="p", inside={"exposure": {"amount": 0.5}}),))


def lit(illuminant: str, space: ColourSpace = SRGB) -> Source:
    """Return a grey card in a light, and beside it what is black."""
    xy = colour.CCS_ILLUMINANTS["CIE 1931 2 Degree Standard Observer"][illuminant]
    light = space.from_xyz @ xyz_of((float(xy[0]), float(xy[1])))
    planes = np.zeros((3, 60, 90), np.float32)
    planes[:, :, :45] = (0.4 * light / light.max())[:, None, None]
    return source_of(planes, space)


class Balanced(TestCase):
    def test_any_light_becomes_neutral(self) -> None:
        # CIE 15: A is a lamp of 2856 K, F2 and F11 are tubes, D50 and D75 are daylight
        for space in (SRGB, DISPLAY_P3):
            for illuminant in ("A", "D50", "D75", "FL2", "FL11"):
                source = lit(illuminant, space)
                made = balanced(Engine(), source, SHEET, "p", "inside", (0.1, 0.1, 0.3, 0.3))
                picture = Engine().picture(source, Order(made), source.full())[:, 5, 5]
                self.assertLess(float(np.ptp(picture) / picture.mean()), 0.01, illuminant)
                self.assertEqual(made.passes[0].inside["exposure"], {"amount": 0.5})
        self.assertLess(
            balanced(Engine(), lit("A"), SHEET, "p", "inside", (0, 0, 0.3, 0.3))
            .passes[0]
            .inside["temperature"]["shift"],
            -150,
        )

    def test_an_earlier_pass_is_seen(self) -> None:
        warm = Pass(id="w", name="w", inside={"temperature": {"shift": 60.0}})
        sheet = Sheet(passes=(warm, *SHEET.passes))
        made = balanced(Engine(), lit("D65"), sheet, "p", "inside", (0.1, 0.1, 0.3, 0.3))
        self.assertAlmostEqual(made.passes[1].inside["temperature"]["shift"], -60, delta=15)

    def test_where_no_light_can_be_read_it_is_said(self) -> None:
        for box in ((1.0, 0.5, 0.1, 0.1), (5.0, 5.0, 0.1, 0.1)):
            with self.assertRaises(RequestError):
                balanced(Engine(), lit("A"), SHEET, "p", "inside", box)
        with self.assertRaises(SheetError):
            balanced(Engine(), lit("A"), SHEET, "q", "inside", (0, 0, 0.1, 0.1))
