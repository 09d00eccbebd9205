"""Regions read from the picture, through the API: samples, ranges, finds, further places, solving; and refusals."""

import io
import time
from pathlib import Path
from typing import Any

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase
from PIL import Image

from server.api.tests.support import Place, whole
from server.jobs.writing import run_export

DEMO = Path(__file__).parents[3] / "demo"
LIGHTS = {"id": "a", "kind": "luminance"}
SPOT = {"id": "a", "kind": "ellipse", "values": {"x": 0.4, "y": 0.3, "width": 0.2, "height": 0.2}}
STROKE = {"points": [0.3, 0.5, 1.0, 0.6, 0.5, 0.5], "size": 0.1}


def lights() -> bytes:
    """Return a dark picture with two lights."""
    y, x = np.mgrid[:200, :300]
    pixels = np.full((200, 300, 3), 40, np.uint8)
    for cx, cy, radius in ((80, 60, 20), (200, 150, 14)):
        pixels[np.hypot(x - cx, y - cy) < radius] = 250
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "PNG")
    return out.getvalue()


def sheet(*parts: dict[str, Any], **fields: Any) -> dict[str, Any]:
    return {"version": 1, "regions": [{"id": "r", "name": "lamp", "parts": list(parts), **fields}], "passes": []}


class OnTheLights(Place, TestCase):
    def setUp(self) -> None:
        super().setUp()
        self.project = self.call("POST", "/projects", {"name": "Lanternmoth"})["id"]
        self.shot = self.upload(self.project, lights())["id"]
        self.address = f"/projects/{self.project}/shots/{self.shot}"

    def ask(self, what: str, draft: dict[str, Any], status: int = 200, **more: Any) -> Any:
        return self.on_draft(f"{self.address}/{what}", {"sheet": draft, "region": "r", **more}, status)

    def preview(self, draft: dict[str, Any], **more: Any) -> Any:
        body = {
            "sheet": draft,
            "view": "matte",
            "rectangle": [0, 0, 300, 200],
            "scale": 1.0,
            "region": "r",
            "format": "png",
        }
        return self.on_draft(f"{self.address}/preview", {**body, **more})


class Samples(OnTheLights):
    def test_a_sample_sets_a_range_and_the_range_tells_of_itself(self) -> None:
        made = self.ask("sample", sheet(LIGHTS), part="a", box=[0.38, 0.28, 0.04, 0.04])["sheet"]
        self.assertEqual(made["regions"][0]["parts"][0]["values"]["high"], 1.0)
        told = self.ask("ranged", made, part="a")
        self.assertEqual([each["axis"] for each in told["distributions"]], ["signal"])
        self.assertEqual((told["brightest"][2], told["darkest"][2]), (1.0, 0.0))
        says = self.told(made)["parts"]
        self.assertRegex(says[0]["says"], "^from 9")

    def test_what_is_refused(self) -> None:
        for draft, part, box, words in (
            (sheet(LIGHTS), "z", [0.4, 0.3, 0.1, 0.1], "has no part"),
            (sheet(SPOT), "a", [0.4, 0.3, 0.1, 0.1], "takes no samples"),
            (sheet(LIGHTS), "a", [9.0, 9.0, 0.1, 0.1], "outside of the picture"),
        ):
            self.assertIn(words, self.ask("sample", draft, 422, part=part, box=box)["title"])
        self.assertIn("has no part", self.ask("ranged", sheet(SPOT), 422, part="z")["title"])
        self.ask("sample", sheet(LIGHTS), 422, part="a", box=[0.1])


class Strokes(OnTheLights):
    def test_strokes_are_begun_and_shown(self) -> None:
        body = {
            "sheet": {"version": 1, "regions": [], "passes": []},
            "what": "region",
            "id": "brush",
            "strokes": [STROKE],
        }
        made = self.on_draft(f"{self.address}/start", body)["sheet"]
        made["regions"][0]["id"] = "r"
        codes = np.asarray(Image.open(io.BytesIO(self.preview(made).content)).convert("L"))
        self.assertEqual((int(codes[100, 90]), int(codes[20, 20])), (255, 0))

    def test_strokes_that_are_none_are_refused_in_a_sentence(self) -> None:
        for stroke, words in (
            ({**STROKE, "points": [0.1, 0.2, 1.0, 0.3]}, "three numbers a point"),
            ({**STROKE, "points": [99.0, 0.2, 1.0]}, "within 20"),
            ({**STROKE, "points": [0.1, 0.2, 1.5]}, "pressure"),
            ({**STROKE, "size": 0}, "size"),
            ({**STROKE, "points": []}, "points"),
        ):
            for draft in (sheet({"id": "a", "kind": "brush", "strokes": [stroke]}), sheet(SPOT, band=[stroke])):
                self.assertIn(words, self.told(draft, 422)["title"])
        odd = sheet({**SPOT, "strokes": [STROKE]})
        self.assertIn("no strokes", self.told(odd, 422)["title"])
        part = '{"id": "a", "kind": "brush", "strokes": [{"points": [NaN, 0, 1]}]}'
        self.call(
            "POST", "/drafts", f'{{"version": 1, "regions": [{{"id": "r", "name": "r", "parts": [{part}]}}]}}', 422
        )


class Solving(OnTheLights):
    def test_a_coarse_matte_says_so_until_the_fine_one_is_there(self) -> None:
        marks = [
            {"points": [0.35, 0.3, 1.0, 0.45, 0.3, 1.0], "size": 0.1},
            {"points": [0.1, 0.8, 1.0, 1.4, 0.8, 1.0], "size": 0.2, "does": "erase"},
        ]
        draft = sheet({"id": "solving", "kind": "rough", "strokes": marks})
        first = self.preview(draft)
        self.assertEqual(first.headers.get("X-Refining"), "yes")
        limit = time.monotonic() + 60
        while (answer := self.preview(draft)).headers.get("X-Refining") and time.monotonic() < limit:
            time.sleep(0.1)
        self.assertNotIn("X-Refining", answer.headers)
        codes = np.asarray(Image.open(io.BytesIO(answer.content)).convert("L"))
        self.assertGreater(int(codes[60, 80]), 250)
        self.assertLess(int(codes[160, 60]), 5)
        self.assertFalse(self.call("POST", "/solving", {"go_on": False})["busy"])
        self.assertFalse(self.call("POST", "/solving", {"go_on": True})["busy"])


class Finds(OnTheLights):
    def test_no_face_is_said_and_the_other_light_is_proposed(self) -> None:
        self.assertIn("no face and no text found", self.call("GET", f"{self.address}/found")["says"])
        places = self.ask("further", sheet(SPOT))
        self.assertEqual(len(places), 1)
        self.assertAlmostEqual(places[0]["box"][0] + places[0]["box"][2] / 2, 1.0, delta=0.02)
        self.assertIn("There is no region", self.ask("further", sheet(SPOT), 422, region="nowhere")["title"])

    def test_a_feature_begins_on_the_faces_asked_for(self) -> None:
        shot = self.upload(self.project, (DEMO / "stills" / "f_night.png").read_bytes())["id"]
        address = f"/projects/{self.project}/shots/{shot}"
        found = self.call("GET", f"{address}/found?kind=face")["offers"]
        self.assertEqual([each["closely"] for each in found if each["name"] == "face"], [True])

        def begun(status: int = 200, **more: object) -> Any:
            return self.on_draft(f"{address}/start", {"sheet": {}, "what": "feature", **more}, status)

        for faces in ([], [0]):
            (region,) = begun(id="skin", faces=faces)["sheet"]["regions"]
            joins = [part.get("join", "add") for part in region["parts"]]
            self.assertEqual((region["name"], joins), ("skin", ["add", *["subtract"] * 7]))
        self.assertIn("Features are face, skin", begun(422, id="ears")["title"])
        self.assertIn("Faces found here: 1", begun(422, id="eyes", faces=[4])["title"])

    def test_lines_say_what_they_say_and_what_small_cells_leave_of_them(self) -> None:
        shot = self.upload(self.project, (DEMO / "stills" / "e_booth.png").read_bytes())["id"]
        address = f"/projects/{self.project}/shots/{shot}"
        found = self.call("GET", f"{address}/found")["offers"]
        plate = next(each for each in found if each["reads"] == "LMP 4072")
        self.assertTrue(plate["private"])
        self.assertFalse(any(each["reads"] or each["private"] for each in found if each["name"] == "face"))
        wide = {**plate["values"], "width": plate["values"]["width"] + 0.02, "height": plate["values"]["height"] + 0.02}
        region = {"id": "r", "name": "plate", "parts": [{"id": "a", "kind": "rectangle", "values": wide}]}
        for size, said, weak in (
            (0.003, "Still to be read: “LMP 4072”.", True),
            (0.03, "can still try", False),
        ):
            each = {"id": "p", "name": "Cover", "region": "r", "inside": {"mosaic": {"size": size}}}
            draft = {"version": 2, "regions": [region], "passes": [each]}
            told = self.on_draft(f"{address}/meter", {"sheet": draft, "pass_id": "p"})
            self.assertIn(said, told["concealed"])
            self.assertTrue(told["weak"] or not weak)

    def test_a_brush_for_the_edge(self) -> None:
        made = self.call("GET", f"{self.address}/touch?x=0.5&y=0.3")
        self.assertIn("px soft", made["says"])
        self.assertIsNone(self.call("GET", f"{self.address}/touch?x=1.2&y=0.3")["size"])


class Exports(OnTheLights):
    def order(self, status: int = 200, **fields: Any) -> Any:
        self.save(sheet(SPOT))
        body = {"shots": [self.shot], "format": "png", "bits": 16, **fields}
        return self.call("POST", f"/projects/{self.project}/exports", body, status)

    def save(self, draft: dict[str, Any]) -> None:
        bench = self.call("GET", f"{self.address}/bench")
        body = {"seen": bench["revision"], "label": "spot", "step": whole(draft)}
        self.call("POST", f"{self.address}/steps", body)

    def test_a_matte_is_written_and_read_in_again(self) -> None:
        made = self.order(what="matte", region="r")[0]
        self.assertIn("matte", made["file_name"])
        run_export.call(made["id"])
        answer = self.client.get(f"/api/projects/{self.project}/exports/{made['id']}/file")
        data = b"".join(answer.streaming_content)
        upload = self.client.post(f"/api{self.address}/mattes", {"file": SimpleUploadedFile("matte.png", data)}).json()
        again = sheet({"id": "m", "kind": "matte", "values": {"file": upload["file"]}})
        one, other = (self.preview(draft).content for draft in (sheet(SPOT), again))
        self.assertEqual(one, other)

    def test_a_matte_in_floating_point_is_read_in_again(self) -> None:
        made = self.order(what="matte", region="r", format="exr")[0]
        run_export.call(made["id"])
        answer = self.client.get(f"/api/projects/{self.project}/exports/{made['id']}/file")
        file = SimpleUploadedFile("matte.exr", b"".join(answer.streaming_content))
        upload = self.client.post(f"/api{self.address}/mattes", {"file": file}).json()
        again = sheet({"id": "m", "kind": "matte", "values": {"file": upload["file"]}})
        one, other = (
            np.asarray(Image.open(io.BytesIO(self.preview(draft, view="matte", format="png").content))).astype(float)
            for draft in (sheet(SPOT), again)
        )
        # half floats hold 11 bits
        self.assertLessEqual(float(np.abs(one - other).max()), 1)

    def test_what_a_file_cannot_hold_and_a_region_that_is_gone(self) -> None:
        self.assertIn("alpha", self.order(422, what="cutout", region="r", format="jpeg", bits=8)["title"])
        self.assertIn("not as OpenEXR", self.order(422, what="pair", format="exr")["title"])
        self.assertIn("has no such region", self.order(422, what="matte", region="gone")["title"])
