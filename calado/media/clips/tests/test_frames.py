"""Frame n, exactly: held against what the codec library gives when it decodes from end to end."""

import tempfile
from fractions import Fraction
from pathlib import Path
from unittest import TestCase, mock

import numpy as np

from calado.errors import MediaError
from calado.media.clips.clip import Clip
from calado.media.clips.decoding import Decoder
from calado.media.clips.facts import rate_of
from calado.media.clips.opening import looks_like_clip
from calado.media.clips.tests.made import linear, make
from demo.truths import TRUTH

B_FRAMES = {"g": "12", "bf": "3"}
#: name, and how it is made
MADE: dict[str, dict[str, object]] = {
    "closed.mp4": {"options": B_FRAMES},
    "open.mp4": {"options": {**B_FRAMES, "x264-params": "open-gop=1"}},
    "refresh.mkv": {"options": {"g": "12", "intra-refresh": "1"}},
    "hevc.mp4": {"codec": "libx265", "options": {"x265-params": "keyint=12:log-level=error"}},
    "hevc10.mkv": {
        "codec": "libx265",
        "pix_fmt": "yuv420p10le",
        "options": {"x265-params": "open-gop=1:keyint=12:log-level=error"},
    },
    "one-key.mp4": {"options": {"g": "400", "bf": "2"}},
    "vp9.webm": {"codec": "libvpx-vp9", "options": {"g": "10", "cpu-used": "8", "deadline": "realtime"}},
    "av1.mp4": {"codec": "libsvtav1", "options": {"g": "10", "preset": "12"}},
    "ffv1.mkv": {"codec": "ffv1", "pix_fmt": "yuv422p10le"},
    "odd.mkv": {"codec": "ffv1", "size": (97, 61)},
    "prores.mov": {"codec": "prores_ks", "pix_fmt": "yuv422p10le"},
    "ntsc.mov": {"rate": Fraction(24000, 1001), "options": B_FRAMES},
    "sixty.mp4": {"rate": Fraction(60), "options": B_FRAMES},
    "uneven.mkv": {"uneven": True, "options": B_FRAMES},
    "fragmented.mp4": {"options": B_FRAMES, "container": {"movflags": "frag_keyframe+empty_moov"}},
    "turned.mp4": {"turn": 90, "options": B_FRAMES},
    "stream.ts": {"options": B_FRAMES},
    "programme.mpg": {"codec": "mpeg2video", "options": {"g": "12", "bf": "2"}},
    "old.avi": {"codec": "mpeg4", "options": {"g": "12", "bf": "2"}},
    "bare.264": {"options": B_FRAMES},
    "open.ts": {"options": {**B_FRAMES, "x264-params": "open-gop=1"}},
    "hevc.ts": {"codec": "libx265", "options": {"x265-params": "open-gop=1:keyint=12:log-level=error"}},
    "camera.mxf": {"codec": "mpeg2video", "size": (720, 576), "options": {"g": "12", "bf": "2"}},
    "intra.mxf": {"codec": "dnxhd", "pix_fmt": "yuv422p", "size": (1280, 720), "options": {"b": "60M"}, "frames": 15},
    "motion.avi": {"codec": "mjpeg", "pix_fmt": "yuvj420p"},
    # its packets tell the times of other pictures
    "wrong.mxf": {"options": B_FRAMES, "size": (320, 240)},
}


def planes(clip: Clip | Decoder, frame: int) -> bytes:
    return b"".join(plane.tobytes() for plane in clip.picture(frame).planes)


class Exactly(TestCase):
    def test_every_frame_of_every_kind_in_any_order(self) -> None:
        order = np.random.default_rng(16)
        with tempfile.TemporaryDirectory() as held:
            for name, how in MADE.items():
                with self.subTest(name):
                    path = make(Path(held) / name, **how)  # type: ignore[arg-type]
                    truth = linear(path)
                    clip = Decoder(path)
                    self.assertEqual(clip.facts.frames, len(truth))
                    for frame in order.permutation(len(truth)):
                        self.assertEqual(planes(clip, int(frame)), truth[frame], f"frame {frame}")
                    # what was kept on the way must not be all that makes it right
                    clip = Decoder(path)
                    clip.KEPT_BYTES = 0
                    for frame in order.permutation(len(truth))[:12]:
                        self.assertEqual(planes(clip, int(frame)), truth[frame], f"frame {frame}, nothing kept")

    def test_a_far_frame_does_not_cost_all_before_it(self) -> None:
        with tempfile.TemporaryDirectory() as held:
            for name in ("stream.ts", "open.ts", "programme.mpg", "camera.mxf", "intra.mxf", "motion.avi"):
                clip = Decoder(make(Path(held) / name, **MADE[name]))  # type: ignore[arg-type]
                self.assertFalse(clip.index.linear, name)
                self.assertNotIn("a far frame", clip.facts.note)
                # it is read anew from a copy without a name: only the file itself lies there
                self.assertEqual([each.name for each in Path(held).iterdir()], [name])
                (Path(held) / name).unlink()

    def test_without_room_for_a_copy_it_is_read_from_the_start(self) -> None:
        with tempfile.TemporaryDirectory() as held:
            path = make(Path(held) / "a.ts", **MADE["stream.ts"])  # type: ignore[arg-type]
            truth = linear(path)
            with mock.patch("calado.media.clips.wrap.ROOM", 10**9):
                clip = Decoder(path)
            self.assertTrue(clip.index.linear)
            self.assertIn("a far frame", clip.facts.note)
            self.assertEqual([planes(clip, n) == truth[n] for n in (30, 7)], [True, True])

    def test_the_demo_s_clips(self) -> None:
        for name in ("walk_lossless.mkv", "wood_1.mp4", "wood_2.mp4", "wood_3.mp4"):
            path = TRUTH.parent / "clips" / name
            truth = linear(path)
            with self.subTest(name), Clip(path) as clip:
                self.assertEqual([planes(clip, n) == truth[n] for n in range(len(truth))], [True] * len(truth))


class Facts(TestCase):
    def test_rates_as_they_are_and_as_they_are_written(self) -> None:
        with tempfile.TemporaryDirectory() as held:
            for name, rate in (
                ("a.mp4", Fraction(24000, 1001)),
                ("b.mkv", Fraction(60000, 1001)),
                ("c.webm", Fraction(25)),
            ):
                codec = "libvpx-vp9" if name.endswith("webm") else "libx264"
                fast = {"cpu-used": "8", "deadline": "realtime"} if codec != "libx264" else None
                clip = Decoder(make(Path(held) / name, 30, codec, rate=rate, options=fast))
                self.assertEqual((clip.facts.rate, clip.facts.even), (rate, True), name)
            uneven = Decoder(make(Path(held) / "d.mkv", uneven=True))
            self.assertFalse(uneven.facts.even)
            self.assertIn("evenly", uneven.facts.note)

    def test_a_time_in_ticks_of_a_millisecond_is_a_rate(self) -> None:
        for rate in (Fraction(24000, 1001), Fraction(25), Fraction(60000, 1001), Fraction(120)):
            times = [round(n / rate * 1000) for n in range(500)]
            self.assertEqual(rate_of(times, Fraction(1, 1000)), (rate, True))

    def test_turned_tagged_and_heard(self) -> None:
        with tempfile.TemporaryDirectory() as held:
            path = make(Path(held) / "a.mp4", 10, turn=90, sound="aac", tags=(2, 9, 9, 14), pix_fmt="yuvj420p")
            facts = Decoder(path).facts
        self.assertEqual((facts.width, facts.height, facts.turn), (64, 96, 90))
        self.assertEqual((facts.tags.matrix, facts.tags.primaries, facts.tags.full_range), (9, 9, True))
        self.assertEqual([(track.codec, track.rate) for track in facts.sound], [("aac", 48000)])

    def test_pixels_that_are_no_squares_are_said(self) -> None:
        with tempfile.TemporaryDirectory() as held:
            wide = Decoder(make(Path(held) / "a.mp4", 3, shape=Fraction(64, 45))).facts
            square = Decoder(make(Path(held) / "b.ts", 3)).facts
        self.assertEqual((wide.pixel_shape, square.pixel_shape), (Fraction(64, 45), 1))
        self.assertIn("1.42 times as wide", wide.note)
        self.assertNotIn("as wide", square.note)

    def test_what_is_not_said_is_assumed_and_said(self) -> None:
        with tempfile.TemporaryDirectory() as held:
            small = Decoder(make(Path(held) / "a.mkv", 3, "ffv1", tags=None)).facts
            large = Decoder(make(Path(held) / "b.mkv", 2, "ffv1", size=(64, 720), tags=None)).facts
        self.assertEqual((small.tags.matrix, large.tags.matrix), (6, 1))
        self.assertIn("assumed", small.note)


class Refused(TestCase):
    def refusal(self, path: Path) -> str:
        with self.assertRaises(MediaError) as caught:
            Clip(path)
        return str(caught.exception)

    def test_what_is_no_clip(self) -> None:
        with tempfile.TemporaryDirectory() as held:
            folder = Path(held)
            whole = make(folder / "whole.mp4", 20).read_bytes()
            (folder / "nothing.mp4").write_bytes(b"")
            (folder / "words.mp4").write_text("ffconcat version 1.0\nfile whole.mp4\n")
            (folder / "zeros.mkv").write_bytes(bytes(5000))
            (folder / "cut.mp4").write_bytes(whole[:200])
            (folder / "still.mp4").write_bytes((TRUTH.parent / "stills" / "a_bench.png").read_bytes()[:4000])
            for name in ("nothing.mp4", "words.mp4", "zeros.mkv", "cut.mp4", "still.mp4"):
                with self.subTest(name):
                    self.assertIn("not a clip", self.refusal(folder / name))
            make(folder / "huge.mkv", 1, "ffv1", size=(16500, 16))
            self.assertIn("16384 a side", self.refusal(folder / "huge.mkv"))
            make(folder / "tiny.mkv", 1, "ffv1", size=(4, 4))
            self.assertIn("only 4 × 4", self.refusal(folder / "tiny.mkv"))

    def test_sound_alone(self) -> None:
        import av

        from calado.media.clips.tests.made import tone

        with tempfile.TemporaryDirectory() as held:
            path = Path(held) / "a.mp4"
            with av.open(str(path), "w") as out:
                track = out.add_stream("aac", rate=48000)
                track.codec_context.layout = "mono"
                tone(out, track, 0.3)
            self.assertIn("no pictures", self.refusal(path))

    def test_damaged_packets_cost_their_frames_alone(self) -> None:
        with tempfile.TemporaryDirectory() as held:
            path = make(Path(held) / "a.mkv", 30, options={"g": "5", "bf": "0"})
            data = bytearray(path.read_bytes())
            middle = len(data) // 2
            data[middle : middle + 40] = bytes(40)
            path.write_bytes(bytes(data))
            with Clip(path) as clip:
                shown = [clip.picture(n).planes[0].shape for n in range(clip.facts.frames)]
        self.assertEqual(set(shown), {(64, 96)})

    def test_a_frame_that_is_none(self) -> None:
        with tempfile.TemporaryDirectory() as held, Clip(make(Path(held) / "a.mp4", 5)) as clip:
            for frame in (-1, 5):
                with self.assertRaisesRegex(MediaError, "frames 0 to 4"):
                    clip.picture(frame)

    def test_known_by_what_it_holds(self) -> None:
        with tempfile.TemporaryDirectory() as held:
            for name, codec in (("a.mp4", "libx264"), ("a.mkv", "ffv1"), ("a.avi", "mpeg4"), ("a.ts", "libx264")):
                self.assertTrue(looks_like_clip(make(Path(held) / name, 3, codec)), name)
        for still in (TRUTH.parent / "stills").glob("*.png"):
            self.assertFalse(looks_like_clip(still))
