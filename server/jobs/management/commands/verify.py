"""``manage.py verify``: every file and every sheet looked at."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError

from server.jobs.keeping import faults


class Command(BaseCommand):
    """Look the data over."""

    help = "Reads the database, every shot's file and every revision, and says what is wrong."

    def handle(self, *args: Any, **options: Any) -> None:
        """Say each fault, and end with 1 where there is one."""
        found = 0
        for fault in faults():
            found += 1
            self.stdout.write(fault)
        if found:
            raise CommandError(
                f"{found} {'fault' if found == 1 else 'faults'}. Bring back a backup: manage.py restore."
            )
        self.stdout.write("All is as it should be.")
