"""Clips of several shots: cuts found, split, worked on apart, joined again; several clips in one file."""

from typing import Any

from django.test import TestCase

from calado.media.clips.clip import Clip
from calado.media.clips.tests.made import linear, make, two_scenes
from server.api.tests.support import Place, whole
from server.bench.clips import forget_clip
from server.jobs.models import Export
from server.jobs.work import run_job
from server.jobs.writing import run_export
from server.projects.models import Shot

DARK = {"passes": [{"id": "p", "name": "Dark", "inside": {"exposure": {"amount": -4}}}]}


class Pieces(Place, TestCase):
    def setUp(self) -> None:
        super().setUp()
        self.file = make(self.folder / "a_cut.mp4", 50, sound="aac", size=(160, 96), scene=two_scenes(20))
        self.project = self.call("POST", "/projects", {"name": "Lanternmoth"})["id"]
        self.shot = self.upload(self.project, self.file.read_bytes(), self.file.name)["id"]
        self.addCleanup(forget_clip, Shot.objects.get(id=self.shot).sha256)

    def at(self, shot: str) -> str:
        return f"/projects/{self.project}/shots/{shot}"

    def split(self, *frames: int, status: int = 200) -> Any:
        return self.call("POST", f"{self.at(self.shot)}/split", {"at": list(frames)}, status)

    def written(self, shots: list[str], **clip: Any) -> Export:
        body = {"shots": shots, "format": "png", "clip": {"format": "ffv1", **clip}}
        with self.captureOnCommitCallbacks(execute=True):
            made = self.call("POST", f"/projects/{self.project}/exports", body)
        run_export.call(made[0]["id"])
        return Export.objects.get(id=made[0]["id"])

    def test_cuts_are_found_by_a_job(self) -> None:
        job = self.call("POST", f"{self.at(self.shot)}/cuts")
        run_job.call(job["id"])
        (told,) = self.call("GET", f"/projects/{self.project}/jobs")
        self.assertEqual((told["state"], told["kind"], told["cuts"]), ("done", "cuts", [20]))

    def test_split_each_piece_is_a_shot_of_its_own(self) -> None:
        self.call("POST", f"{self.at(self.shot)}/steps", {"seen": 0, "label": "dark", "step": whole(DARK)})
        first, second, third = self.split(20, 30)
        self.assertEqual([each["name"] for each in (first, second, third)], ["A cut, 1", "A cut, 2", "A cut, 3"])
        self.assertEqual([each["clip"]["frames"] for each in (first, second, third)], [20, 10, 20])
        self.assertEqual([each["passes"] for each in (first, second, third)], [["Dark"]] * 3)
        self.assertEqual(first["id"], self.shot)
        order = [each["name"] for each in self.call("GET", f"/projects/{self.project}")["shots"]]
        self.assertEqual(order, ["A cut, 1", "A cut, 2", "A cut, 3"])
        # one file on disk, whatever it is called
        self.assertEqual(len({each.path.stat().st_ino for each in Shot.objects.all()}), 1)
        self.call("POST", f"{self.at(second['id'])}/undo", {"seen": 1}, 409)
        self.call("POST", f"{self.at(first['id'])}/undo", {"seen": 1})
        done = self.written([first["id"]])
        self.assertEqual(linear(done.path), linear(self.file)[:20])
        peaks = self.call("GET", f"{self.at(second['id'])}/peaks")
        self.assertEqual(len(peaks), 20)

    def test_joined_again_unless_one_was_worked_on(self) -> None:
        first, second = self.split(20)
        self.call("POST", f"{self.at(second['id'])}/steps", {"seen": 0, "label": "dark", "step": whole(DARK)})
        self.assertIn("A cut, 2", self.call("POST", f"{self.at(first['id'])}/join", status=422)["title"])
        self.call("POST", f"{self.at(second['id'])}/undo", {"seen": 1})
        done = self.written([second["id"]])
        joined = self.call("POST", f"{self.at(second['id'])}/join")
        # what was written of a piece stays
        self.assertEqual(Export.objects.get().shot_id, self.shot)
        self.assertTrue(done.path.is_file())
        self.assertEqual((joined["id"], joined["name"], joined["clip"]["frames"]), (self.shot, "A cut", 50))
        self.assertEqual(Shot.objects.count(), 1)
        self.call("POST", f"{self.at(self.shot)}/join", status=422)

    def test_a_piece_is_split_again_and_the_file_is_there_once(self) -> None:
        _, second = self.split(20)
        made = self.call("POST", f"{self.at(second['id'])}/split", {"at": [10]})
        self.assertEqual([each["name"] for each in made], ["A cut, 2, 1", "A cut, 2, 2"])
        self.assertEqual(Shot.objects.get(id=made[1]["id"]).first, 30)
        self.upload(self.project, self.file.read_bytes(), "again.mp4", status=409)

    def test_what_cannot_be_split(self) -> None:
        for frames in ((0,), (50,), (-3,), (20, 99)):
            self.assertIn("1 to 49", self.split(*frames, status=422)["title"])
        step = whole({"passes": [{"id": "p", "name": "Dark", "span": {"first": 5, "last": 9}}]})
        self.call("POST", f"{self.at(self.shot)}/steps", {"seen": 0, "label": "dark", "step": step})
        self.assertIn("before that", self.split(20, status=422)["title"])
        self.assertEqual(Shot.objects.count(), 1)

    def test_several_in_one_file_in_their_order(self) -> None:
        first, second = self.split(20)
        self.call("POST", f"{self.at(first['id'])}/steps", {"seen": 0, "label": "dark", "step": whole(DARK)})
        done = self.written([second["id"], first["id"]], joined=True)
        self.assertEqual((done.state, done.file_name), ("done", "A cut 2 and 1 more.mkv"))
        self.assertIn("joined", done.says)
        with Clip(done.path) as clip:
            self.assertEqual(clip.facts.frames, 50)
        self.assertEqual(linear(done.path)[:30], linear(self.file)[20:])
        self.assertNotEqual(linear(done.path)[30:], linear(self.file)[:20])
        unlike = self.upload(self.project, make(self.folder / "b.mp4", 5).read_bytes(), "b.mp4")["id"]
        body = {"shots": [first["id"], unlike], "format": "png", "clip": {"format": "ffv1", "joined": True}}
        self.assertIn("one by one", self.call("POST", f"/projects/{self.project}/exports", body, 422)["title"])
