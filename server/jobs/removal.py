"""Removing a shot or a project with all that belongs to it, its exported files too."""

import shutil
from pathlib import Path

from django.conf import settings
from django.db import transaction
from django_tasks import task

from server.bench.clips import forget_clip
from server.bench.sources import forget_source
from server.jobs.actions import remove_export
from server.jobs.uploading import drop_upload
from server.jobs.watch import WATCH
from server.projects.models import Project, Shot

#: so many shots are removed while one waits
AT_ONCE = 12


def remove_shot(shot: Shot) -> None:
    """Remove a shot, its copy of the file, its revisions and its exports, and all that was made of its pixels."""
    for export in shot.exports.all():
        remove_export(export)
    folder = Path(settings.MEDIA_ROOT) / shot.id
    shot.delete()
    shutil.rmtree(folder, ignore_errors=True)
    if shot.piece:
        forget_clip(shot.key)
    if not Shot.objects.filter(sha256=shot.sha256).exists():
        forget_source(shot.sha256)


def remove_project(project: Project) -> None:
    """Remove a project and its shots; many are removed by the worker, and the project is gone from sight at once."""
    if project.shots.count() <= AT_ONCE:
        _remove(project)
        return
    with transaction.atomic():
        Project.objects.filter(id=project.id).update(removed=True)
        remove_rest.enqueue(project.id)


@task()
def remove_rest(project: str) -> None:
    """Remove a project that is out of sight, one shot after another."""
    found = Project.objects.filter(id=project, removed=True).first()
    if found is not None:
        with WATCH.over():
            _remove(found)


def _remove(project: Project) -> None:
    for shot in project.shots.all():
        remove_shot(shot)
        WATCH.sign()
    for upload in project.uploads.all():
        drop_upload(upload)
    project.delete()
