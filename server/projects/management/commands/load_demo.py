"""``manage.py load_demo``: the Lanternmoth puppet theatre, once."""

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand
from django.db import transaction

from calado.edit.create import start_pass
from calado.media.stills import read_still
from calado.render.engine import Engine
from calado.render.source import source_of
from calado.sheet.models import Sheet
from calado.start.analysis import PictureAnalysis, analyse
from server.projects.actions.add_shot import add_shot
from server.projects.models import Project

NAME = "Lanternmoth"
STILLS = Path(settings.BASE) / "demo" / "stills"
CLIPS = Path(settings.BASE) / "demo" / "clips"
#: file, name of the shot, starters that have been used on it
SHOTS: tuple[tuple[str, str, tuple[str, ...]], ...] = (
    ("a_bench.png", "The bench by the window", ()),
    ("b_portrait.png", "Portrait by lamplight", ("vignette", "calm-skin")),
    ("c_dusk.png", "Dusk on the cobbles", ()),
    ("d_shelf.png", "Five pots", ("colour-accent",)),
    ("e_booth.png", "Ticket booth", ()),
    ("f_night.png", "Night rehearsal", ("spotlight", "grain-in-light")),
    ("g_wood.png", "In the wood", ()),
)
#: file and name of each clip
MOVING: tuple[tuple[str, str], ...] = (
    ("walk.mp4", "The walker"),
    ("push.mp4", "Push in"),
    ("swing.mp4", "The plate swings"),
    ("wood_1.mp4", "The wood, one"),
    ("wood_2.mp4", "The wood, two"),
    ("wood_3.mp4", "The wood, three"),
)
#: where the puppet is on her way out and back, as somebody set it by hand in six frames
WAY = {"0": 0.31, "24": 0.78, "48": 1.27, "84": 1.98, "114": 1.48, "143": 0.95}
WALKED = Sheet.model_validate(
    {
        "regions": [
            {
                "id": "walker",
                "name": "the walker",
                "parts": [
                    {
                        "id": "oval",
                        "kind": "ellipse",
                        "values": {"x": 0.31, "y": 0.5, "width": 0.5, "height": 0.92, "feather_out": 0.16},
                        "keys": {"x": {frame: {"value": x} for frame, x in WAY.items()}},
                    }
                ],
            }
        ],
        "passes": [
            {
                "id": "spot",
                "name": "Spotlight",
                "region": "walker",
                "inside": {"exposure": {"amount": 0.3}},
                "outside": {"exposure": {"amount": -1.1}, "saturation": {"amount": -0.25}},
            }
        ],
    }
)


def sheet_of_shot(file: str, name: str, starters: tuple[str, ...]) -> Sheet:
    """Return what has been done to a shot."""
    sheet = Sheet()
    for starter in starters:
        sheet, _ = start_pass(sheet, starter, _about(STILLS / file))
    return sheet


def _about(path: Path) -> PictureAnalysis:
    still = read_still(path)
    return analyse(Engine(), source_of(still.samples, still.space))


class Command(BaseCommand):
    """Make the demo project unless it is there."""

    help = "Loads the demo project."

    def handle(self, *args: Any, **options: Any) -> None:
        """Load it."""
        if Project.objects.filter(name=NAME).exists():
            return
        # all of it or none: a set-up broken off half-way loads it again
        with transaction.atomic():
            project = Project.objects.create(name=NAME)
            for file, name, starters in SHOTS:
                add_shot(project, STILLS / file, file, name, sheet_of_shot(file, name, starters))
            for file, name in MOVING:
                add_shot(project, CLIPS / file, file, name, WALKED if file == "walk.mp4" else Sheet())
        self.stdout.write(f"Loaded the demo project “{NAME}” with {len(SHOTS)} stills and {len(MOVING)} clips.")
