"""Cuts looked for in a clip."""

from collections.abc import Callable

from calado.media.clips.shots import found_cuts
from server.bench.clips import frames_of
from server.jobs.models import Job
from server.projects.errors import Missing
from server.projects.models import Shot


def look_for_cuts(job: Job, report: Callable[[float], bool]) -> dict[str, object]:
    """Return the frames of a job's shot with which another shot begins.

    Raises
    ------
    Missing
        when the shot was removed.
    """
    shot = Shot.objects.filter(id=job.order["shot"]).first()
    if shot is None:
        raise Missing("clip")
    return {"cuts": found_cuts(frames_of(shot).clip, report)}
