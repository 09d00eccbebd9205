"""A place for the server's tests: its own folders, a small project, and JSON requests."""

import io
import logging
import tempfile
from pathlib import Path
from typing import Any

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client, SimpleTestCase, override_settings
from PIL import Image

FOLDERS = {
    "MEDIA_ROOT": "shots",
    "CACHE_ROOT": "cache",
    "MATTE_ROOT": "mattes",
    "TABLE_ROOT": "tables",
    "SOLVED_ROOT": "solved",
    "EXPORT_ROOT": "exports",
    "FILE_UPLOAD_TEMP_DIR": "incoming",
}


def picture(seed: int = 0, size: tuple[int, int] = (120, 80), kind: str = "PNG") -> bytes:
    pixels = np.random.default_rng(seed).integers(0, 256, (size[1], size[0], 3), np.uint8)
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, kind)
    return out.getvalue()


def whole(sheet: dict[str, Any]) -> dict[str, Any]:
    """Return the step that leaves a sheet in place of whatever stands there."""
    regions, passes = sheet.get("regions", []), sheet.get("passes", [])
    return {
        "regions": [{"region": region} for region in regions],
        "passes": passes,
        "shelf": [region["id"] for region in regions],
        "order": [each["id"] for each in passes],
    }


class Place(SimpleTestCase):
    """Gives each test its folders, and calls the API as the web does."""

    def setUp(self) -> None:
        super().setUp()
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)
        settings = {name: self.folder / part for name, part in FOLDERS.items()}
        for folder in settings.values():
            folder.mkdir()
        override = override_settings(**settings)
        override.enable()
        self.addCleanup(override.disable)
        # refusals are what many tests are about; a fault is still told
        said = logging.getLogger("django.request")
        self.addCleanup(said.setLevel, said.level)
        said.setLevel(logging.ERROR)
        self.client = Client(raise_request_exception=False)

    def call(self, method: str, address: str, body: Any = None, status: int = 200) -> Any:
        response = self.client.generic(method, f"/api{address}", *self.json(body))
        self.assertEqual(response.status_code, status, response.content[:300])
        if status >= 400:
            self.assertEqual(response["Content-Type"], "application/problem+json")
            problem = response.json()
            self.assertEqual(problem["status"], status)
            self.assertRegex(problem["title"], r"^[A-Z“].*[.!]$")
        return response.json() if "json" in response["Content-Type"] and response.content else response

    @staticmethod
    def json(body: Any) -> tuple[Any, str]:
        import json

        return ("" if body is None else body if isinstance(body, str) else json.dumps(body)), "application/json"

    def upload(self, project: str, data: bytes, name: str = "lamp.png", status: int = 200) -> Any:
        response = self.client.post(f"/api/projects/{project}/shots", {"file": SimpleUploadedFile(name, data)})
        self.assertEqual(response.status_code, status, response.content[:300])
        return response.json()

    def project_with_shot(self) -> tuple[str, str]:
        project = self.call("POST", "/projects", {"name": "Lanternmoth"})["id"]
        return project, self.upload(project, picture())["id"]
