"""Files in pieces, by the open protocol: cut off they go on, whole they become a shot by a job."""

import base64
from pathlib import Path
from typing import Any
from unittest import mock

from django.conf import settings
from django.test import TestCase
from django_tasks.base import TaskResultStatus
from django_tasks_db.models import DBTaskResult

from calado.media.clips.tests.made import make
from server.api.tests.support import Place, picture
from server.bench.clips import forget_clip
from server.jobs.models import Job, Upload
from server.jobs.sweeping import sweep
from server.jobs.take_up import take_up
from server.jobs.uploading import append
from server.jobs.work import run_job
from server.projects.models import Shot

OCTETS = "application/offset+octet-stream"


class Uploads(Place, TestCase):
    def setUp(self) -> None:
        super().setUp()
        self.project = self.call("POST", "/projects", {"name": "Lanternmoth"})["id"]
        self.at = f"/api/projects/{self.project}/uploads"
        self.data = make(self.folder / "walk.mp4", 20, sound="aac").read_bytes()

    def begin(self, size: int, name: str = "a_walk.mp4", status: int = 201) -> Any:
        said = base64.b64encode(name.encode()).decode()
        response = self.client.post(
            self.at, headers={"Upload-Length": str(size), "Upload-Metadata": f"filename {said}"}
        )
        self.assertEqual(response.status_code, status, response.content)
        return response

    def send(self, at: str, offset: int, data: bytes, status: int = 204, kind: str = OCTETS) -> Any:
        response = self.client.patch(at, data, content_type=kind, headers={"Upload-Offset": str(offset)})
        self.assertEqual(response.status_code, status, response.content)
        return response

    def jobs(self) -> Any:
        return self.call("GET", f"/projects/{self.project}/jobs")

    def test_cut_off_it_goes_on_and_becomes_a_shot(self) -> None:
        at = self.begin(len(self.data))["Location"]
        self.send(at, 0, self.data[:5000])
        head = self.client.head(at)
        self.assertEqual((head["Upload-Offset"], head["Upload-Length"]), ("5000", str(len(self.data))))
        self.assertEqual(self.jobs(), [])
        self.send(at, 5000, self.data[5000:])
        (job,) = self.jobs()
        self.assertEqual((job["state"], job["name"]), ("waiting", "a_walk.mp4"))
        run_job.call(job["id"])
        (job,) = self.jobs()
        shot = Shot.objects.get()
        self.addCleanup(forget_clip, shot.sha256)
        self.assertEqual((job["state"], job["shot"], shot.name, shot.frames), ("done", shot.id, "A walk", 20))
        self.assertEqual(shot.path.read_bytes(), self.data)
        self.assertEqual(list(Path(settings.UPLOAD_ROOT).iterdir()), [])

    def test_a_piece_out_of_step_is_refused_and_spoils_nothing(self) -> None:
        at = self.begin(len(self.data))["Location"]
        self.send(at, 0, self.data[:100])
        refused = self.send(at, 50, self.data[50:200], status=409)
        self.assertIn("100 bytes", refused.json()["title"])
        self.send(at, 100, self.data[100:] + b"more", status=422)
        self.send(at, 0, b"", status=415, kind="text/plain")
        upload = Upload.objects.get()
        self.assertEqual(upload.path.read_bytes(), self.data[: upload.path.stat().st_size])

    def test_two_pieces_at_once(self) -> None:
        at = self.begin(len(self.data))["Location"]
        upload = Upload.objects.get()

        def meanwhile() -> Any:
            yield self.data[:10]
            self.send(at, 10, self.data[10:20], status=423)
            yield self.data[10:30]

        self.assertEqual(append(upload, 0, meanwhile()), 30)
        self.assertEqual(upload.path.read_bytes(), self.data[:30])

    def test_what_is_no_picture_or_there_already_says_so_in_its_job(self) -> None:
        there = self.upload(self.project, picture())["id"]
        for data, says, shot in (
            (b"no picture at all", "neither a still nor a clip", None),
            (picture(), "already", there),
        ):
            with self.subTest(says):
                at = self.begin(len(data), "lamp.png")["Location"]
                self.send(at, 0, data)
                run_job.call(at.rpartition("/")[2])
                job = self.jobs()[0]
                self.assertEqual((job["state"], job["shot"]), ("failed", shot))
                self.assertIn(says, job["problem"])
        self.assertEqual(Shot.objects.count(), 1)

    def test_what_is_asked_wrongly(self) -> None:
        for size, says in ((0, "empty"), (10**13, "4 GB"), (10**17, "4 GB")):
            self.assertIn(says, self.begin(size, status=422).json()["title"])
        answer = self.client.post(self.at, headers={"Upload-Length": "-1"})
        self.assertIn("Upload-Length", answer.json()["title"])
        with mock.patch("server.jobs.uploading.SPARE", 2**62):
            self.assertIn("disk is full", self.begin(10, status=507).json()["title"])
        spoken = self.client.options(self.at)
        self.assertEqual((spoken.status_code, spoken["Tus-Version"]), (204, "1.0.0"))
        self.assertEqual(self.client.head(f"{self.at}/none").status_code, 404)
        self.assertEqual(Upload.objects.count(), 0)

    def test_forgotten_when_asked(self) -> None:
        at = self.begin(100)["Location"]
        self.send(at, 0, b"x" * 10)
        self.assertEqual(self.client.delete(at).status_code, 204)
        self.assertEqual(list(Path(settings.UPLOAD_ROOT).iterdir()), [])

    def test_called_off_it_leaves_nothing(self) -> None:
        at = self.begin(len(self.data))["Location"]
        self.send(at, 0, self.data)
        Job.objects.update(cancel_asked=True)
        run_job.call(Job.objects.get().id)
        self.assertEqual(Job.objects.get().state, "cancelled")
        self.assertEqual((Shot.objects.count(), list(Path(settings.UPLOAD_ROOT).iterdir())), (0, []))

    def test_taken_up_after_a_kill_and_set_aside_after_two(self) -> None:
        at = self.begin(len(self.data))["Location"]
        self.send(at, 0, self.data)
        for ends, state in ((1, "running"), (2, "failed")):
            Job.objects.update(state="running")
            DBTaskResult.objects.update(status=TaskResultStatus.RUNNING)
            take_up()
            job = Job.objects.get()
            self.assertEqual((job.ended, job.state), (ends, state))
        self.assertIn("set aside", job.problem)

    def test_whole_when_the_server_was_killed(self) -> None:
        at = self.begin(len(self.data))["Location"]
        with mock.patch("server.jobs.uploading.whole", side_effect=SystemExit), self.assertRaises(SystemExit):
            self.client.patch(at, self.data, content_type=OCTETS, headers={"Upload-Offset": "0"})
        self.assertEqual(self.jobs(), [])
        take_up()
        self.assertEqual(self.jobs()[0]["state"], "waiting")

    def test_swept_up_when_nobody_went_on(self) -> None:
        at = self.begin(100)["Location"]
        kept = Path(settings.UPLOAD_ROOT) / at.rpartition("/")[2]
        (Path(settings.UPLOAD_ROOT) / "of nobody").touch()
        sweep()
        self.assertEqual(list(Path(settings.UPLOAD_ROOT).iterdir()), [kept])
        with mock.patch("server.jobs.sweeping.KEPT_DAYS", -1):
            sweep()
        self.assertEqual(list(Path(settings.UPLOAD_ROOT).iterdir()), [])
