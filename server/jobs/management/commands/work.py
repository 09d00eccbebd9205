"""``manage.py work``: the worker, which first takes up what one that ended left behind."""

from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand

from server.jobs.take_up import take_up
from server.jobs.watch import WATCH


class Command(BaseCommand):
    """Run the worker until it is told to stop."""

    help = "Writes the exports, one after another."

    def handle(self, *args: Any, **options: Any) -> None:
        """Take up what was left, then work."""
        take_up()
        WATCH.start()
        call_command("db_worker", interval=0.3, startup_delay=False, reload=False)
