"""Several clips in one file, and clips that are parts of one."""

from fractions import Fraction
from functools import partial
from pathlib import Path

import numpy as np

from calado.clip_chunks import Take
from calado.clip_export import export_takes
from calado.clip_render import ClipOrder
from calado.errors import MediaError
from calado.media.clips.clip import Clip
from calado.media.clips.formats import ClipTarget
from calado.media.clips.frames import Frames
from calado.media.clips.part import ClipPart
from calado.media.clips.tests.made import RATE, linear, make, packets
from calado.sheet.models import EMPTY_SHEET
from calado.tests.test_clip_export import Case, clicks

WHOLE = ClipOrder(EMPTY_SHEET)


class Takes(Case):
    def written(self, takes: list[tuple[Path, tuple[int, int] | None]], target: ClipTarget) -> Path:
        """Write takes of files, each whole or a part from a frame on with so many, and return the file."""
        out = self.folder / f"out.{target.kind.suffix}"
        clips = [Clip(path) for path, _ in takes]
        for clip in clips:
            self.addCleanup(clip.close)
        parts = [clip if part is None else ClipPart(clip, *part) for clip, (_, part) in zip(clips, takes, strict=True)]
        made = [
            Take(partial(Frames, part, f"{k}"), path, WHOLE)
            for k, (part, (path, _)) in enumerate(zip(parts, takes, strict=True))
        ]
        self.says = export_takes(made, out, target)
        return out

    def test_one_after_another_with_sound_in_step(self) -> None:
        first = make(self.folder / "a.mp4", 30, sound="aac")
        second = make(self.folder / "b.mp4", 55, sound="aac")
        silent = make(self.folder / "c.mp4", 20)
        out = self.written([(first, None), (silent, None), (second, None)], ClipTarget("ffv1"))
        self.assertEqual(linear(out), linear(first) + linear(silent) + linear(second))
        self.assertIn("joined", self.says)
        # a click each tenth of a second, none in the 20 frames that are silent, then from frame 50 on
        found = clicks(out)
        expected = [RATE // 10 * k for k in range(12)] + [2 * RATE + RATE // 10 * k for k in range(22)]
        self.assertEqual(len(found), len(expected))
        np.testing.assert_allclose(found, expected, atol=RATE // 1000)

    def test_takes_that_end_in_the_midst_of_a_chunk(self) -> None:
        # a chunk of two frames has another order of decoding than one of many
        first, second = (make(self.folder / f"{name}.mp4", 50, sound="aac") for name in "ab")
        for id in ("h264", "h265", "av1", "vp9"):
            with self.subTest(id):
                out = self.written([(first, None), (second, None)], ClipTarget(id))  # type: ignore[arg-type]
                with Clip(out) as clip:
                    self.assertEqual((clip.facts.frames, clip.facts.even), (100, True))
                    likeness = [np.abs(a - b).mean() for a, b in zip(*self.frames(clip, first), strict=True)]
                self.assertLess(max(likeness), 12)

    @staticmethod
    def frames(clip: Clip, source: Path) -> tuple[list[np.ndarray], list[np.ndarray]]:
        """Return luma of frames around the join, and of the source that they come of."""
        numbers = (0, 47, 48, 49, 50, 51, 97, 98, 99)
        with Clip(source) as came:
            return (
                [clip.picture(k).planes[0].astype(float) for k in numbers],
                [came.picture(k % 50).planes[0].astype(float) for k in numbers],
            )

    def test_parts_of_one_file_that_follow_each_other_keep_its_sound_as_it_came(self) -> None:
        source = make(self.folder / "a.mp4", 60, sound="aac")
        out = self.written([(source, (0, 25)), (source, (25, 35))], ClipTarget("h264"))
        self.assertEqual((packets(out), self.says), (packets(source), ""))
        with Clip(out) as clip:
            self.assertEqual(clip.facts.frames, 60)

    def test_a_part_has_its_own_frames_and_its_own_sound(self) -> None:
        source = make(self.folder / "a.mp4", 60, sound="aac")
        out = self.written([(source, (25, 20))], ClipTarget("ffv1"))
        self.assertEqual(linear(out), linear(source)[25:45])
        np.testing.assert_allclose(clicks(out)[:3], [0, RATE // 10, RATE // 5], atol=RATE // 1000)
        with Clip(source) as clip:
            part = ClipPart(clip, 25, 20)
            self.assertEqual(part.facts.frames, 20)
            np.testing.assert_array_equal(part.picture(3).planes[0], clip.picture(28).planes[0])
            with self.assertRaisesRegex(MediaError, "0 to 19"):
                part.picture(20)
            with self.assertRaisesRegex(MediaError, "0 to 59"):
                ClipPart(clip, 41, 20)

    def test_unlike_ones_are_refused(self) -> None:
        first = make(self.folder / "a.mp4", 5)
        for k, other in enumerate(({"size": (64, 64)}, {"rate": Fraction(24)}, {"tags": (1, 6, 6, 6)})):
            with self.subTest(other), self.assertRaisesRegex(MediaError, "one by one"):
                self.written([(first, None), (make(self.folder / f"b{k}.mp4", 5, **other), None)], ClipTarget("ffv1"))  # type: ignore[arg-type]
