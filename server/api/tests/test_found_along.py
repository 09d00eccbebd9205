"""Faces and lettering along a clip: a job, its list, regions and covers begun on it, and what is refused."""

import io
from dataclasses import replace
from typing import Any
from unittest.mock import patch

import numpy as np
from django.test import TestCase
from PIL import Image

from calado.detect.offer import Offer
from calado.errors import Cancelled
from calado.follow.sightings import Sighting, Thing
from calado.media.clips.sighted import Sighted, looked_every
from server.api.tests.following import FRAMES, SIZE, Followed, middle, oval
from server.jobs.models import Job
from server.jobs.work import run_job


def _thing(kind: str, frame: int, *, sure: bool = True) -> Thing:
    x, y = middle(frame)
    box = x - 0.1, y - 0.1, 0.2, 0.2
    values: dict[str, Any] = {"x": x, "y": y, "width": 0.2, "height": 0.2}
    offer = Offer(kind, 0.9, box, "ellipse" if kind == "face" else "rectangle", values)
    return Thing(kind, (Sighting(frame, offer),), ((0, frame),), Sighting(frame, offer), sure)


THINGS = (_thing("face", 6), _thing("text", 3), _thing("face", 9, sure=False))


class FoundAlong(Followed, TestCase):
    def looked(self, things: tuple[Thing, ...] = THINGS) -> dict[str, Any]:
        with self.captureOnCommitCallbacks(execute=True):
            job = self.call("POST", f"{self.at}/along")
        with patch("server.jobs.finding.sighted", return_value=Sighted(things, 6)):
            run_job.call(job["id"])
        return dict(self.call("GET", f"{self.at}/along"))

    def test_nothing_before_it_was_asked_for(self) -> None:
        self.assertEqual(self.call("GET", f"{self.at}/along"), {"job": None, "every": 0, "things": []})

    def test_a_job_lists_each_once_with_its_frames(self) -> None:
        found = self.looked()
        self.assertEqual((found["job"]["state"], found["job"]["kind"], found["every"]), ("done", "find", 6))
        told = [(each["kind"], each["sure"], each["frame"], each["spans"]) for each in found["things"]]
        self.assertEqual(told, [("face", True, 6, [[0, 6]]), ("text", True, 3, [[0, 3]]), ("face", False, 9, [[0, 9]])])
        self.assertEqual(len(found["things"][1]["offer"]["outline"]), 4)
        # asked for again it takes the place of the former
        self.assertEqual(self.looked(THINGS[:1])["things"], found["things"][:1])
        self.assertEqual(Job.objects.filter(kind="find").count(), 1)

    def test_one_that_looks_already_is_the_answer(self) -> None:
        first, second = (self.call("POST", f"{self.at}/along")["id"] for _ in range(2))
        self.assertEqual(first, second)

    def test_called_off_it_leaves_nothing(self) -> None:
        job = self.call("POST", f"{self.at}/along")
        with patch("server.jobs.finding.sighted", side_effect=Cancelled):
            run_job.call(job["id"])
        found = self.call("GET", f"{self.at}/along")
        self.assertEqual((found["job"]["state"], found["things"]), ("cancelled", []))

    def test_really_looked_at_a_card_is_neither_face_nor_lettering(self) -> None:
        job = self.call("POST", f"{self.at}/along")
        run_job.call(job["id"])
        found = self.call("GET", f"{self.at}/along")
        self.assertEqual((found["job"]["state"], found["things"]), ("done", []))
        self.assertEqual(found["every"], looked_every(FRAMES, 24))

    def test_what_is_covered_already_is_told(self) -> None:
        job = self.looked()["job"]["id"]
        cover = {"id": "p", "name": "Cover", "region": "card", "inside": {"solid": {"amount": 1}}}
        # the oval holds the first of the finds where that shows best; the others are elsewhere by then
        made = {"regions": [{"id": "card", "name": "card", "parts": [oval(6)]}], "passes": [cover]}
        self.assertEqual(self.call("GET", f"{self.draft(made, 0)}/on-finds?job={job}"), {"covered": [0]})
        self.assertEqual(
            self.call("GET", f"{self.draft({**made, 'passes': []}, 0)}/on-finds?job={job}"), {"covered": []}
        )
        self.assertEqual(self.client.get(f"/api{self.draft(made, 0)}/on-finds?job=none").status_code, 404)

    def begun(self, things: list[int], *, conceal: bool) -> dict[str, Any]:
        job = self.looked()["job"]["id"]
        made = {"regions": [{"id": "region-1", "name": "face", "parts": [oval(0)]}], "passes": []}
        body = {"job": job, "things": things, "conceal": conceal}
        return dict(self.call("POST", f"{self.draft(made, 0)}/on-finds", body))

    def test_each_is_concealed_by_a_pass_of_its_own_with_room_round_it(self) -> None:
        begun = self.begun([0, 1], conceal=True)
        sheet = begun["sheet"]
        self.assertEqual([each["name"] for each in sheet["regions"]], ["face", "concealed face", "concealed text"])
        self.assertEqual([each["name"] for each in sheet["passes"]], ["Conceal face", "Conceal text"])
        self.assertEqual([each["region"] for each in sheet["passes"]], ["region-2", "region-3"])
        self.assertEqual(begun["follows"], [{"region": "region-2", "frame": 6}, {"region": "region-3", "frame": 3}])
        for region in sheet["regions"][1:]:
            self.assertGreater(region["parts"][0]["values"]["width"], 0.2)

    def test_or_only_marked(self) -> None:
        begun = self.begun([0], conceal=False)
        self.assertEqual(begun["sheet"]["passes"], [])
        self.assertEqual(begun["sheet"]["regions"][1]["name"], "face 2")
        self.assertEqual(begun["sheet"]["regions"][1]["parts"][0]["values"]["width"], 0.2)

    def test_what_is_not_on_the_list_is_refused(self) -> None:
        job = self.looked()["job"]["id"]
        draft = self.draft({"regions": [], "passes": []}, 0)
        refused = self.call("POST", f"{draft}/on-finds", {"job": job, "things": [3]}, status=422)
        self.assertEqual(refused["title"], "There are 3 finds, counted from 0.")
        self.call("POST", f"{draft}/on-finds", {"job": "0" * 32, "things": [0]}, status=404)

    def test_a_square_of_the_source_shows_what_was_found(self) -> None:
        x, y = middle(6)
        answer = self.client.get(f"/api{self.at}/square", {"frame": 6, "x": x, "y": y, "side": 0.2})
        card = np.asarray(Image.open(io.BytesIO(answer.content)).convert("L"), float)
        away = self.client.get(
            f"/api{self.at}/square", {"frame": 6, "x": SIZE[0] / SIZE[1] - x, "y": 1 - y, "side": 0.2}
        )
        other = np.asarray(Image.open(io.BytesIO(away.content)).convert("L"), float)
        self.assertEqual(card.shape, (208, 208))
        self.assertGreater(abs(card.mean() - other.mean()), 10)
        self.assertEqual(self.client.get(f"/api{self.at}/square?frame=99&x=0&y=0&side=1").status_code, 422)

    def test_each_line_is_covered_for_itself_but_a_region_of_the_shelf_stays_whole(self) -> None:
        offers = tuple(
            replace(each.best.offer, name="text", reads=reads)
            for each, reads in zip(THINGS[:2], ("LMP 4072", "Row 7"), strict=True)
        )
        two = {"id": "card", "name": "card", "parts": [oval(6), {**oval(3), "id": "other"}]}
        for starter, on, count in (
            ("conceal-lettering", None, 2),
            ("conceal-private", None, 1),
            ("conceal-lettering", "card", 1),
        ):
            with patch("calado.start.analysis.find_kind", return_value=offers):
                body = {"sheet": {"regions": [two]}, "what": "starter", "id": starter, "region": on}
                made = self.on_draft(f"{self.at}/start", body)["sheet"]
            with self.subTest(starter=starter, on=on):
                self.assertEqual(len(made["passes"]), count)
                self.assertEqual(len(made["regions"]), 1 + count * (on is None))
                parts = [len(each["parts"]) for each in made["regions"]]
                self.assertEqual(parts, [2] if on else [2] + [1] * count)
