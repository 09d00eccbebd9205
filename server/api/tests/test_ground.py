"""What lies on disk is what was meant, and what is sent wrong is answered in a sentence."""

import errno
import json
import shutil
import tempfile
import threading
import time
from pathlib import Path
from typing import Any
from unittest import mock

import numpy as np
from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import CommandError, call_command
from django.db import OperationalError, connection
from django.http import HttpRequest, HttpResponse
from django.test import RequestFactory, SimpleTestCase, TestCase, TransactionTestCase, override_settings

from server.api.tests.support import Place, picture
from server.bench import sources
from server.config import heavy
from server.jobs import keeping, sweeping
from server.jobs.writing import run_export
from server.projects.models import Project, Shot


class OnAShot(Place):
    def setUp(self) -> None:
        super().setUp()
        override = override_settings(DATA_ROOT=self.folder)
        override.enable()
        self.addCleanup(override.disable)
        self.project, self.shot = self.project_with_shot()
        self.address = f"/projects/{self.project}/shots/{self.shot}"


class Cached(OnAShot, TestCase):
    def planes(self) -> np.ndarray:
        sources._open.clear()
        source = sources.source_for(Shot.objects.get(id=self.shot))
        return np.array(source.planes(source.full()))

    def test_a_damaged_pyramid_is_made_again(self) -> None:
        before = self.planes()
        (folder,) = [each for each in Path(settings.CACHE_ROOT).iterdir() if each.is_dir()]
        first = folder / "0.raw"
        sound = first.read_bytes()

        def cut() -> None:
            first.write_bytes(sound[:-7])

        def changed() -> None:
            first.write_bytes(sound[:100] + bytes([sound[100] ^ 1]) + sound[101:])

        def longer() -> None:
            first.write_bytes(sound + b"\0")

        def told_wrong() -> None:
            (folder / "levels.json").write_text('{"space": "srgb", "levels": [')

        def none() -> None:
            (folder / "levels.json").write_text('{"space": "srgb", "levels": []}')

        for harm in (cut, changed, longer, told_wrong, none, first.unlink, lambda: shutil.rmtree(folder)):
            harm()
            np.testing.assert_array_equal(self.planes(), before)
            self.assertEqual(first.read_bytes(), sound)

    def test_nothing_writes_through_what_is_mapped(self) -> None:
        self.planes()
        (folder,) = [each for each in Path(settings.CACHE_ROOT).iterdir() if each.is_dir()]
        sound = (folder / "0.raw").read_bytes()
        self.addCleanup(sources._open.clear)
        source = sources.source_for(Shot.objects.get(id=self.shot))
        source.levels[0][...] = 0  # type: ignore[index]
        self.assertEqual((folder / "0.raw").read_bytes(), sound)


class Gone(OnAShot, TransactionTestCase):
    def test_what_is_deleted_is_gone_from_everywhere(self) -> None:
        self.call("GET", f"{self.address}/thumbnail")
        Path(settings.SOLVED_ROOT).mkdir(exist_ok=True)
        (Path(settings.SOLVED_ROOT) / "k.npy").write_bytes(b"x")
        other = self.call("POST", "/projects", {"name": "other"})["id"]
        twin = self.upload(other, picture())["id"]
        self.call("DELETE", self.address, status=204)
        cache = Path(settings.CACHE_ROOT)
        # its twin in another project goes on
        self.assertEqual(len(list(cache.iterdir())), 1)
        self.call("GET", f"/projects/{other}/shots/{twin}/thumbnail")
        self.call("DELETE", f"/projects/{other}", status=204)
        left = [file for part in ("cache", "shots", "solved") for file in (self.folder / part).rglob("*")]
        self.assertEqual(left, [])

    def test_a_project_removed_while_a_file_comes_in(self) -> None:
        def gone(*args: object, **more: object) -> None:
            Project.objects.filter(id=self.project).delete()

        with mock.patch("server.projects.actions.add_shot._brought", side_effect=gone):
            said = self.upload(self.project, picture(9), status=404)
        self.assertEqual(said["code"], "missing")
        self.assertEqual([folder.name for folder in (self.folder / "shots").iterdir()], [self.shot])


class Kept(OnAShot, TransactionTestCase):
    def test_a_backup_brings_all_back_and_says_what_is_wrong(self) -> None:
        order = {"shots": [self.shot], "format": "png", "bits": 8, "quality": 90, "keep_metadata": False}
        export = self.call("POST", f"/projects/{self.project}/exports", order)[0]["id"]
        run_export.call(export)
        self.assertEqual(list(keeping.faults()), [])
        with tempfile.TemporaryDirectory() as folder:
            to = Path(folder) / "backup"
            call_command("backup", str(to), verbosity=0, stdout=mock.Mock())
            with self.assertRaises(CommandError):
                call_command("backup", str(to), stdout=mock.Mock())
            names = {file.relative_to(to).as_posix() for file in to.rglob("*") if file.is_file()}
            self.assertIn("calado.sqlite3", names)
            shot = Shot.objects.get(id=self.shot)
            self.assertIn(f"shots/{self.shot}/source.png", names)
            # damage of every kind is named
            shot.path.write_bytes(b"other")
            self.assertIn("no longer what was added", " ".join(keeping.faults()))
            shot.path.unlink()
            with connection.cursor() as cursor:
                cursor.execute("UPDATE projects_revision SET kept = x'00'")
            said = " ".join(keeping.faults())
            self.assertIn("is missing", said)
            with self.assertRaises(CommandError):
                call_command("verify", stdout=mock.Mock())
            with override_settings(DATA_ROOT=Path(folder) / "data"):
                call_command("restore", str(to), stdout=mock.Mock())
                back = Path(folder) / "data"
                self.assertEqual((back / "shots" / self.shot / "source.png").read_bytes(), picture())
                # what stands there is put aside, not written over
                (back / "mine").write_text("x")
                call_command("restore", str(to), stdout=mock.Mock())
                (aside,) = Path(folder).glob("data.before-*")
                self.assertTrue((aside / "mine").exists())
                (to / "calado.sqlite3").write_bytes(b"SQLite format 3\0" + b"\0" * 500)
                with self.assertRaisesRegex(CommandError, "is damaged"):
                    call_command("restore", str(to), stdout=mock.Mock())
                self.assertFalse((back / "mine").exists())

    def test_what_broken_off_work_left_is_swept_up(self) -> None:
        left = [
            self.folder / "shots" / "nobody" / "source.png",
            self.folder / "exports" / "nobody" / "a.png",
            self.folder / "incoming" / "tmp.upload",
            self.folder / "cache" / "abc.1.2.part" / "0.raw",
        ]
        for file in left:
            file.parent.mkdir(parents=True, exist_ok=True)
            file.write_bytes(b"x")
        with mock.patch.object(sweeping, "said_of_database", return_value="malformed"):
            self.assertEqual(sweeping.sweep(), 0)
        self.assertEqual(sweeping.sweep(), 4)
        self.assertEqual([file.exists() for file in left], [False] * 4)
        self.assertTrue(Shot.objects.get(id=self.shot).path.exists())
        self.assertEqual(sweeping.sweep(), 0)

    def test_how_it_is(self) -> None:
        self.assertEqual(
            (self.client.get("/healthz").status_code, self.client.get("/healthz").json()["ok"]), (200, True)
        )
        with mock.patch("server.config.urls.LEAST_FREE_BYTES", 2**62):
            self.assertEqual(self.client.get("/healthz").status_code, 503)


class Wrong(OnAShot, TestCase):
    def test_disk_and_database_have_their_own_sentences(self) -> None:
        faults: list[tuple[Exception, int, str]] = [
            (OSError(errno.ENOSPC, "no"), 507, "disk is full"),
            (OSError(errno.EROFS, "no"), 507, "may not be written"),
            (OSError(errno.EACCES, "no"), 507, "may not be written"),
            (OperationalError("database or disk is full"), 507, "disk is full"),
            (OperationalError("attempt to write a readonly database"), 507, "may not be written"),
            (OperationalError("database disk image is malformed"), 507, "database is damaged"),
            (OperationalError("database is locked"), 503, "busy just now"),
        ]
        for error, status, words in faults:
            with mock.patch("server.projects.actions.change.take_step", side_effect=error), self.assertLogs("calado"):
                said = self.call("POST", f"{self.address}/steps", {"seen": 0, "step": {}}, status)
            self.assertIn(words, said["title"])

    def test_bodies_that_are_none(self) -> None:
        self.call("POST", f"{self.address}/steps", '{"a":"' + "x" * (21 * 2**20) + '"}', 413)
        upload = f"/api/projects/{self.project}/shots"
        broken = self.client.post(upload, b"--x\r\nbroken", content_type="multipart/form-data; boundary=")
        self.assertEqual((broken.status_code, broken.json()["code"]), (400, "request.unreadable"))
        for origin in ("http://[::1", "nonsense", "http://evil.example"):
            said = self.client.post(upload, {}, headers={"Origin": origin})
            self.assertEqual((said.status_code, said.json()["code"]), (403, "origin"))
        with mock.patch("server.config.uploads.MAX_BYTES", 100):
            said = self.client.post(upload, {"file": SimpleUploadedFile("a.png", picture(3))})
            self.assertEqual((said.status_code, said.json()["code"]), (422, "media.large"))

    def test_regions_that_stand_too_deep_and_lists_that_are_too_long(self) -> None:
        regions: list[dict[str, Any]] = [{"id": "r0", "name": "r0", "parts": [{"id": "p", "kind": "ellipse"}]}]
        for k in range(1, 100):
            part = {"id": "p", "kind": "region", "values": {"region": f"r{k - 1}"}}
            regions.append({"id": f"r{k}", "name": f"r{k}", "parts": [part]})
        said = self.told({"regions": regions}, 422)
        self.assertIn("deep", said["title"])
        many = [{"id": f"r{k}", "name": "r"} for k in range(201)]
        said = self.told({"regions": many}, 422)
        self.assertIn("up to 200 are taken", said["title"])

    def test_names_in_letters_of_many_bytes_are_exported(self) -> None:
        Shot.objects.filter(id=self.shot).update(name="燈" * 84)
        order = {"shots": [self.shot], "format": "png", "bits": 8, "quality": 90, "keep_metadata": False}
        export = self.call("POST", f"/projects/{self.project}/exports", order)[0]["id"]
        run_export.call(export)
        made = self.call("GET", f"/projects/{self.project}/exports")[0]
        self.assertEqual((made["state"], made["file_name"][:3]), ("done", "燈燈燈"))


class Heavy(SimpleTestCase):
    def test_light_ones_go_by_and_those_beyond_the_queue_hear_of_it(self) -> None:
        held, begun = threading.Event(), threading.Semaphore(0)
        made = RequestFactory()
        shot = "/api/projects/p/shots/s"

        def answer(request: HttpRequest) -> HttpResponse:
            if heavy.is_heavy(request):
                begun.release()
                held.wait(10)
            return HttpResponse()

        with mock.patch.object(heavy, "AT_ONCE", 2), mock.patch.object(heavy, "WAITING", 1):
            served = heavy.heavy_in_turn(answer)
        answers: list[int] = []
        threads = [
            threading.Thread(target=lambda: answers.append(served(made.post(f"{shot}/preview")).status_code))
            for _ in range(3)
        ]
        for thread in threads:
            thread.start()
        for _ in range(2):
            self.assertTrue(begun.acquire(timeout=5))
        # two are at work; until the third has come to wait, this one would wait in its place
        third = time.monotonic() + 5
        while sum(thread.is_alive() for thread in threads) < 3 and time.monotonic() < third:
            time.sleep(0.01)
        time.sleep(0.2)
        full = served(made.post(f"{shot}/second-look"))
        self.assertEqual(full.status_code, 503)
        self.assertEqual(json.loads(full.content)["code"], "busy")
        for path in (f"{shot}/steps", f"{shot}/bench", "/api/projects", f"{shot}/undo"):
            self.assertEqual(served(made.post(path)).status_code, 200)
        held.set()
        for thread in threads:
            thread.join(10)
        self.assertEqual(answers, [200] * 3)

    def test_nothing_is_made_for_who_has_gone(self) -> None:
        import socket

        ours, theirs = socket.socketpair()
        self.addCleanup(ours.close)
        request = RequestFactory().post("/api/projects/p/shots/s/preview")
        request.META["gunicorn.socket"] = ours
        answer = mock.Mock(return_value=HttpResponse())
        served = heavy.heavy_in_turn(answer)
        self.assertEqual(served(request).status_code, 200)
        theirs.close()
        self.assertEqual(served(request).status_code, 204)
        self.assertEqual(answer.call_count, 1)
