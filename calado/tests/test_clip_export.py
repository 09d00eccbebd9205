"""Clips written: what nobody touched is as it came, covers leave nothing, one broken off goes on."""

import contextlib
import csv
import io
import json
import os
import subprocess
import sys
import tempfile
from fractions import Fraction
from pathlib import Path
from unittest import TestCase, mock

import av
import numpy as np

from calado import clip_export
from calado.cli import main
from calado.clip_export import export_clip
from calado.clip_render import ClipOrder
from calado.errors import Cancelled, MediaError
from calado.media.clips.clip import Clip
from calado.media.clips.convert import to_linear
from calado.media.clips.formats import CLIP_FORMATS, ClipTarget
from calado.media.clips.frames import Frames
from calado.media.clips.tests.made import RATE, card_at, going_card, linear, make, packets
from calado.media.stills import read_still
from calado.sheet.models import EMPTY_SHEET, Key, Part, Pass, Region, Sheet

BOX = Part(id="b", kind="rectangle", values={"x": 0.75, "y": 0.5, "width": 0.5, "height": 0.5})


def on(part: Part, **inside: dict[str, float]) -> Sheet:
    each = Pass(id="p", name="p", region="r", inside=inside)
    return Sheet(regions=(Region(id="r", name="r", parts=(part,)),), passes=(each,))


DARK = on(BOX, exposure={"amount": -2.0})


class Case(TestCase):
    def setUp(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)

    def exported(self, source: Path, order: ClipOrder, name: str, target: ClipTarget, **more: object) -> Path:
        out = self.folder / name
        with Clip(source) as clip:
            self.says = export_clip(Frames(clip, source.name), source, order, out, target, **more)  # type: ignore[arg-type]
        return out


class Lossless(Case):
    def test_an_empty_sheet_changes_no_code(self) -> None:
        kinds = (
            ("yuv420p", (1, 1, 1, 1)),
            ("yuv420p", (1, 6, 6, 6)),
            ("yuv422p10le", (1, 9, 9, 14)),
            ("gbrp10le", None),
            # high range: PQ, HLG
            ("yuv420p10le", (1, 9, 9, 16)),
            ("yuv420p10le", (1, 9, 9, 18)),
        )
        for k, (pixels, tags) in enumerate(kinds):
            with self.subTest(pixels, tags=tags):
                source = make(self.folder / f"{k}.mkv", 5, "ffv1", pixels, tags=tags)
                out = self.exported(source, ClipOrder(EMPTY_SHEET), f"out{k}.mkv", ClipTarget("ffv1"))
                self.assertEqual(linear(out), linear(source))

    def test_high_range_is_told_and_its_tags_go_along(self) -> None:
        source = make(self.folder / "a.mkv", 3, "ffv1", "yuv420p10le", tags=(1, 9, 9, 16))
        out = self.exported(source, ClipOrder(DARK), "b.mp4", ClipTarget("h265"))
        with Clip(source) as before, Clip(out) as after:
            self.assertIn("PQ", before.facts.note)
            self.assertEqual((after.facts.tags.transfer, after.facts.tags.primaries, after.facts.bits), (16, 9, 10))
            # two stops darker in light, in the middle of the region
            light = [to_linear(each.picture(1), each.facts.tags)[1, 30:34, 46:50].mean() for each in (before, after)]
        self.assertAlmostEqual(float(np.log2(light[1] / light[0])), -2, 1)

    def test_outside_of_a_region_no_code_changes_and_under_a_cover_each_plane_has_one(self) -> None:
        source = make(self.folder / "a.mkv", 3, "ffv1")
        out = self.exported(source, ClipOrder(on(BOX, solid={"amount": 1.0})), "b.mkv", ClipTarget("ffv1"))
        with Clip(source) as before, Clip(out) as after:
            for frame in range(3):
                for a, b in zip(before.picture(frame).planes, after.picture(frame).planes, strict=True):
                    side = a.shape[0]
                    inner = slice(round(0.28 * side), round(0.72 * side)), slice(round(0.55 * side), round(0.95 * side))
                    self.assertEqual(len(np.unique(b[inner])), 1)
                    np.testing.assert_array_equal(a[:, : round(0.38 * side)], b[:, : round(0.38 * side)])

    def test_a_matte_is_a_grey_clip(self) -> None:
        source = make(self.folder / "a.mkv", 2, "ffv1")
        out = self.exported(source, ClipOrder(DARK, matte_of="r"), "b.mkv", ClipTarget("ffv1", sound=False))
        with Clip(out) as clip:
            luma, *chroma = clip.picture(1).planes
        self.assertEqual((luma[32, 48], luma[4, 4]), (235, 16))
        self.assertEqual({int(code) for plane in chroma for code in np.unique(plane)}, {128})


class AsItCame(Case):
    def test_frames_rate_shape_tags_turn_and_sound(self) -> None:
        rate = Fraction(24000, 1001)
        source = make(self.folder / "a.mp4", 60, rate=rate, sound="aac", turn=90, tags=(1, 6, 6, 6))
        for id, kind in CLIP_FORMATS.items():
            with self.subTest(id):
                out = self.exported(source, ClipOrder(DARK), f"{id}.{kind.suffix}", ClipTarget(id))
                with Clip(source) as before, Clip(out) as after:
                    a, b = before.facts, after.facts
                self.assertEqual((b.frames, b.rate, b.width, b.height), (a.frames, a.rate, a.width, a.height))
                self.assertEqual(b.tags.matrix, a.tags.matrix)
                self.assertEqual(len(b.sound), 1)
                if "aac" in kind.sound:
                    self.assertEqual(packets(out), packets(source))
                    self.assertEqual(self.says, "")
                else:
                    self.assertIn("encoded anew", self.says)
                    self.assertLess(abs(clicks(out)[0] - clicks(source)[0]), RATE // 1000 + 1)

    def test_a_range_begins_where_it_was_marked_and_its_sound_too(self) -> None:
        source = make(self.folder / "a.mp4", 60, sound="aac")
        # to the sample where packets are copied, within 1 ms where they are encoded anew
        for id, name, most in (("h264", "b.mp4", 2), ("ffv1", "b.mkv", 48), ("vp9", "b.webm", 48)):
            with self.subTest(id):
                out = self.exported(source, ClipOrder(EMPTY_SHEET, frames=(25, 49)), name, ClipTarget(id))
                with Clip(out) as clip:
                    self.assertEqual(clip.facts.frames, 25)
                # a click each tenth of a second, so at the start of second one too
                np.testing.assert_allclose(clicks(out)[:3], [0, RATE // 10, RATE // 5], atol=most)

    def test_timecode_goes_along_from_where_the_range_begins(self) -> None:
        source = make(self.folder / "a.mov", 40, timecode="10:00:59:20")
        for id, name in (("h264", "b.mp4"), ("prores", "b.mov"), ("ffv1", "b.mkv")):
            with self.subTest(id):
                out = self.exported(source, ClipOrder(EMPTY_SHEET, frames=(10, 19)), name, ClipTarget(id))  # type: ignore[arg-type]
                with Clip(out) as clip:
                    self.assertEqual((clip.facts.timecode, clip.facts.frames), ("10:01:00:05", 10))

    def test_without_sound(self) -> None:
        source = make(self.folder / "a.mp4", 10, sound="aac")
        out = self.exported(source, ClipOrder(EMPTY_SHEET), "b.mp4", ClipTarget("h264", sound=False))
        with Clip(out) as clip:
            self.assertEqual(clip.facts.sound, ())


def clicks(path: Path) -> list[int]:
    """Return at which samples a track clicks, counted from the first picture on."""
    with av.open(str(path)) as file:
        stream = file.streams.audio[0]
        heard = [(frame.pts * frame.time_base, frame.to_ndarray()) for frame in file.decode(stream)]
        start = (file.streams.video[0].start_time or 0) * file.streams.video[0].time_base
        many = 1 if stream.format.is_planar else len(stream.layout.channels)
    wave = np.concatenate([samples[0][::many] for _, samples in heard]).astype(np.float64)
    wave = wave / np.abs(wave).max()
    loud = np.flatnonzero(wave > 0.5)
    first = loud[np.concatenate([[True], np.diff(loud) > 1000])]
    away = round(float(heard[0][0] - start) * RATE)
    return [int(each + away) for each in first if each + away > -50]


class BrokenOff(Case):
    def test_it_goes_on_where_it_was_and_ends_the_same(self) -> None:
        source = make(self.folder / "a.mp4", 30, sound="aac")
        order, target = ClipOrder(on(BOX, scramble={"radius": 0.1})), ClipTarget("h264")
        with mock.patch.object(clip_export, "CHUNK", 10), mock.patch.object(clip_export, "new_secret", return_value=5):
            whole = self.exported(source, order, "whole.mp4", target).read_bytes()
            rendered: list[int] = []

            class Killed(BaseException):
                pass

            def until(share: float) -> bool:
                rendered.append(round(share * 30 / 0.98))
                if len(rendered) == 16:
                    raise Killed
                return True

            with self.assertRaises(Killed):
                self.exported(source, order, "again.mp4", target, progress=until)
            self.assertFalse((self.folder / "again.mp4").exists())
            rendered.clear()
            again = self.exported(
                source, order, "again.mp4", target, progress=lambda share: rendered.append(share) or True
            )
        self.assertEqual(again.read_bytes(), whole)
        self.assertLess(len(rendered), 25, "the first chunk is not made again")
        self.assertEqual([each.name for each in self.folder.iterdir() if each.name.startswith(".")], [])

    def test_the_same_order_gives_the_same_file_whatever_lies_in_memory(self) -> None:
        source = make(self.folder / "a.mp4", 20, size=(112, 64), sound="aac")
        sheet = self.folder / "sheet.json"
        sheet.write_text(DARK.model_dump_json())
        for ending in ("mp4", "mkv"):
            made = set()
            # the C library fills what is handed out with a byte, then with another
            for byte in ("85", "170"):
                out = self.folder / f"out.{ending}"
                command = [sys.executable, "-m", "calado.cli", "render", str(sheet), str(source), "-o", str(out)]
                subprocess.run(command, check=True, env={**os.environ, "MALLOC_PERTURB_": byte})
                made.add(out.read_bytes())
            self.assertEqual(len(made), 1, ending)

    def test_called_off_nothing_is_left(self) -> None:
        source = make(self.folder / "a.mp4", 10)
        with self.assertRaises(Cancelled):
            self.exported(source, ClipOrder(DARK), "b.mp4", ClipTarget("h264"), progress=lambda share: share < 0.3)
        self.assertEqual([each.name for each in self.folder.iterdir()], ["a.mp4"])


class Refused(Case):
    def test_frames_that_are_none_and_regions(self) -> None:
        source = make(self.folder / "a.mp4", 10)
        with self.assertRaisesRegex(MediaError, "frames 0 to 9"):
            self.exported(source, ClipOrder(DARK, frames=(4, 10)), "b.mp4", ClipTarget("h264"))
        with self.assertRaisesRegex(MediaError, "no such region"):
            self.exported(source, ClipOrder(DARK, matte_of="x"), "b.mp4", ClipTarget("h264"))
        with self.assertRaisesRegex(MediaError, "no quality 3"):
            ClipTarget("h264", 3)

    def test_a_folder_that_is_not_there(self) -> None:
        source = make(self.folder / "a.mp4", 4)
        with self.assertRaises((MediaError, OSError)):
            self.exported(source, ClipOrder(DARK), "none/../../../proc/b.mp4", ClipTarget("h264"))


class Command(Case):
    def run_it(self, *arguments: object) -> tuple[int, str, str]:
        out, error = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(error):
            code = main([str(each) for each in arguments])
        return code, out.getvalue(), error.getvalue()

    def test_probe_render_and_matte(self) -> None:
        source = make(self.folder / "a.mp4", 12, sound="aac")
        code, said, _ = self.run_it("probe", source)
        self.assertEqual((code, json.loads(said)["frames"]), (0, 12))
        moving = BOX.model_copy(update={"keys": {"x": {"0": Key(value=0.3), "11": Key(value=1.2)}}})
        sheet = self.folder / "sheet.json"
        sheet.write_text(on(moving, exposure={"amount": -2.0}).model_dump_json())
        self.assertEqual(self.run_it("render", sheet, source, "-o", self.folder / "b.mkv", "--frames", "2-5")[0], 0)
        with Clip(self.folder / "b.mkv") as clip:
            self.assertEqual(clip.facts.frames, 4)
        self.assertEqual(
            self.run_it("render", sheet, source, "-o", self.folder / "f.%03d.png", "--frames", "0-11")[0], 0
        )
        self.assertEqual(len(list(self.folder.glob("f.*.png"))), 12)
        mattes = [self.folder / name for name in ("m.%02d.png", "m.mkv")]
        for out in mattes:
            self.assertEqual(self.run_it("matte", sheet, source, "r", "-o", out)[0], 0)
        first, last = (read_still(self.folder / f"m.{n:02}.png").samples[0] for n in (0, 11))
        # the box moved from the left to the right
        self.assertGreater(int(first[32, 20]), 60_000)
        self.assertLess(int(last[32, 20]), 100)
        code, _, error = self.run_it("render", sheet, source, "-o", self.folder / "b.xyz")
        self.assertEqual(code, 1)
        self.assertIn(".mp4, .mov, .mkv or .webm", error)

    def test_follow(self) -> None:
        source = make(self.folder / "a.mp4", 12, size=(240, 160), scene=going_card)
        (x, y), sheet, out = card_at(3, 160), self.folder / "sheet.json", self.folder / "follows.json"
        card = Part(id="o", kind="ellipse", values={"x": x, "y": y, "width": 0.36, "height": 0.3})
        sheet.write_text(on(card, exposure={"amount": -2.0}).model_dump_json())
        for motion in ("shape", "place"):
            self._follow(source, sheet, out, motion)
        order = self._order(source, sheet, out, "place")
        code, _, error = self.run_it(*order[:5], 50, *order[6:])
        self.assertEqual((code, error), (1, "calado: This clip has frames 0 to 11, got 50.\n"))

    def _order(self, source: Path, sheet: Path, out: Path, motion: str) -> tuple[object, ...]:
        tracks = self.folder / "t"
        return "follow", sheet, source, "r", "--at", 3, "--motion", motion, "--tracks", tracks, "-o", out

    def _follow(self, source: Path, sheet: Path, out: Path, motion: str) -> None:
        code, said, _ = self.run_it(*self._order(source, sheet, out, motion))
        rows = list(csv.DictReader(io.StringIO(said)))
        self.assertEqual((code, [row["frame"] for row in rows]), (0, [str(n) for n in range(12)]))
        self.assertEqual({row["state"] for row in rows}, {"on"})
        self.assertGreater(min(float(row["confidence"]) for row in rows), 0.8)
        mattes = self.folder / "m.%02d.png"
        self.assertEqual(self.run_it("matte", out, source, "r", "--tracks", self.folder / "t", "-o", mattes)[0], 0)
        for n in (0, 6, 11):
            matte = read_still(self.folder / f"m.{n:02}.png").samples[0].astype(float)
            down, across = np.indices(matte.shape) + 0.5
            middle = (matte * across).sum() / matte.sum() / 160, (matte * down).sum() / matte.sum() / 160
            # what was marked is an oval on the card; cut out, it grows into what looks like it
            np.testing.assert_allclose(middle, card_at(n, 160), atol=0.003 if motion == "place" else 0.03)
