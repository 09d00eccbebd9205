"""What killed processes left behind is swept up before anything works. It imports little: serving waits for it."""

import shutil
from datetime import timedelta
from pathlib import Path

from django.conf import settings
from django.db import DatabaseError, connection
from django.utils import timezone

from server.jobs.models import Export, Job, Upload
from server.projects.models import Shot

#: days after which an upload that broke off, and what is told of a job, are forgotten
KEPT_DAYS = 3


def said_of_database() -> str:
    """Return what the database says of itself: ok, or what is wrong with it."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("PRAGMA integrity_check")
            return str(cursor.fetchone()[0])
    except DatabaseError as error:
        return str(error)


def sweep() -> int:
    """Remove what killed processes left behind, before anything works; return how many things went.

    Of a damaged database nobody knows what it names, so nothing goes.
    """
    if said_of_database() != "ok":
        return 0
    data = Path(settings.DATA_ROOT)
    shots = set(Shot.objects.values_list("id", flat=True))
    exports = set(Export.objects.values_list("id", flat=True))
    left = [folder for folder in files_in(data / "shots") if folder.name not in shots]
    left += [folder for folder in files_in(data / "exports") if folder.name not in exports]
    left += files_in(data / "incoming")
    left += _stale_uploads()
    left += [each for each in files_in(data / "cache") if ".part" in each.name]
    for folder in (data / "exports", data / "solved", data / "mattes", data / "tables", data / "motions"):
        left += [each for each in folder.rglob("*") if ".part" in each.name and each.is_file()]
    for each in left:
        if each.is_dir():
            shutil.rmtree(each, ignore_errors=True)
        else:
            each.unlink(missing_ok=True)
    return len(left)


def _stale_uploads() -> list[Path]:
    """Forget uploads that nobody went on with and jobs that ended long ago; return the files that belong to none."""
    ago = timezone.now() - timedelta(days=KEPT_DAYS)
    Job.objects.filter(finished__lt=ago).delete()
    for upload in Upload.objects.filter(created__lt=ago).exclude(id__in=Job.objects.values("id")):
        if not upload.path.exists() or upload.path.stat().st_mtime < ago.timestamp():
            upload.delete()
    held = set(Upload.objects.values_list("id", flat=True))
    return [each for each in files_in(Path(settings.UPLOAD_ROOT)) if each.name not in held]


def files_in(folder: Path) -> list[Path]:
    """Return what lies in a folder; nothing where there is none."""
    return list(folder.iterdir()) if folder.is_dir() else []
