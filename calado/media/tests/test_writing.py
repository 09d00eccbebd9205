"""Files out: depth, profile, metadata, what is called off, and other shapes of a picture."""

from pathlib import Path

import numpy as np
from PIL import Image
from PIL.PngImagePlugin import PngInfo

from calado.colour.spaces import DISPLAY_P3, SRGB
from calado.errors import CaladoError, Cancelled, MediaError
from calado.export import export_still
from calado.export_rows import Shape
from calado.media.metadata import facts_of
from calado.media.stills import read_still
from calado.media.tests.test_media import DEEP, PICTURE, Folder
from calado.media.write import Target, still_writer
from calado.render.encode import file_codes
from calado.render.engine import Engine, Order
from calado.render.source import source_of
from calado.sheet.models import Part, Pass, Region, Sheet


class Writing(Folder):
    def rows(self, target: Target, space: object = SRGB) -> Path:
        path = self.folder / f"out.{target.extension}"
        with still_writer(path, 60, 40, space, target) as writer:  # type: ignore[arg-type]
            writer.write(DEEP[:15] if target.bits == 16 else PICTURE[:15])
            writer.write(DEEP[15:] if target.bits == 16 else PICTURE[15:])
        return path

    def test_rows_profile_and_depth(self) -> None:
        for target in (Target("png", 8), Target("png", 16), Target("tiff", 16), Target("tiff", 8)):
            path = self.rows(target, DISPLAY_P3)
            still = read_still(path)
            np.testing.assert_array_equal(np.moveaxis(still.samples, 0, -1), DEEP if target.bits == 16 else PICTURE)
            self.assertIs(still.space, DISPLAY_P3)

    def test_what_a_format_cannot_hold_is_refused(self) -> None:
        for fields in ({"format": "jpeg", "bits": 16}, {"format": "jpeg", "quality": 0}, {"format": "png", "bits": 12}):
            with self.assertRaises(MediaError):
                Target(**fields)  # type: ignore[arg-type]

    def test_a_failure_leaves_nothing(self) -> None:
        path = self.folder / "half.png"
        with self.assertRaises(ZeroDivisionError), still_writer(path, 60, 40, SRGB, Target("png")) as writer:
            writer.write(PICTURE[:10])
            raise ZeroDivisionError
        self.assertEqual(list(self.folder.iterdir()), [])

    def test_pixels_an_inch_go_along_from_any_format_to_any(self) -> None:
        # Pillow reads and writes them by itself
        for ending in ("png", "jpg", "tif"):
            source = self.folder / f"source.{ending}"
            Image.fromarray(PICTURE).save(source, dpi=(300, 300))
            for target in (Target("png"), Target("jpeg"), Target("tiff")):
                kept = Target(target.format, keep_metadata_of=source)
                np.testing.assert_allclose(np.array(Image.open(self.rows(kept)).info["dpi"], float), 300, atol=0.01)
        self.assertEqual(Image.open(self.rows(Target("tiff"))).info["dpi"], (72, 72))

    def test_metadata_is_left_out_unless_asked_for_and_then_without_the_embedded_picture(self) -> None:
        source = self.folder / "source.jpg"
        exif = Image.Exif()
        exif[315] = "Oona Pell"
        exif[274] = 6
        Image.fromarray(PICTURE).save(source, exif=exif, quality=95)
        plain = Image.open(self.rows(Target("jpeg", 8, 90))).getexif()
        self.assertNotIn(315, plain)
        path = self.rows(Target("jpeg", 8, 90, source))
        kept = Image.open(path).getexif()
        self.assertEqual(kept.get(315), "Oona Pell")
        self.assertIn(kept.get(274, 1), (1,))
        self.assertEqual(path.read_bytes().count(b"\xff\xd8\xff"), 1)

    def private(self) -> Path:
        """Return a JPEG that tells all it can: author, place, serial number, a maker's note, an XMP thumbnail."""
        source = self.folder / "private.jpg"
        exif = Image.Exif()
        exif[315], exif[272] = "Oona Pell", "Lantern box"
        exif.get_ifd(0x8769).update(
            {0xA431: "4072-0017", 0x927C: b"\xff\xd8\xff" + bytes(3000), 0x9286: b"ASCII\0\0\0" + b"A" * 900}
        )
        exif.get_ifd(0x8825).update({1: "N", 2: (52.0, 30.0, 0.0), 3: "E", 4: (13.0, 24.0, 0.0)})
        thumbnail = "QUJD" * 600
        xmp = (
            '<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">'
            '<rdf:Description xmlns:xmpGImg="http://ns.adobe.com/xap/1.0/g/img/" xmpGImg:image="' + thumbnail + '"/>'
            "</rdf:RDF></x:xmpmeta>"
        ).encode()
        Image.fromarray(PICTURE).save(source, exif=exif, xmp=xmp, quality=95)
        return source

    def test_nothing_that_can_hold_a_picture_is_kept_and_what_tells_of_place_only_when_wanted(self) -> None:
        source = self.private()
        self.assertIn(b"QUJDQUJD", source.read_bytes())
        for private in (False, True):
            for target in (Target("jpeg", 8, 90, source, private), Target("png", 8, 90, source, private)):
                path = self.rows(target)
                written = path.read_bytes()
                self.assertNotIn(b"QUJDQUJD", written)
                self.assertNotIn(b"A" * 500, written)
                kept = Image.open(path).getexif()
                if target.format == "jpeg":
                    self.assertEqual(kept.get(315), "Oona Pell")
                    self.assertEqual(bool(kept.get_ifd(0x8825)), private)
                    self.assertLessEqual(0xA431 in kept.get_ifd(0x8769), private)
                    self.assertNotIn(0x927C, kept.get_ifd(0x8769))

    def test_what_would_be_kept_is_told_before(self) -> None:
        facts = {fact.name: fact for fact in facts_of(self.private())}
        self.assertEqual(facts["Artist"].value, "Oona Pell")
        self.assertFalse(facts["Artist"].private)
        self.assertTrue(all(fact.private for name, fact in facts.items() if "GPS" in name or "Serial" in name))
        self.assertTrue(any("GPS" in name for name in facts))
        self.assertFalse(any("MakerNote" in name or "UserComment" in name for name in facts))

    def test_profiles_and_texts_in_a_png_are_left(self) -> None:
        path = self.folder / "texts.png"
        info = PngInfo()
        info.add_text("Raw profile type exif", "41" * 2000)
        info.add_text("Thumb::Image", "QUJD" * 300)
        Image.fromarray(PICTURE).save(path, pnginfo=info)
        written = self.rows(Target("png", 8, 90, path, True)).read_bytes()
        self.assertNotIn(b"Raw profile", written)
        self.assertNotIn(b"QUJD", written)


class Exporting(Folder):
    source = source_of(np.ascontiguousarray(np.moveaxis(np.tile(PICTURE, (30, 20, 1)), -1, 0)), SRGB, "tiles")
    order = Order(Sheet(passes=(Pass(id="a", name="a", inside={"exposure": {"amount": -1.0}}),)))

    def test_nothing_done_writes_the_source_itself(self) -> None:
        path = self.folder / "same.png"
        export_still(self.source, Order(), path, Target("png", 8))
        np.testing.assert_array_equal(self.read(path), np.tile(PICTURE, (30, 20, 1)))

    def test_progress_runs_to_the_end_and_cancelling_leaves_nothing(self) -> None:
        heard: list[float] = []
        export_still(self.source, self.order, self.folder / "a.png", Target("png"), lambda s: heard.append(s) or True)
        self.assertEqual((heard[0], heard[-1]), (0.0, 1.0))
        self.assertEqual(heard, sorted(heard))
        gone = self.folder / "gone.png"
        with self.assertRaises(Cancelled):
            export_still(self.source, self.order, gone, Target("png"), lambda s: False)
        self.assertEqual([f.name for f in self.folder.iterdir()], ["a.png"])

    def test_errors_belong_to_one_tree(self) -> None:
        self.assertTrue(issubclass(Cancelled, CaladoError))
        self.assertTrue(issubclass(MediaError, ValueError))


class Shapes(Folder):
    source = source_of(np.ascontiguousarray(np.moveaxis(np.tile(PICTURE, (30, 20, 1)), -1, 0)), SRGB, "tiles")
    order = Order(Sheet(passes=(Pass(id="a", name="a", inside={"exposure": {"amount": -1.0}}),)))

    def test_a_smaller_picture_is_the_preview_of_that_size(self) -> None:
        path = self.folder / "small.png"
        export_still(self.source, self.order, path, Target("png", 8), shape=Shape(longer_side=300))
        made = self.read(path)
        self.assertEqual(max(made.shape), 300)
        window = self.source.full(300 / max(self.source.width, self.source.height))
        expected = file_codes(Engine().picture(self.source, self.order, window), SRGB, 8)
        np.testing.assert_array_equal(made, expected)

    def test_none_is_enlarged(self) -> None:
        self.assertEqual(Shape(longer_side=90_000).window(self.source), self.source.full())
        with self.assertRaises(MediaError):
            Shape(longer_side=3)

    def test_a_pair_shows_the_source_with_its_covers_on(self) -> None:
        plate = Region(
            id="r",
            name="r",
            parts=(Part(id="p", kind="rectangle", values={"x": 0.3, "y": 0.5, "width": 0.3, "height": 0.4}),),
        )
        solid = Pass(id="b", name="b", region="r", inside={"solid": {"amount": 1.0}})
        order = Order(Sheet(regions=(plate,), passes=(*self.order.sheet.passes, solid)))
        path = self.folder / "pair.png"
        export_still(self.source, order, path, Target("png", 8), shape=Shape(pair=True))
        made = self.read(path)
        wide, high = self.source.width, self.source.height
        self.assertEqual(made.shape, (high, 2 * wide + round(0.02 * high), 3))
        before = made[:, :wide]
        rows, columns = slice(round(0.32 * high), round(0.68 * high)), slice(round(0.17 * high), round(0.43 * high))
        self.assertEqual(np.ptp(before[rows, columns].reshape(-1, 3), axis=0).max(), 0)
        np.testing.assert_array_equal(before[:, -50:], np.tile(PICTURE, (30, 20, 1))[:, -50:])
