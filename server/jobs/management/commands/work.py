"""``manage.py work``: the worker, which first takes up what a killed one left behind."""

from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand
from django_tasks.base import TaskResultStatus
from django_tasks_db.models import DBTaskResult


def take_up() -> int:
    """Put back into the queue what was running when the last worker died; there is one worker at a time."""
    left = DBTaskResult.objects.filter(status=TaskResultStatus.RUNNING)
    return left.update(status=TaskResultStatus.READY, started_at=None, worker_ids=[])


class Command(BaseCommand):
    """Run the worker until it is told to stop."""

    help = "Writes the exports, one after another."

    def handle(self, *args: Any, **options: Any) -> None:
        """Take up the left ones, then work."""
        take_up()
        call_command("db_worker", interval=0.3, startup_delay=False, reload=False)
