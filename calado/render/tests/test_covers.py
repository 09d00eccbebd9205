"""Covers that must hold: nothing that softens a region or weakens a pass lets what they hide show through."""

from typing import Any
from unittest import TestCase
from unittest.mock import patch

import numpy as np

from calado.colour.spaces import SRGB
from calado.render.covers import Cover
from calado.render.engine import Engine, Order, new_secret
from calado.render.resolve import resolve
from calado.render.source import source_of
from calado.sheet.models import Part, Pass, Region, Sheet, Stroke

HIGH, WIDE = 80, 120
PICTURE = np.random.default_rng(4).random((3, HIGH, WIDE), np.float32)
Y, X = (np.mgrid[:HIGH, :WIDE] + 0.5) / HIGH
OVAL = {"x": 0.75, "y": 0.5, "width": 0.8, "height": 0.6}
#: well within the oval, and well beyond it
DEEP = ((X - 0.75) / 0.4) ** 2 + ((Y - 0.5) / 0.3) ** 2 < 0.95
FAR = ((X - 0.75) / 0.4) ** 2 + ((Y - 0.5) / 0.3) ** 2 > 2.0
SOLID = {"solid": {"amount": 1.0, "light": 0.6}}


def oval(refine: dict[str, Any] | None = None, **fields: Any) -> Region:
    part = Part(id="p", kind="ellipse", **{"values": OVAL, **fields})
    return Region(id="r", name="r", parts=(part,), refine=refine or {})


def made(region: Region, *passes: Pass, engine: Engine | None = None, picture: np.ndarray = PICTURE) -> np.ndarray:
    source = source_of(picture, SRGB, str(hash(picture.tobytes())))
    sheet = Sheet(regions=(region,), passes=passes)
    return (engine or Engine()).picture(source, Order(sheet), source.full())


def cover(**fields: Any) -> Pass:
    return Pass(**{"id": "a", "name": "a", "region": "r", "inside": SOLID, **fields})


def way(*points: float) -> tuple[float, ...]:
    return tuple(number for k in range(0, len(points), 2) for number in (*points[k : k + 2], 0.4))


SOFTENED: dict[str, tuple[Region, dict[str, Any]]] = {
    "feather inward": (oval(values={**OVAL, "feather_in": 0.3}), {}),
    "bell": (oval(values={**OVAL, "feather_in": 0.2, "feather_out": 0.1, "profile": "bell"}), {}),
    "opacity": (oval(opacity=0.3), {}),
    "blur": (oval({"blur": 0.08}), {}),
    "strength": (oval(), {"strength": 0.2}),
    "mix": (oval(), {"mix": 0.1}),
    "no strength, no mix": (oval(), {"strength": 0.0, "mix": 0.0}),
    "amount": (oval(), {"inside": {"solid": {"amount": 0.2, "light": 0.6}}}),
    "brush": (
        Region(
            id="r",
            name="r",
            parts=(
                Part(
                    id="p",
                    kind="brush",
                    strokes=(
                        Stroke(
                            points=way(0.3, 0.5, 1.2, 0.5), size=0.7, hardness=0.1, flow=0.3, density=0.5, pen="flow"
                        ),
                    ),
                ),
            ),
        ),
        {},
    ),
}


class Holding(TestCase):
    def test_whatever_softens_it_a_solid_is_one_colour_over_its_whole_shape(self) -> None:
        for name, (region, fields) in SOFTENED.items():
            after = made(region, cover(**fields))
            deep = (np.abs(Y - 0.5) < 0.33) & (np.abs(X - 0.75) < 0.4) if name == "brush" else DEEP
            self.assertEqual(np.ptp(after[:, deep], axis=1).max(), 0, name)
            far = np.abs(Y - 0.5) > 0.42 if name == "brush" else FAR
            self.assertLess(np.abs(after[:, far] - PICTURE[:, far]).mean(), 0.02, name)

    def test_one_that_need_not_cover_is_as_soft_as_it_is_drawn(self) -> None:
        for name, (region, fields) in SOFTENED.items():
            after = made(region, cover(**fields, must_cover=False))
            self.assertGreater(np.ptp(after[:, DEEP], axis=1).max(), 0.05, name)

    def test_outside_it_holds_up_to_the_drawn_line(self) -> None:
        soft = oval(values={**OVAL, "feather_in": 0.1, "feather_out": 0.3}, opacity=0.9)
        after = made(soft, cover(inside={}, outside=SOLID, mix=0.5))
        beyond = ((X - 0.75) / 0.4) ** 2 + ((Y - 0.5) / 0.3) ** 2 > 1.05
        self.assertEqual(np.ptp(after[:, beyond], axis=1).max(), 0)

    def test_what_is_cut_out_softly_is_covered_until_it_is_out_whole(self) -> None:
        values = {**OVAL, "width": 0.3, "height": 0.2, "feather_out": 0.2}
        hole = Part(id="q", kind="ellipse", join="subtract", opacity=0.7, values=values)
        region = oval().model_copy(update={"parts": (*oval().parts, hole)})
        self.assertEqual(np.ptp(made(region, cover())[:, DEEP], axis=1).max(), 0)

    def test_its_feather_and_colour_are_those_of_the_pass_itself(self) -> None:
        soft = oval(values={**OVAL, "feather_out": 0.1})
        after, loose = (made(soft, cover(must_cover=must)) for must in (True, False))
        np.testing.assert_allclose(after[:, DEEP], loose[:, DEEP], atol=1e-6)
        np.testing.assert_allclose(after, loose, atol=0.05)

    def test_a_mosaic_has_the_mean_of_its_cells_before_and_after_other_passes(self) -> None:
        darker = Pass(id="b", name="b", inside={"exposure": {"amount": -1.0}})
        mosaic = cover(inside={"mosaic": {"size": 0.2}})
        one, two = made(oval(), darker, mosaic), made(oval(), mosaic, darker)
        np.testing.assert_allclose(one, two, atol=1e-5)


class Reading(TestCase):
    def test_a_cover_s_own_region_is_read_from_under_it(self) -> None:
        lights = Region(id="r", name="r", parts=(Part(id="p", kind="luminance", values={"low": 0.6}),))
        sheet = Sheet(regions=(lights,), passes=(cover(),))
        source = source_of(PICTURE, SRGB, "read")
        where = resolve(sheet, "r")
        assert where is not None
        matte = Engine().matte(source, where, source.full())
        bright = SRGB.transfer.encode(np.tensordot(SRGB.luminance_weights, PICTURE, 1)) > 0.62
        self.assertGreater(matte[bright].min(), 0.99)
        # and so it stays when another pass stands on it
        again = Pass(id="b", name="b", region="r", inside={"exposure": {"amount": 1.0}})
        self.assertLess(np.ptp(made(lights, cover(), again)[:, bright], axis=1).max(), 0.02)

    def test_a_solid_comes_before_a_mosaic_that_would_spread_it(self) -> None:
        mosaic = Pass(id="m", name="m", inside={"mosaic": {"size": 0.25}})
        other = PICTURE.copy()
        other[:, DEEP] = 0.5
        one, two = (made(oval(), mosaic, cover(), picture=each) for each in (PICTURE, other))
        np.testing.assert_array_equal(one, two)


class Secret(TestCase):
    def test_the_noise_of_a_blur_to_conceal_is_another_with_another_secret(self) -> None:
        blurred = cover(inside={"scramble": {"radius": 0.1, "noise": 0.5}})
        one, same, other = (made(oval(), blurred, engine=Engine(secret=k)) for k in (7, 7, 8))
        np.testing.assert_array_equal(one, same)
        ratio = np.log2(one / other)[0][DEEP]
        self.assertGreater(float(ratio.std()), 0.3)

    def test_secrets_are_long_and_never_the_same(self) -> None:
        found = {new_secret() for _ in range(50)}
        self.assertEqual(len(found), 50)
        self.assertGreater(min(found).bit_length(), 64)


class Many(TestCase):
    """Covers laid one on another, each in its own box: no bit differs from each being laid over the whole picture."""

    def sheet(self) -> Sheet:
        rng = np.random.default_rng(6)
        hides: tuple[dict[str, Any], ...] = (
            SOLID,
            {"mosaic": {"size": 0.06}},
            {"scramble": {"radius": 0.03}},
        )
        regions, passes = [], []
        for k in range(9):
            place = {"x": rng.uniform(0, 1.5), "y": rng.uniform(0, 1), "turn": rng.uniform(-90, 90)}
            values = {**place, "width": 0.3, "height": 0.12, "feather_out": 0.02}
            part = Part(id="p", kind=("ellipse", "rectangle")[k % 2], values=values)
            regions.append(Region(id=f"r{k}", name="r", parts=(part,), refine={"grow": 0.02} if k % 3 else {}))
            passes.append(Pass(id=f"a{k}", name="a", region=f"r{k}", inside=hides[k // 2 % 3]))
        read = Part(id="p", kind="luminance", values={"low": 0.8, "high": 1.0})
        regions.append(Region(id="read", name="r", parts=(read,)))
        passes.insert(3, Pass(id="read", name="a", region="read", inside=SOLID))
        passes.append(Pass(id="out", name="a", region="r1", outside={"scramble": {"radius": 0.03}}))
        return Sheet(regions=tuple(regions), passes=tuple(passes))

    def test_each_in_its_box_is_each_over_all(self) -> None:
        sheet, source = self.sheet(), source_of(PICTURE, SRGB, "many")
        for scale in (1.0, 0.5):
            window = source.full(scale)
            boxed = Engine(0, secret=9).picture(source, Order(sheet), window)
            with patch("calado.region.matte.extent", lambda *_: None), patch.object(Cover, "within", lambda _, w: w):
                whole = Engine(0, secret=9).picture(source, Order(sheet), window)
            np.testing.assert_array_equal(boxed, whole)
            self.assertGreater(np.abs(boxed - Engine().picture(source, Order(), window)).mean(), 0.1)

    def test_strips_and_the_whole_agree(self) -> None:
        sheet, source = self.sheet(), source_of(PICTURE, SRGB, "many")
        whole = Engine(0, secret=9).picture(source, Order(sheet), source.full())
        for first in range(0, HIGH, 16):
            strip = source.full().rows(first, first + 16)
            made = Engine(0, secret=9).picture(source, Order(sheet), strip)
            np.testing.assert_array_equal(made, whole[:, first : first + 16])
