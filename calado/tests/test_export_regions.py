"""A region written to a file: its matte equals the live one, also read in again; a cut-out has straight alpha."""

import tempfile
from pathlib import Path
from unittest import TestCase

import numpy as np
import OpenImageIO as oiio

from calado.colour.spaces import SRGB
from calado.errors import MediaError
from calado.export import export_region, export_still
from calado.export_rows import Shape
from calado.media.mattes import read_matte
from calado.media.write import Target
from calado.region.context import PartContext
from calado.region.imported import imported_matte, table_of
from calado.region.resolved import alone
from calado.render.engine import Engine, Order
from calado.render.source import source_of
from calado.sheet.models import Part, Region, Stroke

OVAL = Part(
    id="a",
    kind="ellipse",
    values={"x": 0.75, "y": 0.5, "width": 0.8, "height": 0.6, "feather_in": 0.1, "feather_out": 0.1},
)
LIGHTS = Part(id="b", kind="luminance", join="intersect", values={"low": 0.4, "soft_low": 0.3})
REGION = Region(id="r", name="lights", parts=(OVAL, LIGHTS))


def read(path: Path) -> np.ndarray:
    config = oiio.ImageSpec()
    config.attribute("oiio:UnassociatedAlpha", 1)
    file = oiio.ImageInput.open(str(path), config)
    assert file is not None
    pixels = np.asarray(file.read_image(0, 0, 0, file.spec().nchannels, file.spec().format))
    file.close()
    return pixels


class Regions(TestCase):
    def setUp(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)
        light = np.random.default_rng(2).random((3, 200, 300)).astype(np.float32)
        self.source = source_of(light, SRGB, "light")
        self.where = alone(REGION)
        self.live = Engine().matte(self.source, self.where, self.source.full())

    def write(self, what: str, name: str, target: Target) -> Path:
        path = self.folder / name
        export_region(self.source, Order(), self.where, what, path, target)  # type: ignore[arg-type]
        return path

    def test_a_saved_matte_equals_the_live_one(self) -> None:
        for name, target, step in (
            ("a.png", Target("png", 8), 1 / 255),
            ("b.png", Target("png", 16), 1 / 65535),
            ("c.tif", Target("tiff", 16), 1 / 65535),
            ("d.exr", Target("exr", 16), 1 / 1024),
            ("e.exr", Target("exr", 32), 1e-7),
        ):
            pixels = read(self.write("matte", name, target))
            shares = pixels if pixels.dtype.kind == "f" else pixels / np.iinfo(pixels.dtype).max
            np.testing.assert_allclose(shares.reshape(self.live.shape), self.live, atol=0.5 * step + 1e-7, err_msg=name)

    def test_read_in_again_it_is_the_same_region(self) -> None:
        codes, note = read_matte(self.write("matte", "m.png", Target("png", 16)))
        self.assertIn("White is inside", note)
        part = Part(id="m", kind="matte", values={"file": "m"})
        again = imported_matte(part, self.source.full(), PartContext(sums=lambda digest: table_of(codes)))
        np.testing.assert_allclose(again, self.live, atol=1 / 65535)

    def test_a_cut_out_has_straight_alpha_and_nothing_where_all_is_outside(self) -> None:
        pixels = read(self.write("cutout", "c.png", Target("png", 16)))
        self.assertEqual(pixels.shape[2], 4)
        np.testing.assert_allclose(pixels[..., 3] / 65535, self.live, atol=1e-5)
        self.assertEqual(int(pixels[pixels[..., 3] == 0].max()), 0)

    def test_the_edge_of_a_subject_is_freed_from_the_surround(self) -> None:
        y, x = np.mgrid[:200, :300] / 200
        alpha = np.clip((0.3 - np.hypot(x - 0.75, y - 0.5)) / 0.06 + 0.5, 0, 1)
        front, back = np.array([0.7, 0.1, 0.05]), np.array([0.02, 0.1, 0.6])
        light = alpha[..., None] * front + (1 - alpha[..., None]) * back
        source = source_of(np.ascontiguousarray(np.moveaxis(light, -1, 0), np.float32), SRGB, "disc")
        marks = (
            Stroke(points=(0.65, 0.5, 1.0, 0.85, 0.5, 1.0), size=0.2),
            Stroke(points=(0.1, 0.1, 1.0, 1.4, 0.1, 1.0), size=0.1, does="erase"),
        )
        where = alone(Region(id="r", name="r", parts=(Part(id="a", kind="rough", strokes=marks),)))
        path = self.folder / "subject.png"
        export_region(source, Order(), where, "cutout", path, Target("png", 16))
        pixels = read(path)
        rim = (pixels[..., 3] > 6500) & (pixels[..., 3] < 59000)
        blue = SRGB.transfer.decode(pixels[rim][:, 2] / 65535)
        mixed = light[rim][:, 2]
        self.assertGreater(rim.sum(), 300)
        self.assertLess(float(blue.mean() - 0.05), 0.4 * float(mixed.mean() - 0.05))

    def test_formats_that_cannot_hold_it_say_what_to_choose(self) -> None:
        for what, target, words in (
            ("cutout", Target("jpeg"), "PNG, TIFF or OpenEXR"),
            ("matte", Target("jpeg"), "OpenEXR"),
        ):
            with self.assertRaisesRegex(MediaError, words):
                self.write(what, "x.bin", target)
        with self.assertRaisesRegex(MediaError, "not as OpenEXR"):
            export_still(self.source, Order(), self.folder / "x.exr", Target("exr", 16), shape=Shape(pair=True))
        self.assertEqual(list(self.folder.iterdir()), [])
