"""Frames as numbered pictures: each as a still of it would be, in one file, taken up where it broke off."""

import zipfile
from dataclasses import replace
from pathlib import Path
from unittest import mock

import numpy as np
from PIL import Image

from calado import picture_export
from calado.clip_render import ClipOrder
from calado.errors import Cancelled, MediaError
from calado.media.clips.clip import Clip
from calado.media.clips.frames import Frames
from calado.media.clips.tests.made import make
from calado.media.write import Target
from calado.picture_export import export_archive, export_pictures, numbered
from calado.render.engine import Engine
from calado.sheet.models import EMPTY_SHEET
from calado.tests.test_clip_export import BOX, DARK, Case, on

PNG = Target("png", 8)


def codes(path: Path) -> np.ndarray:
    return np.asarray(Image.open(path)).astype(int)


class Numbered(Case):
    def frames(self, count: int = 6, **made: object) -> Frames:
        source = make(self.folder / "a.mkv", count, "ffv1", **made)  # type: ignore[arg-type]
        clip = self.enterContext(Clip(source))
        return Frames(clip, "a")

    def packed(self, frames: Frames, order: ClipOrder, name: str = "out.zip", target: Target = PNG) -> list[Path]:
        out = self.folder / name
        export_archive(frames, order, out, target)
        with zipfile.ZipFile(out) as archive:
            archive.extractall(self.folder / out.stem)
        return sorted((self.folder / out.stem).iterdir())

    def test_an_archive_holds_the_frames_in_order_as_they_are_finished(self) -> None:
        frames = self.frames()
        found = self.packed(frames, ClipOrder(DARK, frames=(2, 4)))
        self.assertEqual([each.name for each in found], [f"out.{frame:04}.png" for frame in (2, 3, 4)])
        for frame, path in zip((2, 3, 4), found, strict=True):
            (alone,) = export_pictures(frames, ClipOrder(DARK, frames=(frame, frame)), self.folder / "x%d.png", PNG)
            np.testing.assert_array_equal(codes(path), codes(alone))
        self.assertFalse([each for each in self.folder.iterdir() if each.name.startswith(".")])

    def test_a_cut_out_has_the_matte_as_its_alpha_and_a_matte_is_grey(self) -> None:
        frames = self.frames(2)
        cut = codes(self.packed(frames, ClipOrder(DARK, cutout_of="r"), "cut.zip")[0])
        matte = codes(self.packed(frames, ClipOrder(DARK, matte_of="r"), "matte.zip")[0])
        self.assertEqual((cut.shape[2], matte.ndim), (4, 2))
        np.testing.assert_array_equal(cut[..., 3], matte)
        self.assertEqual((matte.min(), matte.max()), (0, 255))

    def test_one_seed_scrambles_all_frames_and_another_file_has_another(self) -> None:
        frames, engine = self.frames(4), Engine(secret=3)
        order = ClipOrder(on(BOX, scramble={"radius": 0.1}))

        def last(name: str, first: int, engine: Engine) -> np.ndarray:
            order_of = replace(order, frames=(first, 3))
            return codes(export_pictures(frames, order_of, self.folder / f"{name}%d.png", PNG, engine=engine)[-1])

        alone = last("a", 3, engine)
        np.testing.assert_array_equal(alone, last("b", 0, engine))
        self.assertGreater(np.abs(alone - last("c", 3, Engine(secret=4)))[20:44, 56:88].mean(), 1)

    def test_broken_off_it_goes_on_and_called_off_it_leaves_nothing(self) -> None:
        frames, order = self.frames(8), ClipOrder(on(BOX, scramble={"radius": 0.1}))
        with mock.patch("calado.clip_export.new_secret", return_value=7):
            export_archive(frames, order, self.folder / "whole.zip", PNG)

            class Killed(BaseException):
                pass

            def until(share: float) -> bool:
                if share > 0.4:
                    raise Killed
                return True

            with self.assertRaises(Killed):
                export_archive(frames, order, self.folder / "again.zip", PNG, until)
        self.assertFalse((self.folder / "again.zip").exists())
        written = picture_export.export_still
        with mock.patch.object(picture_export, "export_still", side_effect=written) as made:
            export_archive(frames, order, self.folder / "again.zip", PNG)
        self.assertLess(made.call_count, 6)
        with zipfile.ZipFile(self.folder / "whole.zip") as one, zipfile.ZipFile(self.folder / "again.zip") as other:
            read = [[archive.read(name) for name in archive.namelist()] for archive in (one, other)]
        self.assertEqual(read[0], read[1])
        with self.assertRaises(Cancelled):
            export_archive(frames, order, self.folder / "off.zip", PNG, lambda share: share < 0.3)
        self.assertFalse([each for each in self.folder.iterdir() if "off" in each.name])

    def test_what_no_format_holds_is_refused(self) -> None:
        frames = self.frames(2)
        with self.assertRaisesRegex(MediaError, "needs alpha"):
            export_archive(frames, ClipOrder(DARK, cutout_of="r"), self.folder / "a.zip", Target("jpeg"))
        with self.assertRaisesRegex(MediaError, "no such region"):
            export_archive(frames, ClipOrder(EMPTY_SHEET, matte_of="r"), self.folder / "a.zip", PNG)
        self.assertEqual(numbered(Path("50% of %03d, a %d.png"), 7).name, "50% of 007, a %d.png")
