"""What is told of the demo's clips, against their frames."""

from functools import lru_cache
from unittest import TestCase

import av
import cv2
import numpy as np

from demo.tests.test_truth import matte
from demo.truths import TRUTH, Clip, truth

CLIPS = TRUTH.parent / "clips"
#: mattes of every so many frames are kept
EVERY = 4
RATES = {"walk": (24, 144), "push": (24, 96), "swing": (30000 / 1001, 150), "wood_1": (25, 50)}
SMALL = 4 * 2**20


@lru_cache(maxsize=2)
def frames(name: str) -> np.ndarray:
    """Return a clip's frames, codes (N, H, W, 3)."""
    with av.open(str(CLIPS / name)) as file:
        shown = file.decode(video=0)
        return np.stack([each.to_ndarray(format="rgb24", src_colorspace="ITU709") for each in shown])


def carried(picture: np.ndarray, to: np.ndarray) -> np.ndarray:
    """Return a frame carried by a homography of pixels counted from 0; NaN where nothing is known."""
    size = (picture.shape[1], picture.shape[0])
    made = cv2.warpPerspective(picture.astype(np.float32), to, size, flags=cv2.INTER_LINEAR, borderValue=(-1e4,) * 3)
    return np.where(made.min(axis=2, keepdims=True) < -1, np.nan, made)


def turned(clip: Clip, frame: int) -> np.ndarray:
    """Return the homography from what a camera that only turns sees when straight to what it sees in a frame."""
    assert clip.fov is not None
    pan = clip.frames[frame].camera
    yaw, pitch = np.radians(pan.yaw), np.radians(pan.pitch)  # type: ignore[union-attr]
    away = clip.width / 2 / np.tan(np.radians(clip.fov) / 2)
    lens = np.array([[away, 0, (clip.width - 1) / 2], [0, away, (clip.height - 1) / 2], [0, 0, 1]])
    ahead = np.array([np.sin(yaw), -np.sin(pitch), np.cos(yaw)])
    ahead /= np.linalg.norm(ahead)
    right = np.cross([0, 1, 0], ahead)
    right /= np.linalg.norm(right)
    return lens @ np.stack([right, np.cross(ahead, right), ahead]) @ np.linalg.inv(lens)


class Files(TestCase):
    def test_streams_rates_tags_and_sizes(self) -> None:
        for name, (rate, count) in RATES.items():
            with av.open(str(CLIPS / f"{name}.mp4")) as file:
                video, sound = file.streams.video[0], file.streams.audio[0]
                self.assertEqual((video.codec_context.name, sound.codec_context.name), ("h264", "aac"))
                self.assertAlmostEqual(float(video.average_rate), rate, places=3)
                self.assertEqual((video.width, video.height), (1280, 720))
                # 1 is Rec. 709 for matrix, primaries and transfer (ITU-T H.273)
                context = video.codec_context
                self.assertEqual((context.colorspace, context.color_primaries, context.color_trc), (1, 1, 1))
                self.assertEqual(sum(packet.pts is not None for packet in file.demux(video)), count)
            self.assertLess((CLIPS / f"{name}.mp4").stat().st_size, SMALL)

    def test_the_walk_is_there_without_loss_too(self) -> None:
        with av.open(str(CLIPS / "walk_lossless.mkv")) as file:
            names = {each.type: each.codec_context.name for each in file.streams}
            self.assertEqual(names, {"video": "ffv1", "audio": "pcm_s16le"})
        small, large = frames("walk_lossless.mkv"), frames("walk.mp4")
        self.assertEqual(len(small), len(large))
        reduced = cv2.resize(large[40], (480, 270), interpolation=cv2.INTER_AREA)
        self.assertLess(float(np.abs(reduced.astype(float) - small[40]).mean()), 2.5)

    def test_steps_are_heard_while_the_puppet_walks(self) -> None:
        with av.open(str(CLIPS / "walk_lossless.mkv")) as file:
            heard = np.concatenate([each.to_ndarray().reshape(-1, 2)[:, 0] for each in file.decode(audio=0)]) / 32768
        self.assertAlmostEqual(len(heard) / 48000, 6, places=2)
        self.assertGreater(float(np.abs(heard).max()), 0.5)


class Walk(TestCase):
    def test_outside_of_the_matte_a_frame_is_the_empty_stage_turned(self) -> None:
        clip, seen = truth().clips["walk"], frames("walk.mp4").astype(float)
        empty = next(each.frame for each in clip.frames if each.face is None) + 3
        for frame in (8, 40, 60, 112, 140):
            to = turned(clip, frame) @ np.linalg.inv(turned(clip, empty))
            stage = carried(seen[empty], to)
            cover = matte(f"walk/puppet_{frame:03}.png")[..., None]
            made = cover * seen[frame] + (1 - cover) * stage
            # the shadow under the puppet and the frame's border are left out
            off = np.abs(made - seen[frame])[:560]
            self.assertLess(float(np.nanmean(off)), 2.0, frame)
            inside = np.abs(stage - seen[frame]).mean(axis=2)[cover[..., 0] > 0.95]
            if len(inside) > 3000:
                self.assertGreater(float(np.nanmedian(inside)), 10, frame)

    def test_the_face_is_where_it_is_told_to_be(self) -> None:
        clip = truth().clips["walk"]
        for each in clip.frames[::EVERY]:
            face = each.face
            if face is None:
                continue
            cover = matte(f"walk/face_{each.frame:03}.png")
            self.assertAlmostEqual(cover.sum(), face.pixels, delta=0.02 * (face.pixels or 0) + 30)
            x, y = (int(value) for value in face.centre)
            if face.hidden < 0.02 and face.inside > 0.99:  # type: ignore[operator]
                self.assertGreater(cover[y, x], 0.9, each.frame)

    def test_it_passes_behind_the_pillar_leaves_and_comes_back(self) -> None:
        story = [
            (each.face.hidden, each.face.inside, each.face.turn) for each in truth().clips["walk"].frames if each.face
        ]
        hidden, inside, turn = (np.array(column) for column in zip(*story, strict=True))
        self.assertGreater(hidden.max(), 0.4)
        self.assertEqual((inside.min(), inside.max()), (0, 1))
        self.assertGreater(float(np.ptp(turn[:60])), 30)
        self.assertEqual((np.sign(turn[0]), np.sign(turn[-1])), (1, -1))
        self.assertTrue(any(each.face is None for each in truth().clips["walk"].frames))


class Push(TestCase):
    def test_the_lantern_grows_as_told_and_is_brighter_than_what_is_behind(self) -> None:
        clip, seen = truth().clips["push"], frames("push.mp4").astype(float)
        first, last = clip.frames[0], clip.frames[-1]
        assert first.lantern and last.lantern and last.scale
        wide = [each.lantern.box[2] - each.lantern.box[0] for each in (first, last)]  # type: ignore[union-attr]
        self.assertAlmostEqual(wide[1] / wide[0], last.scale, delta=0.02)
        for frame in (0, 48, 92):
            cover = matte(f"push/lantern_{frame:03}.png")
            rows, columns = np.nonzero(cover > 0.5)
            box = (columns.min(), rows.min(), columns.max() + 1, rows.max() + 1)
            self.assertEqual(tuple(int(each) for each in box), clip.frames[frame].lantern.box)  # type: ignore[union-attr]
            light = seen[frame].mean(axis=2)
            self.assertGreater(light[cover > 0.95].mean(), 2 * light[cover < 0.05].mean())


class Swing(TestCase):
    def test_the_camera_moves_as_told(self) -> None:
        clip, seen = truth().clips["swing"], frames("swing.mp4").astype(float)
        first = np.array(clip.frames[0].camera)
        for frame in (12, 60, 148):
            moved = np.array(clip.frames[frame].camera) @ np.linalg.inv(first)
            off, still = (np.abs(each - seen[frame]).mean(axis=2) for each in (carried(seen[0], moved), seen[0]))
            # the plate swings by itself: the right half, where the notice stands
            self.assertLess(np.nanmean(off[:, 640:]), 0.75 * np.nanmean(still[:, 640:]), frame)

    def test_the_plate_is_where_it_is_told_to_be(self) -> None:
        clip = truth().clips["swing"]
        for frame in (0, 60, 148):
            plate = clip.frames[frame].plate
            assert plate is not None
            drawn = np.zeros((clip.height, clip.width), np.uint8)
            cv2.fillPoly(drawn, [np.rint(np.array(plate.polygon) * 16 - 8).astype(np.int32)], 1, shift=4)
            cover = matte(f"swing/plate_{frame:03}.png")
            self.assertGreater(cover[drawn > 0].mean(), 0.95, frame)
            # the strings on which it hangs are all that lies outside
            self.assertLess(cover[cv2.dilate(drawn, np.ones((5, 5))) == 0].sum(), 0.2 * drawn.sum(), frame)
        turns = np.array([each.plate.turn for each in clip.frames])  # type: ignore[union-attr]
        self.assertGreater(np.ptp(turns), 15)
        self.assertTrue(all(len(each.lines) == 4 for each in clip.frames))


class Exposures(TestCase):
    def light(self, name: str) -> tuple[np.ndarray, Clip]:
        """Return the first frame's light over the still's at the same places, in stops."""
        clip = truth().clips[name]
        still = cv2.cvtColor(cv2.imread(str(TRUTH.parent / "stills" / "g_wood.png")), cv2.COLOR_BGR2RGB)
        to = np.array(clip.frames[0].camera)
        there = cv2.warpPerspective(still.astype(np.float32), to, (clip.width, clip.height), flags=cv2.INTER_AREA)
        both = [
            cv2.GaussianBlur((each / 255) ** 2.2, (0, 0), 25).mean(axis=2) for each in (frames(f"{name}.mp4")[0], there)
        ]
        return np.log2(both[0] / both[1]), clip

    def test_exposures_differ_and_only_the_first_falls_off(self) -> None:
        middle, corners = {}, {}
        for name in ("wood_1", "wood_2", "wood_3"):
            stops, _ = self.light(name)
            middle[name] = float(np.median(stops[240:480, 400:880]))
            corners[name] = float(np.mean([stops[y, x] for y in (20, 700) for x in (20, 1260)])) - middle[name]
        self.assertGreater(middle["wood_1"], middle["wood_2"] + 0.4)
        self.assertGreater(middle["wood_3"], middle["wood_1"] + 0.3)
        self.assertLess(corners["wood_1"], -0.6)
        for name in ("wood_2", "wood_3"):
            self.assertGreater(corners[name], corners["wood_1"] + 0.5)
