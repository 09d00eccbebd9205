"""Files that come in pieces: what has arrived stays, and whoever was cut off goes on where it was.

The bytes that lie on disk are what counts, whatever the database says of them. A file that is whole becomes a shot by a
job of its own, with the upload's id.
"""

import fcntl
import os
from collections.abc import Iterator

from django.conf import settings

from calado.errors import MediaError, RequestError
from server.config.uploads import MAX_BYTES, TOO_LARGE
from server.jobs.models import Job, Upload
from server.jobs.work import enqueue_job
from server.projects.models import Project

#: bytes of one write
PIECE = 2**20
#: what is left of the disk when a file is begun
SPARE = 2**28


class OutOfStep(RequestError):
    """A piece was sent that does not begin where the last one ended."""

    def __init__(self, offset: int) -> None:
        super().__init__(f"{offset} bytes of this file have arrived. Go on from there.", code="upload.offset")
        self.offset = offset


class Busy(RequestError):
    """Another piece of the same file is being written."""

    def __init__(self) -> None:
        super().__init__("Another piece of this file is on its way. Go on in a moment.", code="upload.busy")


def begin_upload(project: Project, file_name: str, size: int) -> Upload:
    """Make room for a file of so many bytes.

    Raises
    ------
    MediaError
        when it is larger than is taken, or empty.
    OSError
        when the disk has no room for it.
    """
    if size > MAX_BYTES:
        raise MediaError(TOO_LARGE, code="media.large")
    if size < 1:
        raise MediaError("This file is empty.", code="media.empty")
    free = os.statvfs(settings.UPLOAD_ROOT)
    if free.f_bavail * free.f_frsize < size + SPARE:
        raise OSError(28, "no room")  # told as a full disk is
    upload = Upload.objects.create(project=project, file_name=file_name[:255] or "untitled", size=size)
    upload.path.touch()
    return upload


def arrived(upload: Upload) -> int:
    """Return how many bytes of a file have arrived."""
    return upload.path.stat().st_size if upload.path.exists() else 0


def append(upload: Upload, offset: int, pieces: Iterator[bytes]) -> int:
    """Write what comes at the end of what is there, and return how much that is now; when all is, a job reads it.

    Raises
    ------
    OutOfStep
        when it does not begin at the end.
    Busy
        when another piece of it is being written.
    MediaError
        when more comes than was announced.
    """
    with upload.path.open("ab") as file:
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError as error:  # a connection that broke, and nobody has noticed yet
            raise Busy from error
        held = file.tell()
        if held != offset:
            raise OutOfStep(held)
        try:
            for piece in pieces:
                held += len(piece)
                if held > upload.size:
                    raise MediaError("More bytes came than this file has. Send it anew.", code="upload.long")
                file.write(piece)
        finally:
            # what came before it broke off stays as well
            file.flush()
            os.fsync(file.fileno())
    if held == upload.size:
        whole(upload)
    return held


def whole(upload: Upload) -> None:
    """Let a job make a shot of a file that has arrived; asked again it does nothing more."""
    about = {"project": upload.project, "kind": Job.Kind.ADD, "name": upload.file_name}
    job, made = Job.objects.get_or_create(id=upload.id, defaults=about)
    if made:
        enqueue_job(job)


def drop_upload(upload: Upload) -> None:
    """Forget a file on its way."""
    upload.path.unlink(missing_ok=True)
    upload.delete()
