"""What the worker, the caches and the folders do when something hangs, is full, is many or is not named any more."""

import os
import shutil
import threading
import time
from pathlib import Path
from unittest import mock

from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
from django.test import TransactionTestCase

from calado.media.apart import Reader
from server.api.tests.support import picture, whole
from server.api.tests.test_ground import OnAShot
from server.bench import sources
from server.jobs import keeping, removal
from server.jobs.removal import remove_rest
from server.jobs.take_up import take_up
from server.jobs.watch import Watch
from server.projects.models import Project, Shot


class Watching(OnAShot, TransactionTestCase):
    def test_a_task_that_gives_no_sign_of_life_ends_its_worker_and_a_slow_one_does_not(self) -> None:
        ended = threading.Event()
        watch = Watch(patience=0.4, end=ended.set)
        watch.start()
        with watch.over():
            for _ in range(8):
                time.sleep(0.1)
                watch.sign()
        time.sleep(0.6)
        # nothing is under way: nothing hangs
        self.assertFalse(ended.is_set())
        with watch.over():
            self.assertTrue(ended.wait(10))


class Many(OnAShot, TransactionTestCase):
    def test_a_project_of_many_shots_is_out_of_sight_at_once_and_removed_by_the_worker(self) -> None:
        with mock.patch.object(removal, "AT_ONCE", 1):
            self.upload(self.project, picture(5), "b.png")
            self.call("DELETE", f"/projects/{self.project}", status=204)
        self.call("GET", f"/projects/{self.project}", status=404)
        self.call("GET", f"{self.address}/bench", status=404)
        self.assertEqual(self.call("GET", "/projects"), [])
        self.assertEqual(Shot.objects.count(), 2)
        # its task is lost with a worker: the next one asks for it anew, once
        with mock.patch.object(type(remove_rest), "enqueue") as enqueued:
            take_up()
        enqueued.assert_not_called()
        remove_rest.call(self.project)
        self.assertEqual((Project.objects.count(), Shot.objects.count()), (0, 0))
        self.assertEqual([file for part in ("cache", "shots") for file in (self.folder / part).rglob("*")], [])


class Room(OnAShot, TransactionTestCase):
    def test_what_can_be_made_again_gives_way_before_the_disk_is_full(self) -> None:
        other = self.call("POST", "/projects", {"name": "other"})["id"]
        self.upload(other, picture(6), "b.png")
        solved = Path(settings.SOLVED_ROOT) / "k.npy"
        solved.write_bytes(b"x")
        cache = Path(settings.CACHE_ROOT)
        newest = Shot.objects.get(project=other).sha256
        os.utime(cache / newest, (time.time() + 9, time.time() + 9))
        free = [2**20, 2**20, 2**40]
        usage = type(shutil.disk_usage(cache))
        with mock.patch.object(sources.shutil, "disk_usage", side_effect=lambda _: usage(2**40, 0, free.pop(0))):
            sources.make_room(1000)
        # both pyramids were in the way, the solved matte was not
        self.assertEqual((list(cache.iterdir()), solved.exists()), ([], True))
        self.call("GET", f"{self.address}/thumbnail")
        self.assertEqual(len(list(cache.iterdir())), 1)


class Unused(OnAShot, TransactionTestCase):
    def test_an_imported_matte_goes_when_nothing_names_it_any_more(self) -> None:
        kept = [self._imported(seed) for seed in (1, 2, 3)]
        part = {"id": "m", "kind": "matte", "values": {"file": kept[0]}}
        region = {"id": "r", "name": "r", "parts": [part]}
        step = {"seen": 0, "label": "", "step": whole({"regions": [region]})}
        self.call("POST", f"{self.address}/steps", step)
        # undone, it can still come back
        self.call("POST", f"{self.address}/undo", {"seen": 1})
        files = [Path(settings.MATTE_ROOT) / f"{each}.png" for each in kept]
        old = time.time() - keeping.JUST_NEW - 10
        for file in files[:2]:
            os.utime(file, (old, old))
        call_command("thin", stdout=mock.Mock())
        self.assertEqual([file.exists() for file in files], [True, False, True])

    def _imported(self, seed: int) -> str:
        answer = self.client.post(f"/api{self.address}/mattes", {"file": SimpleUploadedFile("m.png", picture(seed))})
        self.assertEqual(answer.status_code, 200, answer.content)
        return str(answer.json()["file"])

    def test_mattes_are_read_apart(self) -> None:
        with mock.patch.object(Reader, "_ask", return_value={"code": "media.costly", "says": "Too much."}):
            answer = self.client.post(f"/api{self.address}/mattes", {"file": SimpleUploadedFile("m.png", picture(8))})
        self.assertEqual((answer.status_code, answer.json()["title"]), (422, "Too much."))


class Both(OnAShot, TransactionTestCase):
    def test_after_a_clash_both_versions_come_along(self) -> None:
        def step(name: str, status: int) -> dict[str, object]:
            change = {"passes": [{"id": name, "name": name}], "order": [name]}
            said = self.call("POST", f"{self.address}/steps", {"seen": 0, "label": name, "step": change}, status)
            return dict(said)

        step("mine", 200)
        said = step("yours", 409)
        names = [[each["name"] for each in said[which]["passes"]] for which in ("theirs", "yours")]  # type: ignore[index]
        self.assertEqual(names, [["mine"], ["yours"]])
