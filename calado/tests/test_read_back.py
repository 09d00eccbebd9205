"""Exports read back: what lies under a cover, measured against what was let through on purpose."""

import json
import subprocess
import sys
import unittest
from dataclasses import replace
from itertools import product
from pathlib import Path
from tempfile import TemporaryDirectory

import cv2
import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from calado.clip_chunks import Take
from calado.clip_export import export_takes
from calado.clip_render import ClipOrder, Rendering
from calado.media.clips.clip import Clip
from calado.media.clips.formats import CLIP_FORMATS, ClipFormatId, ClipTarget
from calado.media.clips.frames import Frames
from calado.media.clips.planes import Layout, Picture
from calado.media.clips.tests.made import going_card, make
from calado.media.clips.write import picture_writer
from calado.read_back.clips import read_back
from calado.read_back.found import MOST_LEFT, ReadBack
from calado.read_back.heard import differs_in_sound
from calado.read_back.under import left_under
from calado.render.engine import Engine
from calado.sheet.models import Declared, Part, Pass, Region, Sheet, Span
from calado.sheet.steps import sheet_data

SIZE, FRAMES = (240, 160), 10
GREY = Layout("grey", 8)
PLATE = Part(id="o", kind="rectangle", values={"x": 0.7, "y": 0.5, "width": 0.7, "height": 0.5})
COVERS = {
    "solid": {"solid": {"amount": 1}},
    "mosaic": {"mosaic": {"size": 0.12}},
    "blur": {"scramble": {"radius": 0.06, "noise": 0.3}},
}


def sheet(inside: dict[str, dict[str, float]], **more: object) -> Sheet:
    region = Region(id="r", name="plate", parts=(PLATE,), **more)  # type: ignore[arg-type]
    return Sheet(regions=(region,), passes=(Pass(id="p", name="Cover", region="r", inside=inside),))  # type: ignore[arg-type]


class Left(unittest.TestCase):
    @settings(max_examples=60)
    @given(st.integers(0, 2**31), st.sampled_from((0.0, 0.05, 0.3, 1.0)), st.sampled_from((0.0, 1.0, 4.0)))
    def test_the_share_that_came_through_lies_between_the_two_that_are_said(
        self, seed: int, share: float, error: float
    ) -> None:
        rng = np.random.default_rng(seed)
        source = rng.integers(20, 236, (60, 80)).astype(np.float64)
        ordered = np.full(source.shape, 90.0)
        file = ordered + share * (source - ordered) + rng.normal(0, error, source.shape)
        pictures = [
            Picture(GREY, (np.rint(np.clip(each, 0, 255)).astype(np.uint8),)) for each in (file, ordered, source)
        ]
        least, most = left_under(*pictures, np.ones(source.shape, bool), noisy=False)
        self.assertLessEqual(least, share + 1e-3)
        self.assertGreaterEqual(most, share - 1e-3)
        self.assertLess(most - least, 0.05)

    def test_what_an_encoder_smears_is_not_taken_for_what_was_hidden(self) -> None:
        # both hang together over some pixels, as a codec leaves them, and have nothing to do with one another
        least = []
        for seed in range(200):
            rng = np.random.default_rng(seed)
            smooth = [cv2.GaussianBlur(each, (0, 0), 3) for each in rng.normal(0, 1, (2, 60, 80))]
            source, error = (each / each.std() * spread for each, spread in zip(smooth, (40, 4), strict=True))
            ordered = np.full(source.shape, 120.0)
            pictures = [
                Picture(GREY, (np.rint(np.clip(each, 0, 255)).astype(np.uint8),))
                for each in (ordered + error, ordered, ordered + source)
            ]
            least.append(left_under(*pictures, np.ones(source.shape, bool), noisy=False)[0])
        self.assertEqual([each for each in least if each > 0], [])

    def test_where_nothing_varied_nothing_can_be_left(self) -> None:
        flat = Picture(GREY, (np.full((20, 20), 90, np.uint8),))
        self.assertEqual(left_under(flat, flat, flat, np.ones((20, 20), bool), noisy=False), (0.0, 0.0))


class Exports(unittest.TestCase):
    def setUp(self) -> None:
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.file = make(self.folder / "a.mp4", FRAMES, size=SIZE, scene=going_card, sound="aac")
        self.clip = Clip(self.file)
        self.addCleanup(self.clip.close)

    def take(self, made: Sheet, frames: tuple[int, int] | None = None) -> Take:
        held = Frames(self.clip, "a")
        return Take(lambda: held, self.file, ClipOrder(made, frames=frames))

    def read(
        self, written: Sheet, asked: Sheet, id: ClipFormatId = "ffv1", frames: tuple[int, int] | None = None
    ) -> ReadBack:
        target = ClipTarget(id)
        out = self.folder / f"out.{target.kind.suffix}"
        export_takes([self.take(written, frames)], out, target)
        return read_back([self.take(asked, frames)], out)

    def test_of_every_cover_in_every_kind_of_format_hardly_anything_is_left(self) -> None:
        for name, inside in COVERS.items():
            for id in ("ffv1", "h264", "prores"):
                with self.subTest(name, id=id):
                    made = sheet(inside)
                    found = self.read(made, made, id)  # type: ignore[arg-type]
                    self.assertEqual((found.findings, found.frames), ((), FRAMES))
                    (under,) = found.covers
                    self.assertEqual((under.frames, under.region), (FRAMES, "plate"))
                    # against noise that is not known little can be told in a small picture
                    self.assertLess(under.left, 0.15 if name == "blur" else 0.03)

    def test_a_frame_that_was_not_covered_is_found(self) -> None:
        for name, inside in COVERS.items():
            with self.subTest(name):
                made = sheet(inside)
                short = made.model_copy(
                    update={"passes": (made.passes[0].model_copy(update={"span": Span(first=0, last=6)}),)}
                )
                found = self.read(short, made)
                self.assertIn(found.covers[0].at, (7, 8, 9))
                self.assertGreater(found.covers[0].surely, 0.5)
                self.assertIn("“Cover”", found.findings[0])

    def test_a_trace_of_it_is_found_and_measured(self) -> None:
        made = sheet(COVERS["solid"])
        engine, frames = Engine(), Frames(self.clip, "a")
        layout = self.clip.picture(0).layout
        out = self.folder / "trace.mkv"
        rendering = Rendering(frames, ClipOrder(made), engine, layout)
        with picture_writer(out, self.clip.facts, SIZE, ClipTarget("ffv1"), "yuv420p") as writer:
            for frame in range(FRAMES):
                clean, was = rendering.picture(frame), self.clip.picture(frame)
                share = 0.1 if frame == 4 else 0.0
                mixed = tuple(
                    np.rint((1 - share) * one + share * other).astype(np.uint8)
                    for one, other in zip(clean.planes, was.planes, strict=True)
                )
                writer.write(replace(clean, planes=mixed))
        found = read_back([self.take(made)], out)
        under = found.covers[0]
        self.assertEqual(under.at, 4)
        self.assertAlmostEqual((under.surely + under.left) / 2, 0.1, delta=0.02)
        self.assertIn("10\u00a0% of what was there is left in frame 4", found.findings[0])

    def test_another_frame_and_too_few_are_found(self) -> None:
        made = sheet(COVERS["solid"])
        found = self.read(made, made, frames=(0, 5))
        self.assertEqual(found.findings, ())
        longer = read_back([self.take(made)], self.folder / "out.mkv")
        self.assertIn("It has 6 frames, 10 were ordered.", longer.findings)
        bright = make(self.folder / "b.mp4", FRAMES, size=SIZE)
        other = Clip(bright)
        self.addCleanup(other.close)
        held = Frames(other, "b")
        wrong = read_back([Take(lambda: held, bright, ClipOrder(made))], self.folder / "out.mkv")
        self.assertTrue(any("far from what was ordered" in each for each in wrong.findings), wrong.findings)

    def test_its_sound_is_compared_in_every_kind_of_file(self) -> None:
        made = sheet(COVERS["solid"])
        for voice, kind in (("aac", "mp4"), ("flac", "mkv"), ("pcm_s16le", "mov")):
            source = make(self.folder / f"source.{kind}", 50, size=(96, 64), sound=voice)
            with Clip(source) as clip:
                frames = Frames(clip, voice)
                for id, span in product(CLIP_FORMATS if kind == "mp4" else ("h264", "ffv1"), (None, (11, 40))):
                    with self.subTest(voice, id=id, span=span):
                        take = Take(lambda held=frames: held, source, ClipOrder(made, frames=span))  # type: ignore[misc]
                        out = self.folder / f"{voice}.{CLIP_FORMATS[id].suffix}"
                        export_takes([take], out, ClipTarget(id))
                        self.assertEqual(list(differs_in_sound([take], out)), [])

    def test_sound_of_another_moment_and_none_are_found(self) -> None:
        made = sheet(COVERS["solid"])
        source = make(self.folder / "loud.mov", 100, size=(96, 64), sound="pcm_s16le", tune=True)
        out = self.folder / "late.mkv"
        with Clip(source) as clip:
            frames = Frames(clip, "loud")
            right, late = (Take(lambda: frames, source, ClipOrder(made, frames=span)) for span in ((0, 79), (8, 87)))
            export_takes([late], out, ClipTarget("ffv1"))
            (found,) = differs_in_sound([right], out)
            self.assertRegex(found, r"not the source's in [1-9][0-9] %")
            short = Take(lambda: frames, source, ClipOrder(made, frames=(0, 49)))
            self.assertIn("1.2 s longer", " ".join(differs_in_sound([short], out)))
            silent = self.folder / "silent.mkv"
            export_takes([right], silent, ClipTarget("ffv1", sound=False))
            self.assertIn("It has no sound, its source has.", read_back([right], silent, sound=True).findings)
            self.assertEqual(read_back([right], silent).findings, ())

    def test_frames_that_are_covered_whole_are_counted_too(self) -> None:
        whole = Sheet(passes=(Pass(id="p", name="Cover", inside=COVERS["solid"]),))  # type: ignore[arg-type]
        found = self.read(whole, whole)
        self.assertEqual((found.frames, found.covers[0].frames, found.findings), (FRAMES, FRAMES, ()))

    def test_each_of_several_clips_is_read_for_itself(self) -> None:
        made, out = sheet(COVERS["solid"]), self.folder / "both.mkv"
        export_takes([self.take(made), self.take(Sheet())], out, ClipTarget("ffv1"))
        first, second = read_back([self.take(made), self.take(made)], out).covers
        self.assertEqual((first.take, second.take), (0, 1))
        self.assertLess(first.left, 0.03)
        self.assertGreater(second.surely, 0.9)

    def test_where_it_is_declared_absent_nothing_is_looked_for(self) -> None:
        made = sheet(COVERS["solid"], covers={"2": Declared(last=5, says="absent")})
        found = self.read(made, made)
        self.assertEqual((found.covers[0].frames, found.findings), (FRAMES - 4, ()))

    def test_the_command_says_so_by_its_exit_code(self) -> None:
        made, bare = sheet(COVERS["solid"]), Sheet()
        for written, code in ((made, 0), (bare, 1)):
            out = self.folder / f"out{code}.mkv"
            export_takes([self.take(written)], out, ClipTarget("ffv1"))
            (self.folder / "sheet.json").write_text(json.dumps(sheet_data(made)))
            command = [sys.executable, "-m", "calado.cli", "verify", "sheet.json", "a.mp4", out.name]
            done = subprocess.run(command, cwd=self.folder, capture_output=True, text=True, check=False)
            self.assertEqual(done.returncode, code, done.stderr)
            told = json.loads(done.stdout)
            self.assertEqual(bool(told["findings"]), bool(code))
            self.assertEqual(told["covers"][0]["surely"] > MOST_LEFT, bool(code))


def plated(frame: int, size: tuple[int, int]) -> np.ndarray:
    """Return a frame in which a plate stands that can be read."""
    wide, high = size
    codes = np.full((high, wide, 3), 150, np.uint8)
    cv2.rectangle(codes, (200, 120), (440, 190), (235, 235, 230), -1)
    cv2.putText(codes, "LMP 4072", (215, 170), cv2.FONT_HERSHEY_SIMPLEX, 1.4, (20, 20, 20), 3, cv2.LINE_AA)
    return codes


class Legible(unittest.TestCase):
    def test_a_plate_under_small_cells_is_read_in_the_clip_and_under_large_ones_is_not(self) -> None:
        with TemporaryDirectory() as name:
            folder = Path(name)
            file = make(folder / "a.mp4", 6, size=(640, 360), scene=plated)
            place = {"x": 320 / 360, "y": 155 / 360, "width": 260 / 360, "height": 90 / 360}
            region = Region(id="r", name="plate", parts=(Part(id="o", kind="rectangle", values=place),))
            with Clip(file) as clip:
                held = Frames(clip, "plated")
                for size, says in ((0.012, ["“LMP 4072” can still be read under “Cover” in frame 0."]), (0.12, [])):
                    each = Pass(id="p", name="Cover", region="r", inside={"mosaic": {"size": size}})
                    take = Take(lambda: held, file, ClipOrder(Sheet(regions=(region,), passes=(each,))))
                    out = folder / "out.mp4"
                    export_takes([take], out, ClipTarget("h264"))
                    self.assertEqual([s for s in read_back([take], out).findings if "be read" in s], says)
