"""Clips through the API: added, read at a frame, played, heard, exported."""

import io
import struct
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
from django.test import TestCase
from django_tasks.base import TaskResultStatus
from django_tasks_db.models import DBTaskResult
from PIL import Image

from calado.media.clips.clip import Clip
from calado.media.clips.tests.made import linear, make, packets
from server.api.tests.support import Place, query, whole
from server.bench.clips import forget_clip
from server.jobs.models import Export
from server.jobs.take_up import take_up
from server.jobs.writing import run_export
from server.projects.models import Shot

FRAMES = 30
WAY = {"0": {"value": 0.2}, "20": {"value": 1.2}}
BOX = {"id": "b", "kind": "rectangle", "values": {"x": 0.2, "y": 0.5, "width": 0.3, "height": 0.4}, "keys": {"x": WAY}}
MOVING = {
    "regions": [{"id": "r", "name": "the box", "parts": [BOX]}],
    "passes": [{"id": "p", "name": "Dark", "region": "r", "inside": {"exposure": {"amount": -4}}}],
}


class Clips(Place, TestCase):
    def setUp(self) -> None:
        super().setUp()
        self.file = make(self.folder / "a_walk.mp4", FRAMES, sound="aac")
        self.project = self.call("POST", "/projects", {"name": "Lanternmoth"})["id"]
        self.told = self.upload(self.project, self.file.read_bytes(), self.file.name)
        self.shot = self.told["id"]
        self.at = f"/projects/{self.project}/shots/{self.shot}"
        self.addCleanup(forget_clip, Shot.objects.get(id=self.shot).sha256)

    def draft(self, sheet: Any = MOVING) -> str:
        return str(self.call("POST", "/drafts", sheet)["draft"])

    def preview(self, draft: str, **fields: Any) -> np.ndarray:
        asked = {"view": "picture", "rectangle": [0, 0, 96, 64], "scale": 1, "format": "png", **fields}
        response = self.client.get(f"/api{self.at}/drafts/{draft}/preview?{query(asked)}")
        self.assertEqual(response.status_code, 200, response.content[:200])
        return np.asarray(Image.open(io.BytesIO(response.content))).astype(int)

    def test_it_is_told_as_it_is(self) -> None:
        self.assertEqual((self.told["name"], self.told["format"], self.told["width"]), ("A walk", "H.264", 96))
        clip = self.told["clip"]
        self.assertEqual((clip["frames"], clip["rate"], clip["base"], clip["sound"]), (FRAMES, "25", 25, True))
        self.assertEqual(Path(Shot.objects.get().path).read_bytes(), self.file.read_bytes())
        response = self.client.get(f"/api{self.at}/thumbnail")
        self.assertEqual(Image.open(io.BytesIO(response.content)).size, (96, 64))

    def test_each_frame_is_its_own_and_the_region_stands_where_its_keys_say(self) -> None:
        draft, plain = self.draft(), self.draft({})
        for frame, x in ((0, 0.2), (10, 0.7), (20, 1.2), (29, 1.2)):
            source = self.preview(f"{plain}@{frame}")
            changed = np.abs(self.preview(f"{draft}@{frame}") - source).max(axis=2) > 12
            columns = np.flatnonzero(changed.any(axis=0))
            self.assertAlmostEqual(columns.mean() / 64, x, delta=0.06, msg=str(frame))
        self.assertGreater(np.abs(self.preview(f"{plain}@3") - self.preview(f"{plain}@4")).max(), 50)
        moved = self.call("GET", f"{self.at}/drafts/{draft}@10/moved")
        self.assertEqual(
            [(each["part"], round(each["values"]["x"], 6), each["keyed"]) for each in moved], [("b", 0.7, [0, 20])]
        )

    def test_its_small_picture_shows_the_poster_with_the_region_where_it_is_then(self) -> None:
        self.call("POST", f"{self.at}/steps", {"seen": 0, "label": "dark", "step": whole(MOVING)})
        done, source = (
            np.asarray(Image.open(io.BytesIO(self.client.get(f"/api{self.at}/thumbnail?of={of}").content))).astype(int)
            for of in ("done", "source")
        )
        columns = np.flatnonzero((np.abs(done - source).max(axis=2) > 30).any(axis=0))
        self.assertAlmostEqual(columns.mean() / 64, 0.7, delta=0.08)

    def test_what_is_deleted_is_gone_from_the_caches(self) -> None:
        self.call("GET", f"{self.at}/peaks")
        cache = self.folder / "cache"
        self.assertEqual({each.suffix for each in cache.iterdir()}, {".flac", ".json", ".npy"})
        with self.captureOnCommitCallbacks(execute=True):
            self.call("DELETE", self.at, status=204)
        self.assertEqual(list(cache.iterdir()), [])

    def test_frames_for_playing_come_in_order_and_once(self) -> None:
        draft = self.draft()
        address = f"/api{self.at}/drafts/{draft}/play?{query({'first': 4, 'last': 13, 'step': 3, 'scale': 0.5})}"
        for _ in range(2):
            response = self.client.get(address)
            data = b"".join(response.streaming_content)  # type: ignore[arg-type]
            found = []
            while data:
                number, size = struct.unpack(">II", data[:8])
                found.append((number, Image.open(io.BytesIO(data[8 : 8 + size])).size))
                data = data[8 + size :]
            self.assertEqual(found, [(4, (48, 32)), (7, (48, 32)), (10, (48, 32)), (13, (48, 32))])

    def test_any_view_is_played_and_what_was_rendered_is_told(self) -> None:
        draft = self.draft()
        look = {"scale": 0.5, "view": "matte", "region": "r"}
        address = f"/api{self.at}/drafts/{draft}"
        self.assertEqual(self.call("GET", f"{self.at}/drafts/{draft}/rendered?{query(look)}"), [])
        for first, last in ((2, 4), (9, 9)):
            response = self.client.get(f"{address}/play?{query({**look, 'first': first, 'last': last})}")
            data = b"".join(response.streaming_content)  # type: ignore[arg-type]
        number, size = struct.unpack(">II", data[:8])
        shown = np.asarray(Image.open(io.BytesIO(data[8 : 8 + size])).convert("L"))
        self.assertEqual(number, 9)
        # at frame 9 the box stands 0.65 heights from the left
        self.assertEqual((shown[16, round(0.65 * 32)] > 240, shown[16, 2] < 15), (True, True))
        self.assertEqual(self.call("GET", f"{self.at}/drafts/{draft}/rendered?{query(look)}"), [[2, 4], [9, 9]])
        other = query({**look, "view": "picture"})
        self.assertEqual(self.call("GET", f"{self.at}/drafts/{draft}/rendered?{other}"), [])

    def test_a_pass_begins_on_several_at_once_and_vignettes_come_to_one_level(self) -> None:
        file = make(self.folder / "an_owl.mp4", 10, size=(128, 64))
        owl = self.upload(self.project, file.read_bytes(), file.name)["id"]
        self.addCleanup(forget_clip, Shot.objects.get(id=owl).sha256)
        order = {"starter": "vignette", "level": -1.0, "shots": [self.shot, owl]}
        told = self.call("POST", f"/projects/{self.project}/starts", order)
        self.assertEqual([(each["shot"], each["changed"]) for each in told], [(self.shot, True), (owl, True)])
        self.assertIn("corners at −1.0\u00a0EV", told[0]["says"])
        # again, to another level: the vignette that is there is changed
        self.call("POST", f"/projects/{self.project}/starts", {**order, "level": -0.6})
        for shot in (self.shot, owl):
            bench = self.call("GET", f"/projects/{self.project}/shots/{shot}/bench")
            self.assertEqual([each["name"] for each in bench["sheet"]["passes"]], ["Vignette"])
            self.assertIn("corners at −0.6", bench["undo"])
        self.call("POST", f"/projects/{self.project}/starts", {**order, "level": 0.5}, 422)
        self.assertIn(
            "no starter", self.call("POST", f"/projects/{self.project}/starts", {**order, "starter": "x"}, 422)["title"]
        )

    def test_thumbnails_in_a_row_show_the_finished_frames(self) -> None:
        asked = query({"count": 5, "width": 24, "height": 16})
        rows = []
        for sheet in ({}, MOVING):
            response = self.client.get(f"/api{self.at}/drafts/{self.draft(sheet)}/strip?{asked}")
            rows.append(np.asarray(Image.open(io.BytesIO(response.content))).astype(int))
        self.assertEqual(rows[0].shape, (16, 120, 3))
        darker = (rows[0] - rows[1]).mean(axis=(0, 2))
        # where the box stands in the first and in the last of them
        self.assertGreater(darker[6:9].mean(), 8)
        self.assertGreater(darker[96 + 16 : 96 + 20].mean(), 8)

    def test_sound_and_how_loud_it_is(self) -> None:
        response = self.client.get(f"/api{self.at}/sound")
        self.assertEqual(b"".join(response.streaming_content)[:4], b"fLaC")  # type: ignore[arg-type]
        peaks = self.call("GET", f"{self.at}/peaks")
        self.assertAlmostEqual(len(peaks) / 50, FRAMES / 25, delta=0.1)
        # a click each tenth of a second is each fifth of them
        self.assertGreater(min(peaks[5:50:5]), 2 * max(peaks[7:50:5]))

    def test_what_is_not_there_is_refused(self) -> None:
        draft = self.draft()
        for what in (
            f"@{FRAMES}/moved",
            "@x/moved",
            "@-1/moved",
            f"/play?scale=1&last={FRAMES}",
            "/play?scale=1&first=5&last=3",
        ):
            problem = self.call("GET", f"{self.at}/drafts/{draft}{what}", status=422)
            self.assertIn("frames 0 to 29", problem["title"])
        problem = self.upload(self.project, b"\0\0\0\x18ftypisom" + bytes(500), "broken.mp4", status=422)
        self.assertIn("not a clip that can be read", problem["title"])
        self.upload(self.project, self.file.read_bytes(), "again.mp4", status=409)

    def export(self, status: int = 200, **fields: Any) -> Any:
        clip = {"format": "ffv1", **fields.pop("clip", {})}
        body = {"shots": [self.shot], "format": "png", "clip": clip, **fields}
        with self.captureOnCommitCallbacks(execute=True):
            made = self.call("POST", f"/projects/{self.project}/exports", body, status)
        if status != 200:
            return made
        run_export.call(made[0]["id"])
        return Export.objects.get(id=made[0]["id"])

    def test_a_clip_and_a_range_and_a_matte_are_written(self) -> None:
        done = self.export()
        self.assertEqual((done.state, done.file_name), ("done", "A walk.mkv"))
        self.assertIn("encoded anew", done.says)
        self.assertEqual(linear(done.path), linear(self.file))
        self.call("POST", f"{self.at}/steps", {"seen": 0, "label": "dark", "step": whole(MOVING)})
        done = self.export(clip={"format": "h264", "first": 5, "last": 14})
        with Clip(done.path) as clip:
            self.assertEqual((clip.facts.frames, len(clip.facts.sound)), (10, 1))
        whole_length = self.export(clip={"format": "h264"})
        self.assertEqual(packets(whole_length.path), packets(self.file))
        done = self.export(what="matte", region="r")
        with Clip(done.path) as clip:
            self.assertEqual(clip.facts.sound, ())
            luma = clip.picture(0).planes[0]
        self.assertEqual((luma[32, round(0.2 * 64)], luma[32, 90]), (235, 16))

    def test_numbered_pictures_come_packed(self) -> None:
        self.call("POST", f"{self.at}/steps", {"seen": 0, "label": "dark", "step": whole(MOVING)})
        done = self.export(what="cutout", region="r", clip={"format": "png", "first": 5, "last": 7})
        self.assertEqual((done.state, done.file_name), ("done", "A walk the box cutout.zip"))
        with zipfile.ZipFile(done.path) as archive:
            names = archive.namelist()
            with archive.open(names[0]) as file:
                modes = Image.open(file).getbands()
        self.assertEqual(len(names), 3)
        self.assertEqual(len(modes), 4)

    def test_clips_have_a_lane_of_their_own_and_each_worker_takes_up_its_own(self) -> None:
        body = {"shots": [self.shot], "format": "png", "clip": {"format": "h264"}}
        with self.captureOnCommitCallbacks(execute=True):
            self.call("POST", f"/projects/{self.project}/exports", body)
        task = DBTaskResult.objects.get()
        self.assertEqual(task.queue_name, "clips")
        DBTaskResult.objects.update(status=TaskResultStatus.RUNNING)
        Export.objects.update(state="running")
        # the other lane's worker starts anew while this one is at work
        self.assertEqual(take_up("default"), 0)
        self.assertEqual(Export.objects.get().ended, 0)
        self.assertEqual(take_up("clips"), 1)
        self.assertEqual((Export.objects.get().ended, DBTaskResult.objects.get().status), (1, TaskResultStatus.READY))

    def test_orders_that_cannot_be(self) -> None:
        self.assertIn("frames 0 to 29", self.export(422, clip={"first": 3, "last": 30})["title"])
        self.assertIn("no quality 3", self.export(422, clip={"format": "h264", "quality": 3})["title"])
        self.assertIn("of stills only", self.export(422, what="pair")["title"])
        self.assertIn("needs alpha", self.export(422, what="cutout", clip={"format": "jpeg"})["title"])
        self.assertIn("of stills only", self.export(422, what="pair", clip={"format": "png"})["title"])
        body = {"shots": [self.shot], "format": "png", "bits": 8}
        self.assertIn("is a clip", self.call("POST", f"/projects/{self.project}/exports", body, 422)["title"])
        self.assertFalse(Export.objects.exists())
