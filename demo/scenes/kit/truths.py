"""The one file of what is true of pictures and clips: ``demo/truth/truth.json``, described by ``schema.json``."""

import json
from typing import Any

from demo.scenes.kit.files import TRUTH


def save(kind: str, name: str, told: dict[str, Any]) -> None:
    """Put what is true of one still or clip into the file."""
    path = TRUTH / "truth.json"
    truths = json.loads(path.read_text()) if path.exists() else {"version": 1, "stills": {}, "clips": {}}
    truths[kind][name] = told
    path.write_text(json.dumps(truths, separators=(",", ":"), sort_keys=True) + "\n")
