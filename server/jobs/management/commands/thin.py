"""``manage.py thin``: the revisions of all shots thinned, and the room given back to the disk."""

from typing import Any

from django.core.management.base import BaseCommand
from django.db import connection

from server.jobs.keeping import unused
from server.projects.models import Shot
from server.projects.thinning import LAST, thin


class Command(BaseCommand):
    """Thin all."""

    help = f"Keeps of each shot the named revisions, the last {LAST}, and one an hour before."

    def handle(self, *args: Any, **options: Any) -> None:
        """Thin, and say how many went."""
        gone = sum(thin(shot) for shot in Shot.objects.all())
        left = unused()
        for file in left:
            file.unlink(missing_ok=True)
        with connection.cursor() as cursor:
            cursor.execute("VACUUM")
        self.stdout.write(
            f"{gone} revisions went, and {len(left)} imported mattes, tables and motions that nothing names."
        )
