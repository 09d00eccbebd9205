"""A place for the server's tests: its own folders, a small project, and JSON requests."""

import io
import logging
import tempfile
from pathlib import Path
from typing import Any
from urllib.parse import urlencode

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
    "UPLOAD_ROOT": "uploads",
    "MOTION_ROOT": "motions",
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


#: what is begun on a draft; all else is read of one
BEGUN = {"start", "mirror", "follow", "outlines", "copy-region", "sample", "take", "looks"}


def query(fields: dict[str, Any]) -> str:
    """Return fields as an address carries them."""
    said = {name: str(value).lower() if isinstance(value, bool) else value for name, value in fields.items()}
    return urlencode({name: value for name, value in said.items() if value is not None}, doseq=True)


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

    def on_draft(self, address: str, body: dict[str, Any], status: int = 200) -> Any:
        """Send the body's sheet as a draft, and ask for something of it at a shot's address."""
        fields = dict(body)
        sent = self.client.generic("POST", "/api/drafts", *self.json(fields.pop("sheet")))
        if sent.status_code != 200:
            return self.call("POST", "/drafts", body["sheet"], status)
        shot, what = address.rsplit("/", 1)
        at = f"{shot}/drafts/{sent.json()['draft']}/{what}"
        if what in BEGUN:
            return self.call("POST", at, fields, status)
        return self.call("GET", f"{at}?{query(fields)}", None, status)

    def told(self, sheet: Any, status: int = 200) -> Any:
        """Return a draft in words."""
        sent = self.call("POST", "/drafts", sheet, status)
        return self.call("GET", f"/drafts/{sent['draft']}/told") if status == 200 else sent

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
