"""Files that bite: small on disk, large or endless in memory; and profiles that are none."""

import io
import os
import tempfile
import time
from pathlib import Path
from unittest import TestCase, mock

import imagecodecs
import numpy as np
import tifffile
from PIL import Image

from calado.colour.spaces import SRGB
from calado.errors import MediaError
from calado.media import apart
from calado.media.apart import Reader
from calado.media.cdl import read_cdl
from calado.media.stills import probe, read_still
from calado.media.write import Format, Target, still_writer

#: every kind of file that is written, with its depth
WRITTEN: tuple[tuple[Format, int], ...] = (("png", 8), ("png", 16), ("jpeg", 8), ("tiff", 8), ("tiff", 16), ("exr", 16))
GREY = np.full((40, 60, 3), 90, np.uint8)


class OnDisk(TestCase):
    def setUp(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)

    def file(self, name: str, data: bytes) -> Path:
        path = self.folder / name
        path.write_bytes(data)
        return path


class Dates(OnDisk):
    def test_the_same_picture_has_the_same_bytes_whenever_it_is_written(self) -> None:
        first = [self.written(format, bits) for format, bits in WRITTEN]
        time.sleep(1.1)  # the files that would tell the time tell it in seconds
        for (format, bits), before in zip(WRITTEN, first, strict=True):
            self.assertEqual(self.written(format, bits), before, (format, bits))

    def written(self, format: Format, bits: int) -> bytes:
        path = self.folder / f"a.{format}"
        rows = GREY if bits == 8 else GREY.astype(np.uint16) * 257
        with still_writer(path, 60, 40, SRGB, Target(format, bits)) as writer:
            writer.write(rows if format != "exr" else GREY.astype(np.float32) / 255)
        return path.read_bytes()


class Files(OnDisk):
    def refused(self, path: Path, code: str) -> None:
        began = time.monotonic()
        with self.assertRaises(MediaError) as caught:
            probe(path)
        self.assertEqual(caught.exception.code, code)
        self.assertLess(time.monotonic() - began, 5)

    def test_what_would_be_huge_is_refused_by_its_header(self) -> None:
        # 1.2 GB of pixels in a file of 2 MB
        path, tile = self.folder / "huge.tif", np.zeros((1024, 1024, 4), np.uint16)
        tiles = (tile for _ in range(10 * 15))
        how = {"tile": (1024, 1024), "photometric": "rgb", "compression": "zlib", "compressionargs": {"level": 1}}
        tifffile.imwrite(path, tiles, shape=(9900, 15_000, 4), dtype=np.uint16, **how)
        self.assertLess(path.stat().st_size, 8 * 2**20)
        self.refused(path, "media.large")

    def test_a_jpeg_of_thousands_of_scans_is_refused(self) -> None:
        out = io.BytesIO()
        Image.fromarray(GREY).save(out, "JPEG", progressive=True)
        data = out.getvalue()
        last = data.rindex(b"\xff\xda")
        self.refused(self.file("scans.jpg", data[:last] + data[last:-2] * 3000 + data[-2:]), "media.costly")
        self.assertEqual(probe(self.file("sound.jpg", data)).format, "JPEG")

    def test_big_tiff_is_read(self) -> None:
        path = self.folder / "big.tif"
        tifffile.imwrite(path, GREY, bigtiff=True)
        self.assertEqual(path.read_bytes()[:4], b"II+\0")
        np.testing.assert_array_equal(read_still(path).samples[0], GREY[..., 0])

    def test_damaged_profiles_are_refused_in_a_sentence(self) -> None:
        sound = bytearray(imagecodecs.cms_profile("adobergb"))
        rng = np.random.default_rng(14)
        for number in range(120):
            damaged = bytearray(sound)
            for place in rng.integers(0, len(sound), 1 + number % 12):
                damaged[place] = rng.integers(0, 256)
            out = io.BytesIO()
            Image.fromarray(GREY).save(out, "PNG", icc_profile=bytes(damaged))
            try:
                read_still(self.file("profile.png", out.getvalue()))
            except MediaError as error:
                self.assertTrue(str(error).endswith("."))

    def test_entities_are_refused_in_any_encoding(self) -> None:
        text = '<?xml version="1.0" encoding="{}"?><!DOCTYPE a [<!ENTITY b "x">]><a>&b;</a>'
        for encoding in ("utf-8", "utf-16"):
            with self.assertRaises(MediaError, msg=encoding):
                read_cdl(text.format(encoding).encode(encoding))


class Apart(OnDisk):
    def setUp(self) -> None:
        super().setUp()
        self.reader = Reader()
        self.addCleanup(self.reader.close)

    def test_it_reads_what_is_sound_and_says_what_is_not(self) -> None:
        out = io.BytesIO()
        Image.fromarray(GREY).save(out, "PNG")
        for _ in range(2):
            still = self.reader.still(self.file("grey.png", out.getvalue()))
            np.testing.assert_array_equal(still.samples, np.moveaxis(GREY, -1, 0))
        with self.assertRaises(MediaError) as caught:
            self.reader.still(self.file("cut.png", out.getvalue()[:-30]))
        self.assertEqual(caught.exception.code, "media.damaged")

    def test_too_much_memory_or_time_ends_it_and_the_next_one_is_read(self) -> None:
        out = io.BytesIO()
        Image.fromarray(np.zeros((3000, 4000, 3), np.uint8)).save(out, "PNG")
        path = self.file("large.png", out.getvalue())
        # a process that has its libraries in memory, and then no more than these
        sound = self.reader.still(path)
        with mock.patch.object(apart, "cost_of", lambda about: -(apart.ROOM_BYTES // apart.COPIES)):
            with mock.patch.object(apart, "_seconds", lambda cost: 20.0), self.assertRaises(MediaError) as caught:
                self.reader.still(path)
            self.assertEqual(caught.exception.code, "media.costly")
        fifo = self.folder / "never.png"
        os.mkfifo(fifo)
        with mock.patch.object(apart, "probe", lambda path: None), mock.patch.object(apart, "cost_of", lambda about: 0):
            with mock.patch.object(apart, "WALL", 0.05), self.assertRaises(MediaError) as caught:
                self.reader.still(fifo)
            self.assertEqual(caught.exception.code, "media.costly")
        np.testing.assert_array_equal(self.reader.still(path).samples, sound.samples)
