"""Cuts looked for in a clip."""

from collections.abc import Callable

from calado.media.clips.shots import found_cuts
from server.bench.clips import frames_of
from server.jobs.models import Job


def look_for_cuts(job: Job, report: Callable[[float], bool]) -> dict[str, object]:
    """Return the frames of a job's shot with which another shot begins.

    Raises
    ------
    Missing
        when the shot was removed.
    """
    return {"cuts": found_cuts(frames_of(job.shot).clip, report)}
