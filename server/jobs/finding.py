"""Faces and lettering looked for along a clip."""

from collections.abc import Callable
from dataclasses import asdict
from typing import Any

from calado.detect.offer import Offer
from calado.follow.sightings import Thing
from calado.media.clips.sighted import sighted
from server.bench.clips import frames_of
from server.bench.sources import ENGINE
from server.jobs.models import Job


def look_along(job: Job, report: Callable[[float], bool]) -> dict[str, object]:
    """Return the faces and lines of lettering along a job's clip, and every how many frames it was looked at.

    Raises
    ------
    Missing
        when the shot was removed.
    """
    found = sighted(frames_of(job.shot), ENGINE, report)
    return {"every": found.every, "things": [_kept(thing) for thing in found.things]}


def _kept(thing: Thing) -> dict[str, Any]:
    return {
        "kind": thing.kind,
        "sure": thing.sure,
        "frame": thing.best.frame,
        "seen": len(thing.sightings),
        "spans": thing.spans,
        "offer": asdict(thing.best.offer),
    }


def offer_of(kept: dict[str, Any]) -> Offer:
    """Return a find as a job keeps it."""
    data = kept["offer"]
    tuples = {name: _tuples(data[name]) for name in ("box", "points", "strokes", "features")}
    curves = {name: _tuples(loops) for name, loops in data.get("curves", {}).items()}
    return Offer(**{**data, **tuples, "curves": curves})


def _tuples(data: Any) -> Any:
    return tuple(map(_tuples, data)) if isinstance(data, list) else data
