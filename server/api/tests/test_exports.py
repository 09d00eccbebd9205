"""Exports through the API and the worker's own task."""

import hashlib
import io
from pathlib import Path
from typing import Any
from unittest import mock

import numpy as np
import OpenImageIO as oiio
from django.test import TestCase
from django_tasks.base import TaskResultStatus
from django_tasks_db.models import DBTaskResult
from PIL import Image

from calado.colour.transfer import linear_to_srgb, srgb_to_linear
from server.api.tests.support import Place, whole
from server.jobs.models import Export
from server.jobs.take_up import MOST_ENDS, take_up
from server.jobs.writing import run_export
from server.projects.models import Shot


def signal(path: Path) -> np.ndarray:
    """What a file holds, 0…1."""
    file = oiio.ImageInput.open(str(path))
    assert file is not None
    return np.asarray(file.read_image("float"), np.float64)


class Exports(Place, TestCase):
    def setUp(self) -> None:
        super().setUp()
        self.project, self.shot = self.project_with_shot()
        self.address = f"/projects/{self.project}/exports"

    def order(self, status: int = 200, **fields: Any) -> Any:
        body = {"shots": [self.shot], "format": "png", "bits": 8, **fields}
        with self.captureOnCommitCallbacks(execute=True):
            return self.call("POST", self.address, body, status)

    def test_ordered_written_fetched_removed(self) -> None:
        export = self.order()[0]
        self.assertEqual(export["state"], "waiting")
        self.call("GET", f"{self.address}/{export['id']}/file", status=404)
        run_export.call(export["id"])
        listed = self.call("GET", self.address)[0]
        self.assertEqual((listed["state"], listed["progress"], listed["file_name"]), ("done", 1.0, "Lamp.png"))
        response = self.client.get(f"/api{self.address}/{export['id']}/file")
        content = b"".join(response.streaming_content)  # type: ignore[arg-type]
        source = np.asarray(Image.open(Shot.objects.get(id=self.shot).path))
        np.testing.assert_array_equal(np.asarray(Image.open(io.BytesIO(content))), source)
        self.call("DELETE", f"{self.address}/{export['id']}", status=204)
        self.assertFalse(Export.objects.exists())

    def test_what_it_changed_is_stated(self) -> None:
        at = f"/projects/{self.project}/shots/{self.shot}"
        sheet = self.on_draft(f"{at}/start", {"sheet": {}, "what": "starter", "id": "vignette"})["sheet"]
        self.call("POST", f"{at}/steps", {"seen": 0, "label": "vignette", "step": whole(sheet)})
        (export,) = self.order()
        address = f"{self.address}/{export['id']}/statement"
        self.assertFalse(export["stated"])
        self.call("GET", address, status=404)
        run_export.call(export["id"])
        self.assertTrue(self.call("GET", self.address)[0]["stated"])
        told = self.call("GET", address)
        file = Export.objects.get(id=export["id"]).path
        self.assertEqual(told["written"]["sha256"], hashlib.sha256(file.read_bytes()).hexdigest())
        (done,) = told["done"]
        self.assertEqual((done["name"], done["kinds"]), (sheet["passes"][0]["name"], []))
        self.assertGreater(done["share"], 0.05)
        self.assertIn("Only light, colour and sharpness", told["says"])
        for suffix, kind in (("pdf", "application/pdf"), ("csv", "text/csv; charset=utf-8")):
            answer = self.client.get(f"/api{address}.{suffix}")
            self.assertEqual((answer.status_code, answer["Content-Type"]), (200, kind))
            self.assertIn(f"statement.{suffix}", answer["Content-Disposition"])
        (matte,) = self.order(what="matte", region=sheet["regions"][0]["id"])
        run_export.call(matte["id"])
        self.call("GET", f"{self.address}/{matte['id']}/statement", status=404)

    def test_a_still_that_conceals_is_read_back_and_reported(self) -> None:
        part = {"id": "o", "kind": "rectangle", "values": {"x": 0.6, "y": 0.5, "width": 0.6, "height": 0.4}}
        cover = {"id": "p", "name": "Cover", "region": "r", "inside": {"solid": {"amount": 1}}}
        step = whole({"regions": [{"id": "r", "name": "sign", "parts": [part]}], "passes": [cover]})
        self.call("POST", f"/projects/{self.project}/shots/{self.shot}/steps", {"seen": 0, "step": step})
        for fields in ({}, {"format": "jpeg", "what": "pair", "longer_side": 60}, {"what": "cutout", "region": "r"}):
            (export,) = self.order(**fields)
            run_export.call(export["id"])
            told = next(each for each in self.call("GET", self.address) if each["id"] == export["id"])
            self.assertTrue(told["good"], told["read_back"])
            self.assertIn("Read back, all of it. Under “Cover” at most 0.", told["read_back"])
            address = f"{self.address}/{export['id']}"
            report = self.call("GET", f"{address}/report")
            file = Export.objects.get(id=export["id"]).path
            self.assertEqual(report["written"]["sha256"], hashlib.sha256(file.read_bytes()).hexdigest())
            (said,) = report["covers"]
            self.assertEqual((said["name"], said["region"], said["runs"]), ("Cover", "sign", []))
            self.assertIn("of what was there is left.", said["left"])
            for name, kind in (
                ("report.pdf", "application/pdf"),
                ("report.csv", "text/csv"),
                ("frames/0", "image/jpeg"),
            ):
                answer = self.client.get(f"/api{address}/{name}")
                self.assertEqual((answer.status_code, answer["Content-Type"].split(";")[0]), (200, kind))
            self.assertEqual(self.client.get(f"/api{address}/frames/1").status_code, 404)
        (matte,) = self.order(what="matte", region="r")
        run_export.call(matte["id"])
        self.call("GET", f"{self.address}/{matte['id']}/report", status=404)

    def test_what_was_ordered_is_frozen(self) -> None:
        export = self.order()[0]
        dark = {"passes": [{"id": "a", "name": "a", "inside": {"exposure": {"amount": -12}}}]}
        self.call("POST", f"/projects/{self.project}/shots/{self.shot}/steps", {"seen": 0, "step": dark})
        run_export.call(export["id"])
        self.assertGreater(np.asarray(Image.open(Export.objects.get().path)).max(), 200)

    def test_light_beyond_white_is_led_to_it_or_cut_off(self) -> None:
        bright = {"passes": [{"id": "a", "name": "a", "inside": {"exposure": {"amount": 1.5}}}]}
        self.call("POST", f"/projects/{self.project}/shots/{self.shot}/steps", {"seen": 0, "step": bright})
        codes = []
        for cuts_off in (False, True):
            export = self.order(cuts_off=cuts_off, bits=16)[0]
            run_export.call(export["id"])
            codes.append(signal(Export.objects.get(id=export["id"]).path))
        led, cut = codes
        source = signal(Shot.objects.get(id=self.shot).path)
        exact = linear_to_srgb(np.minimum(srgb_to_linear(source) * 2**1.5, 1))
        self.assertLess(np.abs(cut - exact).max(), 1e-3)
        self.assertGreater(np.abs(led - exact).max(), 0.05)

    def test_calling_off(self) -> None:
        waiting = self.order()[0]["id"]
        self.assertEqual(self.call("POST", f"{self.address}/{waiting}/cancel")["state"], "cancelled")
        run_export.call(waiting)
        self.assertEqual(Export.objects.get(id=waiting).state, "cancelled")
        running = self.order()[0]["id"]
        Export.objects.filter(id=running).update(cancel_asked=True)
        run_export.call(running)
        export = Export.objects.get(id=running)
        self.assertEqual((export.state, list(export.path.parent.iterdir())), ("cancelled", []))

    def test_a_failure_is_told(self) -> None:
        export = self.order()[0]["id"]
        with mock.patch("server.jobs.writing.export_still", side_effect=OSError("No space left on device")):
            run_export.call(export)
        listed = self.call("GET", self.address)[0]
        self.assertEqual((listed["state"], listed["problem"]), ("failed", "No space left on device"))

    def test_bad_orders_are_refused(self) -> None:
        self.order(422, format="gif")
        self.order(422, format="jpeg", bits=16)
        self.order(422, quality=0)
        self.order(422, shots=[])
        self.order(404, shots=["none"])
        self.call("POST", f"{self.address}/none/cancel", status=404)
        self.assertFalse(Export.objects.exists())

    def test_a_killed_workers_task_is_taken_up(self) -> None:
        export = self.order()[0]["id"]
        DBTaskResult.objects.update(status=TaskResultStatus.RUNNING)
        Export.objects.filter(id=export).update(state="running", progress=0.4)
        self.assertEqual(take_up(), 1)
        self.assertEqual(DBTaskResult.objects.get().status, TaskResultStatus.READY)
        run_export.call(export)
        self.assertEqual(Export.objects.get(id=export).state, "done")

    def test_one_that_ends_the_worker_twice_is_set_aside_and_none_waits_for_ever(self) -> None:
        bad, good = self.order()[0]["id"], self.order()[0]["id"]
        for _ in range(MOST_ENDS):
            Export.objects.filter(id=bad).update(state="running")
            DBTaskResult.objects.filter(args_kwargs__args=[bad]).update(status=TaskResultStatus.RUNNING)
            take_up()
        self.assertEqual(Export.objects.get(id=bad).state, "failed")
        self.assertIn("set aside", Export.objects.get(id=bad).problem)
        # one whose task got lost is given another; one that was called off while its worker ended is called off
        DBTaskResult.objects.all().delete()
        lost = Export.objects.filter(id=good)
        lost.update(state="running")
        take_up()
        self.assertEqual([task.args_kwargs["args"] for task in DBTaskResult.objects.all()], [[good]])
        lost.update(cancel_asked=True)
        take_up()
        self.assertEqual(lost.get().state, "cancelled")

    def test_whatever_a_job_meets_the_export_says_so(self) -> None:
        export = self.order()[0]["id"]
        with mock.patch("server.jobs.writing._write", side_effect=RuntimeError("boom")), self.assertLogs("calado"):
            run_export.call(export)
        made = Export.objects.get(id=export)
        self.assertEqual((made.state, "boom" in made.problem), ("failed", False))

    def test_names_that_a_file_system_would_trip_over(self) -> None:
        Shot.objects.filter(id=self.shot).update(name='../"<lamp>": *?')
        export = self.order()[0]
        self.assertEqual(export["file_name"], "lamp.png")
        run_export.call(export["id"])
        self.assertTrue(Path(Export.objects.get().path).exists())
