"""The app of exports."""

from django.apps import AppConfig


class JobsConfig(AppConfig):
    """Exports and the worker that makes them."""

    name = "server.jobs"
    label = "jobs"
