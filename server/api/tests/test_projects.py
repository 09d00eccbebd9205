"""Projects, uploads and thumbnails through the API."""

import json
from pathlib import Path

from django.conf import settings
from django.test import TestCase

from server.api.api import api
from server.api.tests.support import Place, picture
from server.projects.models import Shot


class Projects(Place, TestCase):
    def test_begin_rename_and_remove(self) -> None:
        project, shot = self.project_with_shot()
        self.assertEqual(self.call("GET", "/projects")[0]["shots"], 1)
        self.call("PATCH", f"/projects/{project}", {"name": "Night"})
        detail = self.call("GET", f"/projects/{project}")
        self.assertEqual((detail["name"], detail["shots"][0]["name"]), ("Night", "Lamp"))
        folder = Shot.objects.get(id=shot).path.parent
        self.assertTrue(folder.exists())
        self.call("DELETE", f"/projects/{project}", status=204)
        self.assertFalse(folder.exists())
        self.call("GET", f"/projects/{project}", status=404)

    def test_a_shot_is_seen_only_through_its_project(self) -> None:
        project, shot = self.project_with_shot()
        other = self.call("POST", "/projects", {"name": "Other"})["id"]
        self.call("GET", f"/projects/{project}/shots/{shot}/bench")
        self.call("GET", f"/projects/{other}/shots/{shot}/bench", status=404)
        self.call("DELETE", f"/projects/{other}/shots/{shot}", status=404)

    def test_bad_requests_get_a_sentence(self) -> None:
        project, _ = self.project_with_shot()
        self.call("POST", "/projects", {"name": ""}, status=422)
        self.call("POST", "/projects", {}, status=422)
        self.call("POST", "/projects", "{", status=400)
        self.call("GET", "/nowhere", status=404)
        self.call("GET", "/projects/none", status=404)
        self.call("DELETE", f"/projects/{project}/shots/none", status=404)

    def test_changes_asked_by_another_site_are_refused(self) -> None:
        for origin, status in (("http://evil.example", 403), ("null", 403), ("http://testserver", 200)):
            response = self.client.post(
                "/api/projects", json.dumps({"name": "a"}), content_type="application/json", headers={"Origin": origin}
            )
            self.assertEqual(response.status_code, status, origin)

    def test_a_foreign_host_name_is_not_served(self) -> None:
        self.assertEqual(self.client.get("/api/projects", headers={"Host": "evil.example"}).status_code, 400)

    def test_every_answer_carries_the_policy(self) -> None:
        self.assertIn("default-src 'none'", self.client.get("/api/projects")["Content-Security-Policy"])


class Uploads(Place, TestCase):
    def test_the_file_is_kept_as_it_is(self) -> None:
        _project, shot = self.project_with_shot()
        self.assertEqual(Shot.objects.get(id=shot).path.read_bytes(), picture())

    def test_a_twin_is_noticed_and_pointed_to(self) -> None:
        project, shot = self.project_with_shot()
        problem = self.upload(project, picture(), "again.png", status=409)
        self.assertEqual((problem["code"], problem["shot"]), ("shot.duplicate", shot))
        other = self.call("POST", "/projects", {"name": "Other"})["id"]
        self.upload(other, picture())

    def test_what_is_no_picture_is_refused_and_leaves_nothing(self) -> None:
        project, _ = self.project_with_shot()
        for name, data in (("a.png", b""), ("b.jpg", b"GIF89a" + b"\0" * 50), ("c.png", picture()[:200])):
            problem = self.upload(project, data, name, status=422)
            self.assertTrue(problem["code"].startswith("media."))
        self.assertEqual(Shot.objects.count(), 1)
        self.assertEqual(len(list(Path(settings.MEDIA_ROOT).iterdir())), 1)
        self.assertEqual(list(Path(settings.FILE_UPLOAD_TEMP_DIR).iterdir()), [])

    def test_names_are_only_names(self) -> None:
        project, _ = self.project_with_shot()
        shot = self.upload(project, picture(5), "../../etc/the_night-rehearsal.PNG")
        self.assertEqual(shot["name"], "The night rehearsal")

    def test_thumbnails_follow_the_sheet(self) -> None:
        project, shot = self.project_with_shot()
        address = f"/projects/{project}/shots/{shot}"
        first = self.call("GET", f"{address}/thumbnail")
        self.assertEqual(first["Content-Type"], "image/jpeg")
        again = self.client.get(f"/api{address}/thumbnail", headers={"If-None-Match": first["ETag"]})
        self.assertEqual(again.status_code, 304)
        dark = {"passes": [{"id": "a", "name": "a", "inside": {"exposure": {"amount": -3}}}]}
        self.call("POST", f"{address}/steps", {"seen": 0, "step": dark})
        second = self.call("GET", f"{address}/thumbnail")
        self.assertNotEqual(first.content, second.content)
        self.assertEqual(self.call("GET", f"{address}/thumbnail?of=source").content, first.content)

    def test_a_dropped_cache_is_made_again(self) -> None:
        project, shot = self.project_with_shot()
        import shutil

        from server.bench import sources

        sources._open.clear()
        shutil.rmtree(Path(settings.CACHE_ROOT) / Shot.objects.get(id=shot).sha256)
        self.call("GET", f"/projects/{project}/shots/{shot}/thumbnail")


class Declared(Place, TestCase):
    def test_the_catalogue_tells_everything(self) -> None:
        told = self.call("GET", "/catalogue")
        self.assertEqual({a["id"] for a in told["adjustments"]} >= {"exposure", "saturation", "blur"}, True)
        self.assertEqual(told["groups"], ["Light", "Colour", "Detail", "Blur", "Cover", "Texture", "Lens"])

    def test_finding(self) -> None:
        found = self.call("GET", "/find?q=vinyete")
        self.assertEqual((found["starters"], found["read_as"]), (["vignette", "soft-edge"], "vignette"))

    def test_the_webs_types_are_those_of_the_api(self) -> None:
        committed = json.loads((Path(settings.BASE) / "web" / "openapi.json").read_text())
        self.assertEqual(committed, json.loads(json.dumps(api.get_openapi_schema(), default=str)))
