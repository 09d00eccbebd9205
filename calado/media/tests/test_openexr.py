"""OpenEXR stills, written byte by byte: linear light, the space by its primaries, alpha, values that are no numbers."""

import struct
import tempfile
from pathlib import Path
from unittest import TestCase

import numpy as np

from calado.colour.spaces import SRGB, STILL_SPACES
from calado.errors import MediaError
from calado.media.stills import kind_of, probe, read_still

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
        odd = read_still(self.put(exr(self.planes, (0.7, 0.29, 0.2, 0.7, 0.1, 0.05, 0.33, 0.34))))
        self.assertIs(odd.space, SRGB)
        self.assertIn("taken as those of sRGB", odd.note)

    def test_its_colours_are_laid_on_black_already(self) -> None:
        still = read_still(self.put(exr({**self.planes, "A": np.full((24, 36), 0.5, np.float32)})))
        np.testing.assert_array_equal(np.moveaxis(still.samples, 0, -1), self.light)
        self.assertIn("laid on black", still.note)

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
