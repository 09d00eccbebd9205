"""Colours as files describe them: against colour-science, the standards' figures and OpenColorIO."""

import struct
import zlib
from pathlib import Path

import colour
import imagecodecs
import numpy as np
import OpenImageIO as oiio
import PyOpenColorIO as ocio
from PIL import Image

from calado.adjust.colour.lut import LUT
from calado.colour.spaces import BT2020_HIGH, D65, DISPLAY_P3, OPRGB, ROMM, SRGB, STILL_SPACES
from calado.errors import MediaError
from calado.media.cube import read_cube
from calado.media.profiles import profile_of
from calado.media.stills import read_still
from calado.media.tests.test_media import DEEP, Folder

RNG = np.random.default_rng(5)
SMOOTH = np.ascontiguousarray(np.broadcast_to(np.arange(0, 60, dtype=np.uint8)[None, :, None] * 4, (40, 60, 3)))


def with_chunks(written: bytes, added: dict[bytes, bytes]) -> bytes:
    """Return a PNG file whose own chunks on colour have given way to others."""
    made, at = written[:33], 33  # the signature and the header
    for name, data in added.items():
        made += struct.pack(">I", len(data)) + name + data + struct.pack(">I", zlib.crc32(name + data))
    while at < len(written):
        size = 12 + struct.unpack(">I", written[at : at + 4])[0]
        if written[at + 4 : at + 8] not in (b"sRGB", b"gAMA", b"cHRM"):
            made += written[at : at + size]
        at += size
    return made


class Described(Folder):
    def png_with(self, name: bytes, data: bytes, pixels: np.ndarray = DEEP) -> Path:
        """Write a PNG file with a chunk of its own before the pixels."""
        path = self.write("a.png", pixels)
        path.write_bytes(with_chunks(path.read_bytes(), {name: data}))
        return path

    def test_display_p3_by_numbers(self) -> None:
        still = read_still(self.png_with(b"cICP", bytes((12, 13, 0, 1))))
        self.assertIs(still.space, DISPLAY_P3)
        np.testing.assert_array_equal(np.moveaxis(still.samples, 0, -1), DEEP)

    def test_high_range_by_numbers(self) -> None:
        # BT.2408 table 1: reference white, 203 cd/m², lies at 58 % of PQ and at 75 % of HLG
        for number, share in ((16, 0.5807), (18, 0.75)):
            grey = np.full((40, 60, 3), round(share * 65535), np.uint16)
            still = read_still(self.png_with(b"cICP", bytes((9, number, 0, 1)), grey))
            self.assertIs(still.space, BT2020_HIGH)
            np.testing.assert_allclose(still.samples, 1.0, rtol=2e-3)
        still = read_still(self.png_with(b"cICP", bytes((9, 16, 0, 1))))
        expected = colour.models.eotf_ST2084(DEEP / 65535) / 203
        np.testing.assert_allclose(np.moveaxis(still.samples, 0, -1), expected, rtol=2e-3, atol=1e-5)

    def test_narrow_range_and_the_camera_s_curve_by_numbers(self) -> None:
        codes = np.full((40, 60, 3), 235, np.uint8)
        codes[0] = 16
        still = read_still(self.png_with(b"cICP", bytes((1, 1, 0, 0)), codes))
        self.assertIs(still.space, SRGB)
        self.assertEqual((still.samples[:, 0].max(), still.samples[:, 1:].min()), (0, 65535))
        middle = np.full((40, 60, 3), 128, np.uint8)
        read = read_still(self.png_with(b"cICP", bytes((1, 1, 0, 1)), middle)).samples[0, 0, 0] / 65535
        light = colour.models.eotf_inverse_sRGB(colour.models.oetf_inverse_BT709(128 / 255))
        self.assertAlmostEqual(read, float(light), delta=1e-3)

    def test_numbers_nobody_knows_are_said(self) -> None:
        for numbers in ((2, 2, 0, 1), (250, 13, 0, 1), (1, 13, 9, 1)):
            still = read_still(self.png_with(b"cICP", bytes(numbers)))
            self.assertIn("nothing that Calado knows", still.note)
            self.assertIs(still.space, SRGB)

    def test_a_power_by_its_number(self) -> None:
        still = read_still(self.png_with(b"gAMA", struct.pack(">I", 55556)))
        light = still.space.transfer.decode(np.moveaxis(still.samples, 0, -1) / 65535) @ still.space.matrix_to(SRGB).T
        np.testing.assert_allclose(light, (DEEP / 65535) ** 1.8, atol=2e-3)
        # the number of sRGB's signal means sRGB
        self.assertEqual(read_still(self.png_with(b"gAMA", struct.pack(">I", 45455))).note, "")

    def test_wide_primaries_by_their_numbers(self) -> None:
        points = (D65, (0.68, 0.32), (0.265, 0.69), (0.15, 0.06))
        data = struct.pack(">8I", *(round(100_000 * c) for point in points for c in point))
        path = self.write("a.png", DEEP)
        chunks = {b"gAMA": struct.pack(">I", 45455), b"cHRM": data}
        path.write_bytes(with_chunks(path.read_bytes(), chunks))
        self.assertIn(read_still(path).space, (DISPLAY_P3, STILL_SPACES["bt2020"]))

    def test_spaces_against_colour_science(self) -> None:
        signal = RNG.random((200, 3))
        for space, name in ((OPRGB, "Adobe RGB (1998)"), (ROMM, "ROMM RGB")):
            known = colour.RGB_COLOURSPACES[name]
            np.testing.assert_allclose(space.transfer.decode(signal), known.cctf_decoding(signal), atol=2e-4)
            np.testing.assert_allclose(space.transfer.encode(signal), known.cctf_encoding(signal), atol=2e-4)
            # colours rounded to four digits there; Bradford's adaptation in both
            expected = colour.RGB_to_RGB(signal, known, "sRGB", chromatic_adaptation_transform="Bradford")
            np.testing.assert_allclose(signal @ space.matrix_to(SRGB).T, expected, atol=2e-3)

    def test_wide_files_keep_their_space(self) -> None:
        for space in (OPRGB, ROMM):
            still = read_still(self.write("w.tif", DEEP, ICCProfile=profile_of(space)))
            self.assertIs(still.space, space)
            np.testing.assert_array_equal(np.moveaxis(still.samples, 0, -1), DEEP)

    def test_a_wider_profile_than_all_is_held(self) -> None:
        # reds far beyond Display P3, by a power of no space of ours: nothing is clipped on the way
        wide = [0.7, 0.299, 1.0, 0.2, 0.75, 1.0, 0.14, 0.04, 1.0]
        profile = bytes(imagecodecs.cms_profile("rgb", whitepoint=[*D65, 1.0], primaries=wide, gamma=2.4))
        red = np.zeros((40, 60, 3), np.uint16)
        red[..., 0] = 60000
        still = read_still(self.write("w.tif", red, ICCProfile=profile))
        self.assertIn("converted", still.note)
        xyz = still.space.to_xyz @ still.space.transfer.decode(still.samples[:, 0, 0] / 65535)
        np.testing.assert_allclose(colour.XYZ_to_xy(xyz), (0.7, 0.299), atol=2e-3)

    def test_floats_with_a_profile_are_read_by_it(self) -> None:
        # Little CMS takes a power beyond white too
        profile = bytes(
            imagecodecs.cms_profile(
                "rgb", whitepoint=[*D65, 1.0], primaries=[0.64, 0.33, 1, 0.3, 0.6, 1, 0.15, 0.06, 1], gamma=1.0
            )
        )
        light = RNG.random((40, 60, 3)).astype(np.float32) * 2
        still = read_still(self.write("f.tif", light, ICCProfile=profile))
        back = np.moveaxis(still.samples, 0, -1) @ still.space.matrix_to(SRGB).T
        np.testing.assert_allclose(back, light, atol=3e-3)

    def test_grey_with_a_power_of_its_own(self) -> None:
        profile = bytes(imagecodecs.cms_profile("gray", whitepoint=[0.3457, 0.3585, 1.0], gamma=1.0))
        grey = np.full((40, 60, 1), 0.5 * 65535, np.uint16)
        still = read_still(self.write("g.tif", grey, ICCProfile=profile))
        self.assertAlmostEqual(float(SRGB.transfer.decode(still.samples[0, 0, 0] / 65535)), 0.5, delta=2e-3)
        self.assertIn("greys", still.note)

    def test_what_cameras_say_of_opRGB(self) -> None:
        # CIPA-DC008: three directories, the first of which points at the second, and that at the third
        entry = lambda tag, kind, count, value: struct.pack("<HHI", tag, kind, count) + value  # noqa: E731
        folder = lambda *entries: struct.pack("<H", len(entries)) + b"".join(entries) + bytes(4)  # noqa: E731
        exif = b"Exif\0\0II*\0" + struct.pack("<I", 8)
        exif += folder(entry(0x8769, 4, 1, struct.pack("<I", 26)))
        exif += folder(entry(0xA001, 3, 1, struct.pack("<I", 0xFFFF)), entry(0xA005, 4, 1, struct.pack("<I", 56)))
        exif += folder(entry(1, 2, 4, b"R03\0"))
        path = self.folder / "c.jpg"
        Image.fromarray(SMOOTH).save(path, exif=exif)
        self.assertIs(read_still(path).space, OPRGB)

    def test_half_transparent_white_is_white_of_which_half_is_there(self) -> None:
        pixels = np.full((40, 60, 4), 255, np.uint8)
        pixels[..., 3] = 128
        read = read_still(self.write("t.png", pixels))
        assert read.share is not None
        self.assertEqual((set(np.unique(read.samples)), set(np.unique(read.share))), ({255}, {128}))
        self.assertIn("transparent", read.note)

    def test_primaries_of_no_space_in_openexr(self) -> None:
        # SMPTE ST 2065-1: primaries beyond what light can be
        points = (0.7347, 0.2653, 0.0, 1.0, 0.0001, -0.077, 0.32168, 0.33767)
        light = np.full((40, 60, 3), 0.4, np.float32)
        path = self.folder / "a.exr"
        spec = oiio.ImageSpec(60, 40, 3, "float")
        spec.attribute("chromaticities", oiio.TypeDesc("float[8]"), points)
        out = oiio.ImageOutput.create(str(path))
        self.assertTrue(out.open(str(path), spec) and out.write_image(light) and out.close())
        still = read_still(path)
        np.testing.assert_allclose(still.samples, 0.4, atol=5e-3)


class Cubes(Folder):
    def through(self, text: str, signal: np.ndarray) -> np.ndarray:
        table = read_cube(text.encode())
        planes = np.ascontiguousarray(np.moveaxis(SRGB.transfer.decode(signal), -1, 0), np.float32)
        LUT.step(LUT.from_file({"amount": 1.0, "file": "any"}, SRGB, lambda digest: table)).run(planes)  # type: ignore[misc]
        return np.moveaxis(SRGB.transfer.encode(planes), 0, -1)

    def by_ocio(self, text: str, signal: np.ndarray) -> np.ndarray:
        path = self.folder / f"{len(list(self.folder.iterdir()))}.cube"
        path.write_text(text)
        transform = ocio.FileTransform(str(path), interpolation=ocio.INTERP_TETRAHEDRAL)
        processor = ocio.Config.CreateRaw().getProcessor(transform).getDefaultCPUProcessor()
        made = np.ascontiguousarray(signal, np.float32).reshape(-1, 3).copy()
        processor.applyRGB(made)
        return made.reshape(signal.shape)

    def test_ranges_shapers_and_what_lies_beyond_against_opencolorio(self) -> None:
        rows = lambda n: "\n".join(" ".join(f"{v:.6f}" for v in row) for row in RNG.random((n, 3)))  # noqa: E731
        shaper = "\n".join(f"{v:.6f} {v:.6f} {v:.6f}" for v in np.linspace(0, 1, 17) ** 0.7)
        texts = (
            f"LUT_3D_SIZE 5\nLUT_3D_INPUT_RANGE 0.1 0.8\n{rows(125)}",
            f"LUT_3D_SIZE 5\nDOMAIN_MIN 0.1 0.1 0.1\nDOMAIN_MAX 0.9 0.9 0.9\n{rows(125)}",
            f"LUT_1D_SIZE 17\nLUT_1D_INPUT_RANGE 0 1.5\nLUT_3D_SIZE 5\nLUT_3D_INPUT_RANGE 0 1\n{shaper}\n{rows(125)}",
        )
        signal = RNG.random((20, 30, 3)) * 1.4
        for text in texts:
            np.testing.assert_allclose(self.through(text, signal), self.by_ocio(text, signal), atol=2e-4)

    def test_ranges_that_are_none(self) -> None:
        rows = "\n".join(["0 0 0"] * 8)
        for words in ("LUT_3D_INPUT_RANGE 0.5", "LUT_3D_INPUT_RANGE 1 1", "LUT_1D_SIZE 2"):
            with self.assertRaises(MediaError):
                read_cube(f"LUT_3D_SIZE 2\n{words}\n{rows}".encode())
