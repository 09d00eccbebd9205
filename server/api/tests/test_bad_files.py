"""Files that are cut short, altered in some bytes, or something else under a picture's name, wherever a file is taken.

Each is either taken, and then shows, or refused in a sentence with nothing left behind; none is a fault.
"""

import io
import json
import tempfile
from collections.abc import Callable, Iterator
from pathlib import Path

import numpy as np
import OpenImageIO as oiio
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase
from PIL import Image

from server.api.tests.support import Place, picture

SIZE = (48, 32)
CUTS, SCRATCHES = 8, 12
CUBE = "LUT_3D_SIZE 2\n" + "".join(f"{r} {g} {b}\n" for b in (0, 1) for g in (0, 1) for r in (0, 1))
CORRECTION = (
    '<ColorCorrection id="stage"><SOPNode><Slope>1.2 1 1</Slope><Offset>0 0 0</Offset><Power>1 1 1</Power></SOPNode>'
    "<SatNode><Saturation>0.9</Saturation></SatNode></ColorCorrection>"
)


def deep(extension: str, kind: str) -> bytes:
    """Return a small picture of 16 bits or of half floats."""
    pixels = np.random.default_rng(3).random((SIZE[1], SIZE[0], 3)).astype(np.float32)
    with tempfile.TemporaryDirectory() as folder:
        path = str(Path(folder) / f"deep.{extension}")
        out = oiio.ImageOutput.create(path)
        assert out.open(path, oiio.ImageSpec(*SIZE, 3, kind)) and out.write_image(pixels) and out.close()
        return Path(path).read_bytes()


def turned() -> bytes:
    """Return a JPEG with an orientation, a profile and a thumbnail's worth of metadata."""
    exif = Image.Exif()
    exif[0x0112] = 6
    out = io.BytesIO()
    Image.open(io.BytesIO(picture(4, SIZE))).save(out, "JPEG", exif=exif, icc_profile=b"\0" * 200)
    return out.getvalue()


def sound() -> dict[str, bytes]:
    """Return whole files by the names they are sent under."""
    return {
        "a.png": picture(1, SIZE),
        "b.jpg": turned(),
        "c.webp": picture(2, SIZE, "WEBP"),
        "d.tif": picture(3, SIZE, "TIFF"),
        "deep.png": deep("png", "uint16"),
        "deep.tif": deep("tif", "uint16"),
        "light.exr": deep("exr", "half"),
    }


def spoiled(data: bytes, seed: int) -> Iterator[bytes]:
    """Yield a file cut short at places all over it, then with bytes altered: few at its head, more in its body."""
    chance = np.random.default_rng(seed)
    for cut in chance.integers(1, len(data), CUTS):
        yield data[:cut]
    for number in range(SCRATCHES):
        made = bytearray(data)
        reach = min(len(data), 120) if number % 2 else len(data)
        for at in chance.integers(0, reach, 1 + number):
            made[at] = chance.integers(256)
        yield bytes(made)
    yield data + b"\0" * 1000
    yield data[::-1]


class BadFiles(Place, TestCase):
    def setUp(self) -> None:
        super().setUp()
        self.project, self.shot = self.project_with_shot()
        self.at = f"/projects/{self.project}/shots/{self.shot}"

    def kept(self) -> list[str]:
        folders = ("shots", "mattes", "tables", "incoming")
        return sorted(
            str(path.relative_to(self.folder)) for name in folders for path in (self.folder / name).rglob("*")
        )

    def each(self, address: str, files: dict[str, bytes], shows: Callable[[str, dict[str, object]], None]) -> None:
        """Send every file whole and spoiled."""
        for seed, (name, data) in enumerate(files.items()):
            taken = 0
            for number, sent in enumerate([data, *spoiled(data, seed)]):
                with self.subTest(file=name, number=number):
                    taken += self._one(address, name, sent, shows)
            self.assertGreater(taken, 0, f"{name} is refused when it is whole")

    def _one(self, address: str, name: str, data: bytes, shows: Callable[[str, dict[str, object]], None]) -> bool:
        before = self.kept()
        response = self.client.post(f"/api{address}", {"file": SimpleUploadedFile(name, data)})
        self.assertLess(response.status_code, 500, response.content[:300])
        answer = json.loads(response.content)
        if response.status_code < 400:
            shows(name, answer)
            return True
        self.assertEqual(response["Content-Type"], "application/problem+json")
        self.assertRegex(answer["title"], r"^[A-Z“].*[.]$")
        self.assertEqual(self.kept(), before)
        return False

    def test_stills(self) -> None:
        def shows(name: str, shot: dict[str, object]) -> None:
            at = f"/projects/{self.project}/shots/{shot['id']}"
            view = {"sheet": {}, "rectangle": [0, 0, shot["width"], shot["height"]], "scale": 0.5}
            self.assertGreater(len(self.on_draft(f"{at}/preview", view).content), 100, name)
            self.call("DELETE", at, status=204)

        self.each(f"/projects/{self.project}/shots", sound(), shows)

    def test_mattes(self) -> None:
        def shows(name: str, told: dict[str, object]) -> None:
            part = {"id": "m", "kind": "matte", "values": {"file": told["file"]}}
            sheet = {"regions": [{"id": "r", "name": "r", "parts": [part]}]}
            body = {"sheet": sheet, "region": "r", "x": 5.0, "y": 5.0}
            value = self.on_draft(f"{self.at}/matte-value", body)["value"]
            self.assertTrue(0 <= value <= 1, (name, value))

        self.each(f"{self.at}/mattes", sound(), shows)

    def test_tables_and_corrections(self) -> None:
        self.each("/tables", {"t.cube": CUBE.encode()}, lambda name, told: self.assertIn("file", told))
        self.each("/cdl", {"t.cc": CORRECTION.encode()}, lambda name, told: self.assertTrue(told))

    def test_looks(self) -> None:
        start = {"sheet": {}, "what": "starter", "id": "vignette"}
        sheet = self.on_draft(f"{self.at}/start", start)["sheet"]
        body = {"sheet": sheet, "passes": [sheet["passes"][0]["id"]], "name": "dark corners"}
        look = self.on_draft(f"{self.at}/looks", body)
        data = self.call("GET", f"/looks/{look['id']}/file")
        file = data.content if hasattr(data, "content") else json.dumps(data).encode()
        self.each("/looks/file", {"l.json": file}, lambda name, told: self.assertTrue(told))
