"""Every request of the API with values that cannot be: each gets a sentence, none a fault, and nothing is changed.

The requests are those of the API's own description, so one that is added is tested without being named here.
"""

import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from django.conf import settings as django_settings
from django.db import connection
from django.test import TestCase

from server.api.tests.support import Place, query, whole
from server.jobs.models import Export
from server.projects.models import Look, Project, Revision, Shot, Snapshot

DESCRIPTION = json.loads((Path(django_settings.BASE) / "web" / "openapi.json").read_text())
#: what may stand where something else should; NaN and Infinity are not JSON, yet are often sent
POISON: tuple[Any, ...] = (
    *(None, True, "", "gone", "x" * 20_000, "‮a\u0000b", "../../etc/passwd", -1, 0, 2**63, 1e308, -1e308, 1e-320),
    *(float("nan"), float("inf"), [], [[]], [None], {}, {"x": {"y": 1}}, [[0, 0]] * 3, list(range(40))),
)
HELD = ("project", "shot", "draft")
PREVIEW = "/projects/{project}/shots/{shot}/drafts/{draft}/preview"
KEPT = (Project, Shot, Revision, Snapshot, Look, Export)
#: folders whose files are made anew when they are gone
UNKEPT = ("cache", "solved")


def operations() -> Iterator[tuple[str, str, dict[str, Any]]]:
    """Yield method, path and the fields' schema of each request that has a JSON body, or fields in its address."""
    for path, ways in DESCRIPTION["paths"].items():
        for method, way in ways.items():
            fields = [each for each in way.get("parameters", ()) if each["in"] == "query"]
            if fields:
                required = [each["name"] for each in fields if each["required"]]
                schema = {"properties": {each["name"]: each["schema"] for each in fields}, "required": required}
                yield method.upper(), path.removeprefix("/api"), schema
            body = way.get("requestBody", {}).get("content", {}).get("application/json")
            if body:
                name = body["schema"]["$ref"].rsplit("/", 1)[1]
                yield method.upper(), path.removeprefix("/api"), DESCRIPTION["components"]["schemas"][name]


def places(value: Any, way: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """Yield where each value stands inside a JSON value, itself first."""
    yield way
    if isinstance(value, dict):
        for key, each in value.items():
            yield from places(each, (*way, key))
    elif isinstance(value, list):
        for number, each in enumerate(value[:3]):
            yield from places(each, (*way, number))


def poisoned(value: Any, way: tuple[Any, ...], poison: Any) -> Any:
    """Return a JSON value with a poison at one place."""
    if not way:
        return poison
    made = list(value) if isinstance(value, list) else dict(value)
    made[way[0]] = poisoned(value[way[0]], way[1:], poison)
    return made


class BadInput(Place, TestCase):
    def setUp(self) -> None:
        super().setUp()
        self.project, self.shot = self.project_with_shot()
        at = f"/projects/{self.project}/shots/{self.shot}"
        sheet: Any = {}
        for starter in ("vignette", "spotlight"):
            sheet = self.on_draft(f"{at}/start", {"sheet": sheet, "what": "starter", "id": starter})["sheet"]
        self.sheet = sheet
        self.draft = self.call("POST", "/drafts", sheet)["draft"]
        self.call("POST", f"{at}/steps", {"seen": 0, "label": "begun", "step": whole(sheet)})
        self.at = at
        # what a request's fields are called, with what may well stand there
        self.usual: dict[str, Any] = {"name": "a name", "what": "starter", "id": "vignette", "format": "png"}
        self.usual |= {
            "region": sheet["regions"][0]["id"],
            "part": sheet["regions"][0]["parts"][0]["id"],
        }
        self.usual |= {
            "pass_id": sheet["passes"][0]["id"],
            "passes": [sheet["passes"][0]["id"]],
            "seen": 1,
            "step": {},
        }
        self.usual |= {"rectangle": [0, 0, 60, 40], "scale": 0.5, "x": 20.0, "y": 20.0, "width": 40, "height": 30}
        self.usual |= {"half": 8, "box": [10, 10, 20, 20], "tolerance": 0.01, "scope": "histogram", "values": {}}
        self.usual |= {"to": [self.shot], "shots": [self.shot], "go_on": False, "mix": 0.5, "on": True}
        self.usual["svg"] = "<svg xmlns='http://www.w3.org/2000/svg'/>"

    def state(self) -> Any:
        """Return all that is kept: rows, and the files beside them."""
        with connection.cursor() as cursor:
            # past the models: it is asked twice for each of thousands of requests
            rows = [cursor.execute(f'SELECT * FROM "{model._meta.db_table}"').fetchall() for model in KEPT]
        return rows, sorted(path.name for path in self.folder.glob("*/*") if path.parent.name not in UNKEPT)

    def ask(self, method: str, path: str, body: Any) -> bool:
        """Send a request, and return whether it was taken.

        A refusal must be a sentence and change nothing, and nothing may be a fault.
        """
        before = self.state()
        held = {"project": self.project, "shot": self.shot, "draft": self.draft}
        address = path.format(**held, snapshot=1, pass_id=self.usual["pass_id"], region=self.usual["region"])
        if method == "GET":
            response = self.client.get(f"/api{address}?{query(body) if isinstance(body, dict) else body}")
        else:
            response = self.client.generic(method, f"/api{address}", json.dumps(body), "application/json")
        said = f"{method} {path} {json.dumps(body)[:300]} → {response.status_code} {response.content[:300]!r}"
        self.assertLess(response.status_code, 500, said)
        if response.status_code < 400:
            return True
        self.assertEqual(response["Content-Type"], "application/problem+json", said)
        self.assertRegex(response.json()["title"], r"^[A-Z“].*[.!?]$", said)
        self.assertLess(len(response.json()["title"]), 400, said)
        self.assertEqual(self.state(), before, said)
        return False

    def test_every_field_of_every_request(self) -> None:
        for method, path, schema in operations():
            usual = {name: self.usual[name] for name in schema["properties"] if name in self.usual}
            for name in schema["properties"]:
                for poison in POISON:
                    with self.subTest(path=path, field=name, poison=str(poison)[:30]):
                        self.ask(method, path, {**usual, name: poison})

    def test_every_request_without_what_it_needs_or_with_no_body_at_all(self) -> None:
        for method, path, schema in operations():
            usual = {name: self.usual[name] for name in schema["properties"] if name in self.usual}
            for name in schema.get("required", ()):
                self.ask(method, path, {key: value for key, value in usual.items() if key != name})
            for body in ([], "text", 7, None, [usual]):
                self.ask(method, path, body)

    def test_every_place_of_a_sheet(self) -> None:
        for way in places(self.sheet):
            for poison in POISON:
                sheet = poisoned(self.sheet, way, poison)
                with self.subTest(way=way, poison=str(poison)[:30]):
                    if self.ask("POST", "/drafts", sheet):
                        self.draft = self.call("POST", "/drafts", sheet)["draft"]
                        self.ask("GET", PREVIEW, {"rectangle": [0, 0, 60, 40], "scale": 0.5})

    def test_a_project_or_a_shot_that_is_not_there(self) -> None:
        for method, path, schema in operations():
            usual = {name: self.usual[name] for name in schema["properties"] if name in self.usual}
            for held in HELD:
                if f"{{{held}}}" in path:
                    for gone in ("gone", "0" * 32, "%00", "..%2f.."):
                        self.ask(method, path.replace(f"{{{held}}}", gone), usual)
