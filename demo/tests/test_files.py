"""The stills in other kinds of files are what they are said to be."""

import io
from unittest import TestCase

import cv2
import numpy as np
from PIL import ExifTags, Image

from calado.colour.spaces import DISPLAY_P3, SRGB
from calado.media.stills import probe, read_still
from demo.truths import TRUTH

STILLS = TRUTH.parent / "stills"
MORE = STILLS / "more"


class Kinds(TestCase):
    def test_sixteen_bits_beside_eight(self) -> None:
        for deep, plain in (("g_wood_16.png", "g_wood.jpg"), ("f_night_16.tif", "f_night.jpg")):
            first, second = read_still(MORE / deep), read_still(MORE / plain)
            self.assertEqual((probe(MORE / deep).bits, probe(MORE / plain).bits), (16, 8))
            self.assertIs(first.space, SRGB)
            # more steps than eight bits could hold
            self.assertGreater(len(np.unique(first.samples[1])), 4096)
            away = np.abs(first.samples / 65535 - second.samples / 255)
            self.assertLess(float(away.mean()), 0.01)

    def test_the_wide_one_has_colours_outside_of_srgb(self) -> None:
        still = read_still(MORE / "d_shelf_p3.jpg")
        self.assertIs(still.space, DISPLAY_P3)
        light = DISPLAY_P3.transfer.decode(still.samples.astype(np.float64) / 255)
        inside = np.einsum("ij,jhw->ihw", DISPLAY_P3.matrix_to(SRGB), light)
        self.assertGreater(float((inside.min(axis=0) < -0.002).mean()), 0.02)

    def test_the_turned_one_is_shown_upright_and_has_a_thumbnail(self) -> None:
        with Image.open(MORE / "e_booth_turned.jpg") as raw:
            said, block, size = raw.getexif(), raw.info["exif"], raw.size
        self.assertEqual((size, said[ExifTags.Base.Orientation]), ((1067, 1600), 6))
        upright = read_still(MORE / "e_booth_turned.jpg").samples
        plain = read_still(STILLS / "e_booth.png").samples
        self.assertEqual(upright.shape, plain.shape)
        self.assertLess(float(np.abs(upright.astype(float) - plain).mean()), 4)
        first = said.get_ifd(ExifTags.IFD.IFD1)
        at, length = first[ExifTags.Base.JpegIFOffset], first[ExifTags.Base.JpegIFByteCount]
        small = Image.open(io.BytesIO(block[6 + at : 6 + at + length]))
        self.assertEqual((small.format, max(small.size)), ("JPEG", 160))

    def test_the_large_ones_are_the_same_pictures(self) -> None:
        for name in ("a_bench", "b_portrait"):
            large = np.moveaxis(read_still(MORE / f"{name}_large.jpg").samples, 0, -1)
            plain = np.moveaxis(read_still(STILLS / f"{name}.png").samples, 0, -1)
            self.assertGreaterEqual(large.shape[1], 4000)
            reduced = cv2.resize(large, plain.shape[1::-1], interpolation=cv2.INTER_AREA)
            self.assertLess(float(np.abs(reduced.astype(float) - plain).mean()), 4, name)
