"""A codec held against what it was given: what nothing loses is said to be whole, what is lost is measured."""

from fractions import Fraction
from pathlib import Path

import av
import cv2
import imagecodecs
import numpy as np
from av.video.frame import VideoFrame

from calado.clip_render import ClipOrder
from calado.errors import RequestError
from calado.media.clips.clip import Clip
from calado.media.clips.formats import ClipTarget
from calado.media.clips.frames import Frames
from calado.sheet.models import EMPTY_SHEET
from calado.tests.test_clip_export import BOX, Case, on
from calado.through_codec import beside, grain_left, stepped, through_codec

HIGH, WIDE = 180, 320
RNG = np.random.default_rng(5)


def slope() -> np.ndarray:
    """Return a slope that rises by a code in 20 pixels."""
    return np.tile(np.arange(WIDE, dtype=np.float32) / 20 + 80, (HIGH, 1))


class Figures(Case):
    def test_grain_that_is_taken_down_by_a_filter_is_measured_as_the_filter_does(self) -> None:
        noise = RNG.normal(0, 4, (HIGH, WIDE)).astype(np.float32)
        flat = np.full((HIGH, WIDE), 100, np.float32)
        self.assertEqual(grain_left(flat + noise, flat + noise), 1.0)
        for share in (0.7, 0.3, 0.0):
            left = grain_left(flat + noise, flat + share * noise)
            assert left is not None
            self.assertAlmostEqual(left, share**2, delta=0.01)
        self.assertIsNone(grain_left(slope(), slope()))

    def test_steps_of_a_slope_are_as_wide_as_they_must_be(self) -> None:
        smooth = slope() + RNG.uniform(-0.5, 0.5, (HIGH, WIDE)).astype(np.float32)
        found = stepped(np.rint(smooth), np.rint(slope()))
        assert found is not None
        # a step of 20 pixels has 16 places at which a square of five lies within it
        self.assertAlmostEqual(found[1], 16 / 20, delta=0.03)
        self.assertLess(found[0], 0.05)
        self.assertIsNone(stepped(np.full((HIGH, WIDE), 9, np.float32), slope()))

    def grainy(self) -> Path:
        """Write a clip, lossless, of a soft slope with grain that is another in each frame."""
        path = self.folder / "grainy.mkv"
        with av.open(str(path), "w") as out:
            stream = out.add_stream("ffv1", rate=Fraction(25))
            stream.width, stream.height, stream.pix_fmt = WIDE, HIGH, "yuv420p"  # type: ignore[union-attr]
            stream.codec_context.color_range = 1
            for number in range(30):
                luma = np.rint(slope() + RNG.normal(0, 3, (HIGH, WIDE))).astype(np.uint8)
                grey = np.full((HIGH // 2, WIDE), 128, np.uint8)
                frame = VideoFrame.from_ndarray(np.concatenate([luma, grey]), format="yuv420p")
                frame.pts, frame.time_base = number, Fraction(1, 25)
                out.mux(stream.encode(frame))  # type: ignore[arg-type]
            out.mux(stream.encode(None))
        return path

    def test_a_codec_that_loses_nothing_and_ones_that_lose_more_and_more(self) -> None:
        with Clip(self.grainy()) as clip:
            frames, order = Frames(clip, "g"), ClipOrder(EMPTY_SHEET)
            whole = through_codec(frames, order, 12, ClipTarget("ffv1"))
            np.testing.assert_array_equal(whole.before, whole.after)
            self.assertEqual((whole.frames, whole.grain), (25, 1.0))
            assert whole.steps is not None
            self.assertEqual(*whole.steps)
            left = [through_codec(frames, order, 12, ClipTarget("h264", each)) for each in (14, 18, 23)]
            grain = [each.grain or 0 for each in left]
            self.assertTrue(1 > grain[0] > grain[1] > grain[2], grain)
            self.assertTrue(whole.bits > left[0].bits > left[1].bits > left[2].bits)
            # the share of variance, against a direct reckoning on the pictures as they are shown
            shown = [each.astype(float) for each in (left[0].before, left[0].after)]
            fine = [each - cv2.GaussianBlur(each, (0, 0), 1.5) for each in shown]
            self.assertAlmostEqual(grain[0], fine[1][..., 1].var() / fine[0][..., 1].var(), delta=0.05)
            with self.assertRaisesRegex(RequestError, "frames 0 to 29"):
                through_codec(frames, order, 30, ClipTarget("h264"))

    def test_the_piece_shows_both_and_covers_stay_on(self) -> None:
        with Clip(self.grainy()) as clip:
            order = ClipOrder(on(BOX, solid={"amount": 1.0}))
            made = through_codec(Frames(clip, "g"), order, 0, ClipTarget("h264"))
        both = imagecodecs.png_decode(beside(made, (9999.0, -5.0), (100, 60)))
        np.testing.assert_array_equal(both[:, :100], made.before[:60, -100:])
        np.testing.assert_array_equal(both[:, 100:], made.after[:60, -100:])
        inner = slice(60, 120), slice(100, 160)
        self.assertEqual(len(np.unique(made.before[inner].reshape(-1, 3), axis=0)), 1)
