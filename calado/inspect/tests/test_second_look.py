"""Second look: each finder finds what it is for, says nothing of what is in order, and its mend mends."""

from dataclasses import replace
from unittest import TestCase

import cv2
import numpy as np

from calado.catalogue import CATALOGUE
from calado.colour.spaces import SRGB
from calado.inspect.look.covers import read_pass, weak_covers
from calado.inspect.look.finding import Looked
from calado.inspect.look.second_look import FINDERS, second_look
from calado.render.engine import Engine
from calado.render.source import Source, source_of
from calado.sheet.check import check_sheet
from calado.sheet.models import Part, Pass, Region, Sheet

RNG = np.random.default_rng(6)
WIDE, HIGH = 480, 320
SOFT = cv2.GaussianBlur(RNG.random((HIGH, WIDE)).astype(np.float32), (0, 0), 6)
TEXTURE = np.repeat((0.1 + 0.5 * SOFT)[None], 3, axis=0)


def subject_picture(softness: float) -> np.ndarray:
    y, x = np.mgrid[:HIGH, :WIDE].astype(np.float32)
    inside = np.clip((70 - np.hypot(x - 240, y - 160)) / max(softness, 0.5) + 0.5, 0, 1)
    return np.ascontiguousarray((TEXTURE * (1 - inside) + 0.85 * inside).astype(np.float32))


def disc(feather: float = 0.0, radius: float = 70.0, **refine: float) -> Region:
    size = 2 * radius / HIGH
    values = {"x": 0.75, "y": 0.5, "width": size, "height": size, "feather_in": feather, "feather_out": feather}
    return Region(id="r", name="disc", parts=(Part(id="p", kind="ellipse", values=values),), refine=refine)


def frame() -> Region:
    values = {"x": 0.75, "y": 0.5, "width": 1.3, "height": 0.88, "feather_in": 0.2, "feather_out": 0.25}
    return Region(id="r", name="frame oval", parts=(Part(id="p", kind="ellipse", values=values),))


def sheet(region: Region, **fields: object) -> Sheet:
    return Sheet(regions=(region,), passes=(Pass(id="a", name="A pass", region="r", **fields),))  # type: ignore[arg-type]


class SecondLook(TestCase):
    def kinds(self, planes: np.ndarray, made: Sheet, project: Sheet | None = None) -> dict[str, Sheet | None]:
        source: Source = source_of(planes, SRGB)
        found = second_look(Engine(), source, made, project or Sheet())
        for each in found:
            self.assertTrue(each.says.endswith("."), each.says)
            if each.mended is not None:
                check_sheet(each.mended, CATALOGUE)
        return {each.kind: each.mended for each in found}

    def mends(self, kind: str, planes: np.ndarray, made: Sheet) -> None:
        found = self.kinds(planes, made)
        self.assertIn(kind, found)
        mended = found[kind]
        assert mended is not None
        self.assertNotIn(kind, self.kinds(planes, mended))

    def test_nothing_is_said_of_a_sheet_in_order(self) -> None:
        made = sheet(frame(), outside={"exposure": {"amount": -0.7}, "legible": {"floor": 0.1}})
        self.assertEqual(self.kinds(TEXTURE, made), {})
        self.assertEqual(self.kinds(TEXTURE, Sheet()), {})
        self.assertEqual(len(FINDERS), 15)

    def test_hard_edge(self) -> None:
        self.mends("hard-edge", TEXTURE, sheet(disc(), outside={"exposure": {"amount": -1.5}}))
        self.assertNotIn("hard-edge", self.kinds(TEXTURE, sheet(disc(), inside={"solid": {"amount": 1.0}})))

    def test_halo(self) -> None:
        made = sheet(disc(), outside={"blur": {"radius": 0.012}})
        self.mends("halo", subject_picture(8.0), made)

    def test_spill(self) -> None:
        made = sheet(disc(radius=64.0), outside={"lens": {"radius": 0.006}})
        self.assertIn("spill", self.kinds(subject_picture(1.0), made))
        large = sheet(disc(radius=74.0), outside={"lens": {"radius": 0.006}})
        self.assertNotIn("spill", self.kinds(subject_picture(1.0), large))

    def test_clipped_and_crushed(self) -> None:
        clips = sheet(disc(0.05), inside={"exposure": {"amount": 1.5}})
        self.assertIn("clipped", self.kinds(subject_picture(2.0), clips))
        self.mends("crushed", TEXTURE, sheet(frame(), outside={"exposure": {"amount": -10.0}}))

    def test_doubled_vignettes(self) -> None:
        y, x = np.mgrid[:HIGH, :WIDE]
        square = ((x - 239.5) ** 2 + (y - 159.5) ** 2) / (240**2 + 160**2)
        planes = np.repeat((0.5 * np.exp2(-1.2 * square))[None], 3, axis=0).astype(np.float32)
        made = sheet(frame(), outside={"exposure": {"amount": -1.0}})
        self.assertIn("doubled-vignette", self.kinds(planes, made))
        self.assertNotIn("doubled-vignette", self.kinds(np.full_like(planes, 0.4), made))
        self.assertIn("doubled-vignette", self.kinds(np.full_like(planes, 0.4), made, made))

    def test_blurs_too_small_and_too_large(self) -> None:
        self.mends("blur-size", TEXTURE, sheet(disc(0.05), outside={"blur": {"radius": 0.001}}))
        self.mends("blur-size", TEXTURE, sheet(disc(0.05), outside={"lens": {"radius": 0.05}}))

    def test_weak_covers(self) -> None:
        self.mends("weak-cover", TEXTURE, sheet(disc(), inside={"mosaic": {"size": 0.02}}))
        self.mends("weak-cover", TEXTURE, sheet(disc(), inside={"solid": {"amount": 1.0}}, mix=0.8, must_cover=False))
        self.mends("weak-cover", TEXTURE, sheet(disc(), outside={"mosaic": {"size": 0.02}}))

    def test_no_softness_makes_a_solid_weak(self) -> None:
        for fields in ({"mix": 0.1}, {"strength": 0.0}, {"outside": {"local": {"amount": 1.0}}}):
            made = sheet(disc(0.03), inside={"solid": {"amount": 1.0}, "protect": {"amount": 1.0}}, **fields)
            self.assertNotIn("weak-cover", self.kinds(TEXTURE, made))

    def test_a_shape_read_from_what_is_hidden(self) -> None:
        lights = Part(id="p", kind="luminance", values={"low": 0.6})
        made = sheet(Region(id="r", name="lights", parts=(lights,)), inside={"solid": {"amount": 1.0}})
        self.assertIn("weak-cover", self.kinds(TEXTURE, made))

    def test_lettering_under_any_piece_of_a_cover_is_found(self) -> None:
        codes = np.full((HIGH, WIDE), 200, np.uint8)
        cv2.putText(codes, "LMP 407229", (270, 250), cv2.FONT_HERSHEY_DUPLEX, 0.8, 20, 2, cv2.LINE_AA)
        planes = np.repeat(SRGB.transfer.decode(codes / 255).astype(np.float32)[None], 3, axis=0)
        line = {"x": 350 / HIGH, "y": 242 / HIGH, "width": 190 / HIGH, "height": 40 / HIGH}
        parts = (
            Part(id="a", kind="ellipse", values={"x": 0.35, "y": 0.4, "width": 0.5, "height": 0.6}),
            Part(id="b", kind="rectangle", values=line),
        )
        region = Region(id="r", name="two", parts=parts)
        made = sheet(region, inside={"mosaic": {"size": 0.2}})
        looked = Looked(Engine(), source_of(planes, SRGB), made, Sheet())
        read = read_pass(looked, made.passes[0])
        assert read is not None
        self.assertTrue(read.weak and read.lettering)
        self.assertIn("undone", read.says)

    def test_a_cover_over_what_another_pass_has_moved(self) -> None:
        solid = sheet(disc(), inside={"solid": {"amount": 1.0}})
        (cover,), part = solid.passes, solid.regions[0].parts[0].values
        x, y = float(part["x"]), float(part["y"])  # type: ignore[arg-type]
        for far, weak in ((0.0, True), (9.0, False)):
            moved = {"bulge": {"amount": 0.5, "radius": 0.4, "x": x + far, "y": y}}
            mover = Pass(id="m", name="Lens", inside=moved)
            made = solid.model_copy(update={"passes": (mover, cover)})
            looked = Looked(Engine(), source_of(TEXTURE, SRGB), made, Sheet())
            found = [each for each in weak_covers(looked) if each.pass_id == cover.id]
            self.assertEqual(bool(found), weak)
            if weak:
                self.assertIn("“Lens” moves the picture", found[0].says)
                assert found[0].mended is not None
                self.assertEqual([each.id for each in found[0].mended.passes], [cover.id, "m"])
                self.assertEqual(list(weak_covers(replace(looked, sheet=found[0].mended))), [])

    def test_covers_of_the_project(self) -> None:
        common = sheet(disc(), inside={"mosaic": {"size": 0.02}})
        self.assertIn("weak-cover", self.kinds(TEXTURE, Sheet(), common))

    def test_steep_curve(self) -> None:
        steep = {"amount": 1.0, "all": ((0.0, 0.0), (0.45, 0.1), (0.5, 0.8), (1.0, 1.0))}
        self.assertIn("steep", self.kinds(TEXTURE, sheet(disc(0.1), inside={"curve": steep})))

    def test_empty_full_and_nothing(self) -> None:
        gone = disc()
        away = gone.model_copy(update={"parts": (gone.parts[0].model_copy(update={"opacity": 0.0}),)})
        made = sheet(away, inside={"exposure": {"amount": 1.0}})
        self.assertEqual(set(self.kinds(TEXTURE, made)), {"empty-or-full", "nothing"})

    def test_noise_and_specks(self) -> None:
        dots = tuple(
            Part(
                id=f"d{k}",
                kind="ellipse",
                values={"x": float(x), "y": float(y), "width": 0.006, "height": 0.006},
            )
            for k, (x, y) in enumerate(RNG.random((150, 2)) * [1.4, 0.9] + 0.05)
        )
        made = sheet(Region(id="r", name="dots", parts=dots), inside={"exposure": {"amount": 1.0}})
        found = self.kinds(TEXTURE, made)
        self.assertIn("noisy", found)
        self.assertIn("pieces", found)
