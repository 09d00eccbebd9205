"""``manage.py warm``: compile every kernel into its cache."""

from typing import Any

from django.core.management.base import BaseCommand

from calado.render.warm import warm


class Command(BaseCommand):
    """Compile them all."""

    help = "Compiles the kernels."

    def handle(self, *args: Any, **options: Any) -> None:
        """Compile."""
        warm()
