"""Area averages against OpenCV's, which weighs what a pixel covers of each sample too."""

from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import TestCase

import cv2
import numpy as np

from calado.colour.spaces import SRGB
from calado.render.encode import screen_codes
from calado.render.engine import Engine, Order
from calado.render.resample import NO_TABLE, area_planes, halved
from calado.render.source import open_source, source_of, store_source
from calado.sheet.models import Sheet

ORDER = np.random.default_rng(6)
LIGHT = ORDER.random((3, 90, 120), np.float32)


class Areas(TestCase):
    def test_as_opencv_averages_areas(self) -> None:
        codes = ORDER.integers(0, 256, LIGHT.shape, np.uint8)
        table = (np.arange(256) / 255).astype(np.float32)
        for factor in (1.25, 1.5, 1.875, 2.0, 2.5, 3.0, 7.5):
            size = round(120 / factor), round(90 / factor)
            for samples, read in ((LIGHT, NO_TABLE), (codes, table)):
                with self.subTest(factor=factor, kind=samples.dtype):
                    light = samples if read is NO_TABLE else table[samples]
                    expected = np.stack([cv2.resize(each, size, interpolation=cv2.INTER_AREA) for each in light])
                    made = area_planes(samples, read, factor, (0, 0, *size))
                    np.testing.assert_allclose(made, expected, atol=2e-6)

    def test_a_part_is_what_the_whole_has_there(self) -> None:
        for factor in (1.0, 1.013, 1.61, 2.0, 3.7):
            wide, high = int(120 / factor), int(90 / factor)
            whole = area_planes(LIGHT, NO_TABLE, factor, (0, 0, wide, high))
            part = area_planes(LIGHT, NO_TABLE, factor, (7, 5, wide - 9, high - 8))
            np.testing.assert_array_equal(part, whole[:, 5 : high - 3, 7 : wide - 2])

    def test_beyond_the_frame_there_is_nothing_to_count(self) -> None:
        odd = LIGHT[:, :45, :63]
        made = halved(odd, NO_TABLE)
        self.assertEqual(made.shape, (3, 23, 32))
        np.testing.assert_allclose(made[:, :-1, -1], odd[:, :-1, -1].reshape(3, 22, 2).mean(axis=2), atol=1e-6)
        np.testing.assert_allclose(made[:, -1, -1], odd[:, -1, -1])

    def test_what_is_no_number_stays_where_it_counts(self) -> None:
        light = LIGHT.copy()
        light[:, 40, 60] = np.nan
        for factor in (1.6, 2.0, 2.5, 3.3):
            made = area_planes(light, NO_TABLE, factor, (0, 0, int(120 / factor), int(90 / factor)))
            y, x = np.nonzero(np.isnan(made[0]))
            self.assertTrue(len(y))
            # a pixel covers the samples from its own place × the factor on
            self.assertTrue((np.abs((y + 0.5) * factor - 40.5) < (factor + 1) / 2 + 1e-6).all())
            self.assertTrue((np.abs((x + 0.5) * factor - 60.5) < (factor + 1) / 2 + 1e-6).all())


class Levels(TestCase):
    def test_what_is_mapped_from_a_file_is_read_like_what_is_held(self) -> None:
        held = source_of((LIGHT * 255).astype(np.uint8).repeat(4, 1).repeat(4, 2), SRGB)
        sheet = Sheet.model_validate(
            {
                "regions": [
                    {"id": "r", "name": "r", "parts": [{"id": "p", "kind": "luminance", "values": {"low": 0.4}}]}
                ],
                "passes": [{"id": "a", "name": "a", "region": "r", "inside": {"exposure": {"amount": 1.0}}}],
            }
        )
        with TemporaryDirectory() as folder:
            store_source(held, Path(folder))
            mapped = open_source(Path(folder), "mapped")
            for scale in (1.0, 0.5, 0.25, 0.4):
                with self.subTest(scale=scale):
                    made, expected = (
                        screen_codes(Engine().picture(each, Order(sheet), each.full(scale)), SRGB)
                        for each in (mapped, held)
                    )
                    np.testing.assert_array_equal(made, expected)
