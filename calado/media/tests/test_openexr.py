"""OpenEXR stills, written byte by byte: linear light, the space by its primaries, alpha, values that are no numbers."""

import struct
import tempfile
from pathlib import Path
from typing import Any
from unittest import TestCase

import numpy as np
import OpenImageIO as oiio

from calado.colour.spaces import DISPLAY_P3, ROMM, SRGB, STILL_SPACES
from calado.errors import MediaError
from calado.export import export_region, export_still
from calado.media.stills import kind_of, probe, read_still
from calado.media.write import Target
from calado.render.engine import Order
from calado.render.resolve import resolve
from calado.render.source import source_of
from calado.sheet.models import Part, Region, Sheet

RNG = np.random.default_rng(11)


def attribute(name: str, kind: str, value: bytes) -> bytes:
    return name.encode() + b"\0" + kind.encode() + b"\0" + struct.pack("<i", len(value)) + value


def exr(channels: dict[str, np.ndarray], primaries: tuple[float, ...] = ()) -> bytes:
    """Return an uncompressed OpenEXR file, byte by byte as "OpenEXR File Layout" (openexr.com) lays it out."""
    height, width = next(iter(channels.values())).shape
    names = sorted(channels)
    listed = b"".join(each.encode() + b"\0" + struct.pack("<iB3xii", 2, 0, 1, 1) for each in names) + b"\0"
    box = struct.pack("<4i", 0, 0, width - 1, height - 1)
    head = struct.pack("<ii", 20000630, 2) + attribute("channels", "chlist", listed)
    head += attribute("compression", "compression", b"\0") + attribute("dataWindow", "box2i", box)
    head += attribute("displayWindow", "box2i", box) + attribute("lineOrder", "lineOrder", b"\0")
    head += attribute("pixelAspectRatio", "float", struct.pack("<f", 1))
    head += attribute("screenWindowCenter", "v2f", struct.pack("<ff", 0, 0))
    head += attribute("screenWindowWidth", "float", struct.pack("<f", 1))
    if primaries:
        head += attribute("chromaticities", "chromaticities", struct.pack("<8f", *primaries))
    head += b"\0"
    size = 4 * width * len(names)
    first = len(head) + 8 * height
    offsets = b"".join(struct.pack("<Q", first + row * (size + 8)) for row in range(height))
    rows = (
        struct.pack("<ii", row, size) + b"".join(channels[name][row].astype("<f4").tobytes() for name in names)
        for row in range(height)
    )
    return head + offsets + b"".join(rows)


class FloatingPoint(TestCase):
    def setUp(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)
        self.light = RNG.normal(0.5, 2, (24, 36, 3)).astype(np.float32)
        self.planes = {name: self.light[..., number] for number, name in enumerate("RGB")}

    def put(self, data: bytes) -> Path:
        path = self.folder / "light.exr"
        path.write_bytes(data)
        return path

    def test_openexr_holds_linear_light(self) -> None:
        path = self.put(exr(self.planes))
        self.assertEqual((kind_of(path), probe(path).floating), (("OpenEXR", "exr"), True))
        still = read_still(path)
        np.testing.assert_array_equal(np.moveaxis(still.samples, 0, -1), self.light)
        self.assertEqual((still.space, still.note), (SRGB, ""))

    def test_its_primaries_decide_the_space(self) -> None:
        for space in STILL_SPACES.values():
            named = (*space.red, *space.green, *space.blue, *space.white)
            self.assertIs(read_still(self.put(exr(self.planes, named))).space, space)
        wide = read_still(self.put(exr(self.planes, (0.7, 0.29, 0.2, 0.7, 0.1, 0.05, 0.33, 0.34))))
        self.assertIs(wide.space, ROMM)
        self.assertIn("converted to ROMM RGB", wide.note)
        none = read_still(self.put(exr(self.planes, (0.3, 0.3) * 4)))
        self.assertIs(none.space, SRGB)
        self.assertIn("taken as those of sRGB", none.note)

    def test_its_colours_were_multiplied_by_their_alpha(self) -> None:
        # "Technical Introduction to OpenEXR": colours are premultiplied
        still = read_still(self.put(exr({**self.planes, "A": np.full((24, 36), 0.5, np.float32)})))
        np.testing.assert_array_equal(np.moveaxis(still.samples, 0, -1), 2 * self.light)
        assert still.share is not None
        self.assertEqual(set(np.unique(still.share)), {0.5})

    def test_what_is_no_number_becomes_black_and_is_said(self) -> None:
        self.light[3, 4], self.light[5, 6] = np.nan, np.inf
        still = read_still(self.put(exr(self.planes)))
        self.assertTrue(np.isfinite(still.samples).all())
        self.assertEqual(still.samples[0, 3, 4], 0)
        self.assertIn("no numbers", still.note)

    def test_more_channels_than_colour_and_alpha_are_refused(self) -> None:
        more = {f"{name}{number}": self.planes["R"] for name in "AB" for number in range(3)}
        with self.assertRaisesRegex(MediaError, "6 channels"):
            probe(self.put(exr(more)))


class Written(TestCase):
    """Pictures in linear light, as the OpenEXR project's own documents describe them, read back by another reader."""

    def setUp(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.path = Path(held.name) / "out.exr"
        rows, columns = np.mgrid[:40, :60]
        # from black to eight times white
        light = np.stack([columns / 7.5, rows / 5, (rows + columns) / 100]).astype(np.float32)
        self.source = source_of(light, DISPLAY_P3)
        self.light = light

    def read(self) -> tuple[np.ndarray, dict[str, Any]]:
        buffer = oiio.ImageBuf(str(self.path))
        spec = buffer.spec()
        return buffer.get_pixels(oiio.FLOAT), {each.name: each.value for each in spec.extra_attribs}

    def test_what_is_brighter_than_white_is_kept_and_the_primaries_are_named(self) -> None:
        for bits, error in ((32, 0.0), (16, 2**-11)):
            export_still(self.source, Order(), self.path, Target("exr", bits))
            pixels, said = self.read()
            np.testing.assert_allclose(pixels, np.moveaxis(self.light, 0, -1), rtol=error, atol=error)
            space = self.source.space
            named = [each for xy in (space.red, space.green, space.blue, space.white) for each in xy]
            np.testing.assert_allclose(said["chromaticities"], named, rtol=1e-6)
            self.assertIs(read_still(self.path).space, space)

    def test_colours_of_a_cut_out_are_multiplied_by_its_alpha(self) -> None:
        values = {"x": 0.5, "y": 0.5, "width": 0.5, "height": 0.5, "feather_out": 0.3}
        region = Region(id="r", name="r", parts=(Part(id="p", kind="ellipse", values=values),))
        where = resolve(Sheet(regions=(region,)), "r")
        assert where is not None
        export_region(self.source, Order(), where, "cutout", self.path, Target("exr", 32))
        pixels, _ = self.read()
        alpha = pixels[..., 3:]
        self.assertEqual((alpha.min(), alpha.max()), (0, 1))
        np.testing.assert_allclose(pixels[..., :3], np.moveaxis(self.light, 0, -1) * alpha, rtol=1e-5, atol=1e-6)
