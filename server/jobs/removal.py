"""Removing a shot or a project with all that belongs to it, its exported files too."""

import shutil
from pathlib import Path

from django.conf import settings

from server.bench.sources import forget_source
from server.jobs.actions import remove_export
from server.projects.models import Project, Shot


def remove_shot(shot: Shot) -> None:
    """Remove a shot, its copy of the file, its revisions and its exports, and all that was made of its pixels."""
    for export in shot.exports.all():
        remove_export(export)
    folder = Path(settings.MEDIA_ROOT) / shot.id
    shot.delete()
    shutil.rmtree(folder, ignore_errors=True)
    if not Shot.objects.filter(sha256=shot.sha256).exists():
        forget_source(shot.sha256)


def remove_project(project: Project) -> None:
    """Remove a project and its shots."""
    for shot in project.shots.all():
        remove_shot(shot)
    project.delete()
