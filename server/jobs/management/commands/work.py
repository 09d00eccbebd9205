"""``manage.py work``: a worker, which first takes up what one that ended left behind in its lane."""

from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser

from server.jobs.take_up import take_up
from server.jobs.watch import WATCH


class Command(BaseCommand):
    """Run a worker until it is told to stop."""

    help = "Does what waits in a lane, one after another: exports of clips in theirs, all else in the other."

    def add_arguments(self, parser: CommandParser) -> None:
        """Take the lane."""
        parser.add_argument("--lane", choices=("default", "clips"), default="default")

    def handle(self, *args: Any, **options: Any) -> None:
        """Take up what was left, then work."""
        lane = options["lane"]
        take_up(lane)
        WATCH.start()
        call_command("db_worker", queue_name=lane, interval=0.3, startup_delay=False, reload=False)
