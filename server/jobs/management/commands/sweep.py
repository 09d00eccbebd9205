"""``manage.py sweep``: what broken-off work has left is removed. Serving begins with it, in a process of its own."""

from typing import Any

from django.core.management.base import BaseCommand

from server.jobs.sweeping import sweep


class Command(BaseCommand):
    """Sweep."""

    help = "Removes what killed processes left behind. Only while Calado does not run."
    requires_system_checks: list[str] = []

    def handle(self, *args: Any, **options: Any) -> None:
        """Sweep, and say how much went."""
        swept = sweep()
        if swept:
            self.stdout.write(f"Swept up {swept} things that broken-off work had left.")
