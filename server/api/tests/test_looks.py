"""Looks, passes of the project, tables and lists, readings, through the API; and what is refused."""

import json
from typing import Any

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile

from server.api.tests.support import picture, whole
from server.api.tests.test_regions import OVAL, OnAShot

DARK = {"id": "p", "name": "Dark", "region": "r", "outside": {"exposure": {"amount": -2.0}}}
CUBE = 'TITLE "halved"\nLUT_1D_SIZE 2\n0 0 0\n0.5 0.5 0.5\n'


def worked(**fields: Any) -> dict[str, Any]:
    return {
        "version": 1,
        "regions": [{"id": "r", "name": "lamp", "parts": [OVAL]}],
        "passes": [{**DARK, **fields}],
    }


class Base(OnAShot):
    def save(self, sheet: dict[str, Any], at: str | None = None) -> dict[str, Any]:
        address = at or self.address
        seen = self.call("GET", f"{address}/bench")
        body = {"seen": seen["revision"], "label": "worked", "step": whole(sheet)}
        return self.call("POST", f"{address}/steps", body)

    def send(self, address: str, name: str, data: bytes | str, status: int = 200) -> Any:
        content = data.encode() if isinstance(data, str) else data
        response = self.client.post(f"/api{address}", {"file": SimpleUploadedFile(name, content)})
        self.assertEqual(response.status_code, status, response.content[:300])
        return response.json()

    def second_shot(self) -> str:
        return self.upload(self.project, picture(3, (80, 80)), "other.png")["id"]


class Looks(Base):
    def test_kept_listed_written_read_laid_and_forgotten(self) -> None:
        kept = self.on_draft(f"{self.address}/looks", {"sheet": worked(), "passes": ["p"], "name": "Dark round"})
        self.assertIn("exposure −2.0", self.call("GET", "/looks")[0]["says"])
        file = self.call("GET", f"/looks/{kept['id']}/file")
        again = self.send("/looks/file", "look.json", json.dumps(file))
        self.assertEqual(again["name"], "Dark round")
        other = self.second_shot()
        to = [{"project": self.project, "shot": other}, {"project": self.project, "shot": self.shot}]
        self.call("POST", "/looks/lay", {"id": kept["id"], "to": to})
        for each in to:
            bench = self.call("GET", f"/projects/{self.project}/shots/{each['shot']}/bench")
            self.assertEqual(bench["sheet"]["passes"][0]["name"], "Dark")
            self.assertIn("Dark round", bench["undo"])
        # the second shot is square: the region keeps its share of the width
        other_sheet = self.call("GET", f"/projects/{self.project}/shots/{other}/bench")["sheet"]
        self.assertAlmostEqual(other_sheet["regions"][0]["parts"][0]["values"]["x"], 0.5 / 1.5, places=3)
        self.call("DELETE", f"/looks/{kept['id']}", status=204)
        self.call("DELETE", f"/looks/{kept['id']}", status=404)

    def test_copied_passes_are_laid_without_being_kept(self) -> None:
        look = self.on_draft(f"{self.address}/take", {"sheet": worked(), "passes": ["p"]})
        self.call("POST", "/looks/lay", {"look": look, "to": [{"project": self.project, "shot": self.shot}]})
        self.assertEqual(self.call("GET", "/looks"), [])
        draft = {"version": 1, "regions": [], "passes": []}
        begun = self.on_draft(f"{self.address}/start", {"sheet": draft, "what": "look", "id": "copied", "look": look})
        self.assertEqual(begun["sheet"]["passes"][0]["id"], begun["id"])

    def test_all_shots_get_it_or_none(self) -> None:
        look = self.on_draft(f"{self.address}/take", {"sheet": worked(), "passes": ["p"]})
        to = [{"project": self.project, "shot": self.shot}, {"project": self.project, "shot": "nobody"}]
        self.call("POST", "/looks/lay", {"look": look, "to": to}, 404)
        self.assertEqual(self.call("GET", f"{self.address}/bench")["revision"], 0)

    def test_what_is_no_look_is_refused(self) -> None:
        for data in ("", "[]", "{}", "[" * 5000, "x" * (2**20 + 2)):
            self.assertIn("look", self.send("/looks/file", "look.json", data, 422)["title"])
        self.on_draft(f"{self.address}/looks", {"sheet": worked(), "passes": ["z"], "name": "x"}, 422)


class ProjectPasses(Base):
    def test_a_pass_goes_to_the_project_and_back(self) -> None:
        self.save(worked())
        before = self.client.get(f"/api{self.address}/thumbnail").content
        seen = self.call("GET", f"{self.address}/bench")["revision"]
        moved = self.call("POST", f"{self.address}/to-project", {"seen": seen, "pass_id": "p"})
        self.assertEqual(moved["sheet"]["passes"], [])
        common = self.call("GET", f"/projects/{self.project}/sheet")
        self.assertEqual(common["sheet"]["passes"][0]["name"], "Dark")
        # every shot shows it, the one it came from as before
        self.assertEqual(self.client.get(f"/api{self.address}/thumbnail").content, before)
        other = f"/projects/{self.project}/shots/{self.second_shot()}"
        done, source = (self.client.get(f"/api{other}/thumbnail?of={of}").content for of in ("done", "source"))
        self.assertNotEqual(done, source)
        id = common["sheet"]["passes"][0]["id"]
        off = self.call("PATCH", f"/projects/{self.project}/passes/{id}", {"on": False})
        self.assertFalse(off["sheet"]["passes"][0]["on"])
        self.assertEqual(self.client.get(f"/api{other}/thumbnail").content, source)
        back = self.call("POST", f"{other}/from-project", {"seen": 0, "pass_id": id})
        self.assertEqual(back["sheet"]["passes"][0]["name"], "Dark")
        self.assertEqual(self.call("GET", f"/projects/{self.project}/sheet")["sheet"]["regions"], [])

    def test_what_is_stale_or_missing_changes_nothing(self) -> None:
        self.save(worked())
        self.call("POST", f"{self.address}/to-project", {"seen": 0, "pass_id": "p"}, 409)
        self.call("POST", f"{self.address}/to-project", {"seen": 1, "pass_id": "z"}, 422)
        self.assertEqual(self.call("GET", f"/projects/{self.project}/sheet")["sheet"]["passes"], [])
        self.call("DELETE", f"/projects/{self.project}/passes/z", status=404)


class Tables(Base):
    def test_a_cube_is_kept_and_used(self) -> None:
        made = self.send("/tables", "halved.cube", CUBE)
        self.assertEqual(made["name"], "halved")
        look = {"lut": {"amount": 1.0, "file": made["file"], "name": "halved"}}
        order = {"rectangle": [0, 0, 120, 80], "scale": 1.0, "format": "png"}
        changed = {**worked(), "passes": [{"id": "p", "name": "x", "inside": look}]}
        plain = self.on_draft(f"{self.address}/preview", {**order, "sheet": {**worked(), "passes": []}}).content
        self.assertNotEqual(self.on_draft(f"{self.address}/preview", {**order, "sheet": changed}).content, plain)
        gone = {"lut": {"amount": 1.0, "file": "0" * 32}}
        lost = {**changed, "passes": [{"id": "p", "name": "x", "inside": gone}]}
        self.assertIn("missing", self.on_draft(f"{self.address}/preview", {**order, "sheet": lost}, 422)["title"])

    def test_bad_cubes_are_refused_and_nothing_is_kept(self) -> None:
        bad = (
            "",
            "hello",
            "LUT_3D_SIZE 2\n0 0 0\n",
            "LUT_1D_SIZE 2\n0 0 0\n1 x 1\n",
            "LUT_1D_SIZE 2\n0 0 0\n1 nan 1\n",
            "LUT_3D_SIZE 999\n",
            "LUT_1D_SIZE 2\nDOMAIN_MIN 1 1 1\n0 0 0\n1 1 1\n",
            b"\xff\xfe\x00",
        )
        for data in bad:
            self.assertTrue(self.send("/tables", "t.cube", data, 422)["title"].endswith("."))
        self.assertEqual(list((self.folder / "tables").iterdir()), [])

    def test_lists_in_and_out(self) -> None:
        values = {"slope_r": 1.2, "saturation": 0.9}
        for form in ("cc", "ccc", "cdl"):
            data = self.call("POST", "/cdl/write", {"values": values, "form": form, "name": "stage"}).content
            read = self.send("/cdl", f"x.{form}", data)
            self.assertEqual(read[0]["values"]["slope_r"], 1.2)
            self.assertEqual(read[0]["values"]["power_b"], 1.0)
        self.assertIn("correction", self.send("/cdl", "x.cc", "<a/>", 422)["title"].lower())


class Readings(Base):
    def test_meter_of_a_pass_and_of_one_adjustment(self) -> None:
        both = worked(outside={"exposure": {"amount": -2.0}, "saturation": {"amount": -0.001}})
        whole = self.on_draft(f"{self.address}/meter", {"sheet": both, "pass_id": "p"})
        self.assertTrue(whole["visible"])
        self.assertAlmostEqual(whole["area"], 1 - np.pi * 0.04 / 1.5, delta=0.03)
        order = {"sheet": both, "pass_id": "p", "side": "outside", "adjustment": "saturation"}
        self.assertEqual(self.on_draft(f"{self.address}/meter", order)["says"], "Below visibility.")
        self.on_draft(f"{self.address}/meter", {"sheet": both, "pass_id": "z"}, 422)

    def test_meter_of_a_cover_tells_what_it_leaves(self) -> None:
        covered = worked(outside={}, inside={"mosaic": {"size": 0.03}})
        told = self.on_draft(f"{self.address}/meter", {"sheet": covered, "pass_id": "p"})
        self.assertIn("cells across", told["concealed"])
        self.assertTrue(told["weak"])

    def test_scopes_are_pictures_and_histograms_sum_to_one(self) -> None:
        for name in ("waveform", "parade", "vectorscope"):
            made = self.on_draft(f"{self.address}/scope", {"sheet": worked(), "scope": name, "region": "r"})
            self.assertEqual(made.content[:4], b"\x89PNG")
        read = self.on_draft(f"{self.address}/histogram", {"sheet": worked(), "region": "r", "until": "p"})
        self.assertAlmostEqual(sum(read["luma"]), 1, places=6)
        self.on_draft(f"{self.address}/histogram", {"sheet": worked(), "region": "z"}, 422)

    def test_second_look_finds_and_mends(self) -> None:
        found = self.on_draft(f"{self.address}/second-look", {"sheet": worked(outside={"exposure": {"amount": -10.0}})})
        crushed = next(each for each in found if each["kind"] == "crushed")
        self.assertIn("legible", crushed["mended"]["passes"][0]["outside"])
        self.assertEqual(len(crushed["rectangle"]), 4)
