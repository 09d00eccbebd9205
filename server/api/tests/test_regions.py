"""Regions through the API: pieces, edges, mirrors, copies, files in and out; and what is refused."""

import io
import json
from typing import Any

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase
from PIL import Image

from server.api.tests.support import Place, picture

OVAL = {"id": "a", "kind": "ellipse", "values": {"x": 0.5, "y": 0.5, "width": 0.4, "height": 0.4}}
SPOT = {"id": "b", "kind": "ellipse", "values": {"x": 1.2, "y": 0.5, "width": 0.2, "height": 0.2}}


def sheet(*parts: dict[str, Any], **fields: Any) -> dict[str, Any]:
    return {"version": 1, "regions": [{"id": "r", "name": "lamp", "parts": list(parts), **fields}], "passes": []}


class OnAShot(Place, TestCase):
    def setUp(self) -> None:
        super().setUp()
        self.project, self.shot = self.project_with_shot()
        self.address = f"/projects/{self.project}/shots/{self.shot}"

    def ask(self, what: str, draft: dict[str, Any], status: int = 200, **more: Any) -> Any:
        return self.on_draft(f"{self.address}/{what}", {"sheet": draft, "region": "r", **more}, status)


class Regions(OnAShot):
    def test_pieces_with_what_is_dropped(self) -> None:
        found = self.ask("pieces", sheet(OVAL, SPOT))
        self.assertEqual([each["kind"] for each in found["pieces"]], ["island", "island"])
        small = found["pieces"][1]
        place = {name: small[name] for name in ("kind", "x", "y")}
        again = self.ask("pieces", sheet(OVAL, SPOT, removed=[place]))["pieces"]
        self.assertEqual([each["removed"] for each in again], [False, True])
        self.assertEqual({name: again[1][name] for name in place}, place)

    def test_mirror_a_part_and_a_region(self) -> None:
        made = self.ask("mirror", sheet(OVAL, SPOT), part="a")["sheet"]["regions"][0]["parts"]
        self.assertEqual([part["values"]["x"] for part in made], [1.0, 1.2])
        self.assertIn("no part", self.ask("mirror", sheet(OVAL), part="z", status=422)["title"])

    def test_outlines_out_and_in(self) -> None:
        text = self.ask("svg", sheet(OVAL)).content.decode()
        self.assertIn("<path", text)
        body = {"sheet": sheet(OVAL), "svg": text, "name": "again"}
        made = self.on_draft(f"{self.address}/outlines", body)
        self.assertEqual(made["sheet"]["regions"][1]["name"], "again")
        joined = self.on_draft(f"{self.address}/outlines", {**body, "region": "r", "join": "subtract"})
        self.assertEqual([p["join"] for p in joined["sheet"]["regions"][0]["parts"]], ["add", "subtract"])
        refused = self.on_draft(f"{self.address}/outlines", {**body, "svg": "<svg><script/></svg>"}, 422)
        self.assertIn("script", refused["title"])

    def test_a_curve_follows_its_path_again(self) -> None:
        path = [[0.5 + 0.3 * np.cos(t), 0.5 + 0.3 * np.sin(t) + 0.01 * np.sin(9 * t)] for t in np.linspace(0, 6.2, 120)]
        body = {"sheet": sheet(OVAL), "what": "region", "id": "curve", "points": path, "freehand": True}
        made = self.on_draft(f"{self.address}/start", body)
        region = made["sheet"]["regions"][1]
        self.assertEqual(len(region["parts"][0]["path"]), 120)
        counts = []
        for tolerance in (0.001, 0.02):
            order = {"sheet": made["sheet"], "region": region["id"], "part": "part-1", "tolerance": tolerance}
            counts.append(
                len(self.on_draft(f"{self.address}/follow", order)["sheet"]["regions"][1]["parts"][0]["points"])
            )
        self.assertGreater(counts[0], 2 * counts[1])
        self.assertIn("no longer", self.ask("follow", sheet(OVAL), part="a", tolerance=0.01, status=422)["title"])

    def test_a_scribble_becomes_an_ellipse(self) -> None:
        path = [[0.7 + 0.3 * np.cos(t), 0.5 + 0.15 * np.sin(t)] for t in np.linspace(0, 6.2, 50)]
        body = {"sheet": sheet(OVAL), "what": "region", "id": "ellipse", "points": path, "freehand": True}
        values = self.on_draft(f"{self.address}/start", body)["sheet"]["regions"][1]["parts"][0]["values"]
        self.assertAlmostEqual(values["width"], 0.6, delta=0.01)
        self.assertAlmostEqual(values["height"], 0.3, delta=0.01)

    def test_the_edge_as_ribbon_and_as_profile(self) -> None:
        answer = self.ask("ribbon", sheet(OVAL), width=64, half=12, zoom=2)
        self.assertEqual(Image.open(io.BytesIO(answer.content)).size, (64, 24))
        told = json.loads(answer["X-Ribbon"])
        self.assertEqual((len(told["lines"]), len(told["places"])), (1, 4))
        edge = self.ask("edge", sheet(OVAL), x=60, y=40)
        self.assertEqual(len(edge["matte"]), len(edge["after"]))
        self.assertGreater(edge["matte"][0], edge["matte"][-1])
        self.assertIn("no edge", self.ask("ribbon", sheet(), width=64, half=12, status=422)["title"])
        self.ask("edge", sheet(OVAL), x=60, y=40, reach=0, status=422)

    def test_softness_in_words(self) -> None:
        self.assertIn("px soft", self.ask("softness", sheet(OVAL))["says"])
        self.assertIn("too little contrast", self.ask("softness", sheet())["says"])

    def test_a_region_that_is_not_there(self) -> None:
        for what, more in (
            ("pieces", {}),
            ("svg", {}),
            ("ribbon", {"width": 9, "half": 9}),
            ("softness", {}),
            ("mirror", {}),
        ):
            body = {"sheet": sheet(OVAL), "region": "gone", **more}
            self.assertIn("There is no region", self.on_draft(f"{self.address}/{what}", body, 422)["title"])

    def test_a_loop_is_refused_by_name(self) -> None:
        itself = {"id": "p", "kind": "region", "values": {"region": "r"}}
        self.assertIn("“lamp” → “lamp”", self.ask("pieces", sheet(itself), status=422)["title"])


class Copies(OnAShot):
    def test_to_shots_here_and_elsewhere_each_a_step_of_its_own(self) -> None:
        here = self.upload(self.project, picture(2, (90, 90)))["id"]
        other = self.call("POST", "/projects", {"name": "Night"})["id"]
        there = self.upload(other, picture(3))["id"]
        to = [{"project": self.project, "shot": here}, {"project": other, "shot": there}]
        made = self.ask("copy-region", sheet(OVAL), to=to)
        self.assertEqual([each["name"] for each in made], ["lamp", "lamp"])
        bench = self.call("GET", f"/projects/{self.project}/shots/{here}/bench")
        values = bench["sheet"]["regions"][0]["parts"][0]["values"]
        self.assertAlmostEqual(values["x"], 0.5 / 1.5, places=4)
        self.assertEqual(bench["undo"], "copy of “lamp”")
        self.ask("copy-region", sheet(OVAL), to=[{"project": other, "shot": here}], status=404)
        self.ask("copy-region", sheet(OVAL), to=[], status=422)


class Mattes(OnAShot):
    def send(self, data: bytes, status: int = 200) -> Any:
        file = SimpleUploadedFile("m.png", data)
        response = self.client.post(f"/api{self.address}/mattes", {"file": file})
        self.assertEqual(response.status_code, status, response.content[:300])
        return response.json()

    def test_a_picture_becomes_a_part(self) -> None:
        out = io.BytesIO()
        Image.fromarray(np.tile(np.linspace(0, 255, 60).astype(np.uint8), (40, 1))).save(out, "PNG")
        kept = self.send(out.getvalue())
        self.assertEqual((kept["width"], kept["height"]), (60, 40))
        body = {"sheet": sheet(OVAL), "what": "region", "id": "matte", "values": {"file": kept["file"]}}
        made = self.on_draft(f"{self.address}/start", body)
        region = made["sheet"]["regions"][1]["id"]
        for x, expected in ((1, 0.0), (60, 0.5), (118, 1.0)):
            order = {"sheet": made["sheet"], "region": region, "x": x, "y": 40}
            self.assertAlmostEqual(self.on_draft(f"{self.address}/matte-value", order)["value"], expected, delta=0.02)

    def test_what_is_no_picture_leaves_nothing(self) -> None:
        for data in (b"", b"no picture", picture()[:200]):
            self.assertRegex(self.send(data, 422)["title"], r"[.]$")
        self.assertEqual(list((self.folder / "mattes").iterdir()), [])
        self.assertEqual(list((self.folder / "incoming").iterdir()), [])

    def test_one_that_is_gone_is_told(self) -> None:
        part = {"id": "m", "kind": "matte", "values": {"file": "0" * 32}}
        self.assertIn("missing", self.ask("pieces", sheet(part), status=422)["title"])
