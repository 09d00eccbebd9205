"""The app of projects, shots and their sheets."""

from django.apps import AppConfig


class ProjectsConfig(AppConfig):
    """Projects, shots, revisions, snapshots."""

    name = "server.projects"
    label = "projects"
