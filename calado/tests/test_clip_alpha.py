"""Transparency in clips: a region cut out, a side made transparent, and what a clip brought along."""

from pathlib import Path

import av
import numpy as np
from av.video.frame import VideoFrame

from calado.clip_render import ClipOrder
from calado.errors import MediaError
from calado.media.clips.clip import Clip
from calado.media.clips.formats import CLIP_FORMATS, ClipTarget
from calado.media.clips.tests.made import SIZE, drawing, linear, make
from calado.sheet.models import EMPTY_SHEET
from calado.tests.test_clip_export import BOX, DARK, Case, on


def see_through(path: Path, frames: int, codec: str, pix_fmt: str) -> Path:
    """Write a clip whose alpha rises from left to right, and from frame to frame."""
    with av.open(str(path), "w") as out:
        stream = out.add_stream(codec, rate=25, options={"crf": "4", "b": "0"} if "vpx" in codec else {})
        stream.width, stream.height, stream.pix_fmt = *SIZE, pix_fmt
        for number in range(frames):
            ramp = np.tile(np.linspace(0, 200, SIZE[0]) + 20 * number, (SIZE[1], 1)).astype(np.uint8)
            codes = np.dstack([drawing(number), ramp])
            frame = VideoFrame.from_ndarray(codes, format="rgba").reformat(format=pix_fmt)
            frame.pts = number
            out.mux(stream.encode(frame))
        out.mux(stream.encode(None))
    return path


class CutOut(Case):
    def test_a_region_is_cut_out_in_each_format_that_holds_alpha(self) -> None:
        source = make(self.folder / "a.mp4", 3, sound="aac")
        for id in ("vp9", "ffv1", "prores-4444"):
            with self.subTest(id):
                kind = CLIP_FORMATS[id]
                out = self.exported(source, ClipOrder(DARK, cutout_of="r"), f"{id}.{kind.suffix}", ClipTarget(id))
                with Clip(out) as clip:
                    picture = clip.picture(2)
                assert picture.alpha is not None
                top = picture.layout.top
                self.assertLess(abs(int(picture.alpha[32, 48]) - top), 0.02 * top)
                self.assertLess(int(picture.alpha[32, 10]), 0.02 * top)
                # what is quite gone has no colour: black, and no chroma of what was there
                step = 1 << (picture.layout.bits - 8)
                self.assertLess(abs(int(picture.planes[0][32, 10]) - 16 * step), 4 * step)
                for chroma in picture.colour[1:]:
                    far = chroma[: chroma.shape[0] // 8, : chroma.shape[1] // 4].astype(int)
                    self.assertLess(np.abs(far - 128 * step).max(), 4 * step)

    def test_one_that_holds_none_is_refused_with_what_does(self) -> None:
        source = make(self.folder / "a.mp4", 2)
        with self.assertRaisesRegex(MediaError, "VP9 in WebM, FFV1 in Matroska, lossless or ProRes 4444 in MOV"):
            self.exported(source, ClipOrder(DARK, cutout_of="r"), "b.mp4", ClipTarget("h264"))

    def test_a_side_made_transparent_is_so_in_the_file(self) -> None:
        source = make(self.folder / "a.mkv", 2, "ffv1")
        out = self.exported(source, ClipOrder(on(BOX, clear={"amount": 1.0})), "b.mkv", ClipTarget("ffv1"))
        with Clip(out) as clip:
            alpha = clip.picture(1).alpha
        assert alpha is not None
        self.assertEqual((alpha[32, 48], alpha[32, 10]), (0, 255))
        self.exported(source, ClipOrder(on(BOX, clear={"amount": 1.0})), "b.mp4", ClipTarget("h264"))
        self.assertIn("holds no transparency", self.says)


class Brought(Case):
    def test_what_came_goes_through(self) -> None:
        for codec, pixels, suffix in (
            ("ffv1", "yuva420p", "mkv"),
            ("ffv1", "bgra", "mkv"),
            ("libvpx-vp9", "yuva420p", "webm"),
        ):
            with self.subTest(codec=codec, pixels=pixels):
                source = see_through(self.folder / f"{pixels}.{suffix}", 4, codec, pixels)
                with Clip(source) as clip:
                    self.assertIn("transparency", clip.facts.note)
                    before = [clip.picture(frame).alpha for frame in (3, 0)]
                out = self.exported(source, ClipOrder(EMPTY_SHEET), f"{pixels}.out.mkv", ClipTarget("ffv1"))
                with Clip(out) as clip:
                    after = [clip.picture(frame).alpha for frame in (3, 0)]
                for a, b in zip(before, after, strict=True):
                    assert a is not None and b is not None
                    self.assertGreater(int(a.max()) - int(a.min()), 150)
                    np.testing.assert_array_equal(a, b)

    def test_an_empty_sheet_changes_no_code_that_can_be_seen(self) -> None:
        source = see_through(self.folder / "a.mkv", 2, "ffv1", "yuva444p")
        out = self.exported(source, ClipOrder(EMPTY_SHEET), "b.mkv", ClipTarget("ffv1"))
        alpha = [np.frombuffer(each, np.uint8).reshape(4, SIZE[1], SIZE[0]) for each in linear(source)]
        for a, b in zip(alpha, linear(out), strict=True):
            made = np.frombuffer(b, np.uint8).reshape(4, SIZE[1], SIZE[0])
            there = a[3] > 0
            for plane in range(4):
                np.testing.assert_array_equal(a[plane][there], made[plane][there])
