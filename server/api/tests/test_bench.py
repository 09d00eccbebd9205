"""The bench through the API: steps, undo, snapshots, previews, words."""

import io
import threading
from math import cos, sin
from typing import Any

import numpy as np
from django.db import connection
from django.test import TestCase, TransactionTestCase
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase as PropertyCase
from PIL import Image

from calado.sheet.models import Sheet
from calado.sheet.steps import read_step
from server.api.tests.support import Place
from server.projects.actions import change
from server.projects.errors import NothingTo
from server.projects.models import Project, Revision, Shot


def add_pass(number: int, ev: float = -1.0) -> dict[str, Any]:
    value = {"id": f"pass-{number}", "name": f"Pass {number}", "inside": {"exposure": {"amount": ev}}}
    return {"passes": [value]}


class Bench(Place, TestCase):
    def setUp(self) -> None:
        super().setUp()
        self.project, self.shot = self.project_with_shot()
        self.address = f"/projects/{self.project}/shots/{self.shot}"

    def step(self, seen: int, step: dict[str, Any], status: int = 200) -> Any:
        return self.call("POST", f"{self.address}/steps", {"seen": seen, "label": "a step", "step": step}, status)

    def passes(self, bench: Any) -> list[str]:
        return [each["id"] for each in bench["sheet"]["passes"]]


class Steps(Bench):
    def test_a_step_is_kept_and_told(self) -> None:
        self.assertEqual(self.step(0, add_pass(1)), {"revision": 1, "undo": "a step", "redo": None})
        bench = self.call("GET", f"{self.address}/bench")
        self.assertEqual((bench["revision"], self.passes(bench)), (1, ["pass-1"]))
        self.assertEqual(bench["told"][0]["tokens"][-2]["value"], "−1.0\u00a0EV")

    def test_undo_and_redo_walk_the_whole_way(self) -> None:
        for k in range(3):
            self.step(k, add_pass(k))
        seen = 3
        for left in (2, 1, 0):
            bench = self.call("POST", f"{self.address}/undo", {"seen": seen})
            seen = bench["revision"]
            self.assertEqual(len(self.passes(bench)), left)
        self.call("POST", f"{self.address}/undo", {"seen": seen}, status=409)
        for there in (1, 2, 3):
            bench = self.call("POST", f"{self.address}/redo", {"seen": seen})
            seen = bench["revision"]
            self.assertEqual(len(self.passes(bench)), there)
        self.call("POST", f"{self.address}/redo", {"seen": seen}, status=409)
        # a new step ends what could be redone
        bench = self.call("POST", f"{self.address}/undo", {"seen": seen})
        bench = self.step(bench["revision"], add_pass(9))
        self.assertEqual((bench["undo"], bench["redo"]), ("a step", None))

    def test_a_stale_step_is_refused_and_changes_nothing(self) -> None:
        self.step(0, add_pass(1))
        problem = self.step(0, add_pass(2), status=409)
        self.assertEqual((problem["code"], problem["newest"]), ("revision.stale", 1))
        self.assertEqual(self.passes(self.call("GET", f"{self.address}/bench")), ["pass-1"])

    def test_bad_steps_are_refused_and_change_nothing(self) -> None:
        for step in (
            {"order": ["pass-4"]},
            add_pass(1, ev=99),
            {"passes": add_pass(1)["passes"], "order": ["pass-1", "pass-1"]},
            {"regions": "none"},
            {"patch": [{"op": "copy", "from": "/passes", "path": "/regions"}]},
        ):
            self.step(0, step, status=422)
        self.assertEqual(Revision.objects.filter(shot=self.shot).count(), 1)

    def test_snapshots(self) -> None:
        self.step(0, add_pass(1))
        kept = self.call("POST", f"{self.address}/snapshots", {"name": "one pass"})
        self.step(1, add_pass(2))
        self.assertEqual([each["name"] for each in self.call("GET", f"{self.address}/snapshots")], ["one pass"])
        bench = self.call("POST", f"{self.address}/snapshots/{kept['id']}/return", {"seen": 2})
        self.assertEqual((self.passes(bench), bench["undo"] is not None), (["pass-1"], True))
        self.call("POST", f"{self.address}/snapshots/999/return", {"seen": 3}, status=404)

    def test_starting_saves_nothing_yet(self) -> None:
        body = {"sheet": {}, "what": "starter", "id": "vignette"}
        begun = self.on_draft(f"{self.address}/start", body)
        self.assertEqual(begun["id"], "pass-1")
        self.assertEqual(self.call("GET", f"{self.address}/bench")["revision"], 0)
        joined = {"sheet": begun["sheet"], "what": "part", "id": "ellipse", "region": "region-1", "join": "subtract"}
        self.assertEqual(len(self.on_draft(f"{self.address}/start", joined)["sheet"]["regions"][0]["parts"]), 2)
        self.on_draft(f"{self.address}/start", {"sheet": {}, "what": "part", "id": "ellipse"}, status=422)
        self.on_draft(f"{self.address}/start", {**body, "id": "sparkle"}, status=422)

    def test_what_was_drawn(self) -> None:
        body = {"sheet": {}, "what": "region", "id": "polygon", "points": [[0.1, 0.1], [0.9, 0.1], [0.5, 0.8]]}
        part = self.on_draft(f"{self.address}/start", body)["sheet"]["regions"][0]["parts"][0]
        self.assertEqual(part["points"], body["points"])
        circle = [[0.7 + 0.3 * cos(k / 10), 0.5 + 0.3 * sin(k / 10)] for k in range(63)]
        drawn = {**body, "id": "curve", "points": circle, "freehand": True}
        points = self.on_draft(f"{self.address}/start", drawn)["sheet"]["regions"][0]["parts"][0]["points"]
        self.assertTrue(2 <= len(points) < 13 and all(len(point) == 6 for point in points))

    def test_points_that_cannot_be(self) -> None:
        body = {"sheet": {}, "what": "region", "id": "polygon"}
        for points in (
            [[0.1]],
            [[0, 0, 1]],
            [[0, 0, 1, 1, 1, 1]] * 3,
            [[1e9, 0], [0, 1], [1, 1]],
            "round",
            [["a", "b"]],
        ):
            self.on_draft(f"{self.address}/start", {**body, "points": points}, status=422)
        many = [[k / 6000, 0.5] for k in range(5001)]
        self.on_draft(f"{self.address}/start", {**body, "points": many}, status=422)
        self.on_draft(f"{self.address}/start", {**body, "id": "ellipse", "points": many[:3]}, status=422)
        nan = '{"what": "region", "id": "polygon", "points": [[NaN, 0], [0, 1], [1, 1]]}'
        draft = self.call("POST", "/drafts", {})["draft"]
        self.call("POST", f"{self.address}/drafts/{draft}/start", nan, status=422)


class Previews(Bench):
    def preview(self, status: int = 200, **fields: Any) -> Any:
        body = {"sheet": {}, "rectangle": [0, 0, 120, 80], "scale": 1.0, **fields}
        return self.on_draft(f"{self.address}/preview", body, status)

    def pixels(self, response: Any) -> np.ndarray:
        return np.asarray(Image.open(io.BytesIO(response.content)))

    def test_the_draft_is_what_shows(self) -> None:
        plain = self.pixels(self.preview(format="png"))
        sheet = {"passes": [{"id": "a", "name": "a", "inside": {"exposure": {"amount": -12}}}]}
        dark = self.pixels(self.preview(format="png", sheet=sheet))
        source = np.asarray(Image.open(Shot.objects.get(id=self.shot).path))
        np.testing.assert_array_equal(plain, source)
        self.assertLess(dark.max(), 4)
        loud = self.pixels(self.preview(format="png", sheet=sheet, view="source"))
        np.testing.assert_array_equal(loud, source)

    def test_rectangles_and_scales(self) -> None:
        response = self.preview(rectangle=[10.4, 20, 30, 40], scale=2.0, format="png")
        self.assertEqual(response["X-Rectangle"], "10.0000,20.0000,31.0000,40.0000")
        self.assertEqual(self.pixels(response).shape, (40, 31, 3))
        half = self.preview(draft=True)
        self.assertEqual(self.pixels(half).shape, (40, 60, 3))

    def test_bad_views_are_refused(self) -> None:
        self.preview(status=422, view="sparkle")
        self.preview(status=422, view="matte", region="none")
        self.preview(status=422, rectangle=[500, 500, 10, 10])
        self.preview(status=422, scale=0)
        self.preview(status=422, rectangle=[0, 0, 1])
        self.preview(status=422, sheet={"passes": [{"id": "a", "name": "a", "region": "none"}]})
        self.preview(status=422, rectangle=[0, 0, 1e9, 1e9], scale=1e9)

    def test_matte_under_the_pointer(self) -> None:
        part = {"id": "p", "kind": "ellipse", "values": {"x": 0.75, "y": 0.5, "width": 0.5, "height": 0.5}}
        sheet = {"regions": [{"id": "r", "name": "r", "parts": [part]}]}
        body = {"sheet": sheet, "region": "r", "x": 60, "y": 40}
        self.assertEqual(self.on_draft(f"{self.address}/matte-value", body)["value"], 1.0)
        self.assertEqual(self.on_draft(f"{self.address}/matte-value", {**body, "x": 2})["value"], 0.0)
        self.on_draft(f"{self.address}/matte-value", {**body, "x": 4000}, status=422)
        self.on_draft(f"{self.address}/matte-value", {**body, "region": "none"}, status=422)

    def test_words_of_a_draft(self) -> None:
        told = self.told({"passes": [{"id": "a", "name": "a"}]})
        said = "".join(token["text"] for token in told["told"][0]["tokens"])
        self.assertEqual(said, "Inside whole picture: nothing yet.")
        self.told({"passes": 3}, status=422)


class Chain(PropertyCase):
    """Any mixture of steps, undos and redos agrees with two plain stacks."""

    @settings(max_examples=25, deadline=None)
    @given(st.lists(st.sampled_from(["step", "undo", "redo"]), max_size=14))
    def test_against_two_stacks(self, moves: list[str]) -> None:
        shot = Shot.objects.create(
            project=Project.objects.create(name="p"), name="s", position=1, width=9, height=9, bits=8
        )
        change.begin(shot, Sheet(), "")
        now, past, future = 0, list[int](), list[int]()
        for count, move in enumerate(moves, start=1):
            try:
                if move == "step":
                    revision = change.take_step(shot, shot.head, read_step(add_pass(count)), str(count))
                    past, now, future = [*past, now], count, []
                else:
                    revision = getattr(change, move)(shot, shot.head)
                    source, target = (past, future) if move == "undo" else (future, past)
                    target.append(now)
                    now = source.pop()
            except NothingTo:
                self.assertFalse(past if move == "undo" else future)
                continue
            passes = change.sheet_of(revision).passes
            self.assertEqual(passes[-1].id if passes else "pass-0", f"pass-{now}")
            self.assertEqual((revision.undo_to is None, revision.redo_to is None), (not past, not future))


class Together(Place, TransactionTestCase):
    """Two writers at once: one wins, the other hears of it, nothing is lost."""

    def test_concurrent_steps(self) -> None:
        project, shot = self.project_with_shot()
        answers: list[int] = []

        def write(number: int) -> None:
            from django.test import Client

            body = '{"seen": 0, "step": {"passes": [{"id": "p%d", "name": "p"}]}}'
            client = Client(raise_request_exception=False)
            response = client.post(
                f"/api/projects/{project}/shots/{shot}/steps", body % number, content_type="application/json"
            )
            answers.append(response.status_code)
            connection.close()

        threads = [threading.Thread(target=write, args=(k,)) for k in range(4)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(sorted(answers), [200, 409, 409, 409])
        self.assertEqual(Revision.objects.filter(shot=shot).count(), 2)
