"""A face followed through the demo's walk, in which it turns, goes behind a pillar, out, and comes back mirrored."""

import json
import unittest
from functools import cache
from typing import Any

import numpy as np

from calado.edit.create import start_pass
from calado.errors import RequestError
from calado.follow.carried import SURE, carried_region
from calado.follow.motion import Motion, Step
from calado.media.clips.clip import Clip
from calado.media.clips.following import follow_region
from calado.media.clips.frames import Frames
from calado.media.clips.way import Way
from calado.render.engine import Engine
from calado.sheet.models import Part, Region, Sheet, Track
from calado.start.analysis import analyse
from demo.truths import TRUTH

CLIP = TRUTH.parent / "clips" / "walk.mp4"
HIGH = 720
Box = tuple[float, float, float, float]


@cache
def told() -> list[dict[str, Any]]:
    frames: list[dict[str, Any]] = json.loads((TRUTH / "truth.json").read_text())["clips"]["walk"]["frames"]
    return frames


def true_box(frame: int) -> Box:
    left, top, right, bottom = (n / HIGH for n in told()[frame]["face"]["box"])
    return left, top, right, bottom


def shown(frame: int) -> float:
    return float((told()[frame].get("face") or {}).get("visible") or 0)


def marked(box: Box, **more: Any) -> Region:
    left, top, right, bottom = box
    values = {"x": (left + right) / 2, "y": (top + bottom) / 2, "width": right - left, "height": bottom - top}
    return Region(id="r", name="face", parts=(Part(id="o", kind="ellipse", values=values),), **more)


def shared(one: Box, other: Box) -> float:
    """Return the area of both over that of either."""
    across = max(min(one[2], other[2]) - max(one[0], other[0]), 0)
    down = max(min(one[3], other[3]) - max(one[1], other[1]), 0)
    areas = [(box[2] - box[0]) * (box[3] - box[1]) for box in (one, other)]
    return across * down / (sum(areas) - across * down)


def box_at(region: Region, motion: Motion, at: int, frame: int) -> Box:
    track = Track(motion="a" * 64, at=at)
    (part,) = carried_region(region.model_copy(update={"track": track}), frame, lambda digest: motion).parts
    x, y, width, height = (float(part.values[name]) for name in ("x", "y", "width", "height"))  # type: ignore[arg-type]
    return x - width / 2, y - height / 2, x + width / 2, y + height / 2


def covered(part: Part, box: Box) -> float:
    """Return how much of a face's oval, as large as its box, lies within an ellipse."""
    left, top, right, bottom = box
    y, x = np.mgrid[top:bottom:60j, left:right:60j]
    oval = ((2 * x - left - right) / (right - left)) ** 2 + ((2 * y - top - bottom) / (bottom - top)) ** 2 <= 1
    value = {name: float(part.values.get(name, 0)) for name in ("x", "y", "width", "height", "turn")}  # type: ignore[arg-type]
    turn = np.radians(value["turn"])
    across, down = x - value["x"], y - value["y"]
    u, v = across * np.cos(turn) + down * np.sin(turn), down * np.cos(turn) - across * np.sin(turn)
    within = (2 * u / value["width"]) ** 2 + (2 * v / value["height"]) ** 2 <= 1
    return float((oval & within).sum() / oval.sum())


class Faces(unittest.TestCase):
    def follow(self, box: Box, way: Way, stop: int = 10_000) -> Motion:
        heard: list[Step] = []

        def tell(frame: int, step: Step, share: float) -> bool:
            heard.append(step)
            return len(heard) < stop

        with Clip(CLIP) as clip:
            return follow_region(Frames(clip, "walk"), Sheet(regions=(marked(box),)), "r", way, told=tell)

    def test_on_it_while_it_shows_and_nowhere_while_it_does_not(self) -> None:
        motion = self.follow(true_box(0), Way(0, (0, 143)))
        self.assertEqual(motion.kind, "face")
        seen = [frame for frame in range(144) if shown(frame) > 0.5]
        sure = [frame for frame in range(144) if motion.near(frame).sureness >= SURE]
        shares = [shared(box_at(marked(true_box(0)), motion, 0, frame), true_box(frame)) for frame in sure]
        self.assertGreater(len(set(sure) & set(seen)), 0.9 * len(seen))
        self.assertEqual([frame for frame in sure if shown(frame) < 0.1], [])
        self.assertGreater(float(np.median(shares)), 0.78)
        self.assertGreater(min(shares), 0.4)

    def test_what_conceal_lays_on_it_hides_it_wherever_it_is_sure(self) -> None:
        with Clip(CLIP) as clip:
            frames = Frames(clip, "walk")
            made, _ = start_pass(Sheet(), "conceal-faces", analyse(Engine(), frames.source(24)), None)
            (region,) = made.regions
            motion = follow_region(frames, made, region.id, Way(24, (0, 143)))
        shares = []
        for frame in range(144):
            if shown(frame) > 0 and motion.near(frame).sureness >= SURE:
                track = Track(motion="a" * 64, at=24)
                at = carried_region(region.model_copy(update={"track": track}), frame, lambda digest: motion)
                shares.append(covered(at.parts[0], true_box(frame)))
        self.assertGreater(len(shares), 100)
        # the outline of what shows and of what is hidden: where a quarter of it shows, some of the rest lies bare
        self.assertLessEqual(sum(each < 0.999 for each in shares), 1)
        self.assertGreater(min(shares), 0.9)

    def test_a_cover_with_hair_and_ears_marks_the_face_below_it(self) -> None:
        with Clip(CLIP) as clip:
            frames = Frames(clip, "walk")
            for frame in (8, 12, 24, 60):
                with self.subTest(frame):
                    made, _ = start_pass(Sheet(), "conceal-faces", analyse(Engine(), frames.source(frame)), None)
                    motion = follow_region(frames, made, made.regions[0].id, Way(frame, (frame, frame + 1)))
                    self.assertEqual(motion.kind, "face")

    def test_gone_on_with_from_a_correction_and_stopped(self) -> None:
        known = self.follow(true_box(0), Way(0, (0, 30)))
        shift = np.array([[1, 0, 0.02], [0, 1, -0.01], [0, 0, 1]])
        way = Way(0, (0, 40), "face", known, 20, shift @ known.near(20).matrix)
        motion = self.follow(true_box(0), way, stop=6)
        self.assertEqual(max(motion.steps), 30)
        for frame in (0, 10, 19):
            np.testing.assert_array_equal(motion.near(frame).matrix, known.near(frame).matrix)
        moved = [np.array(box_at(marked(true_box(0)), each, 0, 24)).reshape(2, 2).mean(0) for each in (motion, known)]
        np.testing.assert_allclose(moved[0] - moved[1], (0.02, -0.01), atol=0.012)

    def test_what_is_no_face_is_followed_as_a_thing_or_refused(self) -> None:
        left, top, right, _ = true_box(0)
        body = (left - 0.1, top - 0.05, right + 0.1, 0.9)
        self.assertEqual(self.follow(body, Way(0, (0, 2))).kind, "perspective")
        with self.assertRaisesRegex(RequestError, "No face"):
            self.follow((1.2, 0.2, 1.5, 0.6), Way(0, (0, 2), "face"))
