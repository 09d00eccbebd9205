"""Vignettes brought to one level: what a camera would read at the corners, whatever the source had there before."""

from unittest import TestCase

import numpy as np

from calado.colour.spaces import SRGB
from calado.edit.create import start_pass
from calado.render.engine import Engine, Order
from calado.render.source import Source, source_of
from calado.sheet.models import EMPTY_SHEET, Pass, Region, Sheet
from calado.start.analysis import analyse
from calado.start.level import levelled, vignette_of, with_amount
from calado.start.starter import frame_oval

HIGH, WIDE = 200, 300
ENGINE = Engine()


def lens(stops: float, seed: int) -> Source:
    """Return an even wall seen through a lens that loses light outward, with some texture."""
    y, x = np.mgrid[:HIGH, :WIDE]
    square = ((x + 0.5 - WIDE / 2) ** 2 + (y + 0.5 - HIGH / 2) ** 2) / ((WIDE / 2) ** 2 + (HIGH / 2) ** 2)
    texture = np.random.default_rng(seed).normal(0, 0.05, (HIGH, WIDE))
    light = 0.3 * np.exp2(stops * square + texture)
    return source_of(np.repeat(light[None], 3, axis=0).astype(np.float32), SRGB, f"wall {stops} {seed}")


def corner(source: Source, sheet: Sheet) -> float:
    """Return the stops between a picture's corners and its middle, read off the pixels."""
    light = ENGINE.picture(source, Order(sheet), source.full())[1]
    corners = [light[np.ix_(rows, columns)] for rows in _ends(HIGH) for columns in _ends(WIDE)]
    middle = light[HIGH // 2 - 10 : HIGH // 2 + 10, WIDE // 2 - 10 : WIDE // 2 + 10]
    return float(np.log2(np.median(corners) / np.median(middle)))


def _ends(length: int) -> tuple[range, range]:
    return range(8), range(length - 8, length)


class OneLevel(TestCase):
    def test_own_falloff_and_vignette_come_to_the_level_together(self) -> None:
        for seed in range(4):
            for own in (0.0, -0.5, -1.0):
                for level in (-0.8, -1.2, -2.0):
                    source = lens(own, seed)
                    begun, id = start_pass(EMPTY_SHEET, "vignette", analyse(ENGINE, source))
                    amount, reached = levelled(ENGINE, source, Order(begun), id, level)
                    seen = corner(source, with_amount(begun, id, amount))
                    with self.subTest(own=own, level=level, seed=seed):
                        self.assertAlmostEqual(seen, min(level, own), delta=0.15)
                        self.assertAlmostEqual(reached.total, min(level, own), delta=0.1)
                        self.assertEqual(reached.own is None, own == 0.0)

    def test_a_vignette_is_found_and_a_spotlight_is_none(self) -> None:
        source = lens(0.0, 1)
        region = Region(id="r", name="r", parts=(frame_oval(1.5),))
        dark = {"exposure": {"amount": -1.0}}
        around = Pass(id="a", name="Edge", region="r", outside=dark)
        within = Pass(id="b", name="Vignette", region="r", inside=dark)
        off = Pass(id="c", name="Vignette", region="r", outside=dark, on=False)
        found = vignette_of(ENGINE, source, Sheet(regions=(region,), passes=(around, within, off)))
        self.assertEqual(found and found.id, "a")
        self.assertIsNone(vignette_of(ENGINE, source, Sheet(regions=(region,), passes=(within, off))))
