"""Regions read from what comes into their pass: they follow the passes before, in each window and on each shot."""

from unittest import TestCase

import numpy as np

from calado.colour.spaces import SRGB
from calado.render.engine import Engine, Order
from calado.render.resolve import resolve
from calado.render.source import Source, source_of
from calado.sheet.models import Part, Pass, Region, Sheet

#: a range that white is in, a stop below is not
LIGHTS = {"low": 0.9, "soft_low": 0.05, "high": 1.0}


def ramp() -> Source:
    light = SRGB.transfer.decode(np.linspace(0, 1, 240)).astype(np.float32)
    return source_of(np.ascontiguousarray(np.broadcast_to(light, (3, 160, 240))), SRGB, "ramp")


def lights(reads: str) -> Region:
    return Region(id="r", name="lights", parts=(Part(id="p", kind="luminance", values={**LIGHTS, "reads": reads}),))


def darker(stops: float, **fields: object) -> Pass:
    return Pass(id="first", name="first", inside={"exposure": {"amount": stops}}, **fields)


def user(id: str = "second") -> Pass:
    return Pass(id=id, name=id, region="r", inside={"exposure": {"amount": 1.0}})


class Incoming(TestCase):
    def inside(self, engine: Engine, sheet: Sheet, user: str | None = None) -> float:
        where = resolve(sheet, "r", user)
        assert where is not None
        return float(engine.matte(ramp(), where, ramp().full()).mean())

    def test_it_follows_the_passes_before_and_the_source_does_not(self) -> None:
        engine = Engine()
        for reads, expected in (("incoming", 0.0), ("source", 0.11)):
            sheet = Sheet(regions=(lights(reads),), passes=(darker(-2.0), user()))
            self.assertAlmostEqual(self.inside(engine, sheet), expected, delta=0.02)
        # what is kept must not be taken for it when the pass before changes, or is switched off
        for first, expected in ((darker(1.0), 0.38), (darker(1.0, on=False), 0.11)):
            sheet = Sheet(regions=(lights("incoming"),), passes=(first, user()))
            self.assertAlmostEqual(self.inside(engine, sheet), expected, delta=0.03)

    def test_each_pass_has_its_own_and_a_view_that_of_the_first_that_uses_it(self) -> None:
        sheet = Sheet(regions=(lights("incoming"),), passes=(user("a"), darker(-2.0), user("b")))
        self.assertAlmostEqual(self.inside(Engine(), sheet), 0.11, delta=0.02)
        self.assertEqual(self.inside(Engine(), sheet, "b"), 0)
        # an unused one reads what the whole sheet makes
        self.assertEqual(self.inside(Engine(), Sheet(regions=sheet.regions, passes=(darker(-2.0),))), 0)

    def test_a_strip_of_the_picture_equals_the_whole(self) -> None:
        blur = Pass(id="blur", name="blur", inside={"blur": {"radius": 0.03}})
        sheet = Sheet(regions=(lights("incoming"),), passes=(blur, user()))
        whole = Engine().picture(ramp(), Order(sheet), ramp().full())
        strip = Engine().picture(ramp(), Order(sheet), ramp().full().rows(60, 90))
        np.testing.assert_allclose(strip, whole[:, 60:90], atol=2e-5)

    def test_a_pass_of_the_project_reads_what_the_shots_own_passes_made(self) -> None:
        project = Sheet(regions=(lights("incoming"),), passes=(user(),))
        plain = Engine().picture(ramp(), Order(Sheet(), project), ramp().full())
        dark = Engine().picture(ramp(), Order(Sheet(passes=(darker(-2.0),)), project), ramp().full())
        source = ramp().planes(ramp().full())
        self.assertGreater(float((plain - source).max()), 0.9)
        np.testing.assert_allclose(dark, source / 4, atol=1e-4)
