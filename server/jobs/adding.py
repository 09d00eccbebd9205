"""The job that makes a shot of a file that has arrived."""

from collections.abc import Callable

from calado.errors import RequestError
from server.jobs.models import Job, Upload
from server.projects.actions.add_shot import add_shot


def add_arrived(job: Job, report: Callable[[float], bool]) -> dict[str, object]:
    """Make a shot of the upload of this id, whose bytes go with it or are dropped; return the shot's id.

    Raises
    ------
    CaladoError
        when it is nothing that can be read, or in the project already.
    Cancelled
        when called off.
    """
    upload = Upload.objects.filter(id=job.id).first()
    if upload is None:  # a worker was killed between the shot and the end of its job
        raise RequestError("This file is no longer here. Add it again.", code="upload.gone")
    try:
        shot = add_shot(job.project, upload.path, upload.file_name, told=report, own=True)
    finally:
        upload.path.unlink(missing_ok=True)
        upload.delete()
    return {"shot": shot.id}
