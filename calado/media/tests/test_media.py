"""Files in: formats, profiles, orientation, and files that are broken."""

import io
import tempfile
from pathlib import Path
from unittest import TestCase, mock

import numpy as np
import OpenImageIO as oiio
from PIL import Image, ImageCms

from calado.colour.spaces import BT2020, DISPLAY_P3, SRGB, STILL_SPACES
from calado.errors import MediaError
from calado.media.profiles import profile_of, space_of
from calado.media.stills import kind_of, probe, read_still

RNG = np.random.default_rng(11)
PICTURE = RNG.integers(0, 256, (40, 60, 3), np.uint8)
DEEP = RNG.integers(0, 65536, (40, 60, 3), np.uint16)


class Folder(TestCase):
    def setUp(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)

    def write(self, name: str, pixels: np.ndarray, **attributes: object) -> Path:
        path = self.folder / name
        height, width, channels = pixels.shape
        spec = oiio.ImageSpec(width, height, channels, str(pixels.dtype).replace("float32", "float"))
        for key, value in attributes.items():
            if isinstance(value, bytes):
                spec.attribute(key, oiio.TypeDesc(f"uint8[{len(value)}]"), np.frombuffer(value, np.uint8))
            else:
                spec.attribute(key.replace("__", ":"), value)
        out = oiio.ImageOutput.create(str(path))
        self.assertTrue(out.open(str(path), spec) and out.write_image(pixels) and out.close())
        return path

    def read(self, path: Path) -> np.ndarray:
        return np.moveaxis(read_still(path).samples, 0, -1)


class Formats(Folder):
    def test_lossless_formats_come_back_exactly(self) -> None:
        for name, pixels in (("a.png", PICTURE), ("b.png", DEEP), ("c.tif", PICTURE), ("d.tif", DEEP)):
            read = self.read(self.write(name, pixels))
            self.assertEqual(read.dtype, pixels.dtype)
            np.testing.assert_array_equal(read, pixels, err_msg=name)

    def test_jpeg_and_webp_come_back_nearly(self) -> None:
        smooth = np.broadcast_to(np.linspace(0, 255, 60).astype(np.uint8)[None, :, None], (40, 60, 3))
        for name in ("a.jpg", "b.webp"):
            path = self.write(name, np.ascontiguousarray(smooth))
            self.assertLess(np.abs(self.read(path).astype(int) - smooth).max(), 12, name)

    def test_float_tiff_is_linear_and_keeps_what_lies_beyond_white(self) -> None:
        light = RNG.normal(1, 2, (40, 60, 3)).astype(np.float32)
        np.testing.assert_array_equal(self.read(self.write("a.tif", light)), light)

    def test_grey_becomes_three_planes_and_nothing_is_read_where_all_is_transparent(self) -> None:
        grey = self.read(self.write("g.png", PICTURE[..., :1]))
        np.testing.assert_array_equal(grey[..., 2], PICTURE[..., 0])
        alpha = np.concatenate([PICTURE, np.full((40, 60, 1), 0, np.uint8)], axis=2)
        path = self.folder / "t.png"
        Image.fromarray(alpha).save(path)
        still = read_still(path)
        assert still.share is not None
        self.assertEqual((still.samples.max(), still.share.max()), (0, 0))
        self.assertIn("transparent", still.note)

    def test_told_by_content_not_by_name(self) -> None:
        path = self.write("a.png", PICTURE)
        renamed = path.rename(self.folder / "a.jpg")
        self.assertEqual(kind_of(renamed), ("PNG", "png"))
        np.testing.assert_array_equal(self.read(renamed), PICTURE)

    def test_all_eight_orientations(self) -> None:
        # CIPA DC-008 (Exif), tag 274; Pillow's exif_transpose is the independent reader
        from PIL import ImageOps

        for orientation in range(1, 9):
            path = self.folder / f"{orientation}.tif"
            exif = Image.Exif()
            exif[274] = orientation
            Image.fromarray(PICTURE).save(path, exif=exif)
            expected = np.asarray(ImageOps.exif_transpose(Image.open(path)))
            np.testing.assert_array_equal(self.read(path), expected, err_msg=str(orientation))
            about = probe(path)
            self.assertEqual((about.height, about.width), expected.shape[:2])


class Profiles(Folder):
    def test_our_profiles_are_known_again(self) -> None:
        for space in STILL_SPACES.values():
            self.assertIs(space_of(profile_of(space)), space)

    def test_a_wide_file_keeps_its_space(self) -> None:
        path = self.write("p3.png", DEEP, ICCProfile=profile_of(DISPLAY_P3))
        self.assertIs(read_still(path).space, DISPLAY_P3)
        np.testing.assert_array_equal(self.read(path), DEEP)

    def test_colorants_against_the_library_that_reads_them(self) -> None:
        for space in (SRGB, BT2020):
            read = ImageCms.ImageCmsProfile(io.BytesIO(profile_of(space))).profile
            x, y, _ = read.red_primary[1]
            # the profile holds colours adapted to D50; lcms adapts them back
            self.assertAlmostEqual(x, space.red[0], delta=0.02)
            self.assertAlmostEqual(y, space.red[1], delta=0.02)

    def test_another_profile_is_converted_and_said(self) -> None:
        import imagecodecs

        gamma = bytes(imagecodecs.cms_profile("rgb", whitepoint=[0.3127, 0.329, 1.0], gamma=1.8,
                      primaries=[0.64, 0.33, 1.0, 0.3, 0.6, 1.0, 0.15, 0.06, 1.0]))  # fmt: skip
        still = read_still(self.write("odd.png", PICTURE, ICCProfile=gamma))
        self.assertIs(still.space, DISPLAY_P3)
        self.assertIn("converted", still.note)
        grey = read_still(self.write("odd2.png", np.full((16, 16, 3), 128, np.uint8), ICCProfile=gamma)).samples
        light = SRGB.transfer.decode(grey[:, 0, 0] / 65535)
        np.testing.assert_allclose(light, (128 / 255) ** 1.8, atol=0.01)

    def test_a_damaged_profile_is_refused(self) -> None:
        with self.assertRaisesRegex(MediaError, "profile"):
            space_of(b"not a profile at all" * 20)


class Refusals(Folder):
    def test_what_is_no_still(self) -> None:
        for name, content, piece in (
            ("empty.png", b"", "empty"),
            ("words.txt", b"Dear Lanternmoth, the lamps arrive on Tuesday.", "neither a still nor a clip"),
            ("page.png", b"<svg xmlns='http://www.w3.org/2000/svg'/>", "neither a still nor a clip"),
            ("head.png", b"\x89PNG\r\n\x1a\n", "damaged"),
        ):
            path = self.folder / name
            path.write_bytes(content)
            with self.assertRaisesRegex(MediaError, piece):
                read_still(path)

    def test_too_small_and_too_many_pixels(self) -> None:
        with self.assertRaisesRegex(MediaError, "at least 8"):
            read_still(self.write("tiny.png", PICTURE[:4]))
        # a file may hold more pixels than anyone should unpack: its header is asked first
        with mock.patch("calado.media.stills.MAX_PIXELS", 1000), self.assertRaisesRegex(MediaError, "million"):
            probe(self.write("large.png", PICTURE))

    def test_printing_inks(self) -> None:
        path = self.folder / "inks.jpg"
        Image.new("CMYK", (40, 40)).save(path)
        with self.assertRaisesRegex(MediaError, "inks"):
            read_still(path)

    def test_a_hundred_broken_files_get_a_sentence_or_are_read(self) -> None:
        sources = [self.write("a.png", PICTURE), self.write("b.jpg", PICTURE), self.write("c.tif", DEEP)]
        sources.append(self.write("d.webp", PICTURE))
        refused = 0
        for k in range(100):
            whole = sources[k % 4].read_bytes()
            broken = bytearray(whole[: RNG.integers(12, len(whole))] if k % 2 else whole)
            for at in RNG.integers(12, len(broken), 6):
                broken[at] = RNG.integers(0, 256)
            path = self.folder / f"broken-{k}"
            path.write_bytes(bytes(broken))
            try:
                still = read_still(path)
            except MediaError as error:
                refused += 1
                self.assertRegex(str(error), r"^[A-Z].*\.$")
                self.assertNotIn(str(self.folder), str(error))
            else:
                self.assertEqual(still.samples.ndim, 3)
        self.assertGreater(refused, 50)
