"""A made clip with a card that goes across it, and its region followed over the API."""

from pathlib import Path
from typing import Any

from calado.media.clips.tests.made import card_at, going_card, make
from server.api.tests.support import Place, whole
from server.bench.clips import forget_clip
from server.jobs.models import Export
from server.jobs.work import run_job
from server.jobs.writing import run_export
from server.projects.models import Shot

SIZE, FRAMES = (240, 160), 14


def middle(frame: int) -> tuple[float, float]:
    return card_at(frame, SIZE[1])


def oval(frame: int) -> dict[str, Any]:
    x, y = middle(frame)
    return {"id": "o", "kind": "ellipse", "values": {"x": x, "y": y, "width": 0.36, "height": 0.3}}


def sheet(frame: int, **more: Any) -> dict[str, Any]:
    region = {"id": "card", "name": "card", "parts": [oval(frame)], **more}
    cover = {"id": "p", "name": "Cover", "region": "card", "inside": {"solid": {"amount": 1}}}
    return {"regions": [region], "passes": [cover]}


class Followed(Place):
    def setUp(self) -> None:
        super().setUp()
        self.file = make(self.folder / "a_card.mp4", FRAMES, size=SIZE, scene=going_card)
        self.project = self.call("POST", "/projects", {"name": "Lanternmoth"})["id"]
        self.shot = self.upload(self.project, self.file.read_bytes(), self.file.name)["id"]
        self.at = f"/projects/{self.project}/shots/{self.shot}"
        self.addCleanup(forget_clip, Shot.objects.get(id=self.shot).sha256)

    def draft(self, made: dict[str, Any], frame: int) -> str:
        return f"{self.at}/drafts/{self.call('POST', '/drafts', made)['draft']}@{frame}"

    def job(self, made: dict[str, Any], frame: int, **order: Any) -> dict[str, Any]:
        with self.captureOnCommitCallbacks(execute=True):
            begun = self.call("POST", f"{self.draft(made, frame)}/track/card", order)
        run_job.call(begun["id"])
        return next(each for each in self.call("GET", f"/projects/{self.project}/jobs") if each["id"] == begun["id"])

    def moved(self, made: dict[str, Any], frame: int) -> dict[str, Any]:
        (found,) = self.call("GET", f"{self.draft(made, frame)}/moved")
        return dict(found)

    def place(self, made: dict[str, Any], frame: int) -> tuple[float, float]:
        values = self.moved(made, frame)["values"]
        return values["x"], values["y"]

    def exported(self, made: dict[str, Any]) -> Path:
        """Put a sheet on the shot, and return its file, written without loss."""
        self.call("POST", f"{self.at}/steps", {"seen": 0, "label": "cover", "step": whole(made)})
        body = {"shots": [self.shot], "format": "png", "clip": {"format": "ffv1"}, "even_so": True}
        with self.captureOnCommitCallbacks(execute=True):
            (ordered,) = self.call("POST", f"/projects/{self.project}/exports", body)
        run_export.call(ordered["id"])
        return Path(Export.objects.get(id=ordered["id"]).path)
