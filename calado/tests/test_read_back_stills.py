"""Pictures read back: what lies under a cover, against what was let through on purpose."""

import contextlib
import io
import json
import unittest
import zipfile
from dataclasses import replace
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

import numpy as np
from PIL import Image
from pypdf import PdfReader

from calado.cli import main
from calado.clip_render import ClipOrder
from calado.colour.spaces import SRGB
from calado.export import export_region, export_still
from calado.export_rows import Shape
from calado.media.clips.clip import Clip
from calado.media.clips.frames import Frames
from calado.media.clips.tests.made import going_card, make
from calado.media.write import Target
from calado.picture_export import export_archive
from calado.read_back.found import MOST_LEFT, ReadBack
from calado.read_back.stills import read_back_archive, read_back_still
from calado.render.engine import Order
from calado.render.resolve import resolve
from calado.render.source import Source, source_of
from calado.sheet.models import Part, Pass, Region, Sheet
from calado.sheet.steps import sheet_data
from calado.tests.test_read_back import COVERS

DEMO = Path(__file__).parents[2] / "demo"
SOLID = {"solid": {"amount": 1.0}}
PLATE = Part(id="o", kind="rectangle", values={"x": 0.7, "y": 0.5, "width": 0.8, "height": 0.6})
TARGETS = (
    Target("png"),
    Target("png", 16),
    Target("tiff", 16),
    Target("jpeg"),
    Target("jpeg", 8, 30),
    Target("exr", 16),
)


def booth() -> Source:
    """Return the ticket booth, on which there is something to be read."""
    codes = np.asarray(Image.open(DEMO / "stills" / "e_booth.png").convert("RGB"), np.float64) / 255
    light = SRGB.transfer.decode(codes).astype(np.float32)
    return source_of(np.ascontiguousarray(np.moveaxis(light, -1, 0)), SRGB, "booth read back")


def sheet(inside: dict[str, Any], **more: Any) -> Sheet:
    region = Region(id="r", name="plate", parts=(PLATE,))
    return Sheet(regions=(region,), passes=(Pass(id="p", name="Cover", region="r", inside=inside, **more),))


def picture(seed: int) -> np.ndarray:
    """Shapes and fine detail of some kind, as photographs have both."""
    rng = np.random.default_rng(seed)
    wide, high = 420, 300
    y, x = np.mgrid[:high, :wide]
    light = np.full((3, high, wide), 110.0)
    for _ in range(12):
        inside = np.hypot(x - rng.uniform(0, wide), y - rng.uniform(0, high)) < rng.uniform(8, 60)
        light[:, inside] = rng.uniform(20, 235, (3, 1))
    return np.clip(light + rng.normal(0, rng.uniform(0, 12), light.shape), 0, 255).astype(np.uint8)


class Stills(unittest.TestCase):
    def setUp(self) -> None:
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def read(
        self, written: Sheet, asked: Sheet, target: Target = TARGETS[0], shape: Shape = Shape(), seed: int = 1
    ) -> ReadBack:
        source = source_of(picture(seed), SRGB, f"read {seed}")
        out = self.folder / f"out.{target.extension}"
        export_still(source, Order(written), out, target, shape=shape)
        return read_back_still(source, Order(asked), out, target, shape=shape)

    def test_of_every_cover_in_every_format_hardly_anything_is_left_and_what_was_open_is_found(self) -> None:
        for seed, (name, inside) in enumerate(COVERS.items()):
            for target in TARGETS:
                with self.subTest(name, target=target):
                    made = sheet(inside)
                    found = self.read(made, made, target, seed=seed)
                    self.assertEqual((found.findings, found.covers[0].region), ((), "plate"))
                    # against noise that is not known little can be told in a small picture
                    self.assertLess(found.covers[0].left, 0.12 if name == "blur" else 0.03)
                    self.assertIn("Read back, all of it. Under “Cover” at most", found.says)
                    bare = self.read(Sheet(), made, target, seed=seed)
                    # a strong JPEG itself takes most of the fine detail by which what lies under noise is told
                    self.assertGreater(bare.covers[0].surely, 0.15 if target.quality == 30 else 0.6)
                    self.assertIn("of what was there is left.", bare.findings[0])

    def test_a_share_that_came_through_lies_between_the_two_that_are_said(self) -> None:
        # written beside the program: the picture as ordered, with a share of what is hidden let through
        rng = np.random.default_rng(7)
        for seed in range(12):
            target = (Target("png"), Target("jpeg", 8, 92))[seed % 2]
            share, held = float(rng.choice((0.0, 0.03, 0.2, 0.7))), picture(seed)
            source, order = source_of(held, SRGB, f"share {seed}"), Order(sheet(COVERS["solid"]))
            out = self.folder / f"out.{target.extension}"
            export_still(source, order, out, Target("png"))
            covered = np.asarray(Image.open(out), np.float64)
            leaked = np.rint(covered + share * (np.moveaxis(held, 0, -1) - covered)).astype(np.uint8)
            Image.fromarray(leaked).save(out, quality=92)
            (cover,) = read_back_still(source, order, out, target).covers
            with self.subTest(seed, share=share):
                self.assertLessEqual(cover.surely, share + 2e-3)
                self.assertGreaterEqual(cover.left, share - 2e-3)
                self.assertLess(cover.left - cover.surely, 0.06)

    def test_smaller_beside_its_source_and_cut_out_it_is_read_as_it_was_written(self) -> None:
        made = sheet(COVERS["mosaic"])
        for shape in (Shape(longer_side=210), Shape(pair=True), Shape(200, pair=True)):
            with self.subTest(shape):
                self.assertEqual(self.read(made, made, shape=shape).findings, ())
                # the left half of a pair has its covers on, too
                self.assertGreater(self.read(Sheet(), made, shape=shape).covers[0].surely, 0.6)
        source, out = source_of(picture(3), SRGB, "cut"), self.folder / "cut.png"
        where = resolve(made, "r")
        assert where is not None
        for order, left in ((made, False), (replace_passes(made), True)):
            export_region(source, Order(order), where, "cutout", out, Target("png"))
            found = read_back_still(source, Order(made), out, Target("png"), cutout="r")
            self.assertEqual(found.covers[0].surely > MOST_LEFT, left)

    def test_another_size_another_picture_and_one_within_are_said(self) -> None:
        made = sheet(COVERS["solid"])
        source, target = source_of(picture(5), SRGB, "five"), Target("jpeg")
        out = self.folder / "out.jpg"
        export_still(source, Order(made), out, target, shape=Shape(200))
        told = read_back_still(source, Order(made), out, target).findings
        self.assertEqual(told, ("It has 200 × 143 pixels, 420 × 300 were ordered.",))
        export_still(source_of(255 - picture(5), SRGB, "other"), Order(made), out, target)
        told = read_back_still(source, Order(made), out, target).findings
        self.assertIn("The picture is far from what was ordered.", told)
        export_still(source, Order(made), out, target)
        self.assertEqual(read_back_still(source, Order(made), out, target).findings, ())
        data, small = out.read_bytes(), b"Exif\0\0" + out.read_bytes()[:2000]
        out.write_bytes(data[:2] + b"\xff\xe1" + (len(small) + 2).to_bytes(2, "big") + small + data[2:])
        (told,) = read_back_still(source, Order(made), out, target).findings
        self.assertIn("It carries a small picture besides its own", told)

    def test_each_numbered_picture_is_read_with_its_frame(self) -> None:
        file = make(self.folder / "a.mp4", 8, size=(240, 160), scene=going_card)
        with Clip(file) as clip:
            frames, made = Frames(clip, "a"), sheet(COVERS["solid"])
            order, out, target = ClipOrder(made, frames=(2, 6)), self.folder / "out.zip", Target("png")
            export_archive(frames, order, out, target)
            found = read_back_archive(frames, order, out, target)
            self.assertEqual((found.frames, found.covers[0].frames, found.findings), (5, 5, ()))
            # the third is as it came, the last one is missing
            kept_as = out.rename(self.folder / "kept.zip")
            export_archive(frames, replace(order, sheet=Sheet()), out, target)
            with zipfile.ZipFile(kept_as) as kept, zipfile.ZipFile(out) as bare:
                names = sorted(kept.namelist())
                parts = {each: (bare if each == names[2] else kept).read(each) for each in names[:-1]}
            with zipfile.ZipFile(out, "w") as packed:
                for name, data in parts.items():
                    packed.writestr(name, data)
            found = read_back_archive(frames, order, out, target)
            self.assertIn("It has 4 pictures, 5 were ordered.", found.findings)
            self.assertIn("is left in frame 4.", " ".join(found.findings))

    def test_the_commands_tell_it_of_a_still(self) -> None:
        Image.fromarray(np.moveaxis(picture(2), 0, -1)).save(self.folder / "a.png")
        (self.folder / "sheet.json").write_text(json.dumps(sheet_data(sheet(COVERS["solid"]))))
        (self.folder / "bare.json").write_text(json.dumps(sheet_data(Sheet())))
        for name, code in (("sheet", 0), ("bare", 1)):
            self.call("render", f"{name}.json", "a.png", "-o", f"{name}.jpg")
            told = json.loads(self.call("verify", "sheet.json", "a.png", f"{name}.jpg", code=code))
            self.assertEqual(bool(told["findings"]), bool(code))
        told = json.loads(self.call("state", "sheet.json", "a.png", "sheet.jpg"))
        self.assertIn("“Cover” hides what is under it", told["says"])
        self.call("state", "sheet.json", "a.png", "sheet.jpg", "-o", "out.pdf")
        text = PdfReader(self.folder / "out.pdf").pages[0].extract_text()
        self.assertIn("Statement of changes", text)
        self.assertNotIn("revision", text)
        self.call("state", "sheet.json", "a.png", "sheet.jpg", "-o", "out.txt", code=1)

    def call(self, *words: str, code: int = 0) -> str:
        told = io.StringIO()
        with contextlib.chdir(self.folder), contextlib.redirect_stdout(told), contextlib.redirect_stderr(told):
            self.assertEqual(main(list(words)), code, told.getvalue())
        return told.getvalue()


def replace_passes(made: Sheet) -> Sheet:
    """Return a sheet without its passes."""
    return made.model_copy(update={"passes": ()})


class Legible(unittest.TestCase):
    def test_what_can_still_be_read_in_the_file_is_a_finding(self) -> None:
        source = booth()
        # the sign “TICKETS” and the plate of the cart lie under it
        sign = Part(id="o", kind="rectangle", values={"x": 0.74, "y": 0.71, "width": 0.24, "height": 0.09})
        plate = Part(id="q", kind="rectangle", values={"x": 0.203, "y": 0.71, "width": 0.23, "height": 0.09})
        region = Region(id="r", name="sign", parts=(sign, plate))
        said = {}
        small, large = {"mosaic": {"size": 0.004}}, {"mosaic": {"size": 0.04}}
        for name, inside, target in (
            ("small", small, Target("png", 16)),
            ("small, jpeg", small, Target("jpeg")),
            ("large", large, Target("jpeg")),
            ("solid", SOLID, Target("png")),
        ):
            order = Order(Sheet(regions=(region,), passes=(Pass(id="p", name="Cover", region="r", inside=inside),)))
            with TemporaryDirectory() as folder:
                path = Path(folder) / f"a.{target.format}"
                export_still(source, order, path, target)
                found = read_back_still(source, order, path, target)
            said[name] = [each for each in found.findings if "be read" in each]
        for name, found_there in said.items():
            if name.startswith("small"):
                self.assertIn("“TICKETS” can still be read under “Cover”.", found_there)
            else:
                self.assertEqual(found_there, [], name)
